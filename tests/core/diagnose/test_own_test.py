"""No part is condemned before a test of its own."""

from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.own_test import own_test, proofs, proves
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
    assert case.posterior([*dead, lamp, coil]).found == "f1"
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
    (((lamp,),),) = proofs(network, "b2", "open")  # the lift box: its pump draws while lifting alone
    assert "lift" in lamp.states and not lamp.states & {"rest", "run", "crank"}
    across = Reading(instrument=Instrument.LAMP_LARGE, red="b2.out", black="bay.in", state="lift", word="off")
    assert lamp.done_by(across) and not lamp.done_by(across.model_copy(update={"state": "run"}))
