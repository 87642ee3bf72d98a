"""Rest voltage of a flooded battery against a lead-acid model.

source: pybamm 26.10.1.1, parameter set Sulzer2019 (electrode potentials after Bode 1977), consulted once on 2026-11-23:
6 * (lead_dioxide_ocp_Bode1977(m) - lead_ocp_Bode1977(m)) at the molality m of the hydrometer steps
(density to mass fraction of sulphuric acid at 25 °C: handbook table, from memory).
"""

import pytest

from iron_probe.core.circuit.battery import LAG_V, BatteryState, internal_resistance_ohm, open_circuit_v, state_of_charge

HYDROMETER = [(1.00, 1.265, 12.6647), (0.75, 1.225, 12.4415), (0.50, 1.190, 12.2541), (0.25, 1.155, 12.0710)]
"""State of charge, specific gravity (common practice), six cells by the package [V]."""


@pytest.mark.parametrize(("charge", "density", "package_v"), HYDROMETER)
def test_within_50_mv_of_the_package(charge: float, density: float, package_v: float) -> None:
    assert open_circuit_v("flooded", BatteryState(state_of_charge=charge, temp_degc=25)) == pytest.approx(package_v, abs=0.05)


@pytest.mark.parametrize(("charge", "rule_v"), [(1.0, 12.6), (0.75, 12.4), (0.5, 12.2), (0.25, 12.0)])
def test_trade_figures(charge: float, rule_v: float) -> None:
    """common practice, no source."""
    assert open_circuit_v("flooded", BatteryState(state_of_charge=charge, temp_degc=22)) == pytest.approx(rule_v, abs=0.06)


@pytest.mark.parametrize("chemistry", ["flooded", "agm", "gel", "lifepo4"])
def test_voltage_and_charge_are_inverse(chemistry: str) -> None:
    for charge in (0.05, 0.3, 0.62, 0.99):
        volts = open_circuit_v(chemistry, BatteryState(state_of_charge=charge, temp_degc=5))  # type: ignore[arg-type]
        assert state_of_charge(chemistry, volts, 5) == pytest.approx(charge)  # type: ignore[arg-type]


def test_600_cca_has_4_to_6_milliohm_and_meets_its_rating_in_the_cold() -> None:
    """common practice; SAE J537 (from memory): 7.2 V at the rated amps and -18 °C."""
    assert 0.004 < internal_resistance_ohm(600, BatteryState(temp_degc=25)) < 0.006
    cold = BatteryState(temp_degc=-18)
    assert open_circuit_v("flooded", cold) - LAG_V - 600 * internal_resistance_ohm(600, cold) == pytest.approx(7.2, abs=0.35)
