"""The anomalies: the table in the docs is what the cases give, and no level lets through what the standard forbids."""

from __future__ import annotations

import pytest
from tools import anomalies

FOUND = anomalies.results()
FORBIDDEN = {
    "dirty write": ("read uncommitted", "read committed", "repeatable read", "serializable"),
    "dirty read": ("read committed", "repeatable read", "serializable"),
    "non-repeatable read": ("repeatable read", "serializable"),
    "phantom": ("serializable",),
    "lost update": ("repeatable read", "serializable"),
    "read skew": ("repeatable read", "serializable"),
    "write skew": ("serializable",),
}


def test_table_in_the_docs() -> None:
    assert anomalies.TABLE.read_text() == anomalies.table(FOUND)


@pytest.mark.parametrize("model", ["versions", "locking"])
@pytest.mark.parametrize("anomaly", FORBIDDEN)
def test_forbidden_ones_do_not_happen(anomaly: str, model: str) -> None:
    for level in FORBIDDEN[anomaly]:
        assert not FOUND[anomaly, model, level][0], level
