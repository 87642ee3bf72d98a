"""A trial hides one fault, complains as a customer would, and ends."""

import numpy as np
import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.trial import complaint_of, hide, hide_one, repaired


@pytest.mark.parametrize("seed", range(4))
def test_what_is_hidden_is_heard_and_gone_once_repaired(ensemble: Ensemble, seed: int) -> None:
    hidden = hide_one(ensemble.network, ensemble.modes, np.random.default_rng(seed))
    complaint = complaint_of(hidden)
    assert complaint
    for element in {m.element for m, _ in hidden.faults}:
        assert not complaint_of(repaired(hidden, element))
    assert Case(ensemble).posterior(complaint).suspects


def test_a_load_tester_shows_the_battery_under_its_load(ensemble: Ensemble) -> None:
    worn = next(m for m in ensemble.modes if (m.element, m.name) == ("battery", "worn"))
    load = Reading(instrument=Instrument.LOAD, red="bat.plus", black="bat.minus", state="rest", value=0.0)
    shown = []
    for severity in (1.0, 10.0):
        rng = np.random.default_rng(1)
        hidden = hide(ensemble.network, [(worn, severity)], ensemble.network.nominal[:, None], rng)
        shown.append(hidden.take(load).value or 0.0)
        assert (hidden.take(load.model_copy(update={"instrument": Instrument.VOLTMETER})).value or 0.0) > 12.2
    assert shown[0] > 10 > shown[1] + 2
