"""One ngspice for all tests of the bay in a process."""

from collections.abc import Iterator

import pytest

from iron_probe.rig.spice import Spice


@pytest.fixture(scope="session")
def spice() -> Iterator[Spice]:
    with Spice() as one:
        yield one
