"""Open voltage, charge and resistance of a battery."""

import pytest

from iron_probe.core.circuit.battery import (
    CHEMISTRIES,
    BatteryState,
    charging_resistance_ohm,
    internal_resistance_ohm,
    open_circuit_v,
    state_of_charge,
)


@pytest.mark.parametrize("chemistry", CHEMISTRIES)
def test_charge_is_the_inverse_of_rest_voltage_and_rises_with_it(chemistry: str) -> None:
    volts = [open_circuit_v(chemistry, BatteryState(state_of_charge=c, temp_degc=25.0)) for c in (0.1, 0.4, 0.7, 0.95)]  # type: ignore[arg-type]
    assert volts == sorted(volts)
    for charge, v in zip((0.1, 0.4, 0.7, 0.95), volts, strict=True):
        assert state_of_charge(chemistry, v) == pytest.approx(charge, abs=0.02)  # type: ignore[arg-type]


def test_cold_and_empty_both_raise_the_resistance() -> None:
    warm, cold, empty = (
        internal_resistance_ohm(600, BatteryState(state_of_charge=c, temp_degc=t)) for c, t in ((1.0, 25.0), (1.0, -18.0), (0.1, 25.0))
    )
    assert 0.004 < warm < 0.005
    assert cold > 1.5 * warm and empty > 4 * warm
    assert internal_resistance_ohm(300, BatteryState(state_of_charge=1.0, temp_degc=25.0)) == pytest.approx(2 * warm)


def test_an_empty_battery_takes_more_than_a_full_one() -> None:
    full, empty = (charging_resistance_ohm(60, "flooded", BatteryState(state_of_charge=c, temp_degc=20.0)) for c in (1.0, 0.2))
    assert empty < full


def test_cold_slows_charging_and_stops_that_of_lithium() -> None:
    def takes(chemistry: str, degc: float) -> float:
        state = BatteryState(state_of_charge=0.2, temp_degc=degc)
        return (14.3 - open_circuit_v(chemistry, state)) / charging_resistance_ohm(60, chemistry, state)  # type: ignore[arg-type]

    assert 15 < takes("flooded", 20) < 30
    assert takes("flooded", -15) < takes("flooded", 20) / 3
    assert takes("lifepo4", -1) < 0.3


def test_lithium_holds_to_the_end_and_hates_the_cold() -> None:
    def ohm(chemistry: str, charge: float, degc: float) -> float:
        return internal_resistance_ohm(600, BatteryState(state_of_charge=charge, temp_degc=degc), chemistry)  # type: ignore[arg-type]

    assert ohm("lifepo4", 0.2, 25) < 1.05 * ohm("lifepo4", 1.0, 25)
    assert ohm("flooded", 0.2, 25) > 2 * ohm("flooded", 1.0, 25)
    assert ohm("lifepo4", 1.0, -18) / ohm("lifepo4", 1.0, 25) > ohm("flooded", 1.0, -18) / ohm("flooded", 1.0, 25)
