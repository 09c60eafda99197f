"""Random procedures over integers at the edges of their types, NULLs and conditions, against the same in Python: what is
known of variables (not NULL, within bounds) leaves checks out, and must leave out none that is needed.

Between operators a value is exact; where it is used (assigned, compared, an item of CASE or COALESCE) it must fit the type
of its expression: the wider one of the operands (9075-2 clause 6.29)."""

from __future__ import annotations

from collections.abc import Callable
from random import Random
from typing import Any

from forms import formed

from amounts import amount
from glimb.lang.parser import parse
from glimb.lang.source import Source

LIMITS = {"a": 2**15, "b": 2**31, "c": 2**63, "d": 2**31}
TYPES = {2**15: "SMALLINT", 2**31: "INTEGER", 2**63: "BIGINT"}
LITERALS = (0, 1, 2, -1, 3, 7, 100, 32767, -32768, 40000, 2147483647, -2147483648, 46341)
Values = dict[str, int | None]
Value = Callable[[Values], int | None]
Truth = Callable[[Values], bool | None]
Written = tuple[str, Value, int]
"""An expression as SQL and in Python, and the limit of its type."""


class Raised(Exception):
    """A condition, by its state."""


class Left(Exception):
    """A block that its EXIT handler leaves."""


def fitting(value: int | None, limit: int) -> int | None:
    if value is not None and not -limit <= value < limit:
        raise Raised("22003")
    return value


def expression(chance: Random, depth: int) -> Written:
    if depth == 0 or chance.random() < 0.25:
        if chance.random() < 0.6:
            name = chance.choice("abcd")
            return name, lambda values: values[name], LIMITS[name]
        number = chance.choice(LITERALS)
        return f"({number})", lambda _: number, 2**31
    (one, first, low), (two, second, high) = expression(chance, depth - 1), expression(chance, depth - 1)
    limit, sign = max(low, high), chance.choice("++--**/cw")

    def reckoned(values: Values) -> int | None:
        x, y = first(values), second(values)
        if x is None or y is None:
            return None
        if sign == "/":
            if y == 0:
                raise Raised("22012")
            return abs(x) // abs(y) * (1 if (x < 0) == (y < 0) else -1)
        return x + y if sign == "+" else x - y if sign == "-" else x * y

    if sign == "c":

        def coalesced(values: Values) -> int | None:
            found = fitting(first(values), low)
            return found if found is not None else fitting(second(values), high)

        return f"COALESCE({one}, {two})", coalesced, limit
    if sign == "w":
        text, is_true = condition(chance, depth - 1)
        value: Value = lambda values: fitting(first(values), low) if is_true(values) else fitting(second(values), high)  # noqa: E731
        return f"CASE WHEN {text} THEN {one} ELSE {two} END", value, limit
    return f"({one} {sign} {two})", reckoned, limit


def condition(chance: Random, depth: int) -> tuple[str, Truth]:
    (one, first, low), (two, second, high) = expression(chance, depth), expression(chance, depth)
    sign = chance.choice(["=", "<", "<=", ">", "<>", "null"])

    def truth(values: Values) -> bool | None:
        x, y = fitting(first(values), low), fitting(second(values), high)
        if x is None or y is None:
            return None
        return {"=": x == y, "<": x < y, "<=": x <= y, ">": x > y, "<>": x != y}[sign]

    if sign == "null":
        return f"{one} IS NULL", lambda values: fitting(first(values), low) is None
    return f"{one} {sign} {two}", truth


class Step:
    """A statement: its text, and what it does to variables within the handlers around it, innermost last."""

    def __init__(self, text: str, run: Callable[[Values, list[Any]], None]) -> None:
        self.text, self.run = text, run


def steps(chance: Random, depth: int) -> list[Step]:
    return [step(chance, depth) for _ in range(chance.randint(1, 4))]


