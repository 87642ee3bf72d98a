"""A replay tells what each test told, and what the engine would have done; it reads no more than was read."""

import numpy as np
import pytest

from iron_probe.bay.case import bay_with
from iron_probe.bay.replay import par, replayed, told
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.machines import load_sheet
from iron_probe.rig.spice import Spice
from iron_probe.work.ensembles import Ready, make, wanted


@pytest.fixture(scope="module")
def kart() -> Ready:
    return make(wanted(load_sheet("training-kart"), 20.0, Scope.STARTING))


def test_a_test_made_twice_tells_little_the_second_time(kart: Ready) -> None:
    sheet = load_sheet("training-kart")
    crank = sheet.cranking_state() or ""
    heard = [Reading(instrument=Instrument.EYES, state=crank, word="nothing")]
    posts = Reading(red=sheet.plus, black=sheet.minus, state=crank, value=12.6)
    starter = Reading(red=next(e for e in sheet.elements if e.type == "starter").points()[0], black=sheet.minus, state=crank, value=0.0)
    steps = replayed(Case(kart.ensemble), kart.book, heard, [(1, posts), (2, posts), (3, starter), (4, starter)])
    assert [s.number for s in steps] == [1, 2, 3, 4] and steps[0].told_bits > 0.1 > steps[1].told_bits
    assert steps[1].source and not steps[1].idle and not steps[3].source and steps[3].idle
    assert steps[0].best is not None and steps[0].known and steps[0].did.minutes > 0


def test_the_engine_finds_it_by_its_own_tests(kart: Ready, spice: Spice) -> None:
    bay = bay_with(load_sheet("training-kart"), "open", np.random.default_rng(5), 5, spice)
    assert bay is not None and bay.complained is not None
    heard = [Reading(instrument=Instrument.EYES, state=bay.sheet.cranking_state() or "", word=bay.complained)]
    minutes, tests = par(Case(kart.ensemble), kart.book, heard, bay)
    assert 0 < tests < 30 and minutes >= tests * 0.3


def test_nothing_new_is_no_bits(kart: Ready) -> None:
    posterior = Case(kart.ensemble).posterior([])
    assert told(posterior, posterior) == pytest.approx(0.0, abs=1e-9)
