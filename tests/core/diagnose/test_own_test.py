"""No part is condemned before a test of its own."""

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.machines import load_sheet


def test_an_alternator_is_not_condemned_before_its_small_wires_are_read() -> None:
    case = Case(Ensemble(load_sheet("estate-car"), work=Scope.CHARGING))
    dead = [
        Reading(red="bat.plus", black="bat.minus", state="fast", value=12.4),
        Reading(red="alt.B", black="alt.case", state="fast", value=12.4),
        Reading(red="lamp.l", black="alt.L", state="fast", value=0.0),
        Reading(instrument=Instrument.FUNCTION, branch="charge-lamp", state="fast", word="works"),
    ]
    before = case.posterior(dead)
    assert before.suspects[0].element == "alternator"
    assert before.found is None
    assert case.posterior([*dead, Reading(red="alt.L", black="alt.case", state="fast", value=1.1)]).found == "alternator"
