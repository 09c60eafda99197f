"""Tree to text: SQL that parses to the same tree. One writer for one class of node, found by its name.

Long on purpose: one line or function for each class of `tree`, in its order, so that a missing one is seen at once.
"""

from __future__ import annotations

import re
from typing import Any

from glimb.lang import tree
from glimb.lang.node import Node
from glimb.lang.parser.base import RESERVED
from glimb.lang.parser.expressions import BARE_FUNCTIONS, DATETIME_WORDS, FUNCTION_WORDS, INTERVAL_FIELDS
from glimb.lang.parser.routines import LABELLED, SIGNAL_ITEMS
from glimb.lang.parser.statements import LOCK_MODES

_REGULAR = re.compile(r"[a-z_][a-z0-9_]*\Z")
_QUOTED = (
    RESERVED
    | BARE_FUNCTIONS
    | frozenset((*DATETIME_WORDS, *INTERVAL_FIELDS, *LABELLED))
    | frozenset(
        "interval unknown next row unique unnest final new old filter over within partition rows range groups ignore "
        "respect nulls only ties fetch lateral exclude rollup cube grouping scroll no sensitive insensitive asensitive "
        "cursor absolute relative prior first last transaction constraints session schema local current condition "
        "continue exit undo similar overlaps escape corresponding filter zone ordinality placing extract cast "
        "substring position trim overlay listagg array_agg nth_value lag lead first_value last_value restrict add "
        "column constraint key value share nowait skip wait atomic stacked all deterministic specific language "
        "called returns dynamic reads modifies contains of read for elseif match atomic input sqlstate sqlexception "
        "sqlwarning temporary work chain savepoint to identity including excluding preserve generated always domain "
        "set execute immediate prepare".split()
    )
)
_ATOMS = (
    tree.Reference,
    tree.FunctionCall,
    tree.Cast,
    tree.Subquery,
    tree.CaseExpression,
    tree.CaseOperand,
    tree.Element,
    tree.Field,
    tree.ArrayValue,
    tree.ArrayQuery,
    tree.RowValue,
    tree.Star,
    tree.Placeholder,
    tree.Exists,
    tree.Unique,
    tree.DefaultValue,
    tree.NextValue,
    tree.IntervalLiteral,
)


def write(node: Node) -> str:
    """The text of a node."""
    writer = _WRITERS.get(type(node).__name__)
    if writer is None:
        raise TypeError(f"{type(node).__name__} has no text")
    text: str = writer(node)
    return text


def name(word: str) -> str:
    """An identifier, quoted where it must be."""
    if _REGULAR.match(word) and word not in _QUOTED:
        return word
    return '"' + word.replace('"', '""') + '"'


def names(parts: tree.Parts) -> str:
    """A dotted name."""
    return ".".join(name(p) for p in parts)


def listed(items: Any) -> str:
    return ", ".join(write(i) for i in items)


def name_list(words: tree.Parts) -> str:
    return f"({', '.join(name(w) for w in words)})"


def quoted(text: str) -> str:
    return "'" + text.replace("'", "''") + "'"


def operand(node: Node) -> str:
    """An operand of an operator: in parentheses unless it is one thing."""
    if isinstance(node, _ATOMS) or (isinstance(node, tree.Literal) and not node.value.startswith("-")):
        return write(node)
    return f"({write(node)})"


def _not(node: Any) -> str:
    return "NOT " if node.negated else ""


def _words(*parts: str) -> str:
    """Parts that are there, with a blank between."""
    return " ".join(p for p in parts if p)


def _optional(word: str, node: Node | None) -> str:
    return f"{word} {write(node)}" if node is not None else ""


# ---- types and expressions ------------------------------------------------------------------------------------------


def _type_name(n: tree.TypeName) -> str:
    if n.element is not None:
        return f"{write(n.element)} ARRAY" + (f"[{n.arguments[0]}]" if n.arguments else "")
    if n.fields:
        return f"ROW({listed(n.fields)})"
    if n.schema:
        return names(n.parts)
    if n.name.startswith("interval "):
        return n.name.upper()
    word = {"double": "DOUBLE PRECISION"}.get(n.name, name(n.name) if n.name not in DATETIME_WORDS else n.name.upper())
    return word + (f"({', '.join(map(str, n.arguments))})" if n.arguments else "")


def _literal(n: tree.Literal) -> str:
    if n.kind == "string":
        return quoted(n.value)
    if n.kind == "bytes":
        return f"X'{n.value}'"
    if n.kind == "null":
        return "NULL"
    if n.kind in DATETIME_WORDS:
        return f"{n.kind.upper()} {quoted(n.value)}"
    return n.value.upper() if n.kind == "boolean" else n.value


def _interval(n: tree.IntervalLiteral) -> str:
    last = f" TO {n.last.upper()}" if n.last != n.first else ""
    return f"INTERVAL {'-' if n.negative else ''}{quoted(n.value)} {n.first.upper()}{last}"


def _difference(n: tree.Difference) -> str:
    return f"({operand(n.left)} - {operand(n.right)}) {n.type.name.removeprefix('interval ').upper()}"


def _pattern(n: Any, word: str) -> str:
    escape = f" ESCAPE {operand(n.escape)}" if n.escape is not None else ""
    return f"{operand(n.operand)} {_not(n)}{word} {operand(n.pattern)}{escape}"


