"""A visitor of pages that show the word of the engine."""

import pytest

from tests.conftest import Visitor

VISITS = 20
"""Visits until the engine is ready: each waits for it a while, longer on a busy machine."""


@pytest.fixture
def working(visitor: Visitor) -> Visitor:
    """A visitor whose ensemble is ready."""
    for _ in range(VISITS):
        if visitor.get("/jobs/102/suspects/isolator").status_code == 200:
            return visitor
    pytest.fail("the engine was never ready")
