"""What the command line and the API answer: faults by name, one state solved, a diagnosis in lines."""

import pytest

from iron_probe.core.answers import diagnose_answer, parse_fault, sheet_answer, solve_answer, spice_answer
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.fault_modes import fault_modes
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.errors import IronProbeError
from iron_probe.machines import load_sheet


@pytest.fixture(scope="module")
def mower() -> Sheet:
    return load_sheet("green-mower")


def test_a_sheet_lists_its_elements_and_states(mower: Sheet) -> None:
    answer = sheet_answer(mower)
    assert {e.id for e in answer.elements} == {e.id for e in mower.elements}


def test_a_fault_is_named_with_its_severity_and_a_wrong_one_is_told(mower: Sheet) -> None:
    modes = fault_modes(network_of(mower))
    mode, severity = parse_fault("frame-bolt=high_resistance:0.05", modes)
    assert (mode.element, mode.name, severity) == ("frame-bolt", "high_resistance", 0.05)
    for wrong in ("frame-bolt", "frame-bolt=rust", "nobody=open", "frame-bolt=high_resistance:much"):
        with pytest.raises(IronProbeError):
            parse_fault(wrong, modes)


def test_a_fault_in_the_ground_leaves_less_for_the_starter(mower: Sheet) -> None:
    sound = solve_answer(mower, "crank")
    faulty = solve_answer(mower, "crank", ["frame-bolt=high_resistance:0.05"])
    most = [max(abs(f.amps) for f in a.elements.values()) for a in (sound, faulty)]
    assert most[1] < most[0]
    assert abs(faulty.elements["frame-bolt"].drop_v) > 10 * abs(sound.elements["frame-bolt"].drop_v)


def test_the_netlist_names_its_state(mower: Sheet) -> None:
    assert spice_answer(mower, "crank").strip().endswith(".end")


def test_a_diagnosis_says_suspects_and_what_to_measure_next(mower: Sheet) -> None:
    ensemble = Ensemble(mower)
    heard = Reading(instrument=Instrument.EYES, state="crank", word="slow")
    answer = diagnose_answer(Case(ensemble), TestBook(ensemble), [heard], most=2)
    assert answer.suspects and len(answer.next) == 2
    assert all(n.minutes > 0 for n in answer.next)


def test_a_loose_wire_is_named_and_a_rattle_says_how_far_it_swings() -> None:
    car, bus = load_sheet("pool-car"), load_sheet("crew-minibus")
    open_coil = solve_answer(car, "run", ["start-relay=coil_open"])
    assert "relay.85" in open_coil.floating and "bat.plus" not in open_coil.floating
    assert not open_coil.unsteady
    rattle = solve_answer(bus, "crank", ["strap-block=high_resistance:0.06"])
    assert rattle.symptoms == ["chatter"] and 0.1 < rattle.unsteady["bat.plus"] < 2