def _between(n: tree.Between) -> str:
    symmetric = "SYMMETRIC " if n.symmetric else ""
    return f"{operand(n.operand)} {_not(n)}BETWEEN {symmetric}{operand(n.low)} AND {operand(n.high)}"


def _field(n: tree.Field) -> str:
    """Of a name in parentheses: it would be read as the qualifier of another name."""
    is_part = isinstance(n.operand, tree.Element | tree.Field | tree.Subquery)
    return f"{write(n.operand)}.{name(n.name)}" if is_part else f"({write(n.operand)}).{name(n.name)}"


def _case(n: tree.CaseExpression) -> str:
    start = f"CASE {write(n.operand)}" if n.operand is not None else "CASE"
    return _words(start, " ".join(write(w) for w in n.whens), _optional("ELSE", n.otherwise), "END")


def _call(n: tree.FunctionCall) -> str:
    word = n.name[-1]
    if n.bare:
        return word.upper() + (f"({listed(n.arguments)})" if n.arguments else "")
    if len(n.name) == 1:
        parted = _parted_call(word, [write(a.value) for a in n.arguments])
        if parted:
            return parted
    called = word if word in FUNCTION_WORDS or word in _BUILT_IN else name(word)
    called = ".".join([*(name(p) for p in n.name[:-1]), called])
    within = n.name in (("array_agg",),)
    order = f"ORDER BY {listed(n.order)}" if n.order else ""
    overflow = ""
    if n.overflow is not None:
        count = "WITH" if n.overflow.count else "WITHOUT"
        overflow = f"ON OVERFLOW TRUNCATE {quoted(n.overflow.filler)} {count} COUNT"
    inner = _words("DISTINCT" if n.distinct else "", listed(n.arguments), order if within else "", overflow)
    return _words(
        f"{called}({inner})",
        f"WITHIN GROUP ({order})" if order and not within else "",
        "FROM LAST" if n.from_last else "",
        f"{n.nulls.upper()} NULLS" if n.nulls else "",
        f"FILTER (WHERE {write(n.where)})" if n.where is not None else "",
        f"OVER {_over(n.over)}" if n.over is not None else "",
    )


_BUILT_IN = frozenset("substring position listagg array_agg nth_value lag lead first_value last_value grouping".split())


def _parted_call(word: str, arguments: list[str]) -> str:
    """Calls whose arguments are parted by words; empty for others."""
    if word.startswith("extract_") and len(arguments) == 1:
        return f"EXTRACT({word[8:].upper()} FROM {arguments[0]})"
    if word.startswith("trim_") and word[5:] in ("leading", "trailing", "both") and len(arguments) == 2:
        return f"TRIM({word[5:].upper()} {arguments[1]} FROM {arguments[0]})"
    if word == "overlay" and len(arguments) > 2:
        tail = f" FOR {arguments[3]}" if len(arguments) > 3 else ""
        return f"OVERLAY({arguments[0]} PLACING {arguments[1]} FROM {arguments[2]}{tail})"
    if word == "substring_similar":
        return f"SUBSTRING(({arguments[0]}) SIMILAR ({arguments[1]}) ESCAPE ({arguments[2]}))"
    if word in ("substring", "position"):
        return f"{word.upper()}({', '.join(f'({a})' for a in arguments)})"
    return ""


def _over(n: tree.Window) -> str:
    plain = not (n.partition or n.order or n.unit)
    return name(n.name) if n.name and plain and not n.exclude else write(n)


def _window(n: tree.Window) -> str:
    frame = ""
    if n.start is not None:
        frame = f"{n.unit.upper()} {write(n.start)}"
        if n.end is not None:
            frame = f"{n.unit.upper()} BETWEEN {write(n.start)} AND {write(n.end)}"
        frame += f" EXCLUDE {n.exclude.upper()}" if n.exclude else ""
    parts = (
        name(n.name) if n.name else "",
        f"PARTITION BY {listed(n.partition)}" if n.partition else "",
        f"ORDER BY {listed(n.order)}" if n.order else "",
        frame,
    )
    return f"({_words(*parts)})"


def _grouping(n: tree.Grouping) -> str:
    word = {"sets": "GROUPING SETS"}.get(n.kind, n.kind.upper())
    return f"{word} ({listed_groups(n.items)})"


def listed_groups(items: tuple[tree.Expression, ...]) -> str:
    """Elements of GROUP BY; a row of them is written without the word ROW."""
    return ", ".join(f"({listed(i.items)})" if isinstance(i, tree.RowValue) else write(i) for i in items)


def _sort_key(n: tree.SortKey) -> str:
    return _words(write(n.value), "DESC" if n.descending else "", f"NULLS {n.nulls.upper()}" if n.nulls else "")


# ---- queries --------------------------------------------------------------------------------------------------------


def _aliased(n: Any, text: str) -> str:
    columns = f" {name_list(n.columns)}" if n.columns else ""
    return f"{text} AS {name(n.alias)}{columns}" if n.alias else text


def _join(n: tree.Join) -> str:
    right = f"({write(n.right)})" if isinstance(n.right, tree.Join) else write(n.right)
    if n.kind == "cross":
        return f"{write(n.left)} CROSS JOIN {right}"
    how = f"{'NATURAL ' if n.natural else ''}{n.kind.upper()} JOIN"
    using = f" USING {name_list(n.using)}" if n.using else ""
    alias = f" AS {name(n.alias)}" if n.alias else ""
    on = f" ON {write(n.condition)}" if n.condition is not None else ""
    return f"{write(n.left)} {how} {right}{using}{alias}{on}"


