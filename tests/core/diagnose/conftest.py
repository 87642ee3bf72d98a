"""The mower's ensemble, worked out once for all tests of the engine."""

import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.machines import load_sheet
from tests.core.diagnose.mower import Hidden


@pytest.fixture(scope="package")
def ensemble() -> Ensemble:
    return Ensemble(load_sheet("green-mower"))


@pytest.fixture(scope="package")
def case(ensemble: Ensemble) -> Case:
    return Case(ensemble)


@pytest.fixture(scope="package")
def bolt(ensemble: Ensemble) -> Hidden:
    return Hidden(ensemble.network, ensemble, "frame-bolt", "high_resistance", 0.03)
