"""How long a blade fuse holds at a multiple of its rating, and what a time to blow says of the current that blew it."""

from dataclasses import dataclass
from itertools import pairwise
from math import exp, inf, log

from iron_probe.core.circuit.fuses import FuseKind
from iron_probe.core.limits import FUSE_HOLDS, FUSE_OPENS, OVERLOAD_UP_TO
from iron_probe.core.phrase import Phrase

BAND: tuple[tuple[float, float, float], ...] = (
    (FUSE_HOLDS, 360_000.0, inf),
    (FUSE_OPENS, 0.75, 600.0),
    (1.6, 0.25, 50.0),
    (2.0, 0.15, 5.0),
    (3.5, 0.04, 0.5),
    (6.0, 0.02, 0.1),
)
"""Multiple of the rating, least and most seconds until it opens (ISO 8820-3, from memory)."""
BLADES: tuple[FuseKind, ...] = ("regular", "mini", "low_profile", "maxi")
"""The kinds that band is of. Bolt-down links, cartridges, glass and breakers each follow curves of their own, and no source is held here."""
NOT_KNOWN = Phrase("how long a fuse of this kind holds is not known here: ask its maker's curve")


@dataclass(frozen=True, slots=True, kw_only=True)
class Multiples:
    """The multiples of its rating a fuse can have carried to open in a time; `most` is inf beyond the table."""

    least: float
    most: float

    @property
    def word(self) -> str:
        if self.most <= OVERLOAD_UP_TO:
            return "overload"
        return "short" if self.least >= OVERLOAD_UP_TO else "either"


def band_at(multiple: float) -> tuple[float, float]:
    """Least and most seconds a fuse takes at a multiple of its rating; log-log between the points, inf where it need not open at all."""
    if multiple < BAND[1][0]:
        return (inf, inf) if multiple <= BAND[0][0] else (BAND[1][1], inf)
    for (a, low_a, high_a), (b, low_b, high_b) in pairwise(BAND[1:]):
        if multiple <= b:
            share = log(multiple / a) / log(b / a)
            return _between(low_a, low_b, share), _between(high_a, high_b, share)
    return 0.0, BAND[-1][2]


def _between(a: float, b: float, share: float) -> float:
    return exp(log(a) + (log(b) - log(a)) * share)


def multiples_for(seconds: float, make: FuseKind) -> Multiples | None:
    """Which multiples fit a time to open [s, above 0]; None for a kind whose curve is not known."""
    if make not in BLADES:
        return None
    grid = [FUSE_HOLDS * (60 / FUSE_HOLDS) ** (k / 600) for k in range(601)]
    fits = [m for m in grid if band_at(m)[0] <= seconds <= band_at(m)[1]]
    if not fits:
        return Multiples(least=FUSE_HOLDS, most=BAND[1][0])
    return Multiples(least=fits[0], most=inf if fits[-1] >= 59 else fits[-1])


def judge_opening(multiple: float, seconds: float, make: FuseKind) -> str:
    """Whether a fuse opened as its rating says: in its band, sooner or later; later than the band means it is not what is printed on it."""
    if make not in BLADES:
        return NOT_KNOWN
    least, most = band_at(multiple)
    if seconds < least * 0.8:
        return Phrase("sooner than a sound fuse of that rating: tired, or the holder was hot")
    if seconds > most * 1.25:
        return Phrase("later than a fuse of that rating may: look what is really in the slot")
    return Phrase("as a fuse of that rating does")
