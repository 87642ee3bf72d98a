"""Everything the drop screen shows of one machine: sides, judged drops, what is left at the starter, the stair, the cold."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.allowance import Limits, School, limits_for
from iron_probe.core.bench.drop import (
    LOADED,
    DropReading,
    DropVerdict,
    JudgedDrop,
    NextDrop,
    Reconciliation,
    Side,
    judge,
    next_drop,
    reconcile,
    sides_of,
)
from iron_probe.core.bench.margin import CrankMargin, crank_margins
from iron_probe.core.circuit.elements import Conditions, Starter
from iron_probe.core.circuit.heavy_path import HeavyPath, heavy_path
from iron_probe.core.circuit.network import Network, SheetKey, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.kept import Kept
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution

GOOD_VARIANTS = 200
"""Sound machines sampled for the expected band."""
BAND_PERCENT = (5.0, 95.0)
"""Percentiles of sound machines that bound the expected band."""
_SEED = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class GoodMachine:
    """The sound machine solved in one state: column 0 is nominal, the rest are spread as good parts spread."""

    network: Network
    solution: Solution
    _bands: dict[tuple[str, ...], tuple[float, float, float]] = field(default_factory=dict)

    def expected(self, red: str, black: str) -> tuple[float, float, float]:
        """Nominal voltmeter reading [V] and the bounds of its band."""
        if (red, black) not in self._bands:
            self._bands[red, black] = with_band(self.solution.between(red, black))
        return self._bands[red, black]

    def expected_amps(self, branch: str) -> tuple[float, float, float]:
        """Nominal current [A] of a branch and the bounds of its band."""
        if (branch,) not in self._bands:
            self._bands[branch,] = with_band(self.solution.current(branch))
        return self._bands[branch,]


def with_band(seen: Floats) -> tuple[float, float, float]:
    """Of what sound machines show, the nominal one first: nominal, and the bounds of the band."""
    low, high = np.percentile(seen, BAND_PERCENT)
    return float(seen[0]), float(low), float(high)


def spread_values(network: Network, variants: int, seed: int) -> Floats:
    """Parameters (parameters, variants) of sound machines: log-normal about nominal by each part's spread; column 0 nominal."""
    draws = np.random.default_rng(seed).standard_normal((len(network.nominal), variants))
    draws[:, 0] = 0.0
    return network.machines(draws)


_cranked: Kept[tuple[SheetKey, Conditions, Conditions, tuple[tuple[str, float], ...]], tuple[CrankMargin, CrankMargin]] = Kept(
    "margins", 512
)
_good: Kept[tuple[SheetKey, str, Conditions], GoodMachine] = Kept("good machines", 256)


def good_machine(sheet: Sheet, state: str, at: Conditions) -> GoodMachine:
    """The sound machine in a state, solved once and kept; SolveError when the state is unknown."""
    sheet.state(state)

    def solve() -> GoodMachine:
        network = network_of(sheet, at)
        return GoodMachine(network=network, solution=solve_state(network, state, spread_values(network, GOOD_VARIANTS, _SEED)))

    return _good.get((SheetKey(sheet), state, at), solve)


@dataclass(frozen=True, slots=True, kw_only=True)
class StairStep:
    """One point of the stair: its band of expected volts [V] against minus, the measured and the cold level where known."""

    point: str
    expected_v: float
    low_v: float
    high_v: float
    measured_v: float | None
    cold_v: float


@dataclass(frozen=True, kw_only=True)
class DropBoard:
    """The drop work of one machine; `sound` when both sides were measured whole and nothing is over its share.

    What the cold would do and the stair are worked out when first asked for.
    """

    good: GoodMachine
    at: Conditions
    cold_degc: float
    posts_v: float | None
    limits: Limits
    heavy: HeavyPath
    sides: tuple[Side, Side]
    judged: tuple[JudgedDrop, ...]
    reconciled: tuple[Reconciliation, ...]
    next: NextDrop | None
    left_v: float | None
    left_good_v: float
    sound: bool

    @cached_property
    def _margins(self) -> tuple[CrankMargin, CrankMargin]:
        amps = float(abs(self.good.solution.current(self.heavy.load)[0]))
        extra = {element: round(ohm, 5) for element, ohm in _extra_ohm(self.judged, self.sides, amps).items()}
        sheet, cold_at = self.good.network.sheet, Conditions(temp_degc=self.cold_degc, charge=self.at.charge)
        key = (SheetKey(sheet), self.at, cold_at, tuple(sorted(extra.items())))

        def crank() -> tuple[CrankMargin, CrankMargin]:
            now, cold = crank_margins(sheet, [self.at, cold_at], extra)
            return now, cold

        return _cranked.get(key, crank)

    @property
    def now(self) -> CrankMargin:
        """Cranking as it is."""
        return self._margins[0]

    @property
    def cold(self) -> CrankMargin:
        """Cranking at the coldest temperature named."""
        return self._margins[1]

    @cached_property
    def stair(self) -> tuple[StairStep, ...]:
        """The stair from plus to minus, with what was measured on it."""
        return _stair(self.good, self.sides, self.judged, self.posts_v, self.cold)

    def whole(self, side: Side) -> JudgedDrop | None:
        """The newest drop across all of a side; None where there is none."""
        return next((j for j in reversed(self.judged) if j.side == side.name and (j.first, j.last) == (0, len(side.elements))), None)

    def culprits(self) -> list[JudgedDrop]:
        """Single elements proven over their share by a drop across them alone under load."""
        latest: dict[tuple[str, int], JudgedDrop] = {}
        for j in self.judged:
            if j.last - j.first == 1 and j.verdict in LOADED:
                latest[j.side, j.first] = j
        return [j for j in latest.values() if j.verdict is DropVerdict.OVER]

    def element_of(self, judged: JudgedDrop) -> str:
        """Id of the single element a drop lies across."""
        side = self.sides[0] if judged.side == self.sides[0].name else self.sides[1]
        return side.elements[judged.first]