def _select(n: tree.Select, into: str = "") -> str:
    group = ""
    if n.group is not None:
        group = f"GROUP BY {'DISTINCT ' if n.distinct_groups else ''}{listed_groups(n.group)}"
    return _words(
        "SELECT DISTINCT" if n.distinct else "SELECT",
        listed(n.items),
        into,
        f"FROM {listed(n.sources)}" if n.sources else "",
        _optional("WHERE", n.where),
        group,
        _optional("HAVING", n.having),
        f"WINDOW {listed(n.windows)}" if n.windows else "",
    )


def _set_operation(n: tree.SetOperation) -> str:
    corresponding = "CORRESPONDING" + (f" BY {name_list(n.by)}" if n.by else "") if n.corresponding else ""
    return _words(write(n.left), n.kind.upper(), "ALL" if n.all else "", corresponding, write(n.right))


def _values(n: tree.Values) -> str:
    return "VALUES " + ", ".join(f"({listed(row)})" for row in n.rows)


def _row_lock(n: tree.RowLock) -> str:
    of = f" OF {', '.join(name(t) for t in n.tables)}" if n.tables else ""
    return f"FOR {n.mode.upper()}{of}{' SKIP LOCKED' if n.skip else ''}{_wait(n.wait)}"


def _wait(seconds: float | None) -> str:
    if seconds is None:
        return ""
    return f" WAIT {seconds:.9f}".rstrip("0").rstrip(".") if seconds else " NOWAIT"


def _common_table(n: tree.CommonTable) -> str:
    columns = name_list(n.columns) if n.columns else ""
    traced = [write(t) for t in (n.search, n.cycle) if t is not None]
    return _words(name(n.name), columns, f"AS ({write(n.query)})", *traced)


def _search(n: tree.Search) -> str:
    order = "DEPTH" if n.depth_first else "BREADTH"
    return f"SEARCH {order} FIRST BY {', '.join(map(name, n.columns))} SET {name(n.name)}"


def _cycle(n: tree.Cycle) -> str:
    marks = _words(_optional("TO", n.mark), _optional("DEFAULT", n.otherwise))
    return _words(f"CYCLE {', '.join(map(name, n.columns))} SET {name(n.name)}", marks, f"USING {name(n.path)}")


def _query(n: tree.Query, into: str = "") -> str:
    with_ = f"WITH {'RECURSIVE ' if n.recursive else ''}{listed(n.common)}" if n.common else ""
    fetch = ""
    if n.fetch is not None:
        percent = " PERCENT" if n.percent else ""
        fetch = f"FETCH FIRST {write(n.fetch)}{percent} ROWS {'WITH TIES' if n.ties else 'ONLY'}"
    return _words(
        with_,
        _select(n.body, into) if isinstance(n.body, tree.Select) else write(n.body),
        f"ORDER BY {listed(n.order)}" if n.order else "",
        f"OFFSET {write(n.offset)} ROWS" if n.offset is not None else "",
        fetch,
        write(n.lock) if n.lock is not None else "",
    )


# ---- statements that change data ------------------------------------------------------------------------------------


def _insert(n: tree.Insert) -> str:
    columns = f" {name_list(n.columns)}" if n.columns else ""
    overriding = f" OVERRIDING {n.overriding.upper()} VALUE" if n.overriding else ""
    return f"INSERT INTO {names(n.table)}{columns}{overriding} {write(n.query) if n.query else 'DEFAULT VALUES'}"


def _assignment(n: tree.Assignment) -> str:
    target = name(n.columns[0]) if len(n.columns) == 1 else name_list(n.columns)
    element = f"[{write(n.element)}]" if n.element is not None else ""
    return f"{target}{element} = {write(n.value)}"


def _where(n: Any) -> str:
    return f"WHERE CURRENT OF {_dynamic_name(n.cursor)}" if n.cursor else _optional("WHERE", n.where)


def _alias(alias: str) -> str:
    return f"AS {name(alias)}" if alias else ""


def _update(n: tree.Update) -> str:
    return _words("UPDATE", names(n.table), _alias(n.alias), "SET", listed(n.assignments), _where(n))


def _delete(n: tree.Delete) -> str:
    return _words("DELETE FROM", names(n.table), _alias(n.alias), _where(n))


def _merge(n: tree.Merge) -> str:
    clauses = " ".join(write(c) for c in n.clauses)
    on = f"ON {write(n.condition)}"
    return _words("MERGE INTO", names(n.table), _alias(n.alias), "USING", write(n.source), on, clauses)


def _merge_clause(n: tree.MergeClause) -> str:
    start = _words("WHEN", "" if n.matched else "NOT", "MATCHED", _optional("AND", n.condition), "THEN")
    if not n.matched:
        return f"{start} INSERT {name_list(n.columns) if n.columns else ''} VALUES ({listed(n.values)})"
    return f"{start} UPDATE SET {listed(n.assignments)}" if n.assignments else f"{start} DELETE"


# ---- schema ---------------------------------------------------------------------------------------------------------


