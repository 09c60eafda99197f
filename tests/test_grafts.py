"""Statements of the rules with one to three parts in the place of others of the same case, run where they stand: what
becomes of each, with its message or its rows.

Each line of `grafts.tsv` has a feature and a digest of what becomes of those of its rules. A change is noticed, looked
at, and taken with `--update`.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest
from tools.conformance import Feature, features

from digests import hold
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.suite.runner import Runner
from glimb.suite.script import Case, StatementStep
from mutations import CONFORMANCE, graft, limited, parts_of

TOLD = Path(__file__).parent / "grafts.tsv"
FEATURES = {feature.identifier: feature for feature in features() if feature.script is not None}
EACH = 6
"""Changed statements of each case."""


@cache
def runner() -> Runner:
    made = Runner()
    made.use(limited(CONFORMANCE), CONFORMANCE / "cases")
    return made


def told(outcome: Outcome) -> str:
    if outcome.failure is not None:
        return f"{outcome.failure.sqlstate} {outcome.failure.message}"
    if outcome.waiting is not None:
        return f"waits: {outcome.waiting}"
    columns = [(c.name, str(c.type)) for c in outcome.columns or ()]
    return f"{columns} {outcome.rows} {outcome.notes} {len(outcome.changes)}"


def run(engine: Engine, name: str, source: Source) -> Iterator[str]:
    read = parse(source)
    yield from (f"{p.sqlstate} {p.message} ({p.hint})" for p in read.problems)
    for statement in read.statements:
        if engine.session(name).claims.waiting is None:
            yield from map(told, engine.execute(engine.session(name), statement, source))


def grafts(feature: Feature, case: Case) -> Iterator[str]:
    """What becomes of changed statements in the place of one of a case."""
    assert feature.script is not None
    source = feature.script.source
    steps = [step for step in case.steps if isinstance(step, StatementStep)]
    whole = "".join(source.text[s.span.start : s.span.end] for s in steps)
    chance, parts = random.Random(whole), parts_of(whole)
    project = limited(CONFORMANCE)
    engine = runner().world(project, case.fixture or project.settings.default_fixture)
    engine.reset()
    stop = chance.randrange(len(steps))
    for step in steps[:stop]:
        if engine.session(step.session).claims.waiting is None:
            engine.execute(engine.session(step.session), step.statement, source)
    text = source.text[steps[stop].span.start : steps[stop].span.end]
    for _ in range(EACH):
        changed = graft(text, chance, parts, parts)
        yield f"{changed}\n   {' / '.join(run(engine, steps[stop].session, Source(changed)))}"


@pytest.mark.parametrize("code", FEATURES)
def test_grafts(code: str, update: bool) -> None:
    feature = FEATURES[code]
    assert feature.script is not None
    cases = [case for case in feature.script.cases if any(isinstance(step, StatementStep) for step in case.steps)]
    text = "\n".join(line for case in cases for line in grafts(feature, case))
    hold(TOLD, FEATURES, code, text, update)
