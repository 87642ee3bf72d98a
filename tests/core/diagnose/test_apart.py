"""Suspects that share what is left, and the access that would tell them apart."""

import pytest

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.diagnose.apart import access_that_tells, tied, way_found
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.posterior import Posterior, Suspect
from iron_probe.machines import load_sheet
from tests.left import left_of


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


def test_conductors_in_one_line_make_up_the_way_that_is_found() -> None:
    sheet = load_sheet("green-mower")
    first = next(e for e in sheet.elements if e.type == "cable")
    second = next(
        e
        for e in sheet.elements
        if e.type in ("joint", "cable", "wire") and e is not first and len(set(e.points()) & set(first.points())) == 1
    )
    other = next(e for e in sheet.elements if e.type == "wire" and not set(e.points()) & {*first.points(), *second.points()})

    def left(*shares: tuple[str, float, str]) -> Posterior:
        suspects = tuple(Suspect(element=e, p=p, mode=mode, modes=((mode, p),)) for e, p, mode in shares)
        return left_of(suspects=suspects, off_sheet=0.02)

    red, black = set(first.points()) ^ set(second.points())
    over = [Reading(red=red, black=black, state="crank", value=9.0)]
    way = way_found(left((first.id, 0.6, "open"), (second.id, 0.36, "open")), sheet, over)
    assert way is not None
    assert set(way.elements) == {first.id, second.id}
    assert {way.first, way.last} == set(first.points()) ^ set(second.points())
    assert way.share == pytest.approx(0.96)
    assert way_found(left((first.id, 0.6, "open"), (second.id, 0.2, "open")), sheet, over) is None  # not enough
    assert way_found(left((first.id, 0.6, "open"), (second.id, 0.36, "shorted")), sheet, over) is None  # not the same fault
    assert way_found(left((first.id, 0.6, "open"), (other.id, 0.36, "open")), sheet, over) is None  # not in line
    assert way_found(left((first.id, 0.96, "open")), sheet, over) is None  # one part is no way
    assert way_found(left((first.id, 0.6, "open"), (second.id, 0.36, "open")), sheet, []) is None  # nobody has read over it
