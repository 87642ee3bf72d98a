"""Suspects that share what is left, and the access that would tell them apart."""

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.diagnose.apart import access_that_tells, tied
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.machines import load_sheet


def test_two_switches_in_line_are_told_apart_with_the_plug_off() -> None:
    """Power goes into the chain and none comes out; nothing between was probed. Ohms across one switch decide."""
    case = Case(Ensemble(load_sheet("green-mower")))
    readings = [
        Reading(instrument=Instrument.EYES, state="crank", word="nothing"),
        Reading(red="key.crank", black="bat.minus", state="crank", value=12.4),
        Reading(red="blade.out", black="bat.minus", state="crank", value=0.0),
    ]
    posterior = case.posterior(readings)
    left = tied(posterior)
    assert {"brake-switch", "blade-switch"} <= set(left)
    access = access_that_tells(case, posterior, readings)
    assert access is not None
    assert access.element in left
    assert access.bits > 0.5
    if access.reading.instrument is Instrument.OHMMETER:
        opened = access.reading.model_copy(update={"value": 2e6, "bound": Bound.AT_LEAST})
    else:
        opened = access.reading.model_copy(update={"word": "cranks"})
    assert case.posterior([*readings, opened]).suspects[0].element == access.element
    assert case.posterior([*readings, opened]).suspects[0].p > 0.9


def test_one_suspect_is_tied_with_nobody() -> None:
    case = Case(Ensemble(load_sheet("green-mower")))
    readings = [Reading(red="key.crank", black="brake.out", state="crank", value=12.4)]
    posterior = case.posterior([Reading(instrument=Instrument.EYES, state="crank", word="nothing"), *readings])
    assert tied(posterior) == []
    assert access_that_tells(case, posterior, readings) is None
