"""What may be said: own tests that count, readings that disagree, readings that sound machines would call slips."""

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.findings import FOUND_SHARE, FUSE_SHARE, contradicting, found_by, has_own_test, not_sound, share_to_find
from iron_probe.core.diagnose.places import places_of
from iron_probe.core.diagnose.posterior import Suspect
from tests.core.diagnose.mower import Hidden, volts


def suspect(element: str, mode: str, p: float) -> Suspect:
    return Suspect(element=element, p=p, mode=mode, modes=((mode, p),))


def test_an_open_fuse_must_hold_more_to_be_found(ensemble: Ensemble) -> None:
    fuse = next(e.id for e in ensemble.sheet.elements if e.type == "fuse")
    assert share_to_find(ensemble.network, suspect(fuse, "open", 1.0)) == FUSE_SHARE
    assert share_to_find(ensemble.network, suspect(fuse, "high_resistance", 1.0)) == FOUND_SHARE


def test_what_was_told_or_disturbed_is_no_test_of_its_own(ensemble: Ensemble, bolt: Hidden) -> None:
    own = bolt.volts("frame", "frame.eye")
    assert has_own_test(ensemble.network, suspect("frame-bolt", "open", 1.0), [own])
    assert not has_own_test(ensemble.network, suspect("minus-eyelet", "open", 1.0), [own])
    assert not any(
        has_own_test(ensemble.network, suspect("frame-bolt", "open", 1.0), [own.model_copy(update={said: True})])
        for said in ("told", "disturbed")
    )


def test_its_own_test_finds_it_only_where_it_holds_enough_and_a_sound_machine_would_not(
    ensemble: Ensemble, case: Case, bolt: Hidden
) -> None:
    own = bolt.volts("frame", "frame.eye").model_copy(update={"branch": "frame-bolt"})
    places = places_of([own])
    fits = [case._held(p) for p in places]

    def found(p: float, mode: str = "high_resistance") -> str | None:
        return found_by(ensemble, [suspect("frame-bolt", mode, p)], places, fits)

    assert found(0.9) == "frame-bolt" and found(FOUND_SHARE - 0.01) is None
    good = places_of([own.model_copy(update={"value": 0.004})])
    assert found_by(ensemble, [suspect("frame-bolt", "high_resistance", 0.9)], good, [case._held(p) for p in good]) is None


def test_figures_of_one_place_that_differ_contradict_and_a_drop_no_sound_machine_has_is_named(case: Case, ensemble: Ensemble) -> None:
    places = places_of([volts("bat.plus", "bat.minus", 11.5), volts("bat.plus", "bat.minus", 9.0), volts("frame", "frame.eye", 0.01)])
    assert contradicting(places) == [1, 2]
    odd = places_of([volts("frame", "frame.eye", 0.01), volts("block", "frame", 5.0)])
    assert not_sound(odd, [case._held(p) for p in odd], ensemble.size) == [2]


def test_volts_as_high_as_a_sound_battery_s_condemn_none(ensemble: Ensemble, case: Case) -> None:
    def found(value: float) -> str | None:
        places = places_of([volts("bat.plus", "bat.minus", value), clamped])
        return found_by(ensemble, [suspect("battery", "worn", 0.95)], places, [case._held(p) for p in places])

    clamped = Reading(instrument=Instrument.CLAMP, branch="battery", state="crank", value=80.0)
    assert found(6.5) == "battery" and found(12.7) is None
