"""Value expressions and predicates: ISO/IEC 9075-2 clauses 6 and 8, by precedence climbing.

Long on purpose: one grammar. The clauses on expressions call each other without end, and hand methods on as what to
read next (`comma_list(self.expression)`), so that the parser is one object whose parts stand in files by clause.
"""

from __future__ import annotations

from glimb.lang import tree
from glimb.lang.node import placed
from glimb.lang.parser.base import MAX_NESTING, RESERVED, ParserBase
from glimb.lang.source import Span

COMPARISONS = ("=", "<>", "<=", ">=", "<", ">", "!=")
NEGATABLE = ("between", "in", "like", "similar")

# How tightly operators bind, from OR on; the operators of the levels from CONCATENATION on join two values.
OR, AND, NOT, IS, PREDICATE, CONCATENATION, SUM, PRODUCT, UNLESS = range(1, 10)
LEVELS = {
    "or": OR,
    "and": AND,
    "is": IS,
    **dict.fromkeys((*COMPARISONS, "between", "in", "like", "overlaps"), PREDICATE),
    "||": CONCATENATION,
    **dict.fromkeys(("+", "-"), SUM),
    **dict.fromkeys(("*", "/"), PRODUCT),
    **dict.fromkeys(("not", "similar"), UNLESS),
}
GOES_ON = {"not": NEGATABLE, "similar": ("to",)}
"""What must follow a word of the level UNLESS, that it begins a predicate."""
SHOWN = (
    (PRODUCT, ("`*`", "`/`")),
    (SUM, ("`+`", "`-`")),
    (CONCATENATION, ("`||`",)),
    (PREDICATE, (*(f"`{s}`" for s in COMPARISONS), "NOT", "BETWEEN", "IN", "LIKE", "SIMILAR", "OVERLAPS")),
    (IS, ("IS",)),
    (AND, ("AND",)),
    (OR, ("OR",)),
)
"""The operators as messages and completion name them."""
BARE_FUNCTIONS = frozenset(
    "current_date current_time current_timestamp localtime localtimestamp current_user session_user user "
    "current_schema current_catalog system_user".split()
)
INTERVAL_FIELDS = ("year", "month", "day", "hour", "minute", "second")
DATETIME_WORDS = ("date", "time", "timestamp")
# Reserved words that are also names of functions, when an opening parenthesis follows.
FUNCTION_WORDS = frozenset(("left", "right", "if", "repeat", "insert", "row", "any", "some"))
PREFIXES = ("not", "-", "+")
SPECIAL_WORDS = BARE_FUNCTIONS | frozenset(
    "true false null unknown date time timestamp interval case exists unique array next default row".split()
)
"""Words that may begin something else than a name, even where no parenthesis follows."""
NULL_TREATED = frozenset(("lag", "lead", "first_value", "last_value", "nth_value"))


