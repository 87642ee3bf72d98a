"""Tests that alter the circuit: a lamp in place, a field forced."""

import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet


def test_the_substitute_lamp_tells_the_lamp_circuit_from_the_alternator() -> None:
    case = Case(Ensemble(load_sheet("estate-car"), work=Scope.CHARGING))
    flat = [Reading(red="bat.plus", black="bat.minus", state="fast", value=12.4)]
    lamp = Reading(instrument=Instrument.SUBSTITUTE, branch="alternator", state="fast", word="charges")
    woken, still = case.posterior([*flat, lamp]), case.posterior([*flat, lamp.model_copy(update={"word": "no_change"})])
    assert woken.share("alternator") < 0.02
    circuit = ("fuse-a", "key-feed", "key-run-pole", "fuse-b", "charge-lamp", "l-wire")
    assert sum(woken.share(e) for e in circuit) > 0.65  # the rest: shorts that blew their fuses
    assert still.share("alternator") > case.posterior(flat).share("alternator")
    with pytest.raises(ReadingError, match="has no wire"):
        case.posterior([lamp.model_copy(update={"instrument": Instrument.FULL_FIELD})])


def test_a_forced_field_clears_the_alternator_and_finds_its_regulator() -> None:
    case = Case(Ensemble(load_sheet("fire-tender"), work=Scope.CHARGING))
    readings = [
        Reading(red="bat.plus", black="bat.minus", state="fast", value=12.5),
        Reading(red="reg.A", black="reg.ground", state="fast", value=12.3),
        Reading(red="reg.ground", black="bat.minus", state="fast", value=0.01),
        Reading(instrument=Instrument.FULL_FIELD, branch="alternator", state="fast", word="charges"),
        Reading(red="alt.F", black="reg.F", state="fast", value=0.0),
        Reading(red="alt.B", black="alt.case", state="fast", value=12.5),
    ]
    posterior = case.posterior(readings)
    assert posterior.suspects[0].element == "regulator"
    assert posterior.share("alternator") < 0.02
