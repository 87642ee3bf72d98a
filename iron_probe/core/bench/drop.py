"""The drop log: voltage lost along one side of the heavy path, whole and in parts, judged and reconciled."""

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from iron_probe.core.bench.allowance import Limits, element_allowance_v
from iron_probe.core.circuit.heavy_path import HeavyPath
from iron_probe.core.circuit.network import Network
from iron_probe.core.limits import NO_CURRENT_V, RECONCILE_SHARE, RECONCILE_V
from iron_probe.core.phrase import Phrase


class DropVerdict(StrEnum):
    """What a drop says about the stretch it was taken across."""

    WITHIN = "within"
    OVER = "over"
    NO_LOAD = "no_load"
    NO_CURRENT = "no_current"
    UPHILL = "uphill"


LOADED = (DropVerdict.WITHIN, DropVerdict.OVER)
"""Verdicts of drops read while their current flowed."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DropReading:
    """A logged drop: red and black point, `drop_v` [V], `loaded` whether its current was flowing, `amps` [A] if clamped, `crank` which crank it was taken in."""

    number: int
    red: str
    black: str
    drop_v: float
    loaded: bool
    amps: float | None = None
    crank: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Side:
    """One side of the heavy path: points in the order of the current, with the elements between them and their good drops [V]."""

    name: str
    points: tuple[str, ...]
    elements: tuple[str, ...]
    expected_v: tuple[float, ...]
    allowance_v: tuple[float, ...]
    limit_v: float

    def span(self, red: str, black: str) -> tuple[int, int] | None:
        """Places of two points along the side, lower first; None when one is not on it."""
        if red not in self.points or black not in self.points or red == black:
            return None
        a, b = self.points.index(red), self.points.index(black)
        return min(a, b), max(a, b)

    def allowed(self, first: int, last: int) -> float:
        """Allowed drop [V] from place `first` to place `last`: its parts' sum, at most the side's."""
        return min(sum(self.allowance_v[first:last]), self.limit_v)


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedDrop:
    """A drop with what it means. `share` is drop over allowance; `resistance_ohm` and `heat_w` need a current; `why` is the sentence."""

    reading: DropReading
    side: str
    first: int
    last: int
    verdict: DropVerdict
    allowance_v: float
    share: float
    expected_v: float
    resistance_ohm: float | None
    heat_w: float | None
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Reconciliation:
    """Whole against parts of one side: what the parts leave unaccounted for, and the stretch that no part covered."""

    side: str
    whole_v: float
    parts_v: float
    missing_v: float
    uncovered: tuple[tuple[str, str], ...]
    mixed_cranks: bool
    agrees: bool
    text: str


def sides_of(network: Network, heavy: HeavyPath, volts: dict[str, float], limits: Limits) -> tuple[Side, Side]:
    """Supply and ground side of the heavy path; `volts` [V] of the good machine while cranking, by point.

    The supply side ends at the starter's feed stud: its solenoid contact belongs to the starter.
    """
    supply_points, supply = list(heavy.supply_points), list(heavy.supply)
    if supply and network.owners[network.branch_row[supply[-1]]].type == "solenoid":
        supply_points, supply = supply_points[:-1], supply[:-1]

    def side(name: str, points: list[str], branches: list[str]) -> Side:
        owners = [network.owners[network.branch_row[b]] for b in branches]
        return Side(
            name=name,
            points=tuple(points),
            elements=tuple(o.id for o in owners),
            expected_v=tuple(volts[a] - volts[b] for a, b in pairwise(points)),
            allowance_v=tuple(element_allowance_v(o, limits) for o in owners),
            limit_v=limits.side_v,
        )

    return side("supply", supply_points, supply), side("ground", list(heavy.ground_points), list(heavy.ground))


def judge(reading: DropReading, side: Side) -> JudgedDrop | None:
    """What a drop says; None when its points do not both lie on this side. A reading with the leads the other way round is turned."""
    place = side.span(reading.red, reading.black)
    if place is None:
        return None
    first, last = place
    forward = side.points.index(reading.red) == first
    drop_v = reading.drop_v if forward else -reading.drop_v
    allowed, expected = side.allowed(first, last), sum(side.expected_v[first:last])
    turned = drop_v < 0 and abs(drop_v) > NO_CURRENT_V
    size = abs(drop_v)
    if not reading.loaded:
        verdict, why = (
            DropVerdict.NO_LOAD,
            Phrase("No current was flowing, so this proves nothing about the path. Measure it while cranking."),
        )
    elif size < NO_CURRENT_V and last - first == len(side.elements):
        verdict, why = (
            DropVerdict.NO_CURRENT,
            Phrase("A whole side that loses nothing carries no current: look at the connection on the stud itself, or at the command."),
        )
    elif turned:
        verdict = DropVerdict.UPHILL
        why = Phrase(
            "The point nearer the load reads higher than its source. Swap the leads and look at the contact: either the leads were reversed or there is a source that is not drawn."
        )
    elif size > allowed:
        verdict, why = DropVerdict.OVER, Phrase("{size:.2f} V lost where {allowed:.2f} V is allowed.", size=size, allowed=allowed)
    else:
        verdict, why = DropVerdict.WITHIN, Phrase("{size:.2f} V lost of {allowed:.2f} V allowed.", size=size, allowed=allowed)
    amps = reading.amps if reading.loaded and reading.amps else None
    return JudgedDrop(
        reading=reading,
        side=side.name,
        first=first,
        last=last,
        verdict=verdict,
        allowance_v=allowed,
        share=size / allowed,
        expected_v=expected,
        resistance_ohm=None if amps is None else size / amps,
        heat_w=None if amps is None else size * amps,
        why=why,
    )


def reconcile(judged: list[JudgedDrop], side: Side) -> Reconciliation | None:
    """Hold the whole side's drop against its parts; None while the whole or any part is missing.

    The latest reading of each stretch counts; of overlapping parts the shorter ones do.
    """
    loaded = [j for j in judged if j.side == side.name and j.verdict in (DropVerdict.WITHIN, DropVerdict.OVER)]
    latest = {(j.first, j.last): j for j in sorted(loaded, key=lambda j: j.reading.number)}
    whole = latest.pop((0, len(side.elements)), None)
    if whole is None or not latest:
        return None
    chosen: list[JudgedDrop] = []
    covered = [False] * len(side.elements)
    for part in sorted(latest.values(), key=lambda j: (j.last - j.first, j.first)):
        if not any(covered[part.first : part.last]):
            covered[part.first : part.last] = [True] * (part.last - part.first)
            chosen.append(part)
    parts_v, whole_v = sum(abs(p.reading.drop_v) for p in chosen), abs(whole.reading.drop_v)
    uncovered = tuple((side.points[a], side.points[b]) for a, b in _gaps(covered))
    missing = whole_v - parts_v
    expected_open = sum(side.expected_v[k] for k, seen in enumerate(covered) if not seen)
    tolerance = max(RECONCILE_V, RECONCILE_SHARE * whole_v)
    cranks = {p.reading.crank for p in chosen} | {whole.reading.crank}
    agrees = abs(missing - expected_open) <= tolerance
    mixed = len(cranks) > 1
    text = _sum_word(parts_v, whole_v, agrees, bool(uncovered))
    if mixed and not agrees:
        text += Phrase(" They were taken in different cranks: repeat them in one.")
    return Reconciliation(
        side=side.name,
        whole_v=whole_v,
        parts_v=parts_v,
        missing_v=missing,
        uncovered=uncovered,
        mixed_cranks=mixed,
        agrees=agrees,
        text=text,
    )


def _sum_word(parts_v: float, whole_v: float, agrees: bool, uncovered: bool) -> Phrase:
    figures = {"parts_v": parts_v, "whole_v": whole_v, "missing": whole_v - parts_v}
    if agrees and not uncovered:
        return Phrase("The parts add up to {parts_v:.2f} V of {whole_v:.2f} V: nothing hides between them.", **figures)
    if agrees:
        return Phrase("The parts account for {parts_v:.2f} V of {whole_v:.2f} V; what is left is what the stretches not measured should lose.", **figures)  # fmt: skip
    if whole_v > parts_v and uncovered:
        return Phrase("{missing:.2f} V of {whole_v:.2f} V is not in any part: it lies in a stretch that no part covered.", **figures)
    if whole_v > parts_v:
        return Phrase("The parts leave {missing:.2f} V of {whole_v:.2f} V unexplained although they cover the whole side: a joint moved between readings, or a probe sat on the lug and not on the stud.", **figures)  # fmt: skip
    return Phrase("The parts add up to {parts_v:.2f} V, more than the whole of {whole_v:.2f} V: the current or a joint changed between readings.", **figures)  # fmt: skip


def _gaps(covered: list[bool]) -> list[tuple[int, int]]:
    """Stretches of uncovered elements as (first point, last point)."""
    found, start = [], None
    for place, seen in enumerate([*covered, True]):
        if not seen and start is None:
            start = place
        elif seen and start is not None:
            found.append((start, place))
            start = None
    return found


@dataclass(frozen=True, slots=True)
class NextDrop:
    """Where to put the leads next, and why."""

    red: str
    black: str
    reason: str


def next_drop(judged: list[JudgedDrop], sides: tuple[Side, Side]) -> NextDrop | None:
    """Halve the path: the whole of each side first, then the worse half of what is over its share, down to one element.

    None when both sides are within their allowance, or every stretch over its share is down to one element.
    """
    for side in sides:
        mine = [j for j in judged if j.side == side.name and j.verdict in (DropVerdict.WITHIN, DropVerdict.OVER, DropVerdict.NO_CURRENT)]
        latest = {(j.first, j.last): j for j in sorted(mine, key=lambda j: j.reading.number)}
        if (0, len(side.elements)) not in latest:
            return NextDrop(
                side.points[0],
                side.points[-1],
                Phrase("the whole {name} side first: one reading clears or accuses all of it", name=side.name),
            )
    for side in sides:
        mine = [j for j in judged if j.side == side.name and j.verdict in (DropVerdict.WITHIN, DropVerdict.OVER)]
        latest = {(j.first, j.last): j for j in sorted(mine, key=lambda j: j.reading.number)}
        stretch = _guilty_stretch(latest, side)
        if stretch is None:
            continue
        first, last, left_v = stretch
        if last - first == 1 and (first, last) in latest:
            continue
        if last - first <= 1:
            return NextDrop(
                side.points[first],
                side.points[last],
                Phrase("{left_v:.2f} V is left for {first}: its own test", left_v=left_v, first=side.elements[first]),
            )
        middle = _middle(side, first, last)
        return NextDrop(
            side.points[first],
            side.points[middle],
            Phrase("halves the stretch that loses {left_v:.2f} V; the rest follows by subtraction within one crank", left_v=left_v),
        )
    return None


def _guilty_stretch(latest: dict[tuple[int, int], JudgedDrop], side: Side) -> tuple[int, int, float] | None:
    """The shortest stretch known to lose more than its allowance, with that loss [V]; by reading or by what is left of one."""
    known = {span: abs(j.reading.drop_v) for span, j in latest.items()}
    for _ in range(len(side.elements)):
        derived = {}
        for (a, b), whole in known.items():
            for (c, d), part in known.items():
                if a == c and d < b:
                    derived[d, b] = max(whole - part, 0.0)
                elif b == d and a < c:
                    derived[a, c] = max(whole - part, 0.0)
        new = {span: v for span, v in derived.items() if span not in known}
        if not new:
            break
        known |= new
    over = [(b - a, -v, a, b) for (a, b), v in known.items() if v > side.allowed(a, b) and v > sum(side.expected_v[a:b]) * 1.3]
    if not over:
        return None
    _, loss, a, b = min(over)
    return a, b, -loss


def _middle(side: Side, first: int, last: int) -> int:
    """The inner point that splits the allowance of a stretch most evenly."""
    half = sum(side.allowance_v[first:last]) / 2
    return min(range(first + 1, last), key=lambda k: abs(sum(side.allowance_v[first:k]) - half))
