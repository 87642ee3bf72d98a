"""A visitor of pages that show the word of the engine."""

import pytest

from tests.conftest import Visitor


@pytest.fixture
def working(visitor: Visitor) -> Visitor:
    """A visitor whose ensemble is ready."""
    visitor.get("/jobs/102/suspects/isolator")
    return visitor