def _constraint(n: tree.Constraint, in_column: bool = False) -> str:
    columns = "" if in_column else f" {name_list(n.columns)}" if n.columns else ""
    if n.kind == "foreign":
        actions = "".join(
            f" ON {event} {action.upper()}"
            for event, action in (("DELETE", n.on_delete), ("UPDATE", n.on_update))
            if action != "no action"
        )
        target = names(n.target) + (f" {name_list(n.target_columns)}" if n.target_columns else "")
        match = f" MATCH {n.match.upper()}" if n.match != "simple" else ""
        text = f"{'' if in_column else f'FOREIGN KEY{columns} '}REFERENCES {target}{match}{actions}"
    elif n.kind == "check":
        assert n.condition is not None
        text = f"CHECK ({write(n.condition)})"
    elif n.kind == "unique":
        text = f"UNIQUE{'' if n.nulls_distinct else ' NULLS NOT DISTINCT'}{columns}"
    else:
        text = "NOT NULL" if n.kind == "not null" else f"PRIMARY KEY{columns}"
    return _words(f"CONSTRAINT {name(n.name)}" if n.name else "", text, _characteristics_of(n))


def _characteristics_of(n: tree.Constraint) -> str:
    return _words(
        "INITIALLY DEFERRED" if n.deferred else "DEFERRABLE" if n.deferrable else "",
        "" if n.enforced else "NOT ENFORCED",
    )


def _column(n: tree.ColumnDefinition) -> str:
    how = "ALWAYS" if n.always else "BY DEFAULT"
    identity = ""
    if n.identity is not None:
        options = write(n.identity)
        identity = f"GENERATED {how} AS IDENTITY" + (f" ({options})" if options else "")
    return _words(
        name(n.name),
        write(n.type) if n.type != tree.UNTYPED else "",
        identity,
        f"GENERATED ALWAYS AS ({write(n.generated)})" if n.generated is not None else "",
        f"DEFAULT {operand(n.default)}" if n.default is not None else "",
        "NOT NULL" if n.not_null and n.identity is None else "",
        " ".join(_constraint(c, True) for c in n.constraints),
    )


def _sequence_options(n: tree.SequenceOptions) -> str:
    numbers = (("START WITH", n.start), ("INCREMENT BY", n.increment), ("MINVALUE", n.minimum), ("MAXVALUE", n.maximum))
    return _words(
        f"AS {write(n.type)}" if n.type is not None else "",
        *(f"{word} {number}" for word, number in numbers if number is not None),
        "CYCLE" if n.cycle else "",
    )


def _create_table(n: tree.CreateTable) -> str:
    temporary = f"{n.temporary.upper()} TEMPORARY " if n.temporary else ""
    absent = "IF NOT EXISTS " if n.if_absent else ""
    if n.query is not None:
        columns = f" {name_list(n.query_columns)}" if n.query_columns else ""
        body = f"{columns} AS ({write(n.query)}) WITH {'' if n.with_data else 'NO '}DATA"
    else:
        elements = [write(c) for c in n.columns]
        for like in reversed(n.likes):
            elements.insert(like.position, write(like))
        body = f" ({', '.join([*elements, *(write(c) for c in n.constraints)])})"
    preserve = " ON COMMIT PRESERVE ROWS" if n.preserve else ""
    return f"CREATE {temporary}TABLE {absent}{names(n.name)}{body}{preserve}"


def _like_table(n: tree.LikeTable) -> str:
    return _words("LIKE", names(n.table), *(f"INCLUDING {word.upper()}" for word in n.including))


def _reach(n: tree.Drop | tree.AlterTable) -> str:
    """RESTRICT or CASCADE, where one of them is said."""
    return " CASCADE" if n.cascade else " RESTRICT" if n.restrict else ""


def _alter_table(n: tree.AlterTable) -> str:
    start = f"ALTER TABLE {names(n.table)}"
    cascade = _reach(n)
    if n.verb == "add column" and n.column is not None:
        return f"{start} ADD COLUMN {write(n.column)}"
    if n.verb == "add constraint" and n.constraint is not None:
        return f"{start} ADD {write(n.constraint)}"
    if n.verb == "alter constraint" and n.constraint is not None:
        return f"{start} ALTER CONSTRAINT {name(n.name)} {_characteristics_of(n.constraint) or 'ENFORCED'}"
    if n.verb in ("drop column", "drop constraint"):
        return f"{start} {n.verb.upper()} {name(n.name)}{cascade}"
    column = f"{start} ALTER COLUMN {name(n.name)}"
    if n.verb == "set default" and n.value is not None:
        return f"{column} SET DEFAULT {operand(n.value)}"
    if n.verb == "set type" and n.type is not None:
        return f"{column} SET DATA TYPE {write(n.type)}"
    return f"{column} {n.verb.upper()}" + (f" WITH {n.start}" if n.start is not None else "")


def _create_view(n: tree.CreateView) -> str:
    columns = f" {name_list(n.columns)}" if n.columns else ""
    check = f" WITH {n.check.upper()} CHECK OPTION" if n.check else ""
    start = _words("CREATE", "OR REPLACE" if n.replace else "", "RECURSIVE" if n.recursive else "", "VIEW")
    return f"{start} {names(n.name)}{columns} AS {write(n.query)}{check}"


