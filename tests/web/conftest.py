"""A visitor of pages that show the word of the engine."""

import pytest

from tests.conftest import Visitor

VISITS = 20
"""Visits until the engine is ready: each waits for it a while, longer on a busy machine."""


def until_ready(visitor: Visitor, suspect: str) -> None:
    """Visit a suspect's card until the engine of its job is ready."""
    for _ in range(VISITS):
        if visitor.get(suspect).status_code == 200:
            return
    pytest.fail("the engine was never ready")


@pytest.fixture
def working(visitor: Visitor) -> Visitor:
    """A visitor whose ensemble is ready."""
    until_ready(visitor, "/jobs/102/suspects/isolator")
    return visitor