def step(chance: Random, depth: int) -> Step:
    kind = chance.choice(["set", "set", "set", "if", "while", "block"]) if depth else "set"
    if kind == "set":
        return assignment(chance)
    inner = steps(chance, depth - 1)
    body = " ".join(s.text for s in inner)
    if kind == "block":
        return block(chance, inner, body)
    text, is_true = condition(chance, 1)

    def chosen(values: Values, around: list[Any]) -> None:
        found: list[bool | None] = [False]
        if guarded(lambda: found.__setitem__(0, is_true(values)), values, around) and found[0]:
            run_all(inner, values, around)

    def repeated(values: Values, around: list[Any]) -> None:
        for _ in range(3):
            found: list[bool | None] = [False]
            if not guarded(lambda found=found: found.__setitem__(0, is_true(values)), values, around) or not found[0]:  # type: ignore[misc]
                return
            run_all(inner, values, around)

    if kind == "if":
        return Step(f"IF {text} THEN {body} END IF;", chosen)
    return Step(
        f"SET i{depth} = 0; WHILE i{depth} < 3 AND {text} DO {body} SET i{depth} = i{depth} + 1; END WHILE;", repeated
    )


def assignment(chance: Random) -> Step:
    name = chance.choice("abcd")
    text, value, limit = expression(chance, chance.choice([0, 1, 2, 3]))
    narrow = min(limit, LIMITS[name])

    def assign(values: Values, around: list[Any]) -> None:
        guarded(lambda: values.__setitem__(name, fitting(value(values), narrow)), values, around)

    return Step(f"SET {name} = {text};", assign)


def block(chance: Random, inner: list[Step], body: str) -> Step:
    kind, state, action = chance.choice(["CONTINUE", "EXIT"]), chance.choice(["22003", "22012"]), assignment(chance)

    def entered(values: Values, around: list[Any]) -> None:
        mine = (kind, state, action)
        try:
            run_all(inner, values, [*around, mine])
        except Left as left:
            if left.args[0] is not mine:
                raise

    return Step(f"BEGIN DECLARE {kind} HANDLER FOR SQLSTATE '{state}' {action.text} {body} END;", entered)


def run_all(made: list[Step], values: Values, around: list[Any]) -> None:
    for one in made:
        one.run(values, around)


def guarded(attempt: Callable[[], None], values: Values, around: list[Any]) -> bool:
    """Whether something ends without a condition that a handler goes on behind."""
    try:
        attempt()
    except Raised as raised:
        for at in range(len(around) - 1, -1, -1):
            kind, state, action = around[at]
            if state == str(raised):
                action.run(values, around[:at])
                if kind == "EXIT":
                    raise Left(around[at]) from None
                return False
        raise
    return True


def found(made: list[Step], start: Values, form: int) -> Any:
    """The variables behind the steps as the engine has them, or the state of what nobody handles; in one of the three
    forms of code."""
    declared = " ".join(f"DECLARE {n} {TYPES[LIMITS[n]]};" for n in LIMITS)
    given = " ".join(f"SET {n} = p{n};" for n in LIMITS)
    taken = " ".join(f"SET r{n} = {n};" for n in LIMITS)
    parameters = ", ".join([f"IN p{n} BIGINT" for n in LIMITS] + [f"OUT r{n} BIGINT" for n in LIMITS])
    body = f"{declared} DECLARE i1, i2 INTEGER; {given} {' '.join(s.text for s in made)} {taken}"
    arguments = ", ".join("NULL" if start[n] is None else str(start[n]) for n in LIMITS)
    source = Source(f"CREATE PROCEDURE p({parameters}) BEGIN {body} END; CALL p({arguments}, ?, ?, ?, ?)")
    engine = formed(form)
    created, called = (engine.execute(engine.session("main"), n, source)[0] for n in parse(source).statements)
    engine.close()
    assert created.ok, created.failure
    return called.failure.sqlstate if called.failure else [value for _, _, value in called.out]


def test_no_check_is_missing() -> None:
    for seed in range(amount(1200)):
        chance = Random(seed)
        made = steps(chance, 2)
        start: Values = {n: chance.choice([None, 0, 1, 5, -3, 100, limit - 1, -limit]) for n, limit in LIMITS.items()}
        values: Values = dict(start)
        try:
            run_all(made, values, [])
            meant: Any = list(values.values())
        except Raised as raised:
            meant = str(raised)
        assert found(made, start, seed % 3) == meant, (seed, start, [s.text for s in made])
