"""Every SQLSTATE that the code raises is in the one list, has an example, and is in the docs."""

from __future__ import annotations

import re
from pathlib import Path

from tools import sqlstates

from glimb.engine.values.conditions import STATES

SOURCES = Path(__file__).parent.parent / "src" / "glimb"
RAISED = re.compile(r"""(?:fail|Condition|Problem|_refused|_refuse)\(\s*(?:session, )?["']([0-9A-Z]{5})["']""")


def test_the_list_is_whole() -> None:
    raised = {s for path in SOURCES.rglob("*.py") for s in RAISED.findall(path.read_text())}
    assert len(raised) > 60
    assert raised <= set(STATES)


def test_the_docs() -> None:
    assert set(STATES) == set(sqlstates.examples()) | set(sqlstates.WITHOUT_EXAMPLE)
    assert sqlstates.TABLE.read_text() == sqlstates.table()
