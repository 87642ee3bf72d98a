"""What readings can show of solved variants: parted and put together without a change."""

import numpy as np

from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.prediction import Prediction, join
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import load_sheet


def test_variants_are_taken_and_joined_as_they_were() -> None:
    network = network_of(load_sheet("training-kart"))
    machines = network.machines(np.random.default_rng(3).standard_normal((len(network.nominal), 6)))
    whole = Prediction.of(solve_state(network, next(iter(network.sheet.states)), machines))
    parts = [whole.take(np.array(which)) for which in ([0, 1, 2], [3], [4, 5])]
    again = join(parts)
    for name in ("volts", "own_ohm", "amps", "heard", "chatter", "away_v"):
        assert np.array_equal(getattr(again, name), getattr(whole, name)), name
    assert whole.take(np.array([5, 5])).heard.tolist() == [whole.heard[5]] * 2
