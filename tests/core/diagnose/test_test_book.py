"""Every test a sheet allows, and what it costs."""

import numpy as np
import pytest

from iron_probe.core.circuit.elements import Module
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.likelihood import predict
from iron_probe.core.diagnose.own_test import proves
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.machines import load_sheet


@pytest.fixture(scope="module")
def book(ensemble: Ensemble) -> TestBook:
    return TestBook(ensemble)


def test_no_place_is_offered_twice_and_a_made_one_no_more(book: TestBook) -> None:
    every = book.numbers_beside([])
    assert every == list(range(len(book.candidates)))
    made = book.candidates[7].reading
    turned = made.model_copy(update={"red": made.black, "black": made.red})
    assert [k for k in every if k not in book.numbers_beside([turned])] == [7]


def test_staying_in_a_state_saves_its_minutes_but_a_crank_is_made_anew(book: TestBook) -> None:
    sheet = book.ensemble.sheet
    crank = sheet.cranking_state()
    rest = next(s for s in book.ensemble.states if not sheet.states[s].cranking)
    for state, saves in ((rest, True), (crank, False)):
        numbers = [k for k, c in enumerate(book.candidates) if c.reading.state == state][:3]
        before = Reading(red=sheet.plus, black=sheet.minus, state=str(state), value=1.0)
        fresh, again = book.minutes(numbers, None), book.minutes(numbers, before)
        assert again == pytest.approx(fresh - (sheet.states[str(state)].minutes if saves else 0.0))


def test_what_sound_machines_show_is_a_row_a_test(book: TestBook) -> None:
    assert book.sound.shape == (len(book.candidates), book.ensemble.size)
    assert np.isfinite(book.sound).all() and (book.blur >= 0).all()


def test_leads_and_clamps_are_told_apart_by_state(book: TestBook) -> None:
    for state in book.ensemble.states:
        for numbers, kind in ((book.leads[state][0], Instrument.VOLTMETER), (book.clamps[state][0], Instrument.CLAMP)):
            assert all(book.candidates[k].reading.instrument is kind and book.candidates[k].reading.state == state for k in numbers)


def test_a_load_tester_on_the_posts_tells_a_worn_battery_from_any_drop(book: TestBook, ensemble: Ensemble) -> None:
    loads = [c.reading for c in book.candidates if c.reading.instrument is Instrument.LOAD]
    assert [{r.red, r.black} for r in loads] == [{b.start, b.end} for b in ensemble.sheet.batteries]
    number = book.number_of(loads[0])
    assert number in book.own_tests("battery", "worn") and number not in book.own_tests("frame-bolt", "high_resistance")
    shown = predict(loads[0], ensemble.network, ensemble.first(loads[0].state)).reshape(len(ensemble.hypotheses), -1)
    by_mode = {(h.modes[0].element, h.modes[0].name): shown[k] for k, h in enumerate(ensemble.hypotheses) if h.modes}
    assert np.median(by_mode["battery", "worn"]) < shown[0].min() - 0.5
    assert by_mode["frame-bolt", "high_resistance"] == pytest.approx(shown[0], abs=0.05)


def test_what_lies_outside_the_circuit_is_unseen_and_what_a_test_shows_is_not(book: TestBook, ensemble: Ensemble) -> None:
    unseen = {(h.modes[0].element, h.modes[0].name) for h, alike in zip(ensemble.hypotheses, book.unseen, strict=True) if alike}
    assert ("battery", "low_capacity") in unseen
    assert not unseen & {("battery", "worn"), ("frame-bolt", "high_resistance")} and not book.unseen[0]


def test_every_proof_of_a_part_that_does_not_answer_is_a_test_of_the_book() -> None:
    ensemble = Ensemble(load_sheet("pool-car"))
    module = next(e for e in ensemble.sheet.elements if isinstance(e, Module) and len({n.point for o in e.outputs for n in o.needs}) > 1)
    offered = {(frozenset((c.reading.red, c.reading.black)), c.reading.state) for c in TestBook(ensemble).candidates}
    for point in {n.point for o in module.outputs for n in o.needs}:
        assert (frozenset((point, module.ground)), "crank") in offered


def test_tests_stand_in_an_order_that_every_process_finds_alike() -> None:
    """What is worked out of them is kept by their number."""
    ensemble = Ensemble(load_sheet("parcel-van"))
    fuses: dict[str | None, list[int]] = {}
    for candidate in TestBook(ensemble).candidates:
        if candidate.reading.instrument is Instrument.NEW_FUSE:
            fuses.setdefault(candidate.reading.branch, []).append(ensemble.states.index(candidate.reading.state))
    assert max(len(states) for states in fuses.values()) > 2
    assert all(states == sorted(states) for states in fuses.values())


def test_a_part_s_own_tests_are_found_by_their_leads_as_by_asking_of_every_test(book: TestBook) -> None:
    network = book.ensemble.network
    for mode in book.ensemble.modes:
        asked = {k for k, c in enumerate(book.candidates) if proves(network, mode.element, mode.name, c.reading)}
        assert book.own_tests(mode.element, mode.name) == asked, mode
