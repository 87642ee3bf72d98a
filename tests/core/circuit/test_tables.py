import pytest

from iron_probe.core.circuit.tables import along

SQUARES = {1.0: 1.0, 2.0: 4.0, 8.0: 64.0}


@pytest.mark.parametrize("x", [0.5, 1.0, 1.5, 2.0, 5.0, 8.0, 20.0])
def test_a_power_law_is_kept_between_and_beyond_the_steps(x: float) -> None:
    assert along(SQUARES, x) == pytest.approx(x * x)
