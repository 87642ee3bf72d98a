"""Resistance of fuses by kind and rating."""

from typing import Literal

from iron_probe.core.circuit.tables import along

FuseKind = Literal["regular", "mini", "low_profile", "maxi", "cartridge", "link", "glass", "breaker"]

BLADE_FUSE_MOHM: dict[float, float] = {
    2: 55, 3: 31, 5: 17.5, 7.5: 10.8, 10: 7.5, 15: 4.7, 20: 3.3, 25: 2.5, 30: 1.9, 40: 1.3, 60: 0.75, 80: 0.55,
}  # fmt: skip
"""Cold resistance [mΩ] of blade fuses by rating [A]; typical data sheets (from memory)."""

FUSE_TOLERANCE = 0.15
"""Spread of that resistance from type to type, as a share (from memory)."""

KINDS: dict[FuseKind, tuple[float, float]] = {
    "regular": (1.0, FUSE_TOLERANCE),
    "mini": (1.0, FUSE_TOLERANCE),
    "low_profile": (1.05, 0.2),
    "maxi": (1.0, 0.2),
    "cartridge": (1.0, 0.2),
    "link": (1.0, 0.25),
    "glass": (1.3, 0.3),
    "breaker": (2.0, 0.4),
}
"""Resistance against a blade fuse of that rating, and its spread; makers differ, so the spread is wide (from memory)."""

PER_K = 0.0038
"""Rise of resistance per kelvin above 20 °C: zinc and copper elements (from memory)."""


WARMS = 0.45
"""Rise of resistance at rated current beside cold: a 10 A blade then drops 80 to 110 mV, half as much again as its cold ohms say
(common practice)."""


def warm_factor(share: float) -> float:
    """Resistance of a fuse that carries a share of its rating beside the cold one; its own heat goes with the square of the current."""
    return 1 + WARMS * share * share


def amps_behind(drop_v: float, cold_ohm: float, rating_a: float) -> float:
    """Current [A] that drops so many volts across a fuse, warm as that current makes it."""
    amps = drop_v / cold_ohm
    for _ in range(60):  # contracts everywhere: the more it carries, the warmer, the less current the same drop means
        amps = (amps + drop_v / (cold_ohm * warm_factor(amps / rating_a))) / 2
    return amps


def fuse_ohm(rating_a: float, kind: FuseKind = "regular", temp_degc: float = 20.0) -> float:
    """Cold resistance [Ω] of a fuse of `rating_a` [A, above 0].

    Ratings between and beyond the table follow it on a log-log line, near R ~ rating^-1.2.
    Source: typical blade fuse data sheets (from memory), spread by KINDS.
    """
    return KINDS[kind][0] * (1 + PER_K * (temp_degc - 20)) * along(BLADE_FUSE_MOHM, rating_a) / 1000