def cranks(sheet: Sheet) -> bool:
    """Whether the machine has a starter, joined to both posts, and a state to crank it in: without, there are no drops to judge."""
    return (
        sheet.cranking_state() is not None and any(isinstance(e, Starter) for e in sheet.elements) and heavy_path(network_of(sheet)).cranked
    )


def drop_board(
    sheet: Sheet, readings: Sequence[DropReading], posts_v: float | None, school: School, at: Conditions, cold_degc: float
) -> DropBoard:
    """Assemble the drop work from the readings that count.

    `posts_v` [V] is the battery post to post while cranking, if it was read; `cold_degc` [°C] the coldest temperature named.
    """
    state = sheet.cranking_state()
    good = good_machine(sheet, state or "", at)
    heavy = heavy_path(good.network)
    limits = limits_for(school, sheet)
    volts = dict(zip(good.network.points, good.solution.volts[:, 0].tolist(), strict=True))
    sides = sides_of(good.network, heavy, volts, limits)
    judged = tuple(j for r in readings for side in sides if (j := judge(r, side)) is not None)
    wholes = [_whole(judged, side) for side in sides]
    left = None
    if posts_v is not None and all(w is not None for w in wholes):
        left = posts_v - sum(abs(w.reading.drop_v) for w in wholes if w is not None)
    over = [j for j in judged if j.verdict is DropVerdict.OVER and not _superseded(j, judged)]
    return DropBoard(
        good=good,
        at=at,
        cold_degc=cold_degc,
        posts_v=posts_v,
        limits=limits,
        heavy=heavy,
        sides=sides,
        judged=judged,
        reconciled=tuple(r for side in sides if (r := reconcile(list(judged), side)) is not None),
        next=next_drop(list(judged), sides),
        left_v=left,
        left_good_v=volts[sides[0].points[-1]] - volts[sides[1].points[0]],
        sound=all(w is not None for w in wholes) and not over,
    )


def _superseded(j: JudgedDrop, judged: Sequence[JudgedDrop]) -> bool:
    return any(
        o.reading.number > j.reading.number
        and (o.side, o.first, o.last) == (j.side, j.first, j.last)
        and o.verdict is not DropVerdict.NO_LOAD
        for o in judged
    )


def _whole(judged: Sequence[JudgedDrop], side: Side) -> JudgedDrop | None:
    mine = [j for j in judged if j.side == side.name and (j.first, j.last) == (0, len(side.elements))]
    useful = [j for j in mine if j.verdict in (DropVerdict.WITHIN, DropVerdict.OVER)]
    return useful[-1] if useful else None


def levels(judged: Sequence[JudgedDrop], side: Side) -> dict[int, float]:
    """Volts lost from the side's first point to each of its points [V], where the readings tell; found by adding and subtracting spans."""
    known = {0: 0.0}
    spans = {
        (j.first, j.last): abs(j.reading.drop_v)
        for j in judged
        if j.side == side.name and j.verdict in (DropVerdict.WITHIN, DropVerdict.OVER)
    }
    for _ in range(len(side.points)):
        for (a, b), drop in spans.items():
            if a in known and b not in known:
                known[b] = known[a] + drop
            elif b in known and a not in known:
                known[a] = known[b] - drop
    return known


def _extra_ohm(judged: Sequence[JudgedDrop], sides: tuple[Side, Side], amps: float) -> dict[str, float]:
    """Resistance above sound [Ω] by element, from the shortest stretches up; what a longer one loses beyond them goes to
    its first element not yet accounted for."""
    found: dict[str, float] = {}
    for side in sides:
        spans = {(j.first, j.last): j for j in judged if j.side == side.name and j.verdict in (DropVerdict.WITHIN, DropVerdict.OVER)}
        for (a, b), j in sorted(spans.items(), key=lambda item: item[0][1] - item[0][0]):
            inside = side.elements[a:b]
            over = (abs(j.reading.drop_v) - sum(side.expected_v[a:b])) / (j.reading.amps or amps) - sum(found.get(e, 0.0) for e in inside)
            first_open = next((e for e in inside if e not in found), None)
            if first_open is not None:
                found[first_open] = max(over, 0.0)
    return found


def _stair(
    good: GoodMachine, sides: tuple[Side, Side], judged: Sequence[JudgedDrop], posts_v: float | None, cold: CrankMargin
) -> tuple[StairStep, ...]:
    top = posts_v if posts_v is not None else good.expected(sides[0].points[0], good.network.sheet.minus)[0]
    supply, ground = levels(judged, sides[0]), levels(judged, sides[1])
    whole = ground.get(len(sides[1].elements))
    steps = []
    for side, known in ((sides[0], supply), (sides[1], ground)):
        for place, point in enumerate(side.points):
            expected, low, high = (0.0, 0.0, 0.0) if point == good.network.sheet.minus else good.expected(point, good.network.sheet.minus)
            measured = None
            if side is sides[0] and place in known and (len(known) > 1 or posts_v is not None):
                measured = top - known[place]
            elif side is sides[1] and whole is not None and place in known:
                measured = whole - known[place]
            steps.append(StairStep(point=point, expected_v=expected, low_v=low, high_v=high, measured_v=measured, cold_v=cold.volts[point]))
    return tuple(steps)
