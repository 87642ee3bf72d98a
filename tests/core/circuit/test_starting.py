import pytest

from iron_probe.core.circuit.element_base import Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.starting import Solenoid, Starter, warm
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Symptom
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes
from iron_probe.machines import load_sheet

STARTER = Starter.model_validate(
    {"id": "m", "type": "starter", "title": "Starter", "from": "a", "to": "b", "load_a": 150, "stall_mohm": 12}
)
SOLENOID = Solenoid.model_validate({"id": "s", "type": "solenoid", "title": "Solenoid", "s": "s", "b": "b", "m": "m", "case": "c"})


def values(element: Starter | Solenoid, at: Conditions) -> dict[str, float]:
    return {p.name: p.nominal for p in element.parameters(at)}


def test_cold_oil_asks_more_of_a_diesel() -> None:
    petrol, diesel = (values(STARTER, Conditions(temp_degc=-20, fuel=f))["load_a"] / 150 for f in ("petrol", "diesel"))
    assert 1.6 <= petrol < diesel <= 2.2  # common practice
    assert values(STARTER, Conditions(temp_degc=90))["load_a"] / 150 == pytest.approx(0.7)


def test_a_winding_pulls_less_when_it_is_hot() -> None:
    cold, hot = (values(SOLENOID, Conditions(temp_degc=t)) for t in (20.0, 100.0))
    assert hot["hold_ohm"] / cold["hold_ohm"] == pytest.approx(warm(100.0))
    assert hot["pull_in_a"] == cold["pull_in_a"]  # ampere turns are asked, not volts


@pytest.mark.parametrize("mode", ["coil_open", "hold_open", "pull_open"])
def test_a_solenoid_without_a_winding_does_not_crank(mode: str) -> None:
    network = network_of(load_sheet("pool-car"))
    broken = network.nominal[:, None].copy()
    find_mode(fault_modes(network), "solenoid", mode).apply(broken, 1.0 * broken[0] ** 0)
    assert SYMPTOMS[int(symptom_codes(solve_state(network, "crank", broken))[0])] is not Symptom.CRANKS


def test_less_volts_turn_it_slower_with_less_current() -> None:
    network = network_of(load_sheet("pool-car"))
    weak = network.nominal[:, None].copy()
    weak[network.row["starter-nut", "r_ohm"]] += 0.012
    sound, slow = solve_state(network, "crank"), solve_state(network, "crank", weak)
    assert slow.turning[0] < 0.85 * sound.turning[0]
    assert 0.75 < slow.current("starter")[0] / sound.current("starter")[0] < 1.0
