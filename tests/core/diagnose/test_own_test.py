"""No part is condemned before a test of its own."""

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.circuit.faults import FED_ELSEWHERE, WELDED_MODES
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.own_test import own_test, proofs, proves, unproven
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.test_book import TestBook
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


def test_a_blown_fuse_is_not_condemned_before_a_lamp_across_it_has_cleared_what_it_feeds() -> None:
    sheet = load_sheet("green-mower")
    case = Case(Ensemble(sheet))
    dead = [
        Reading(instrument=Instrument.EYES, state="crank", word="nothing"),
        Reading(red="sol.in", black="f1.out", state="crank", value=12.5),
        Reading(red="f1.out", black="bat.minus", state="crank", value=0.0),
    ]
    before = case.posterior(dead)
    assert before.suspects[0].element == "f1"
    assert before.found is None
    lamp = Reading(instrument=Instrument.LAMP_LARGE, red="sol.in", black="f1.out", state="crank", word="dim")
    coil = Reading(instrument=Instrument.PART_OHM, branch="solenoid.coil", state="rest", value=4.0)
    assert case.posterior([*dead, lamp, coil]).found is None  # nor before a new one has held
    new = Reading(instrument=Instrument.NEW_FUSE, branch="f1", state="crank", word="holds")
    assert case.posterior([*dead, lamp, coil, new]).found == "f1"
    burnt = coil.model_copy(update={"value": 0.05})
    after = case.posterior([*dead, lamp.model_copy(update={"word": "bright"}), burnt])
    assert (after.found, after.suspects[0].mode) == ("solenoid", "coil_shorted")


def test_a_short_is_proven_by_ohms_of_the_part_alone() -> None:
    network = network_of(load_sheet("green-mower"))
    ohms = Reading(instrument=Instrument.BARE_OHM, branch="key-feed", state="rest", value=0.03)
    drop = Reading(red="f1.out", black="key.B", state="rest", value=0.2)
    assert own_test(network, "key-feed", ohms) and own_test(network, "key-feed", drop)
    assert not own_test(network, "f1", ohms)
    assert proves(network, "key-feed", "shorted", ohms) and not proves(network, "key-feed", "shorted", drop)
    assert proves(network, "key-feed", "high_resistance", drop)


def test_the_lamp_across_a_fuse_is_lit_where_what_it_feeds_draws_most() -> None:
    network = network_of(load_sheet("lift-shuttle"))
    ((lamp,),), ((renewed,),) = proofs(network, "b2", "open")  # the lift box: its pump draws while lifting alone
    assert "lift" in lamp.states and not lamp.states & {"rest", "run", "crank"}
    across = Reading(instrument=Instrument.LAMP_LARGE, red="b2.out", black="bay.in", state="lift", word="off")
    assert renewed.done_by(Reading(instrument=Instrument.NEW_FUSE, branch="b2", state="rest", word="holds")) and not renewed.done_by(across)
    assert lamp.done_by(across) and not lamp.done_by(across.model_copy(update={"state": "run"}))


def test_a_contact_that_never_opens_is_proven_out_of_its_circuit_and_a_feed_from_elsewhere_by_the_volts_of_its_point() -> None:
    """A bridge around a switch reads in the circuit just as a switch that stays closed."""
    case = Case(Ensemble(load_sheet("training-kart")))
    network, book = case.ensemble.network, TestBook(case.ensemble)
    welded = next(m for m in case.ensemble.modes if m.name in WELDED_MODES)
    asked = [book.candidates[k].reading for k in book.own_tests(welded.element, welded.name)]
    assert asked and {r.instrument for r in asked} == {Instrument.PART_OHM}
    wire = next(m.element for m in case.ensemble.modes if m.name == FED_ELSEWHERE)
    end = network.sheet.element(wire).points()[-1]
    live = Reading(red=end, black=network.sheet.minus, state="rest", value=12.4)
    assert proves(network, wire, FED_ELSEWHERE, live) and not proves(network, wire, "open", live)


def test_a_wire_that_is_live_with_everything_off_is_found_to_be_fed_from_elsewhere() -> None:
    ensemble = Ensemble(load_sheet("verge-tractor"))
    case = Case(ensemble)
    running_on = [
        Reading(instrument=Instrument.EYES, state="rest", word="cranks"),
        Reading(red="bat.plus", black="relay.87", state="rest", value=0.4),
        Reading(instrument=Instrument.PART_OHM, branch="start-relay.contact", state="rest", value=20e6, bound=Bound.AT_LEAST),
    ]
    before = case.posterior(running_on)
    assert before.found is None and before.share("start-relay") < 0.1
    after = case.posterior([*running_on, Reading(red="starter.S", black="bat.minus", state="rest", value=11.9)])
    assert (after.found, after.suspects[0].mode) == ("s-wire", FED_ELSEWHERE)


def test_a_diode_is_condemned_only_with_its_stator_read_off_the_core() -> None:
    network = network_of(load_sheet("rescue-watercraft"))
    stator = next(e for e in network.sheet.elements if isinstance(e, Stator))
    ripple = Reading(instrument=Instrument.RIPPLE, branch="rectifier", state="fast", value=0.7)
    core = Reading(instrument=Instrument.OHMMETER, red=stator.p1, black=stator.case, state="rest", value=20e6)
    assert unproven(network, "rectifier", "diode_shorted", "fast", [ripple])
    assert not unproven(network, "rectifier", "diode_shorted", "fast", [ripple, core])