def _create_schema(n: tree.CreateSchema) -> str:
    return _words("CREATE SCHEMA", names(n.name), *(write(e) for e in n.elements))


def _create_module(n: tree.CreateModule) -> str:
    elements = " ".join(f"DECLARE {write(e).removeprefix('CREATE ')};" for e in n.elements)
    return _words("CREATE MODULE", names(n.name), elements, "END MODULE")


def _create_domain(n: tree.CreateDomain) -> str:
    default = f"DEFAULT {operand(n.default)}" if n.default is not None else ""
    return _words("CREATE DOMAIN", names(n.name), "AS", write(n.type), default, *(write(c) for c in n.constraints))


def _alter_domain(n: tree.AlterDomain) -> str:
    start = f"ALTER DOMAIN {names(n.name)}"
    if n.constraint is not None:
        return f"{start} ADD {write(n.constraint)}"
    if n.dropped:
        return f"{start} DROP CONSTRAINT {name(n.dropped)}"
    return f"{start} SET DEFAULT {operand(n.value)}" if n.value is not None else f"{start} DROP DEFAULT"


def _drop(n: tree.Drop) -> str:
    types = f"({listed(n.types)})" if n.types is not None else ""
    return _words(
        "DROP",
        "SPECIFIC" if n.specific else "",
        n.kind.upper(),
        "IF EXISTS" if n.if_exists else "",
        names(n.name) + types,
        _reach(n).strip(),
    )


def _create_trigger(n: tree.CreateTrigger) -> str:
    timing = "INSTEAD OF" if n.timing == "instead" else n.timing.upper()
    columns = f" OF {', '.join(name(c) for c in n.columns)}" if n.columns else ""
    kept = (("OLD ROW", n.old), ("NEW ROW", n.new), ("OLD TABLE", n.old_table), ("NEW TABLE", n.new_table))
    named = " ".join(f"{what} AS {name(word)}" for what, word in kept if word)
    return _words(
        f"CREATE TRIGGER {names(n.name)} {timing} {n.event.upper()}{columns} ON {names(n.table)}",
        f"REFERENCING {named}" if named else "",
        "FOR EACH ROW" if n.each_row else "FOR EACH STATEMENT",
        f"WHEN ({write(n.condition)})" if n.condition is not None else "",
        write(n.body),
    )


def _create_routine(n: tree.CreateRoutine) -> str:
    returns = ""
    if n.kind == "function":
        returns = f"RETURNS TABLE ({listed(n.table)})" if n.table else _optional("RETURNS", n.returns)
    return _words(
        "CREATE OR REPLACE" if n.replace else "CREATE",
        n.kind.upper(),
        f"{names(n.name)}({', '.join(_parameter(p, n.kind) for p in n.parameters)})",
        returns,
        "DETERMINISTIC" if n.deterministic else "",
        n.access.upper(),
        f"SPECIFIC {name(n.specific)}" if n.specific else "",
        f"DYNAMIC RESULT SETS {n.result_sets}" if n.result_sets else "",
        "" if n.null_call else "RETURNS NULL ON NULL INPUT",
        "NEW SAVEPOINT LEVEL" if n.new_level else "",
        write(n.body),
    )


def _parameter(n: tree.Parameter, kind: str) -> str:
    mode = "" if kind == "function" else n.mode.upper()
    return _words(mode, name(n.name), write(n.type), _optional("DEFAULT", n.default))


def _alter_routine(n: tree.AlterRoutine) -> str:
    types = f"({listed(n.types)})" if n.types is not None else ""
    deterministic = {None: "", True: "DETERMINISTIC", False: "NOT DETERMINISTIC"}[n.deterministic]
    sets = f"DYNAMIC RESULT SETS {n.result_sets}" if n.result_sets is not None else ""
    nulls = {None: "", True: "CALLED ON NULL INPUT", False: "RETURNS NULL ON NULL INPUT"}[n.null_call]
    return _words("ALTER", n.kind.upper(), names(n.name) + types, deterministic, n.access.upper(), sets, nulls)


# ---- control statements ---------------------------------------------------------------------------------------------


def _statements(nodes: tuple[tree.Statement, ...]) -> str:
    # A waymark is a comment: it ends with its line.
    return " ".join(f"--@ {n.name}\n" if isinstance(n, tree.Waymark) else f"{write(n)};" for n in nodes)


def _labelled(label: str, text: str) -> str:
    return f"{name(label)}: {text}" if label else text


def _block(n: tree.Block) -> str:
    declared = " ".join(f"{write(d)};" for d in n.declarations)
    return _labelled(n.label, _words("BEGIN", "ATOMIC" if n.atomic else "", declared, _statements(n.body), "END"))


def _declare_variable(n: tree.DeclareVariable) -> str:
    return _words("DECLARE", ", ".join(name(w) for w in n.names), write(n.type), _optional("DEFAULT", n.default))


def _declare_condition(n: tree.DeclareCondition) -> str:
    return f"DECLARE {name(n.name)} CONDITION" + (f" FOR SQLSTATE {quoted(n.sqlstate)}" if n.sqlstate else "")


def _declare_cursor(n: tree.DeclareCursor) -> str:
    return _words(
        f"DECLARE {name(n.name)}",
        n.sensitivity.upper(),
        "SCROLL" if n.scroll else "",
        "CURSOR",
        "WITH HOLD" if n.hold else "",
        "WITH RETURN" if n.returns else "",
        "FOR",
        write(n.query) if n.query is not None else name(n.statement),
    )


