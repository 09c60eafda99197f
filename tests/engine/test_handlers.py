"""Random blocks with handlers against a few lines of Python that say what handlers mean (9075-4 clause 13.2): a condition
looks for its handler where it is raised, from the innermost block outward; CONTINUE goes on behind the statement, EXIT
leaves the block; what an action raises is looked for around its block."""

from __future__ import annotations

from random import Random
from typing import Any, NamedTuple

from amounts import amount
from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.source import Source

STATES = ("45001", "45002", "02001", "01H01")


class Step(NamedTuple):
    """`mark`, `signal`, `resignal`, `return`, `leave`, `loop`, `call` or `block`, with what it needs."""

    kind: str
    word: str = ""
    body: tuple[Any, ...] = ()
    handlers: tuple[tuple[str, str, tuple[Any, ...]], ...] = ()


class Left(Exception):
    """A block that is left, or the whole routine (0); with the condition that nobody took."""

    def __init__(self, block: object, state: str = "") -> None:
        self.block, self.state = block, state


def simple(chance: Random, labels: tuple[str, ...], in_action: bool) -> Step:
    kinds = [("signal", state) for state in STATES] * 2 + [("call", state) for state in STATES]
    kinds += (
        [("mark", c) for c in "abc"]
        + [("return", "")] * (6 if in_action else 1)
        + [("leave", label) for label in labels]
    )
    kinds += [("resignal", word) for word in ("", *STATES)] if in_action else []
    return Step(*chance.choice(kinds))


def steps(chance: Random, labels: tuple[str, ...] = (), depth: int = 2, action: str = "") -> tuple[Step, ...]:
    """A few steps within blocks and loops of these labels; `action` names the handler whose action they are in."""
    made = []
    for _ in range(chance.choice([1, 1, 2, 3])):
        kind = chance.choice(["simple", "block", "block", "loop"]) if depth else "simple"
        if kind == "simple":
            made.append(simple(chance, labels, bool(action)))
            continue
        label = f"{action}b{depth}"
        takes = chance.sample([*STATES, "any", "none", "warned"], chance.randint(0, 3)) if kind == "block" else []
        actions = [steps(chance, labels, chance.choice([0, 0, 1]), f"{label}h") for _ in takes]
        handlers = tuple((chance.choice(["EXIT", "CONTINUE"]), take, a) for take, a in zip(takes, actions, strict=True))
        made.append(Step(kind, label, steps(chance, (*labels, label), depth - 1, action), handlers))
    return tuple(made)


TAKEN = {"any": "SQLEXCEPTION", "none": "NOT FOUND", "warned": "SQLWARNING"}


def sql(made: tuple[Step, ...]) -> str:
    """The steps as SQL."""
    return " ".join(map(_one_as_sql, made))


def _one_as_sql(step: Step) -> str:
    match step.kind:
        case "mark":
            return f"SET t = t || '{step.word}';"
        case "signal":
            return f"SIGNAL SQLSTATE '{step.word}';"
        case "resignal":
            return f"RESIGNAL SQLSTATE '{step.word}';" if step.word else "RESIGNAL;"
        case "call":
            return f"CALL raises('{step.word}');"
        case "return":
            return "RETURN t || '!';"
        case "leave":
            return f"LEAVE {step.word};"
        case "loop":
            return f"{step.word}: FOR r AS VALUES (1), (2) DO {sql(step.body)} END FOR;"
    handlers = [
        f"DECLARE {k} HANDLER FOR {TAKEN.get(s, f'SQLSTATE {s!r}')} BEGIN {sql(a)} END;" for k, s, a in step.handlers
    ]
    return f"{step.word}: BEGIN {' '.join(handlers)} {sql(step.body)} END;"


class Meaning:
    """Does the steps, and keeps what they have marked."""

    def __init__(self) -> None:
        self.marks = ""

    def run(self, made: tuple[Step, ...], chain: tuple[Step, ...], handled: str = "") -> None:
        for step in made:
            if step.kind == "mark":
                self.marks += step.word
            elif step.kind in ("signal", "call", "resignal"):
                # A warning or no data that nobody takes is none for the caller of a routine.
                self.raised(step.word or handled, chain, step.kind != "call" or step.word[0] == "4")
            elif step.kind == "return":
                self.marks += "!"
                raise Left(0)
            elif step.kind == "leave":
                raise Left(step.word)
            else:
                self.within(step, chain, handled)

    def within(self, step: Step, chain: tuple[Step, ...], handled: str) -> None:
        try:
            for _ in range(2 if step.kind == "loop" else 1):
                self.run(step.body, (*chain, step), handled)
        except Left as left:
            if left.block not in (step.word, step):
                raise

    def raised(self, state: str, chain: tuple[Step, ...], is_told: bool) -> None:
        for at in range(len(chain) - 1, -1, -1) if is_told else ():
            general = {"4": "any", "0": "none" if state[1] == "2" else "warned"}[state[0]]
            for wanted in (state, general):
                for kind, taken, action in chain[at].handlers:
                    if taken == wanted:
                        self.run(action, chain[:at], state)
                        if kind == "EXIT":
                            raise Left(chain[at])
                        return
        if state[0] == "4":
            raise Left(0, state)


def meant(made: tuple[Step, ...]) -> str:
    meaning = Meaning()
    try:
        meaning.run(made, ())
    except Left as left:
        return left.state or meaning.marks
    return meaning.marks


def found(made: tuple[Step, ...]) -> str:
    text = (
        "CREATE PROCEDURE raises(s CHAR(5)) CASE s WHEN '45001' THEN SIGNAL SQLSTATE '45001'; WHEN '45002' THEN SIGNAL SQLSTATE '45002';"
        " WHEN '02001' THEN SIGNAL SQLSTATE '02001'; ELSE SIGNAL SQLSTATE '01H01'; END CASE;"
        f"CREATE FUNCTION f() RETURNS VARCHAR(9000) BEGIN DECLARE t VARCHAR(9000) DEFAULT ''; {sql(made)} RETURN t; END; SELECT f();"
    )
    engine, source = Engine(), Source(text)
    session = engine.session("main")
    outcomes = [o for node in parse(source).statements for o in engine.execute(session, node, source)]
    engine.close()
    assert all(o.ok for o in outcomes[:2]), [o.failure for o in outcomes]
    last = outcomes[2]
    return last.failure.sqlstate if last.failure else last.rows[0][0] if last.rows else ""


def test_handlers_do_what_they_mean() -> None:
    for seed in range(amount(3000)):
        made = steps(Random(seed))
        assert found(made) == meant(made), (seed, sql(made))
