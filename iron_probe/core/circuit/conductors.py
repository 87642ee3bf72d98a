"""Resistance of cables and wires from size, length, material and temperature."""

from bisect import bisect_left
from typing import Literal

Material = Literal["copper", "aluminium"]

COPPER_OHM_MM2_PER_M = 1 / 58
"""Resistivity of annealed copper at 20 °C [Ω·mm²/m]; IEC 60028 (from memory)."""

ALUMINIUM_OHM_MM2_PER_M = 0.028264
"""Resistivity of hard-drawn aluminium at 20 °C [Ω·mm²/m]; IEC 60889 (from memory)."""

TEMPERATURE_COEFFICIENT_PER_K: dict[Material, float] = {"copper": 0.00393, "aluminium": 0.00403}
"""Rise of resistance per kelvin from 20 °C; IEC 60028 and IEC 60889 (from memory)."""

CLASS_5_OHM_PER_KM: dict[float, float] = {
    0.5: 39.0, 0.75: 26.0, 1.0: 19.5, 1.5: 13.3, 2.5: 7.98, 4.0: 4.95, 6.0: 3.30, 10.0: 1.91, 16.0: 1.21,
    25.0: 0.780, 35.0: 0.554, 50.0: 0.386, 70.0: 0.272, 95.0: 0.206, 120.0: 0.161,
}  # fmt: skip
"""Largest allowed resistance of flexible copper conductors at 20 °C by nominal mm²; IEC 60228 class 5 (from memory)."""


def awg_area_mm2(awg: int) -> float:
    """Solid cross-section [mm²] of an American wire gauge; 0 is 1/0, -1 is 2/0, -3 is 4/0.

    d = 0.127 mm · 92^((36-n)/39), ASTM B258 (from memory).
    """
    diameter_mm = 0.127 * 92 ** ((36 - awg) / 39)
    return 3.141592653589793 * diameter_mm**2 / 4


def flexible_copper_ohm_per_m(area_mm2: float) -> float:
    """Resistance per metre [Ω/m] at 20 °C of a stranded copper conductor of nominal size `area_mm2` [mm², above 0].

    Standard sizes come from the table; between and beyond them the excess over solid copper, which stranding
    and tinning cause, is taken from the nearest sizes. Source: IEC 60228 class 5 (from memory).
    """
    if area_mm2 in CLASS_5_OHM_PER_KM:
        return CLASS_5_OHM_PER_KM[area_mm2] / 1000
    sizes = sorted(CLASS_5_OHM_PER_KM)
    place = min(max(bisect_left(sizes, area_mm2), 1), len(sizes) - 1)
    neighbours = (sizes[place - 1], sizes[place])
    excess = sum(CLASS_5_OHM_PER_KM[s] / 1000 * s / COPPER_OHM_MM2_PER_M for s in neighbours) / 2
    return COPPER_OHM_MM2_PER_M / area_mm2 * excess


def conductor_ohm(area_mm2: float, length_m: float, material: Material = "copper", temp_degc: float = 20.0) -> float:
    """Resistance [Ω] of a conductor of `area_mm2` [mm²] and `length_m` [m] at `temp_degc` [°C].

    Copper is taken as flexible stranded wire (IEC 60228 class 5), aluminium as solid bar of that section.
    """
    per_m = flexible_copper_ohm_per_m(area_mm2) if material == "copper" else ALUMINIUM_OHM_MM2_PER_M / area_mm2
    return per_m * length_m * (1 + TEMPERATURE_COEFFICIENT_PER_K[material] * (temp_degc - 20))
