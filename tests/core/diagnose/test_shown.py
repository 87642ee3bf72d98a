"""What an instrument shows on the first draw, whatever it is."""

import numpy as np
import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.shown import shown_by, shown_first
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet

VAN = Ensemble(load_sheet("parcel-van"))


def answers(state: str, word: str = "answers") -> Reading:
    return Reading(instrument=Instrument.ANSWERS, branch="engine-module", state=state, word=word)


def test_a_module_answers_while_it_lives_and_has_its_power() -> None:
    number = next(k for k, h in enumerate(VAN.hypotheses) if h.modes and (h.modes[0].element, h.modes[0].name) == ("engine-module", "dead"))
    shown = shown_by(VAN, answers("run")).predicted.reshape(len(VAN.hypotheses), -1)
    assert shown[0].all() and not shown[number].any()
    assert not shown_by(VAN, answers("rest")).predicted.reshape(len(VAN.hypotheses), -1)[0].any()  # its feed is off


def test_seven_good_answers_are_one_and_a_silent_module_is_accused_with_its_power() -> None:
    case, nothing = Case(VAN), Reading(instrument=Instrument.EYES, state="crank", word="nothing")
    heard, once, often, silent = (
        case.posterior([nothing, *more]) for more in ([], [answers("run")], [answers("run")] * 7, [answers("run", "silent")])
    )
    dead = [dict(next(s.modes for s in p.suspects if s.element == "engine-module")).get("dead", 0.0) for p in (silent, heard, once, often)]
    assert dead[0] > 1.2 * dead[1] and dead[1] > 5 * dead[2]
    assert often.share("engine-module") == pytest.approx(once.share("engine-module"), rel=0.2)
    assert silent.share("module-feed") > heard.share("module-feed")


def test_a_forced_test_is_solved_once_and_shown_in_volts_or_as_its_word() -> None:
    tender = Ensemble(load_sheet("fire-tender"), work=Scope.CHARGING)
    off = Reading(instrument=Instrument.FIELD_OFF, branch="alternator", state="fast", word="stops")
    which = np.arange(tender.size)
    assert not shown_first(tender, off, which).any()
    volts = shown_first(tender, off.model_copy(update={"value": 12.5}), which)
    assert ((volts > 11) & (volts < 13)).all() and len(tender.forced_v) == 1
    with pytest.raises(ReadingError, match="has no wire"):
        shown_by(VAN, off)
