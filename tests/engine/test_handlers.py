"""Random blocks with handlers against a few lines of Python that say what handlers mean (9075-4 clause 13.2): a condition
looks for its handler where it is raised, from the innermost block outward; CONTINUE goes on behind the statement, EXIT
leaves the block; what an action raises is looked for around its block. An ATOMIC block that is left by a condition takes
back what it has changed, before the action that is the reason; UNDO takes back its own."""

from __future__ import annotations

from random import Random
from typing import Any, NamedTuple

import pytest
from forms import formed

from amounts import amount
from glimb.engine.codegen import protection
from glimb.lang.parser import parse
from glimb.lang.source import Source

STATES = ("45001", "45002", "02001", "01H01")


class Step(NamedTuple):
    """`mark`, `signal`, `resignal`, `return`, `leave`, `loop`, `call`, `block` or `atomic`, with what it needs."""

    kind: str
    word: str = ""
    body: tuple[Any, ...] = ()
    handlers: tuple[tuple[str, str, tuple[Any, ...]], ...] = ()


Blocks = tuple[Step, ...]


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
        kind = chance.choice(["simple", "block", "atomic", "loop"]) if depth else "simple"
        if kind == "simple":
            made.append(simple(chance, labels, bool(action)))
            continue
        label = f"{action}b{depth}"
        takes = chance.sample([*STATES, "any", "none", "warned"], chance.randint(0, 3)) if kind != "loop" else []
        actions = [steps(chance, labels, chance.choice([0, 0, 1]), f"{label}h") for _ in takes]
        handlers = tuple(
            (chance.choice(["EXIT", "CONTINUE", "UNDO" if kind == "atomic" else "EXIT"]), take, a)
            for take, a in zip(takes, actions, strict=True)
        )
        made.append(Step(kind, label, steps(chance, (*labels, label), depth - 1, action), handlers))
    return tuple(made)


TAKEN = {"any": "SQLEXCEPTION", "none": "NOT FOUND", "warned": "SQLWARNING"}


def sql(made: tuple[Step, ...]) -> str:
    """The steps as SQL."""
    return " ".join(map(_one_as_sql, made))


def _one_as_sql(step: Step) -> str:
    match step.kind:
        case "mark":
            return f"INSERT INTO trace (mark) VALUES ('{step.word}');"
        case "signal":
            return f"SIGNAL SQLSTATE '{step.word}';"
        case "resignal":
            return f"RESIGNAL SQLSTATE '{step.word}';" if step.word else "RESIGNAL;"
        case "call":
            return f"CALL raises('{step.word}');"
        case "return":
            return "RETURN;"
        case "leave":
            return f"LEAVE {step.word};"
        case "loop":
            return f"{step.word}: FOR r AS VALUES (1), (2) DO {sql(step.body)} END FOR;"
    handlers = [
        f"DECLARE {k} HANDLER FOR {TAKEN.get(s, f'SQLSTATE {s!r}')} BEGIN {sql(a)} END;" for k, s, a in step.handlers
    ]
    word = " ATOMIC" if step.kind == "atomic" else ""
    return f"{step.word}: BEGIN{word} {' '.join(handlers)} {sql(step.body)} END;"


class Meaning:
    """Does the steps, and keeps what they have marked."""

    def __init__(self) -> None:
        self.marks: list[str] = []
        self.handled: list[tuple[str, str]] = []
        """Kinds of handlers, and the states that they took."""
        self.begun: dict[int, int] = {}
        """How many marks there were when a block was entered."""

    def run(self, made: tuple[Step, ...], chain: Blocks, inside: Blocks, handled: str = "") -> None:
        """`chain` are the blocks whose handlers count, `inside` those that have been entered."""
        for step in made:
            if step.kind == "mark":
                self.marks.append(step.word)
            elif step.kind in ("signal", "call", "resignal"):
                # A warning or no data that nobody takes is none for the caller of a routine.
                if step.kind != "call" or step.word[0] == "4":
                    self.raised(step.word or handled, chain, inside)
            elif step.kind == "return":
                raise Left(0)
            elif step.kind == "leave":
                raise Left(step.word)
            else:
                self.within(step, chain, inside, handled)

    def within(self, step: Step, chain: Blocks, inside: Blocks, handled: str) -> None:
        self.begun[id(step)] = len(self.marks)
        try:
            for _ in range(2 if step.kind == "loop" else 1):
                self.run(step.body, (*chain, step), (*inside, step), handled)
        except Left as left:
            if left.block not in (step.word, step):
                raise

    def raised(self, state: str, chain: Blocks, inside: Blocks) -> None:
        for at in range(len(chain) - 1, -1, -1):
            general = {"4": "any", "0": "none" if state[1] == "2" else "warned"}[state[0]]
            for wanted in (state, general):
                for kind, taken, action in chain[at].handlers:
                    if taken == wanted:
                        self.taken(kind, action, chain[: at + 1], inside, state)
                        return
        if state[0] == "4":
            self.undo([block for block in inside if block.kind == "atomic"])
            raise Left(0, state)

    def taken(self, kind: str, action: tuple[Step, ...], chain: Blocks, inside: Blocks, state: str) -> None:
        self.handled.append((kind.lower(), state))
        if kind == "CONTINUE":
            self.run(action, chain[:-1], inside, state)
            return
        at = next(n for n, block in enumerate(inside) if block is chain[-1])
        self.undo([block for block in inside[at + (kind == "EXIT") :] if block.kind == "atomic"])
        self.run(action, chain[:-1], inside[: at + 1], state)
        raise Left(chain[-1])

    def undo(self, blocks: list[Step]) -> None:
        for block in blocks[:1]:
            del self.marks[self.begun[id(block)] :]


