"""A function that ends without RETURN raises 2F005, whatever ways lead there: beside itself with a RETURN behind."""

from __future__ import annotations

from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.source import Source

NUMBERS = st.integers(1, 3)


@st.composite
def statements(draw: st.DrawFn, labels: tuple[str, ...] = ("l0",), depth: int = 2) -> str:
    """A few statements within blocks and loops of these labels; those of loops begin with r."""
    return "".join(draw(st.lists(statement(labels, depth), min_size=1, max_size=3)))


@st.composite
def statement(draw: st.DrawFn, labels: tuple[str, ...], depth: int) -> str:
    simple = ["RETURN 1;", "RETURN 6 / (n - 2);", "SET v = 6 / (n - 1);"]
    simple += [f"SIGNAL SQLSTATE '{state}';" for state in ("45000", "01001", "02001")]
    simple += ["SIGNAL named;", "SIGNAL stated;"]
    simple += [f"LEAVE {label};" for label in labels]
    simple += [f"ITERATE {label};" for label in labels if label[0] == "r"]
    shapes = ["simple"] if depth == 0 else ["simple", "if", "case", "block", "loop"]
    inner = statements(labels, depth - 1)
    k = draw(NUMBERS)
    match draw(st.sampled_from(shapes)):
        case "if":
            otherwise = draw(st.one_of(st.just(""), inner.map("ELSE {}".format)))
            return f"IF n = {k} THEN {draw(inner)} {otherwise} END IF;"
        case "case":
            otherwise = draw(st.one_of(st.just(""), inner.map("ELSE {}".format)))
            return f"CASE n WHEN {k} THEN {draw(inner)} {otherwise} END CASE;"
        case "block":
            label, atomic = f"l{depth}", draw(st.sampled_from(["", "ATOMIC "]))
            handler = ""
            if draw(st.booleans()):
                kind = draw(st.sampled_from(["EXIT", "CONTINUE"]))
                taken = draw(st.sampled_from(["SQLEXCEPTION", "SQLWARNING", "NOT FOUND", "named", "SQLSTATE '01001'"]))
                action = draw(statements(labels, 0)) + draw(st.sampled_from(["", "RESIGNAL;", "RESIGNAL stated;"]))
                handler = f"DECLARE {kind} HANDLER FOR {taken} BEGIN {action} END;"
            return f"{label}: BEGIN {atomic}{handler} {draw(statements((*labels, label), depth - 1))} END;"
        case "loop":
            label = f"r{depth}"
            body = draw(statements((*labels, label), depth - 1))
            return f"{label}: LOOP SET i = i + 1; IF i > 4 THEN RETURN 7; END IF; {body} END LOOP;"
    return draw(st.sampled_from(simple))


def called(body: str, behind: str) -> list[Any]:
    """What the function gives or raises for each number, and for NULL."""
    engine = Engine()
    head = "DECLARE i, v INTEGER DEFAULT 0; DECLARE named CONDITION; DECLARE stated CONDITION FOR SQLSTATE '02002';"
    head += "IF n = 9 THEN RETURN 9; END IF;"
    text = f"CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN {head} {body} {behind} END;"
    text += "".join(f"SELECT f({n});" for n in ("1", "2", "3", "4", "CAST(NULL AS INTEGER)"))
    source = Source(text)
    session = engine.session("main")
    created, *outcomes = [o for node in parse(source).statements for o in engine.execute(session, node, source)]
    engine.close()
    assert created.ok, created.failure
    return [o.failure.sqlstate if o.failure else o.rows for o in outcomes]


@settings(deadline=None, max_examples=100)
@given(statements().map("l0: BEGIN {} END;".format))
def test_beside_a_return_behind_it(body: str) -> None:
    alone, followed = called(body, ""), called(body, "RETURN 99;")
    assert alone == ["2F005" if found == [(99,)] else found for found in followed]
