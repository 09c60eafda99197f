"""The long run of ten sessions, a short one: the record is the same twice, wherever things lie in memory, and what is
committed is as it may be."""

from __future__ import annotations

import pytest
from tools import enduring
from tools.enduring import Run


@pytest.fixture
def unstopped(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(enduring, "STOPS", 10**9)


@pytest.mark.usefixtures("unstopped")
@pytest.mark.parametrize("seed", range(4))
def test_the_record_is_the_same_twice(seed: int) -> None:
    runs = [Run(seed), Run(seed)]
    for part in range(4):
        for run in runs:
            run.begin(part)
            for number in range(700):
                run.step()
                if number % 5 == 0:
                    run.look()
            run.settle()
        assert runs[0].record.digest() == runs[1].record.digest()
    assert runs[0].ended["40001"]
    assert runs[0].ended["waits"]


def test_stops_in_the_middle_leave_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(enduring, "STOPS", 20)
    run = Run(1)
    for _ in range(300):
        run.step()
    run.settle()
    assert run.ended["stop: 57014"] > 3
