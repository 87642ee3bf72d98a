"""Conductors and fuses against published tables.

from memory: IEC 60228 class 5, ASTM B258, IEC 60028; blade fuse data sheets.
"""

import pytest

from iron_probe.core.circuit.conductors import awg_area_mm2, conductor_ohm
from iron_probe.core.circuit.fuses import fuse_ohm


@pytest.mark.parametrize(
    ("mm2", "ohm_per_km"), [(0.5, 39.0), (1.5, 13.3), (2.5, 7.98), (6, 3.30), (16, 1.21), (25, 0.780), (50, 0.386), (120, 0.161)]
)
def test_iec_60228_class_5(mm2: float, ohm_per_km: float) -> None:
    assert conductor_ohm(mm2, 1000) == pytest.approx(ohm_per_km)


@pytest.mark.parametrize(("awg", "mm2"), [(18, 0.823), (14, 2.08), (10, 5.26), (4, 21.15), (0, 53.5), (-1, 67.4), (-3, 107.2)])
def test_astm_b258(awg: int, mm2: float) -> None:
    assert awg_area_mm2(awg) == pytest.approx(mm2, rel=0.003)


def test_a_10_a_blade_with_3_mv_carries_0_4_a() -> None:
    """common practice, no source (CHECKS)."""
    assert 0.003 / fuse_ohm(10) == pytest.approx(0.4, rel=0.01)
    assert fuse_ohm(2) > fuse_ohm(4) > fuse_ohm(5) > fuse_ohm(35) > fuse_ohm(40)