def _handled(condition: str) -> str:
    if re.match(r"[0-9A-Z]{5}\Z", condition):
        return f"SQLSTATE {quoted(condition)}"
    return condition.upper() if condition in ("sqlexception", "sqlwarning", "not found") else name(condition)


def _handler(n: tree.DeclareHandler) -> str:
    return f"DECLARE {n.kind.upper()} HANDLER FOR {', '.join(map(_handled, n.conditions))} {write(n.action)}"


def _set_variable(n: tree.SetVariable) -> str:
    if len(n.targets) > 1:
        return f"SET ({listed(n.targets)}) = {write(n.value)}"
    return f"SET {write(n.targets[0])} = {write(n.value)}"


def _if(n: tree.If) -> str:
    arms = [f"IF {write(c)} THEN {_statements(body)}".rstrip(" ") for c, body in n.arms]
    otherwise = f"ELSE {_statements(n.otherwise)}".rstrip(" ") if n.otherwise is not None else ""
    return _words(" ELSE".join(arms), otherwise, "END IF")


def _case_statement(n: tree.CaseStatement) -> str:
    start = f"CASE {write(n.operand)}" if n.operand is not None else "CASE"
    arms = [f"WHEN {listed(conditions)} THEN {_statements(body)}".rstrip(" ") for conditions, body in n.arms]
    otherwise = f"ELSE {_statements(n.otherwise)}".rstrip(" ") if n.otherwise is not None else ""
    return _words(start, *arms, otherwise, "END CASE")


def _for(n: tree.For) -> str:
    start = f"FOR {name(n.name)} AS" if n.name else "FOR"
    cursor = _words(name(n.cursor), n.sensitivity.upper(), "CURSOR FOR") if n.cursor else ""
    text = _words(start, cursor, write(n.query), "DO", _statements(n.body), "END FOR")
    return _labelled(n.label, text)


def _return(n: tree.Return) -> str:
    if n.query is not None:
        return f"RETURN TABLE ({write(n.query)})"
    return f"RETURN {write(n.value)}" if n.value is not None else "RETURN"


def _fetch(n: tree.Fetch) -> str:
    position = f" {operand(n.position)}" if n.position is not None else ""
    into = _descriptor(n.into_descriptor) if n.into_descriptor is not None else listed(n.targets)
    return f"FETCH {n.orientation.upper()}{position} FROM {_dynamic_name(n.cursor)} INTO {into}"


def _signal(n: tree.Signal) -> str:
    what = f"SQLSTATE {quoted(n.sqlstate)}" if n.sqlstate else name(n.condition) if n.condition else ""
    items = ", ".join(f"{item} = {write(value)}" for item, value in n.items if item in SIGNAL_ITEMS)
    return _words("RESIGNAL" if n.again else "SIGNAL", what, f"SET {items}" if items else "")


def _diagnostics(n: tree.GetDiagnostics) -> str:
    start = f"GET {'STACKED ' if n.stacked else ''}DIAGNOSTICS"
    if n.all is not None:
        return _words(f"{start} {write(n.all)} = ALL", n.part.upper(), operand(n.condition) if n.condition else "")
    items = ", ".join(f"{write(t)} = {item.upper()}" for t, item in n.items)
    return _words(start, f"CONDITION {operand(n.condition)}" if n.condition is not None else "", items)


def _execute(n: tree.Execute) -> str:
    into = f"INTO {listed(n.into)}" if n.into else ""
    if n.into_descriptor is not None:
        into = f"INTO {_descriptor(n.into_descriptor)}"
    return _words("EXECUTE", _dynamic_name(n.name), into, _using(n))


def _using(n: tree.Execute | tree.Open) -> str:
    if n.using_descriptor is not None:
        return f"USING {_descriptor(n.using_descriptor)}"
    return f"USING {listed(n.using)}" if n.using else ""


def _dynamic_name(given: tree.DynamicName) -> str:
    """A name, or GLOBAL and what gives it when it runs."""
    return name(given) if isinstance(given, str) else f"GLOBAL {operand(given)}"


def _allocate_cursor(n: tree.AllocateCursor) -> str:
    attributes = (
        "SCROLL" if n.scroll else "",
        "CURSOR",
        "WITH HOLD" if n.hold else "",
        "WITH RETURN" if n.returns else "",
    )
    return _words("ALLOCATE", _dynamic_name(n.name), *attributes, "FOR", _dynamic_name(n.statement))


def _descriptor(node: Node) -> str:
    return f"DESCRIPTOR {operand(node)}"


def _allocate(n: tree.AllocateDescriptor) -> str:
    verb = "ALLOCATE" if n.allocate else "DEALLOCATE"
    return _words(verb, _descriptor(n.name), f"WITH MAX {operand(n.maximum)}" if n.maximum is not None else "")


def _describe(n: tree.Describe) -> str:
    structure = "STRUCTURE" if n.what == "cursor" else ""
    return _words("DESCRIBE", n.what.upper(), _dynamic_name(n.name), structure, "USING", _descriptor(n.descriptor))


def _descriptor_items(verb: str, n: tree.GetDescriptor | tree.SetDescriptor, items: list[str]) -> str:
    value = f"VALUE {operand(n.number)}" if n.number is not None else ""
    return _words(verb, _descriptor(n.name), value, ", ".join(items))


