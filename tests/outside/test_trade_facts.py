"""Facts of the trade the model must show by itself.

common practice, no source (CHECKS): lost block ground, no current on both legs, chatter from a bad ground, 17 A at 12 V.
"""

import numpy as np
import pytest

from iron_probe.core.answers import parse_fault
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import build_network
from iron_probe.core.circuit.spice import netlist
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution, Symptom
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes
from iron_probe.machines import load_sheet
from tests.outside.test_ngspice import ngspice


def faulty(sheet_id: str, state: str, **ohm: float) -> Solution:
    network = build_network(load_sheet(sheet_id))
    values = network.nominal[:, None].copy()
    for element, extra in ohm.items():
        values[network.row[element.replace("_", "-"), "r_ohm"], 0] += extra
    return solve_state(network, state, values)


def test_lost_block_ground_lifts_the_block_and_puts_volts_on_the_command_wire_with_key_on() -> None:
    """Key on, unloaded: the block rises to several volts through what is grounded on it, and S with it through the windings."""
    sound, lost = (faulty("verge-tractor", "run", block_frame=extra) for extra in (0.0, 1e6))
    assert sound.between("block", "bat.minus")[0] < 0.1
    assert lost.between("block", "bat.minus")[0] > 5
    assert lost.between("starter.S", "bat.minus")[0] > 5
    assert faulty("verge-tractor", "crank", block_frame=1e6).between("block", "bat.minus")[0] > 10


def test_zero_drop_on_both_legs_means_no_current() -> None:
    dead = faulty("crew-minibus", "crank", crank_wire=1e6)
    assert SYMPTOMS[symptom_codes(dead)[0]] is Symptom.NOTHING
    assert abs(dead.between("bat.plus", "starter.B")[0]) < 0.01
    assert abs(dead.between("starter.case", "bat.minus")[0]) < 0.01
    assert abs(dead.current("starter")[0]) < 0.1


def test_chatter_from_a_bad_ground() -> None:
    assert SYMPTOMS[symptom_codes(faulty("crew-minibus", "crank", ground_stud=0.06))[0]] is Symptom.CHATTER


def test_a_hair_thin_conductor_passes_at_rest_and_fails_under_load() -> None:
    """One strand left: 12 V without load, nothing under it."""
    assert faulty("ferry-van", "rest", starter_cable=2.0).between("starter.B", "bat.minus")[0] > 12.4
    assert faulty("ferry-van", "crank", starter_cable=2.0).between("starter.B", "bat.minus")[0] < 2


def test_a_relay_pulls_in_under_8_v_and_holds_far_below() -> None:
    """from memory: relay coils 60-100 Ω at 12 V, pull-in under about 8 V, drop-out 1-4 V."""
    sheet = load_sheet("pool-car")
    relay = sheet.element("start-relay")
    values = {p.name: p.nominal for p in relay.parameters(Conditions())}
    assert 60 <= values["coil_ohm"] <= 100
    assert values["pull_in_a"] * values["coil_ohm"] < 8
    assert 1 <= values["drop_out_a"] * values["coil_ohm"] <= 4


@pytest.mark.parametrize("sheet_id", ["pool-car", "harbour-launch"])
def test_ensemble_agrees_with_ngspice_where_a_fault_is_injected(sheet_id: str) -> None:
    """source: ngspice 39, spot checks of solved ensembles: a dozen hypotheses, one variant each."""
    ensemble = Ensemble(load_sheet(sheet_id))
    network, values = ensemble.network, ensemble.first_values()
    kept = ensemble.first("crank")
    rng = np.random.default_rng(1)
    compared = 0
    for column in rng.choice(values.shape[1], 14, replace=False):
        one = values[:, [column]]
        solved = solve_state(network, "crank", one)
        if solved.chatter[0]:
            continue
        seen = ngspice(netlist(solved, one))
        for k, _ in enumerate(network.points):
            if k != network.reference:
                theirs = seen[f"n{k + 1}"]
                assert abs(kept.volts[k, column] - theirs) <= max(1e-3, 1e-3 * abs(theirs))
        compared += 1
    assert compared > 8


def test_faults_are_named_in_text() -> None:
    ensemble = Ensemble(load_sheet("green-mower"))
    mode, severity = parse_fault("frame-bolt=high_resistance:0,02", ensemble.modes)
    assert (mode.name, severity) == ("high_resistance", 0.02)
