"""Units as they are typed."""

import pytest

from iron_probe.core.units import unit_of


@pytest.mark.parametrize(
    ("typed", "unit", "factor"),
    [
        ("V", "V", 1.0), ("mV", "V", 1e-3), ("A", "A", 1.0), ("mA", "A", 1e-3), ("µA", "A", 1e-6),
        ("MΩ", "Ω", 1e6), ("M\u2126", "Ω", 1e6), ("mΩ", "Ω", 1e-3), ("Mohm", "Ω", 1e6), ("kohm", "Ω", 1e3), ("Ah", "Ah", 1.0),
    ],
)  # fmt: skip
def test_the_case_of_the_prefix_and_both_signs_of_the_ohm_count(typed: str, unit: str, factor: float) -> None:
    assert unit_of(typed) == (unit, pytest.approx(factor))


@pytest.mark.parametrize("typed", ["", "furlong", "MV A", "Ω" * 40])
def test_what_is_no_unit_is_none(typed: str) -> None:
    assert unit_of(typed) is None