def _get_descriptor(n: tree.GetDescriptor) -> str:
    return _descriptor_items("GET", n, [f"{write(target)} = {item.upper()}" for target, item in n.items])


def _set_descriptor(n: tree.SetDescriptor) -> str:
    return _descriptor_items("SET", n, [f"{item.upper()} = {write(value)}" for item, value in n.items])


# ---- transactions ---------------------------------------------------------------------------------------------------


def _modes(modes: tuple[str, ...]) -> str:
    shown = []
    for mode in modes:
        if mode in ("read only", "read write"):
            shown.append(mode.upper())
        elif mode.startswith("diagnostics"):
            shown.append(f"DIAGNOSTICS SIZE {mode.split()[1]}")
        else:
            shown.append(f"ISOLATION LEVEL {mode.upper()}")
    return ", ".join(shown)


def _chain(n: Any) -> str:
    return "AND CHAIN" if n.chain else ""


def _lock_table(n: tree.LockTable) -> str:
    mode = next(words for words, short in LOCK_MODES.items() if short == n.mode)
    return f"LOCK TABLE {', '.join(names(t) for t in n.tables)} IN {mode.upper()} MODE{_wait(n.wait)}"


def _set_session(n: tree.SetSession) -> str:
    if isinstance(n.value, str):
        return f"SET SESSION AUTOCOMMIT {n.value.upper()}"
    return f"SET SESSION CHARACTERISTICS AS TRANSACTION {_modes(n.value)}"


def _set_constraints(n: tree.SetConstraints) -> str:
    which = ", ".join(names(p) for p in n.names) if n.names else "ALL"
    return f"SET CONSTRAINTS {which} {'DEFERRED' if n.deferred else 'IMMEDIATE'}"


