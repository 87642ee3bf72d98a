"""How instruments read a solved circuit."""

import numpy as np
import pytest

from iron_probe.core.circuit.network import Network
from iron_probe.core.limits import METER_INPUT_OHM
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import shown_v


def test_a_meter_halves_what_stands_behind_its_own_resistance_and_leaves_the_rest() -> None:
    assert shown_v(np.array([12.0]), np.array([float(METER_INPUT_OHM)]))[0] == pytest.approx(6.0)
    assert shown_v(np.array([12.0]), np.array([0.01]))[0] == pytest.approx(12.0)
    assert shown_v(np.ones(2, dtype=np.float32), np.ones(2, dtype=np.float32)).dtype == np.float32


def test_a_reading_turns_its_sign_with_the_leads_and_adds_up_along_a_way(minibus_network: Network) -> None:
    solution = solve_state(minibus_network, "crank")
    points = list(minibus_network.sheet.points)[:3]
    a, b, c = points
    assert solution.between(a, b) == pytest.approx(-solution.between(b, a))
    assert solution.between(a, b) + solution.between(b, c) == pytest.approx(solution.between(a, c), abs=1e-3)


def test_a_branch_turns_its_drop_and_current_into_watts(minibus_network: Network) -> None:
    solution = solve_state(minibus_network, "crank")
    name = next(n for n in minibus_network.branch_row if abs(solution.current(n)[0]) > 50 and abs(solution.drop(n)[0]) > 1e-3)
    assert solution.watts(name) == pytest.approx(solution.drop(name) * solution.current(name))
