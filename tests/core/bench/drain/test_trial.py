"""Hidden drains, hunted to the end."""

import numpy as np
import pytest

from iron_probe.core.bench.drain.feed_tree import usual_total_a
from iron_probe.core.bench.drain.trial import best_value, hide_drain, work_drain
from iron_probe.core.circuit.network import network_of
from iron_probe.machines import load_sheet


@pytest.mark.parametrize("sheet_id", ["lift-shuttle", "quay-digger", "standby-generator"])
def test_hidden_drains_are_named_and_no_stale_zero_is_used(sheet_id: str) -> None:
    network = network_of(load_sheet(sheet_id))
    ended = []
    for k in range(9):
        hidden = hide_drain(network, np.random.default_rng((6, k)), faults=1 + (k % 4 == 3), intermittent=k % 3 == 2)
        ended.append(work_drain(hidden, best_value, max(0.05, 1.5 * usual_total_a(hidden.tree))))
    assert sum(o.named for o in ended) >= 8
    assert sum(o.stale_zeros for o in ended) == 0
    assert sum(o.false_names for o in ended) <= 1
