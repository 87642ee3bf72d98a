"""Tests that alter the circuit: a lamp in place, a field forced or parted, what else was done to the machine."""

import pytest

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.altered import conditioned
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Aid, Instrument, Reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.errors import ReadingError
from iron_probe.core.solve.solution import Symptom
from iron_probe.core.solve.symptom import SYMPTOMS
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


OVERCHARGING = [
    Reading(red="bat.plus", black="bat.minus", state="fast", value=15.9),
    Reading(red="bat.plus", black="reg.A", state="run", value=0.05),
    Reading(red="reg.ground", black="bat.minus", state="run", value=0.01),
    Reading(red="reg.F", black="reg.ground", state="fast", value=0.4),
    Reading(instrument=Instrument.BARE_OHM, branch="field-wire", state="rest", value=20e6, bound=Bound.AT_LEAST),
]


@pytest.mark.parametrize(("said", "guilty", "cleared"), [("charges", "alternator", "regulator"), ("stops", "regulator", "alternator")])
def test_with_its_field_wire_off_an_alternator_is_told_from_its_regulator(said: str, guilty: str, cleared: str) -> None:
    case = Case(Ensemble(load_sheet("fire-tender"), work=Scope.CHARGING))
    assert case.posterior(OVERCHARGING).found is None  # neither is condemned before the wire was off
    off = Reading(instrument=Instrument.FIELD_OFF, branch="alternator", state="fast", word=said)
    posterior = case.posterior([*OVERCHARGING, off])
    assert posterior.suspects[0].element == guilty
    assert posterior.share(cleared) < 0.05


def test_the_volts_of_a_forced_field_say_more_than_that_it_charges() -> None:
    case = Case(Ensemble(load_sheet("fire-tender"), work=Scope.CHARGING))
    flat = [
        Reading(red="bat.plus", black="bat.minus", state="fast", value=12.5),
        Reading(red="reg.A", black="reg.ground", state="fast", value=12.3),
    ]
    forced_v = [Reading(instrument=Instrument.FULL_FIELD, branch="alternator", state="fast", value=v) for v in (12.3, 15.8)]
    dead, alive = (case.posterior([*flat, r]) for r in forced_v)
    assert dead.share("alternator") > 3 * alive.share("alternator")
    assert alive.share("regulator") > dead.share("regulator")


def test_a_charger_on_the_posts_is_no_charged_battery() -> None:
    case = Case(Ensemble(load_sheet("crew-minibus")))
    clicks = Reading(instrument=Instrument.EYES, state="crank", word="click")
    rested = Reading(red="bat.plus", black="bat.minus", state="rest", value=12.6)
    charged, on_charge = (case.posterior([clicks, r]) for r in (rested, rested.model_copy(update={"aided": Aid.CHARGER})))
    assert on_charge.share("battery") > 2 * charged.share("battery")


def test_a_start_with_a_booster_says_that_the_rest_cranks_and_leaves_the_battery() -> None:
    case = Case(Ensemble(load_sheet("crew-minibus")))
    slow = [Reading(instrument=Instrument.EYES, state="crank", word="slow")]
    boosted = Reading(instrument=Instrument.EYES, state="crank", word="cranks", aided=Aid.BOOSTER, crank=2)
    before, after = case.posterior(slow), case.posterior([*slow, boosted])
    assert after.share("battery") > before.share("battery")
    assert after.stands == ("crank",)  # the complaint stands: it was not tried as the machine is


def test_a_part_taken_out_carries_nothing_and_a_jumper_left_goes_around() -> None:
    sheet = load_sheet("crew-minibus")
    network = network_of(sheet)
    whole = Reading(instrument=Instrument.EYES, state="crank", word="nothing")
    relay = next(e for e in sheet.elements if e.type == "relay")
    values = network.nominal[:, None]
    assert conditioned(network, whole.model_copy(update={"parted": relay.id}), values)[1].heard[0] == SYMPTOMS.index(Symptom.NOTHING)
    around = whole.model_copy(update={"parted": relay.id, "jumpered": (relay.common, relay.make)})
    assert conditioned(network, around, values)[1].heard[0] == SYMPTOMS.index(Symptom.CRANKS)