_WRITERS: dict[str, Any] = {
    "TypeName": _type_name,
    "Literal": _literal,
    "IntervalLiteral": _interval,
    "Reference": lambda n: names(n.parts),
    "HostVariable": lambda n: f":{names((n.name,))}",
    "Star": lambda n: f"{names(n.qualifier)}.*" if n.qualifier else "*",
    "Placeholder": lambda n: "?",
    "Unary": lambda n: f"{n.sign}({write(n.operand)})",
    "Binary": lambda n: f"{operand(n.left)} {n.sign} {operand(n.right)}",
    "Comparison": lambda n: f"{operand(n.left)} {n.sign} {operand(n.right)}",
    "Logical": lambda n: f"{operand(n.left)} {n.sign.upper()} {operand(n.right)}",
    "Not": lambda n: f"NOT {operand(n.operand)}",
    "Difference": _difference,
    "IsNull": lambda n: f"{operand(n.operand)} IS {_not(n)}NULL",
    "IsTruth": lambda n: f"{operand(n.operand)} IS {_not(n)}{n.value.upper()}",
    "IsDistinct": lambda n: f"{operand(n.left)} IS {_not(n)}DISTINCT FROM {operand(n.right)}",
    "Between": _between,
    "InList": lambda n: f"{operand(n.operand)} {_not(n)}IN ({listed(n.items)})",
    "InQuery": lambda n: f"{operand(n.operand)} {_not(n)}IN ({write(n.query)})",
    "Like": lambda n: _pattern(n, "LIKE"),
    "Similar": lambda n: _pattern(n, "SIMILAR TO"),
    "Overlaps": lambda n: f"{operand(n.left)} OVERLAPS {operand(n.right)}",
    "Exists": lambda n: f"EXISTS ({write(n.query)})",
    "Unique": lambda n: f"UNIQUE {'' if n.nulls_distinct else 'NULLS NOT DISTINCT '}({write(n.query)})",
    "Quantified": lambda n: f"{operand(n.operand)} {n.sign} {'ALL' if n.every else 'ANY'} ({write(n.query)})",
    "Subquery": lambda n: f"({write(n.query)})",
    "RowValue": lambda n: f"ROW({listed(n.items)})",
    "ArrayValue": lambda n: f"ARRAY[{listed(n.items)}]",
    "ArrayQuery": lambda n: f"ARRAY({write(n.query)})",
    "Element": lambda n: f"{operand(n.array)}[{write(n.position)}]",
    "Field": _field,
    "CaseOperand": lambda n: "",
    "OperandTest": lambda n: write(n.test).lstrip(),
    "When": lambda n: f"WHEN {listed(n.conditions)} THEN {write(n.result)}",
    "CaseExpression": _case,
    "Cast": lambda n: f"CAST({write(n.operand)} AS {write(n.type)})",
    "Argument": lambda n: f"{name(n.name)} => {write(n.value)}" if n.name else write(n.value),
    "FunctionCall": _call,
    "Bound": lambda n: _words(operand(n.value) if n.value is not None else "", n.kind.upper()),
    "Window": _window,
    "NamedWindow": lambda n: f"{name(n.name)} AS {write(n.window)}",
    "Grouping": _grouping,
    "SortKey": _sort_key,
    "SelectItem": lambda n: f"{write(n.value)} AS {name(n.alias)}" if n.alias else write(n.value),
    "TableName": lambda n: _aliased(n, names(n.name)),
    "DerivedTable": lambda n: _aliased(n, f"{'LATERAL ' if n.lateral else ''}({write(n.query)})"),
    "TableCall": lambda n: _aliased(n, f"TABLE({write(n.call)})"),
    "Unnest": lambda n: _aliased(n, f"UNNEST({listed(n.arrays)}){' WITH ORDINALITY' if n.ordinality else ''}"),
    "ChangedRows": lambda n: _aliased(n, f"{n.kind.upper()} TABLE ({write(n.statement)})"),
    "Join": _join,
    "Select": _select,
    "SetOperation": _set_operation,
    "Values": _values,
    "Nested": lambda n: f"({write(n.query)})",
    "CommonTable": _common_table,
    "Search": _search,
    "Cycle": _cycle,
    "RowLock": _row_lock,
    "Query": _query,
    "QueryStatement": lambda n: write(n.query),
    "SelectInto": lambda n: _query(n.query, f"INTO {listed(n.targets)}"),
    "NextValue": lambda n: f"NEXT VALUE FOR {names(n.name)}",
    "DefaultValue": lambda n: "DEFAULT",
    "Insert": _insert,
    "Assignment": _assignment,
    "Update": _update,
    "Delete": _delete,
    "Merge": _merge,
    "MergeClause": _merge_clause,
    "Truncate": lambda n: f"TRUNCATE TABLE {names(n.table)}{' RESTART IDENTITY' if n.restart else ''}",
    "Constraint": _constraint,
    "ColumnDefinition": _column,
    "SequenceOptions": _sequence_options,
    "CreateSequence": lambda n: _words("CREATE SEQUENCE", names(n.name), write(n.options)),
    "AlterSequence": lambda n: _words(
        "ALTER SEQUENCE",
        names(n.name),
        "RESTART" if n.restart else "",
        f"WITH {n.start}" if n.start is not None else "",
        write(n.options),
    ),
    "CreateTable": _create_table,
    "LikeTable": _like_table,
    "CreateSchema": _create_schema,
    "CreateModule": _create_module,
    "CreateDomain": _create_domain,
    "AlterDomain": _alter_domain,
    "CreateType": lambda n: f"CREATE TYPE {names(n.name)} AS {write(n.type)} FINAL",
    "AlterTable": _alter_table,
    "CreateView": _create_view,
    "Drop": _drop,
    "AlterRoutine": _alter_routine,
    "CreateTrigger": _create_trigger,
    "ResultColumn": lambda n: f"{name(n.name)} {write(n.type)}",
    "CreateRoutine": _create_routine,
    "Call": lambda n: f"CALL {names(n.name)}({listed(n.arguments)})",
    "DeclareVariable": _declare_variable,
    "DeclareCondition": _declare_condition,
    "DeclareCursor": _declare_cursor,
    "DeclareHandler": _handler,
    "Block": _block,
    "SetVariable": _set_variable,
    "If": _if,
    "CaseStatement": _case_statement,
    "While": lambda n: _labelled(n.label, f"WHILE {write(n.condition)} DO {_statements(n.body)} END WHILE"),
    "Loop": lambda n: _labelled(n.label, f"LOOP {_statements(n.body)} END LOOP"),
    "Repeat": lambda n: _labelled(n.label, f"REPEAT {_statements(n.body)} UNTIL {write(n.until)} END REPEAT"),
    "For": _for,
    "Waymark": lambda n: f"--@ {n.name}\n",
    "Leave": lambda n: f"LEAVE {name(n.label)}",
    "Iterate": lambda n: f"ITERATE {name(n.label)}",
    "Return": _return,
    "Open": lambda n: _words("OPEN", _dynamic_name(n.cursor), _using(n)),
    "Fetch": _fetch,
    "Close": lambda n: f"CLOSE {_dynamic_name(n.cursor)}",
    "Signal": _signal,
    "GetDiagnostics": _diagnostics,
    "Prepare": lambda n: f"PREPARE {_dynamic_name(n.name)} FROM {write(n.text)}",
    "Execute": _execute,
    "ExecuteImmediate": lambda n: f"EXECUTE IMMEDIATE {write(n.text)}",
    "Deallocate": lambda n: f"DEALLOCATE PREPARE {_dynamic_name(n.name)}",
    "AllocateCursor": _allocate_cursor,
    "AllocateDescriptor": _allocate,
    "Describe": _describe,
    "GetDescriptor": _get_descriptor,
    "SetDescriptor": _set_descriptor,
    "Explain": lambda n: f"EXPLAIN {write(n.statement)}",
    "LockTable": _lock_table,
    "StartTransaction": lambda n: _words("START TRANSACTION", _modes(n.modes)),
    "SetTransaction": lambda n: f"SET {'LOCAL ' if n.local else ''}TRANSACTION {_modes(n.modes)}",
    "SetConstraints": _set_constraints,
    "SetSchema": lambda n: f"SET SCHEMA {write(n.name)}",
    "SetSession": _set_session,
    "Commit": lambda n: _words("COMMIT", _chain(n)),
    "Rollback": lambda n: (
        f"ROLLBACK TO SAVEPOINT {name(n.savepoint)}" if n.savepoint else _words("ROLLBACK", _chain(n))
    ),
    "Savepoint": lambda n: f"SAVEPOINT {name(n.name)}",
    "ReleaseSavepoint": lambda n: f"RELEASE SAVEPOINT {name(n.name)}",
}
