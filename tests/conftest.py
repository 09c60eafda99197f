"""What several tests share."""

from __future__ import annotations

import pytest


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--update", action="store_true", help="write the expected files anew")


@pytest.fixture
def update(request: pytest.FixtureRequest) -> bool:
    """Whether expected files are written instead of compared."""
    return bool(request.config.getoption("--update"))
