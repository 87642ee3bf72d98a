"""A trial hides one fault, complains as a customer would, and ends."""

import numpy as np
import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.trial import complaint_of, hide_one, repaired


@pytest.mark.parametrize("seed", range(4))
def test_what_is_hidden_is_heard_and_gone_once_repaired(ensemble: Ensemble, seed: int) -> None:
    hidden = hide_one(ensemble.network, ensemble.modes, np.random.default_rng(seed))
    complaint = complaint_of(hidden)
    assert complaint
    for element in {m.element for m, _ in hidden.faults}:
        assert not complaint_of(repaired(hidden, element))
    assert Case(ensemble).posterior(complaint).suspects
