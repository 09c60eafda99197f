"""Query expressions: ISO/IEC 9075-2 clause 7.

Long on purpose: one grammar. The clauses on queries call each other without end, and hand methods on as what to read
next (`comma_list(self.expression)`), so that the parser is one object whose parts stand in files by clause.
"""

from __future__ import annotations

from collections.abc import Sequence

from glimb.lang import tree
from glimb.lang.node import placed, replace
from glimb.lang.parser.expressions import ExpressionParser
from glimb.lang.source import Span
from glimb.lang.written_rows import WrittenRows

NUMBERS = ("integer", "decimal", "float")


class QueryParser(ExpressionParser):
    """Parses SELECT, VALUES, set operations, common tables, ORDER BY and limits."""

    def query(self) -> tree.Query:
        self.deeper()
        start = self.token.start
        common: tuple[tree.CommonTable, ...] = ()
        recursive = False
        if self.accept("with"):
            recursive = self.accept("recursive")
            common = self.comma_list(self._common_table)
        query = self.rest_of_query(self._body(), common, recursive, start)
        self.nesting -= 1
        return query

    def rest_of_query(
        self, body: tree.QueryBody, common: tuple[tree.CommonTable, ...], recursive: bool, start: int
    ) -> tree.Query:
        """ORDER BY, OFFSET, FETCH and FOR UPDATE after a body."""
        order = self.order_by()
        offset = fetch = None
        ties = percent = False
        if self.accept("offset"):
            offset = self.expression()
            if self.is_word("row", "rows"):
                self.advance()
        if self.accept("fetch"):
            if not self.is_word("first", "next"):
                self.fail()
            self.advance()
            one = tree.Literal("integer", "1")
            fetch = one if self.is_word("row", "rows", "percent") else self.expression()
            percent = self.accept("percent")
            if not self.is_word("row", "rows"):
                self.fail()
            self.advance()
            ties = self.accept("with", "ties")
            if not ties:
                self.expect("only")
        elif self.accept("limit"):
            fetch = self.expression()
            if offset is None and self.accept("offset"):
                offset = self.expression()
        lock = self._row_lock()
        span = self.span_from(start)
        return tree.Query(body, common, recursive, order, offset, fetch, ties, lock, percent, span=span)

    def _row_lock(self) -> tree.RowLock | None:
        """FOR UPDATE, FOR SHARE, FOR READ ONLY; more may follow (a loop's DO does not start with FOR)."""
        start = self.token.start
        if self.accept("for", "read", "only"):
            return tree.RowLock((), "read only", span=self.span_from(start))
        if self.accept("for", "update"):
            mode = "update"
        elif self.accept("for", "share"):
            mode = "share"
        else:
            return None
        tables = self.comma_list(self.identifier) if self.accept("of") else ()
        skip, wait = self.accept("skip", "locked"), None
        if not skip:
            wait = self.bounded_wait()
        return tree.RowLock(tables, mode, skip, wait, span=self.span_from(start))

    def bounded_wait(self) -> float | None:
        """NOWAIT or WAIT seconds; None when nothing is said."""
        if self.accept("nowait"):
            return 0.0
        if not self.accept("wait"):
            return None
        if self.token.kind not in ("integer", "decimal") or len(self.token.value) > 9:
            self.wanted = {"a number of seconds": None}
            self.fail()
        return float(self.advance().value)

    def _common_table(self) -> tree.CommonTable:
        start = self.token.start
        name = self.identifier("the name of a common table")
        columns = self.column_names() if self.is_op("(") else ()
        self.expect("as")
        query = self.in_parentheses(self.query)
        search = self._search() if self.is_word("search") else None
        cycle = self._cycle() if self.is_word("cycle") else None
        return tree.CommonTable(name, columns, query, search, cycle, span=self.span_from(start))

    def _search(self) -> tree.Search:
        start = self.advance().start
        depth_first = self.accept("depth")
        if not depth_first:
            self.expect("breadth")
        self.expect("first", "by")
        columns = self.comma_list(lambda: self.identifier("the name of a column"))
        self.expect("set")
        name = self.identifier("a name for the column of numbers")
        return tree.Search(depth_first, columns, name, span=self.span_from(start))

    def _cycle(self) -> tree.Cycle:
        start = self.advance().start
        columns = self.comma_list(lambda: self.identifier("the name of a column"))
        self.expect("set")
        name = self.identifier("a name for the column of marks")
        mark = otherwise = None
        if self.accept("to"):
            mark = self.expression()
            self.expect("default")
            otherwise = self.expression()
        self.expect("using")
        path = self.identifier("a name for the column of paths")
        return tree.Cycle(columns, name, mark, otherwise, path, span=self.span_from(start))

    def column_names(self) -> tuple[str, ...]:
        return self.in_parentheses(lambda: self.comma_list(lambda: self.identifier("the name of a column")))

    def _body(self) -> tree.QueryBody:
        left = self._intersection()
        while self.is_word("union", "except"):
            kind = self.advance().value
            left = self._set_operation(kind, left, self._intersection)
        return left

    def _intersection(self) -> tree.QueryBody:
        left = self._simple_body()
        while self.is_word("intersect"):
            self.advance()
            left = self._set_operation("intersect", left, self._simple_body)
        return left

    def _set_operation(self, kind: str, left: tree.QueryBody, right: object) -> tree.QueryBody:
        every = self.accept("all")
        if not every:
            self.accept("distinct")
        corresponding = self.accept("corresponding")
        by = self.column_names() if corresponding and self.accept("by") else ()
        assert callable(right)
        return tree.SetOperation(kind, every, left, right(), corresponding, by, span=self.span_from(left.span.start))

    def _simple_body(self) -> tree.QueryBody:
        start = self.token.start
        if self.is_op("("):
            return tree.Nested(self.in_parentheses(self.query), span=self.span_from(start))
        if self.accept("values"):
            return tree.Values(self._rows(), span=self.span_from(start))
        if self.accept("table"):
            source = tree.TableName(self.parts("the name of a table"), span=self.span_from(start))
            star = (tree.SelectItem(tree.Star(), span=source.span),)
            return tree.Select(star, (source,), span=source.span)
        if not self.accept("select"):
            self.fail()
        return self.select(start)

    def _rows(self) -> Sequence[tuple[tree.Expression, ...]]:
        token = self.token
        if token.kind != "rows":
            return self.comma_list(self._row)
        self.advance()
        written = WrittenRows(self.source.text[token.start : token.end], token.start)
        return (*written, *self.comma_list(self._row)) if self.accept_op(",") else written

    def _row(self) -> tuple[tree.Expression, ...]:
        plain = self._plain_row() if not self.tells else None
        if plain is not None:
            return plain
        alone = self._row_value_alone()
        if alone is not None:
            return (alone,)
        value = self.expression()
        return value.items if isinstance(value, tree.RowValue) else (value,)

    def _row_value_alone(self) -> tree.RowValue | None:
        """A row in parentheses of its own, `(ROW(1, 2))`: one value, of a row type."""
        start = self.at
        if not self.is_op("(") or not (self.is_op("(", ahead=1) or self.is_word("row", ahead=1)):
            return None
        self.advance()
        value = self.expression()
        if isinstance(value, tree.RowValue) and self.is_op(")") and not self.is_op(".", ahead=1):
            self.advance()
            return value
        self.at = start
        return None

    def _plain_row(self) -> tuple[tree.Expression, ...] | None:
        """A row of literals in parentheses, as they stand by the thousand; None for any other."""
        tokens, opening = self.tokens, self.at
        if tokens[opening].sign != "(":
            return None
        items: list[tree.Expression] = []
        at = opening
        while tokens[at].sign != ")":
            at += 1
            token = tokens[at]
            kind, value = token.kind, token.value
            if token.sign == "-":
                at += 1
                kind, value = tokens[at].kind, f"-{tokens[at].value}"
            if kind not in NUMBERS and (token.sign or kind != "string"):
                return None
            items.append(tree.Literal(kind, value, span=Span(token.start, tokens[at].end)))
            at += 1
            if tokens[at].sign not in (",", ")"):
                return None
        if tokens[at + 1].sign not in (",", ")", ";") and tokens[at + 1].kind != "end":
            return None
        self.at = at + 1
        if len(items) == 1:  # in parentheses by itself
            placed(items[0], self.span_from(tokens[opening].start))
        return tuple(items)

    def select(self, start: int) -> tree.Select:
        """What follows the word SELECT."""
        distinct = self.accept("distinct")
        if not distinct:
            self.accept("all")
        items = self.comma_list(self._select_item)
        return self.rest_of_select(items, distinct, start)

    def rest_of_select(self, items: tuple[tree.SelectItem, ...], distinct: bool, start: int) -> tree.Select:
        """FROM, WHERE, GROUP BY and HAVING."""
        sources = self.comma_list(self._from_item) if self.accept("from") else ()
        where = self.expression() if self.accept("where") else None
        group: tuple[tree.Expression, ...] | None = None
        distinct_groups = False
        if self.accept("group", "by"):
            distinct_groups = self.accept("distinct")
            if not distinct_groups:
                self.accept("all")
            group = self.comma_list(self._grouping_element)
        having = self.expression() if self.accept("having") else None
        windows = self.comma_list(self._named_window) if self.accept("window") else ()
        span = self.span_from(start)
        return tree.Select(items, sources, where, group, having, distinct, windows, distinct_groups, span=span)

    def _named_window(self) -> tree.NamedWindow:
        start = self.token.start
        name = self.identifier("a name for the window")
        self.expect("as")
        return tree.NamedWindow(name, self.window(), span=self.span_from(start))

    def _grouping_element(self) -> tree.Expression:
        """An expression, several in parentheses, none of them: (), or ROLLUP, CUBE, GROUPING SETS."""
        start = self.token.start
        self.deeper()
        kind = ""
        for word in ("rollup", "cube"):
            if self.is_word(word) and self.is_op("(", ahead=1):
                kind = self.advance().value
        if self.accept("grouping", "sets"):
            kind = "sets"
        if kind:
            items = self.in_parentheses(lambda: self.comma_list(self._grouping_element))
            node: tree.Expression = tree.Grouping(kind, items, span=self.span_from(start))
        elif self.is_op("(") and self.is_op(")", ahead=1):
            self.advance()
            self.advance()
            node = tree.RowValue((), span=self.span_from(start))
        else:
            node = self.expression()
        self.nesting -= 1
        return node

    def _select_item(self) -> tree.SelectItem:
        start = self.token.start
        value = self.expression()
        alias = ""
        if self.accept("as"):
            alias = self.identifier("a column name")
        elif self.is_name():
            alias = self.advance().value
        return tree.SelectItem(value, alias, span=self.span_from(start))

    # -- FROM

    def _from_item(self) -> tree.FromItem:
        """Joins from the left (clause 7.6); what stands between JOIN and its ON may be joined too."""
        left = self._from_primary()
        while (joined := self._join(left)) is not None:
            left = joined
        return left

    def _join(self, left: tree.FromItem) -> tree.FromItem | None:
        """One more join; None when none follows."""
        start = left.span.start
        natural = self.accept("natural")
        if not natural and self.accept("cross", "join"):
            return tree.Join("cross", left, self._from_primary(), span=self.span_from(start))
        kind = self._join_kind()
        if not kind:
            if natural:
                self.fail()
            return None
        right = self._from_primary()
        condition: tree.Expression | None = None
        using: tree.Parts = ()
        alias = ""
        if not natural:
            self.deeper()
            while not self.is_word("on", "using") and (joined := self._join(right)) is not None:
                right = joined
            self.nesting -= 1
            if self.accept("using"):
                using = self.column_names()
                alias = self.identifier("a correlation name") if self.accept("as") else ""
            else:
                self.expect("on")
                condition = self.expression()
        return tree.Join(kind, left, right, condition, using, natural, alias, span=self.span_from(start))

    def _join_kind(self) -> str:
        if self.accept("join") or self.accept("inner", "join"):
            return "inner"
        for kind in ("left", "right", "full"):
            if self.is_word(kind):
                self.advance()
                self.accept("outer")
                self.expect("join")
                return kind
        return ""

    def _from_primary(self) -> tree.FromItem:
        start = self.token.start
        lateral = self.accept("lateral")
        if self.is_op("("):
            return self._parenthesised_source(start, lateral)
        if self.accept("table"):
            self.expect_op("(")
            call = self.call(self.parts("the name of a table function"))
            self.expect_op(")")
            return self._with_alias(tree.TableCall(placed(call, self.span_from(start))), start)
        if self.is_word("unnest") and self.is_op("(", ahead=1):
            self.advance()
            arrays = self.in_parentheses(lambda: self.comma_list(self.expression))
            ordinality = self.accept("with", "ordinality")
            return self._with_alias(tree.Unnest(arrays, ordinality), start)
        if self.is_word("final", "new", "old") and self.is_word("table", ahead=1) and self.is_op("(", ahead=2):
            kind = self.advance().value
            self.advance()
            changed = tree.ChangedRows(kind, self.in_parentheses(self._change_statement))
            return self._with_alias(changed, start)
        name = self.parts("a table")
        if self.is_op("("):
            return self._with_alias(tree.TableCall(placed(self.call(name), self.span_from(start))), start)
        return self._with_alias(tree.TableName(name), start)

    def _change_statement(self) -> tree.Statement:
        if not self.is_word("insert", "update", "delete", "merge"):
            self.fail()
        return self.statement()

    def _parenthesised_source(self, start: int, lateral: bool) -> tree.FromItem:
        """A derived table, or joined tables in parentheses."""
        if self.holds_query(self.at):
            query = self.in_parentheses(self.query)
            return self._with_alias(tree.DerivedTable(query, "", (), lateral), start)
        self.deeper()
        item = self.in_parentheses(self._from_item)
        self.nesting -= 1
        return item

    def _with_alias(
        self,
        item: tree.TableName | tree.DerivedTable | tree.TableCall | tree.Unnest | tree.ChangedRows,
        start: int,
    ) -> tree.FromItem:
        alias, columns = "", tree.Parts()
        if self.accept("as"):
            alias = self.identifier("a correlation name")
        elif self.is_name():
            alias = self.advance().value
        if alias and self.is_op("("):
            columns = self.column_names()
        if alias:
            item = replace(item, alias=alias, columns=columns)
        return placed(item, self.span_from(start))
