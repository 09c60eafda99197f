"""What several tests share."""

from __future__ import annotations

import sys

import pytest

from glimb.engine.engine import PYTHON_FRAMES

sys.setrecursionlimit(PYTHON_FRAMES)


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--update", action="store_true", help="write the expected files anew")


@pytest.fixture
def update(request: pytest.FixtureRequest) -> bool:
    """Whether expected files are written instead of compared."""
    return bool(request.config.getoption("--update"))