Found = tuple[str, str, list[tuple[str, str]]]
"""The state that nobody handles, the marks that are left, and what handlers took."""


def meant(made: tuple[Step, ...]) -> Found:
    meaning = Meaning()
    state = ""
    try:
        meaning.run(made, (), ())
    except Left as left:
        state = left.state
    return state, "".join(meaning.marks), meaning.handled


def found(made: tuple[Step, ...], form: int) -> Found:
    text = (
        "CREATE PROCEDURE raises(s CHAR(5)) CASE s WHEN '45001' THEN SIGNAL SQLSTATE '45001'; WHEN '45002' THEN SIGNAL SQLSTATE '45002';"
        " WHEN '02001' THEN SIGNAL SQLSTATE '02001'; ELSE SIGNAL SQLSTATE '01H01'; END CASE;"
        "CREATE TABLE trace (n INTEGER GENERATED ALWAYS AS IDENTITY, mark CHAR(1));"
        f"CREATE PROCEDURE p() BEGIN {sql(made)} END; CALL p(); SELECT mark FROM trace ORDER BY n;"
    )
    engine, source = formed(form), Source(text)
    session = engine.session("main")
    outcomes = [o for node in parse(source).statements for o in engine.execute(session, node, source)]
    engine.close()
    assert all(o.ok for o in outcomes[:3]), [o.failure for o in outcomes]
    called, rows = outcomes[3], outcomes[4].rows or []
    taken = [(one.kind, one.sqlstate) for one in called.handled]
    return called.failure.sqlstate if called.failure else "", "".join(mark for (mark,) in rows), taken


def test_handlers_do_what_they_mean(monkeypatch: pytest.MonkeyPatch) -> None:
    usual = protection.MOST_BLOCKS
    for seed in range(amount(3000)):
        monkeypatch.setattr(protection, "MOST_BLOCKS", usual if seed % 4 else -1)  # written in place, or set apart
        made = steps(Random(seed))
        assert found(made, seed % 3) == meant(made), (seed, sql(made))


NESTS = {
    "loops": "l{n}: WHILE x < {n} DO {inner} SET x = x + 1; IF x > {n} + 99 THEN LEAVE l29; END IF; END WHILE;",
    "handled": "BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION SET x = x + 1; {inner} SIGNAL SQLSTATE '45001'; END;",
    "undone": "BEGIN ATOMIC DECLARE UNDO HANDLER FOR SQLEXCEPTION SET x = x + 1; {inner} SIGNAL SQLSTATE '45001'; END;",
    "left": "l{n}: BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET x = x + 1; {inner} SIGNAL SQLSTATE '45001'; LEAVE l{n}; END;",
}


@pytest.mark.parametrize("form", range(3))
@pytest.mark.parametrize("kind", NESTS)
def test_statements_nest_deeper_than_blocks_of_python(kind: str, form: int) -> None:
    inner = "SET x = x + 0;"
    for n in range(30 if kind == "loops" else 12):
        inner = NESTS[kind].format(n=n, inner=inner)
    text = f"CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE x INTEGER DEFAULT 0; {inner} RETURN x; END; VALUES f();"
    engine, source = formed(form), Source(text)
    outcomes = [o for node in parse(source).statements for o in engine.execute(engine.session("main"), node, source)]
    assert outcomes[1].failure is None
    assert outcomes[1].rows == [(29 if kind == "loops" else 12,)]
