"""Windings measured with their plug off."""

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.stator import judge_pair_ohms, stator_readings
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.unplugged import shown_alone
from iron_probe.machines import load_sheet


@pytest.mark.parametrize(("sheet_id", "share"), [("patrol-motorcycle", 2.0), ("piste-sled", 2 / 3)])
def test_an_unplugged_stator_reads_as_it_is_joined(sheet_id: str, share: float) -> None:
    """Pairs in star are two windings in line, in delta one beside the two others; an open winding shows in ohms and AC volts."""
    network = network_of(load_sheet(sheet_id))
    stator = next(e for e in network.sheet.elements if isinstance(e, Stator))
    fast = network.sheet.running_states()[-1]

    def read(instrument: Instrument, red: str, black: str, values: Floats) -> float:
        reading = Reading(instrument=instrument, red=red, black=black, state=fast, value=0.0)
        return float(shown_alone(network, reading, values.__getitem__)[0])

    sound = network.nominal[:, None]
    assert read(Instrument.OHMMETER, stator.p1, stator.p2, sound) == pytest.approx(share * stator.phase_mohm / 1000, rel=1e-6)
    assert read(Instrument.OHMMETER, stator.p3 or "", stator.case, sound) > 1e7
    expected = stator.pair_v_per_krpm * network.sheet.states[fast].rpm / 1000
    assert read(Instrument.AC_VOLTS, stator.p2, stator.p3 or "", sound) == pytest.approx(expected, rel=1e-6)
    opened = sound.copy()
    find_mode(fault_modes(network), stator.id, "phase_1_open").apply(opened, np.ones(1))
    volts, ohms = (read(i, stator.p1, stator.p2, opened) for i in (Instrument.AC_VOLTS, Instrument.OHMMETER))
    if stator.joined == "star":
        assert volts == 0
        assert ohms > 1e7
    else:  # the other two windings still make the pair's volts, over twice the ohms of one
        assert volts == pytest.approx(expected, rel=0.01)
        assert ohms == pytest.approx(2 * stator.phase_mohm / 1000, rel=1e-3)
        assert "1-2 is twice" in judge_pair_ohms([ohms, 0.4, 0.4], 0.0, "delta").text


def test_a_single_winding_is_its_own_pair_and_shows_nothing_when_open() -> None:
    network = network_of(load_sheet("green-mower"))
    stator = network.sheet.element("stator")
    assert isinstance(stator, Stator)
    fast = network.sheet.running_states()[-1]
    opened = network.nominal[:, None].copy()
    find_mode(fault_modes(network), "stator", "phase_1_open").apply(opened, np.ones(1))
    ac, ohms = (Reading(instrument=i, red="st.1", black="st.2", state=fast, value=0.0) for i in (Instrument.AC_VOLTS, Instrument.OHMMETER))
    assert shown_alone(network, ac, network.nominal[:, None].__getitem__)[0] == pytest.approx(33.0)
    assert shown_alone(network, ohms, network.nominal[:, None].__getitem__)[0] == pytest.approx(0.45, rel=1e-4)
    assert shown_alone(network, ac, opened.__getitem__)[0] == 0
    assert shown_alone(network, ohms, opened.__getitem__)[0] > 1e7


def test_stator_ohms_typed_on_the_board_accuse_the_stator() -> None:
    sheet = load_sheet("rescue-watercraft")
    stator = next(e for e in sheet.elements if isinstance(e, Stator))
    typed = {
        "leads": "0.2",
        "p12": "0.70",
        "p23": "OL",
        "p31": "OL",
        "ground": "OL",
        "rpm": "3100",
        "v12": "40.3",
        "v23": "0.4",
        "v31": "0.3",
    }
    readings = stator_readings(stator, sheet, typed)
    assert next(r.value for r in readings if r.instrument is Instrument.AC_VOLTS) == pytest.approx(40.3 * 4000 / 3100)
    assert readings[0].value == pytest.approx(0.5)
    low = Reading(red=sheet.plus, black=sheet.minus, state="fast", value=12.9)
    found = Case(Ensemble(sheet, work=Scope.CHARGING)).posterior([low, *readings])
    assert (found.found, found.suspects[0].mode) == ("stator", "phase_3_open")


def test_a_wire_by_itself_reads_to_ground_what_its_own_insulation_leaves() -> None:
    network = network_of(load_sheet("pool-car"))
    ohms = Reading(instrument=Instrument.BARE_OHM, branch="lamp-wire", state="rest", value=0.0)
    shorted = network.nominal[:, None].copy()
    find_mode(fault_modes(network), "lamp-wire", "shorted").apply(shorted, np.array([20.0]))
    other = network.nominal[:, None].copy()
    find_mode(fault_modes(network), "headlamps", "shorted").apply(other, np.array([0.01]))
    assert shown_alone(network, ohms, network.nominal[:, None].__getitem__)[0] > 1e7
    assert shown_alone(network, ohms, shorted.__getitem__)[0] == pytest.approx(0.05)
    assert shown_alone(network, ohms, other.__getitem__)[0] > 1e7


def test_a_coil_by_itself_is_read_and_not_the_diode_beside_it() -> None:
    network = network_of(load_sheet("pool-car"))
    coil = Reading(instrument=Instrument.PART_OHM, branch="start-relay.coil", state="rest", value=0.0)
    assert shown_alone(network, coil, network.nominal[:, None].__getitem__)[0] == pytest.approx(85, rel=0.1)