class ExpressionParser(ParserBase):
    """Parses expressions; a predicate is an expression of type BOOLEAN."""

    def expression(self) -> tree.Expression:
        self.nesting += 1
        if self.nesting > MAX_NESTING:
            self.too_deep()
        value = self._climb(OR)
        self.nesting -= 1
        return value

    def operand(self) -> tree.Expression:
        """What stands on either side of a predicate: a value without truth."""
        return self._climb(CONCATENATION)

    def _climb(self, least: int) -> tree.Expression:
        """An expression of operators that bind at least so tightly."""
        start = self.tokens[self.at].start
        left, most = self._start(least)
        return self._go_on(left, start, least, most)

    def _go_on(self, left: tree.Expression, start: int, least: int, most: int) -> tree.Expression:
        """What goes on from a value that begins at `start`, with operators that bind so tightly."""
        while True:
            sign = self.tokens[self.at].sign
            level = LEVELS.get(sign, 0)
            if level == UNLESS:
                level = PREDICATE if self.tokens[self.at + 1].sign in GOES_ON[sign] else 0
            if not least <= level <= most:
                if self.tells:
                    self._could_go_on(least, most)
                return left
            if level == PREDICATE:
                left = self._predicate(left, sign)
            elif level == IS:
                left = self._is(left)
            else:
                self.advance()
                right = self._climb(level + 1)
                left = tree.Binary(sign, left, right) if level >= CONCATENATION else tree.Logical(sign, left, right)
            most = level
            placed(left, self.span_from(start))

    def _start(self, least: int) -> tuple[tree.Expression, int]:
        """The first operand, and how tightly an operator behind it may bind."""
        if not self.tells and self.tokens[self.at].sign not in PREFIXES:
            return self._primary(), PRODUCT
        start = self.tokens[self.at].start
        if least <= NOT and self.accept("not"):
            self.deeper()
            node = tree.Not(self._climb(NOT), span=self.span_from(start))
            self.nesting -= 1
            return node, NOT - 1
        return self._signed(), PRODUCT

    def _could_go_on(self, least: int, most: int) -> None:
        """Every operator that could have stood here, those that bind most tightly first."""
        present = self.token.sign.upper()
        for level, words in SHOWN:
            if least <= level <= most:
                self.wanted.update((word, None) for word in words if word != present)

    def _is(self, left: tree.Expression) -> tree.Expression:
        """IS and what follows it (clauses 8.8, 8.15, 6.35)."""
        self.advance()
        negated = self.accept("not")
        if self.accept("null"):
            return tree.IsNull(left, negated)
        if self.is_word("true", "false", "unknown"):
            return tree.IsTruth(left, self.advance().value, negated)
        if self.accept("distinct", "from"):
            return tree.IsDistinct(left, self.operand(), negated)
        self.wanted["DISTINCT FROM"] = None
        self.fail()

    def _predicate(self, left: tree.Expression, sign: str) -> tree.Expression:
        """The rest of a predicate that begins with this word or sign, after what it is about."""
        if sign in COMPARISONS:
            return self._comparison(left)
        negated = self.accept("not")
        if self.accept("between"):
            return self._between(left, negated)
        if self.accept("in"):
            return self._in(left, negated)
        if self.accept("like"):
            return tree.Like(left, *self._pattern(), negated)
        if self.accept("similar"):
            self.expect("to")
            return tree.Similar(left, *self._pattern(), negated)
        self.expect("overlaps")
        return tree.Overlaps(left, self.operand())

    def _pattern(self) -> tuple[tree.Expression, tree.Expression | None]:
        """A pattern, and what escapes in it."""
        pattern = self.operand()
        return pattern, self.operand() if self.accept("escape") else None

    def _comparison(self, left: tree.Expression) -> tree.Expression:
        sign = self.advance().value
        sign = "<>" if sign == "!=" else sign
        if self.is_word("all", "any", "some") and self.is_op("(", ahead=1) and self.holds_query(self.at + 1):
            every = self.advance().value == "all"
            return tree.Quantified(sign, every, left, self.in_parentheses(self.query))
        return tree.Comparison(sign, left, self.operand())

    def _between(self, left: tree.Expression, negated: bool) -> tree.Expression:
        symmetric = self.accept("symmetric")
        if not symmetric:
            self.accept("asymmetric")
        low = self.operand()
        self.expect("and")
        return tree.Between(left, low, self.operand(), negated, symmetric)

    def _in(self, left: tree.Expression, negated: bool) -> tree.Expression:
        self.expect_op("(")
        node: tree.Expression
        if self.holds_query(self.at - 1):
            node = tree.InQuery(left, self.query(), negated)
        else:
            node = tree.InList(left, self.comma_list(self.expression), negated)
        self.expect_op(")")
        return node

    # -- operands

    def _signed(self) -> tree.Expression:
        if not self.is_op("-", "+"):
            return self._primary()
        start = self.token.start
        sign = self.advance().value
        self.deeper()
        operand = self._signed()
        self.nesting -= 1
        if sign == "-" and isinstance(operand, tree.Literal) and operand.kind in ("integer", "decimal", "float"):
            if not operand.value.startswith("-"):
                return tree.Literal(operand.kind, "-" + operand.value, span=self.span_from(start))
        return tree.Unary(sign, operand, span=self.span_from(start))

    def _primary(self) -> tree.Expression:
        start = self.tokens[self.at].start
        node = placed(self._plain_primary(), self.span_from(start))
        while self.tells or self.tokens[self.at].sign in ("[", "."):
            if self.accept_op("["):
                node = tree.Element(node, self.expression())
                self.expect_op("]")
            elif self.accept_op("."):  # of a name its parts are read by _named
                node = tree.Field(node, self.identifier("the name of a field"))
            else:
                break
            placed(node, self.span_from(start))
        return node

    def _plain_primary(self) -> tree.Expression:
        token = self.tokens[self.at]
        if token.kind == "name":
            if token.sign in SPECIAL_WORDS or self.tokens[self.at + 1].sign == "(":
                special = self._special_word(token.sign)
                if special is not None:
                    return special
            if token.sign not in RESERVED or (token.sign in FUNCTION_WORDS and self.is_op("(", ahead=1)):
                return self._named()
        if token.kind in ("integer", "decimal", "float", "bytes"):
            self.advance()
            return tree.Literal(token.kind, token.value)
        if token.kind == "string":
            return tree.Literal("string", self._compound_text())
        if token.kind == "op":
            if token.value == "(":
                return self._parenthesised()
            if token.value == "?":
                self.advance()
                return tree.Placeholder()
            if token.value == "*":
                self.advance()
                return tree.Star()
            if self.is_host_variable():
                return self.host_variable()
        if token.kind == "quoted":
            return self._named()
        self.wanted = {"a value": None}
        if token.kind == "name" and token.value in RESERVED:
            self.fail(hint=f"{token.value.upper()} is a reserved word")
        self.fail()

    def _compound_text(self) -> str:
        """Literals on following lines go on the one before (F271)."""
        text = self.advance().value
        while self.token.kind == "string" and "\n" in self.source.text[self.tokens[self.at - 1].end : self.token.start]:
            text += self.advance().value
        return text

    def _parenthesised(self) -> tree.Expression:
        if self.holds_query(self.at):
            return tree.Subquery(self.in_parentheses(self.query))
        self.expect_op("(")
        items = self.comma_list(self.expression)
        self.expect_op(")")
        if len(items) > 1:
            return tree.RowValue(items)
        if isinstance(items[0], tree.Binary) and items[0].sign == "-" and self.is_word(*INTERVAL_FIELDS):
            difference = items[0]
            return tree.Difference(difference.left, difference.right, self._interval_type(self.token.start))
        return items[0]

    def _special_word(self, word: str) -> tree.Expression | None:
        following = self.peek()
        if word in ("true", "false"):
            self.advance()
            return tree.Literal("boolean", word)
        if word in ("null", "unknown") and not (word == "unknown" and following.value in ("(", ".")):
            self.advance()
            return tree.Literal("null" if word == "null" else "boolean", "" if word == "null" else "unknown")
        if word in DATETIME_WORDS and following.kind == "string":
            self.advance()
            return tree.Literal(word, self.advance().value)
        if word == "interval" and (following.kind == "string" or following.value in ("+", "-")):
            return self._interval()
        if word == "case":
            return self._case()
        if word == "exists" and following.value == "(":
            self.advance()
            return tree.Exists(self.in_parentheses(self.query))
        if word == "unique" and following.value in ("(", "nulls"):
            return self._unique()
        if word == "array" and following.value in ("[", "("):
            return self._array()
        if word == "next" and following.value == "value" and self.is_word("for", ahead=2):
            self.accept("next", "value", "for")
            return tree.NextValue(self.parts("the name of a sequence"))
        if word == "default":
            self.advance()
            return tree.DefaultValue()
        if word == "row" and following.value == "(":
            self.advance()
            return tree.RowValue(self.in_parentheses(lambda: self.comma_list(self.expression)))
        if word in BARE_FUNCTIONS:
            self.advance()
            if self.is_op("(") and self.peek().kind == "integer":
                return tree.FunctionCall((word,), (self._argument_in_parentheses(),), bare=True)
            return tree.FunctionCall((word,), bare=True)
        if following.value == "(" and following.kind == "op":
            return self._keyword_call(word)
        return None

    def _unique(self) -> tree.Expression:
        """UNIQUE [NULLS [NOT] DISTINCT] (query)."""
        self.expect("unique")
        distinct = self.nulls_distinct()
        return tree.Unique(self.in_parentheses(self.query), distinct)

    def nulls_distinct(self) -> bool:
        """NULLS DISTINCT or NULLS NOT DISTINCT behind UNIQUE; distinct when nothing is said."""
        if self.accept("nulls", "not", "distinct"):
            return False
        self.accept("nulls", "distinct")
        return True

    def _array(self) -> tree.Expression:
        self.expect("array")
        if self.is_op("("):
            return tree.ArrayQuery(self.in_parentheses(self.query))
        self.expect_op("[")
        items = () if self.is_op("]") else self.comma_list(self.expression)
        self.expect_op("]")
        return tree.ArrayValue(items)

    def _argument_in_parentheses(self) -> tree.Argument:
        return tree.Argument(self.in_parentheses(self.expression))

    def _interval(self) -> tree.Expression:
        self.expect("interval")
        negative = self.accept_op("-")
        if not negative:
            self.accept_op("+")
        value = self.text()
        first = last = self._interval_field()
        if self.accept("to"):
            last = self._interval_field()
        return tree.IntervalLiteral(value, negative, first, last)

    def _interval_field(self) -> str:
        if not self.is_word(*INTERVAL_FIELDS):
            self.fail()
        field = self.advance().value
        if self.accept_op("("):
            self.comma_list(self.integer)
            self.expect_op(")")
        return field

    def _case(self) -> tree.Expression:
        self.expect("case")
        operand = None if self.is_word("when") else self.expression()
        whens = []
        while self.is_word("when"):
            start = self.advance().start
            conditions = self.when_conditions(operand is not None)
            self.expect("then")
            whens.append(tree.When(conditions, self.expression(), span=self.span_from(start)))
        if not whens:
            self.fail()
        otherwise = self.expression() if self.accept("else") else None
        self.expect("end")
        return tree.CaseExpression(operand, tuple(whens), otherwise)

    def when_conditions(self, simple: bool) -> tuple[tree.Expression, ...]:
        """What follows WHEN: one condition, or in a simple CASE values and tests of the operand."""
        return self.comma_list(self._when_operand) if simple else (self.expression(),)

    def _when_operand(self) -> tree.Expression:
        start = self.token.start
        negated = self.is_word("not") and self.is_word(*NEGATABLE, ahead=1)
        if not (negated or self.is_op(*COMPARISONS) or self.is_word("is", "overlaps", *NEGATABLE)):
            return self.expression()
        operand = tree.CaseOperand(span=Span(start, start))
        test = self._go_on(operand, start, IS, PREDICATE)
        return tree.OperandTest(test, span=self.span_from(start))

    def _keyword_call(self, word: str) -> tree.Expression | None:
        """Calls whose arguments are parted by words: CAST, EXTRACT, SUBSTRING, POSITION, TRIM, OVERLAY."""
        if word == "cast":
            self.advance()
            self.expect_op("(")
            operand = self.expression()
            self.expect("as")
            cast = tree.Cast(operand, self.type_name())
            self.expect_op(")")
            return cast
        reader = {
            "extract": self._extract,
            "substring": self._substring,
            "position": self._position,
            "trim": self._trim,
            "overlay": self._overlay,
        }.get(word)
        if reader is None:
            return None
        self.advance()
        self.expect_op("(")
        name, arguments = reader()
        self.expect_op(")")
        return tree.FunctionCall((name,), tuple(tree.Argument(a, span=a.span) for a in arguments))

    def _extract(self) -> tuple[str, list[tree.Expression]]:
        if not self.is_word(*INTERVAL_FIELDS):
            self.fail()
        field = self.advance().value
        self.expect("from")
        return f"extract_{field}", [self.expression()]

    def _substring(self) -> tuple[str, list[tree.Expression]]:
        arguments = [self.operand()]
        if self.accept("similar"):
            arguments.append(self.operand())
            self.expect("escape")
            return "substring_similar", [*arguments, self.operand()]
        if self.accept("from") or self.accept_op(","):
            arguments.append(self.expression())
            if self.accept("for") or self.accept_op(","):
                arguments.append(self.expression())
        elif self.accept("for"):
            arguments += [tree.Literal("integer", "1"), self.expression()]
        else:
            self.fail()
        return "substring", arguments

    def _position(self) -> tuple[str, list[tree.Expression]]:
        needle = self.operand()
        if not self.accept("in") and not self.accept_op(","):
            self.fail()
        return "position", [needle, self.operand()]

    def _trim(self) -> tuple[str, list[tree.Expression]]:
        side = self.advance().value if self.is_word("leading", "trailing", "both") else "both"
        blank: tree.Expression = tree.Literal("string", " ")
        if self.accept("from"):
            return f"trim_{side}", [self.expression(), blank]
        first = self.expression()
        if self.accept("from"):
            return f"trim_{side}", [self.expression(), first]
        return f"trim_{side}", [first, blank]

    def _overlay(self) -> tuple[str, list[tree.Expression]]:
        arguments = [self.expression()]
        self.expect("placing")
        arguments.append(self.expression())
        self.expect("from")
        arguments.append(self.expression())
        if self.accept("for"):
            arguments.append(self.expression())
        return "overlay", arguments

    def _named(self) -> tree.Expression:
        """A reference, a qualified star or a call."""
        plain = self._plain_reference() if not self.tells else None
        if plain is not None:
            return plain
        if self.token.value in FUNCTION_WORDS and self.token.kind == "name":
            name: tuple[str, ...] = (self.advance().value,)
        else:
            name = self.parts()
        if self.is_op(".") and self.is_op("*", ahead=1):
            self.advance()
            self.advance()
            return tree.Star(name)
        if self.is_op("("):
            return self.call(name)
        return tree.Reference(name)

    def _plain_reference(self) -> tree.Reference | None:
        """A name, or one qualified by another, as most are; None for any other."""
        tokens, at = self.tokens, self.at
        first, follows = tokens[at], tokens[at + 1].sign
        if first.kind != "name" or follows == "(":
            return None
        if follows != ".":
            self.at = at + 1
            return tree.Reference((first.value,))
        second, follows = tokens[at + 2], tokens[at + 3].sign
        if second.kind != "name" or second.sign in RESERVED or follows in (".", "("):
            return None
        self.at = at + 3
        return tree.Reference((first.value, second.value))

    def call(self, name: tuple[str, ...]) -> tree.FunctionCall:
        """The rest of a call, from its opening parenthesis."""
        self.expect_op("(")
        distinct = self.accept("distinct")
        if not distinct:
            self.accept("all")
        arguments = () if self.is_op(")") else self.comma_list(self.argument)
        order = self.order_by() if name == ("array_agg",) else ()
        overflow = self._overflow() if name == ("listagg",) and self.accept("on", "overflow") else None
        self.expect_op(")")
        if self.accept("within", "group"):
            self.expect_op("(")
            order = self.order_by()
            self.expect_op(")")
        from_last = self.accept("from", "last") if name == ("nth_value",) else False
        if name == ("nth_value",):
            self.accept("from", "first")
        nulls = ""
        if name[-1] in NULL_TREATED and self.is_word("ignore", "respect") and self.is_word("nulls", ahead=1):
            nulls = self.advance().value
            self.advance()
        where = None
        if self.accept("filter"):
            self.expect_op("(")
            self.expect("where")
            where = self.expression()
            self.expect_op(")")
        over: tree.Window | None = None
        if self.is_word("over") and (self.is_op("(", ahead=1) or self.peek().kind in ("name", "quoted")):
            start = self.advance().start
            over = self.window() if self.is_op("(") else tree.Window(name=self.identifier("the name of a window"))
            over = placed(over, self.span_from(start))
        return tree.FunctionCall(name, arguments, distinct, where, order, over, False, nulls, from_last, overflow)

    def _overflow(self) -> tree.Overflow | None:
        """What follows ON OVERFLOW."""
        start = self.token.start
        if self.accept("error"):
            return None
        self.expect("truncate")
        filler = self.text() if self.token.kind == "string" else "..."
        if not self.is_word("with", "without"):
            self.fail()
        count = self.advance().value == "with"
        self.expect("count")
        return tree.Overflow(filler, count, span=self.span_from(start))

    def argument(self) -> tree.Argument:
        start = self.token.start
        name = ""
        if self.is_op("=>", ahead=1):
            name = self.identifier("the name of a parameter")
            self.advance()
        return tree.Argument(self.expression(), name, span=self.span_from(start))

    def window(self) -> tree.Window:
        """A window specification in parentheses."""
        self.expect_op("(")
        base = ""
        if self.is_name() and not self.is_word("partition", "rows", "range", "groups"):
            base = self.advance().value
        partition: tuple[tree.Expression, ...] = ()
        if self.accept("partition", "by"):
            partition = self.comma_list(self.expression)
        order = self.order_by()
        unit = ""
        start: tree.Bound | None = None
        end: tree.Bound | None = None
        if self.is_word("rows", "range", "groups"):
            unit = self.advance().value
            between = self.accept("between")
            start = self._bound()
            if between:
                self.expect("and")
                end = self._bound()
        exclude = self._exclusion() if unit and self.accept("exclude") else ""
        self.expect_op(")")
        return tree.Window(partition, order, unit, start, end, base, exclude)

    def _exclusion(self) -> str:
        """What follows EXCLUDE."""
        if self.accept("no", "others"):
            return ""
        if self.accept("current", "row"):
            return "current row"
        if not self.is_word("group", "ties"):
            self.fail()
        return self.advance().value

    def _bound(self) -> tree.Bound:
        """One end of a window frame."""
        start = self.token.start
        if self.accept("current", "row"):
            return tree.Bound("current row", span=self.span_from(start))
        value: tree.Expression | None = None
        kind = "unbounded "
        if not self.accept("unbounded"):
            value, kind = self.operand(), ""
        if not self.is_word("preceding", "following"):
            self.fail()
        kind += self.advance().value
        return tree.Bound(kind, value, span=self.span_from(start))

    def order_by(self) -> tuple[tree.SortKey, ...]:
        """An ORDER BY clause, or nothing."""
        if not self.accept("order", "by"):
            return ()
        return self.comma_list(self._sort_key)

    def _sort_key(self) -> tree.SortKey:
        start = self.token.start
        value = self.expression()
        descending = self.accept("desc")
        if not descending:
            self.accept("asc")
        nulls = ""
        if self.accept("nulls"):
            if not self.is_word("first", "last"):
                self.fail()
            nulls = self.advance().value
        return tree.SortKey(value, descending, nulls, span=self.span_from(start))

    # -- types

    def type_name(self) -> tree.TypeName:
        """A data type; what follows DOUBLE, CHARACTER and the like is folded into one name."""
        start = self.token.start
        found = self._plain_type()
        while self.accept("array"):
            size: tuple[int, ...] = ()
            if self.accept_op("["):
                size = (self.integer(),)
                self.expect_op("]")
            found = tree.TypeName("array", size, found, span=self.span_from(start))
        return found

    def _plain_type(self) -> tree.TypeName:
        start = self.token.start
        if self.accept("row"):
            fields = self.in_parentheses(lambda: self.comma_list(self._field))
            return tree.TypeName("row", (), None, fields, span=self.span_from(start))
        *schema, name = self.parts("a data type")
        if schema:
            return tree.TypeName(name, schema=tuple(schema), span=self.span_from(start))
        if name == "national":
            name = self.identifier("CHARACTER")
        name = {"int": "integer", "dec": "decimal", "numeric": "decimal", "character": "char", "bool": "boolean"}.get(
            name, name
        )
        if name == "double":
            self.accept("precision")
        elif name == "char" and self.accept("varying"):
            name = "varchar"
        elif name == "char" and self.accept("large", "object"):
            name = "clob"
        elif name == "nchar":
            name = "varchar" if self.accept("varying") else "char"
        elif name == "binary" and self.accept("varying"):
            name = "varbinary"
        elif name == "binary" and self.accept("large", "object"):
            name = "blob"
        elif name == "interval":
            return self._interval_type(start)
        arguments: tuple[int, ...] = ()
        if self.accept_op("("):
            arguments = self.comma_list(self._length)
            self.expect_op(")")
        if name in ("time", "timestamp") and self.accept("without"):
            self.expect("time", "zone")
        return tree.TypeName(name, arguments, span=self.span_from(start))

    def _length(self) -> int:
        """A length or precision: a number with K, M or G behind it, perhaps a unit."""
        number = self.integer()
        if self.is_word("k", "m", "g"):
            number *= {"k": 1 << 10, "m": 1 << 20, "g": 1 << 30}[self.advance().value]
        if self.is_word("characters", "octets"):
            self.advance()
        return number

    def _field(self) -> tree.ResultColumn:
        start = self.token.start
        name = self.identifier("the name of a field")
        return tree.ResultColumn(name, self.type_name(), span=self.span_from(start))

    def _interval_type(self, start: int) -> tree.TypeName:
        first = last = self._interval_field()
        if self.accept("to"):
            last = self._interval_field()
        months = first in ("year", "month")
        if months != (last in ("year", "month")):
            self.fail("an interval is of years and months, or of days to seconds", span=self.span_from(start))
        return tree.TypeName(
            f"interval {first}" + (f" to {last}" if last != first else ""), (), span=self.span_from(start)
        )
