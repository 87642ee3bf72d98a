"""A one-wire charge bus: levels along its line, volts missing of its swing, and where the fault of the line most likely lies."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import networkx as nx

from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Alternator, Element, Module
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.wiring import joined_to, passed, wiring_of
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import DOMINANT_SHARE, RECESSIVE_SHARE, SWING_MISSING_SHARE
from iron_probe.core.phrase import Phrase

LEVELS_SOURCE = Phrase(
    "recessive over 80 %, dominant under 20 % of supply: ISO 17987-4 (from memory); a swing several volts short: common practice"
)


@dataclass(frozen=True, slots=True, kw_only=True)
class BusLine:
    """The line as the sheet draws it: its `points` by their distance from the `master` that commands, wires and plugs as edges of `ways`,
    and who hangs on it (member, point)."""

    master: Module
    points: tuple[str, ...]
    members: tuple[tuple[Element, str], ...]
    ways: "nx.Graph[str]"

    def way_to(self, point: str) -> tuple[str, ...]:
        """Elements passed from the master to a point, in order."""
        return passed(self.ways, next(p for m, p in self.members if m.id == self.master.id), point)


@dataclass(frozen=True, slots=True, kw_only=True)
class BusLevel:
    """What a scope shows at one point of the line: quiet level and lowest [V], with the verdict and the volts its swing lacks."""

    point: str
    idle_v: float
    low_v: float
    missing_v: float
    judged: Judged


@dataclass(frozen=True, slots=True, kw_only=True)
class BusStretch:
    """Elements of the line (or one of its members) that are suspect, and why."""

    elements: tuple[str, ...]
    why: str


def bus_line(sheet: Sheet) -> BusLine | None:
    """The one-wire line a commanded alternator of the sheet hangs on; None when there is none."""
    maker = next((e for e in sheet.elements if isinstance(e, Alternator) and e.bus), None)
    if maker is None or maker.bus is None:
        return None
    ways = joined_to(wiring_of(sheet), maker.bus)
    members: list[tuple[Element, str]] = [(maker, maker.bus)]
    master: Module | None = None
    for module in (e for e in sheet.elements if isinstance(e, Module)):
        talks = [o.point for o in module.outputs if o.point in ways]
        hangs = talks or [p.point for p in module.pulls if p.point in ways]
        members += [(module, hangs[0])] if hangs else []
        master = module if talks else master
    if master is None:
        return None
    start = next(p for m, p in members if m is master)
    far = nx.single_source_shortest_path_length(ways, start)
    return BusLine(master=master, points=tuple(sorted(far, key=lambda p: (far[p], p))), members=tuple(members), ways=ways)


def judge_level(point: str, idle_v: float, low_v: float, supply_v: float) -> BusLevel:
    """Levels at one point against the supply [V]; ReadingError when the lowest lies over the quiet level."""
    if low_v > idle_v:
        raise ReadingError(f"The lowest ({low_v:.2f} V) lies over the quiet level ({idle_v:.2f} V): swap the two figures.")
    swing, missing = idle_v - low_v, supply_v - (idle_v - low_v)
    limit = Phrase(
        "quiet over {quiet:.1f} V, lowest under {lowest:.1f} V, swing over {swing:.1f} V",
        quiet=RECESSIVE_SHARE * supply_v,
        lowest=DOMINANT_SHARE * supply_v,
        swing=(1 - SWING_MISSING_SHARE) * supply_v,
    )

    def say(verdict: Verdict, text: str) -> BusLevel:
        judged = Judged(verdict=verdict, text=text, limit=limit, source=LEVELS_SOURCE)
        return BusLevel(point=point, idle_v=idle_v, low_v=low_v, missing_v=missing, judged=judged)

    if idle_v < RECESSIVE_SHARE * supply_v:
        what = (
            Phrase("held down, or cut off from who feeds it")
            if idle_v < DOMINANT_SHARE * supply_v
            else Phrase("pulled down through a resistance")
        )
        return say(Verdict.BAD, Phrase("quiet at {idle_v:.1f} V: {what}.", idle_v=idle_v, what=what))
    if swing < DOMINANT_SHARE * supply_v:
        return say(Verdict.BAD, Phrase("swing {swing:.1f} V: nobody talks here.", swing=swing))
    if low_v > DOMINANT_SHARE * supply_v or missing > SWING_MISSING_SHARE * supply_v:
        return say(
            Verdict.BAD,
            Phrase(
                "swing {swing:.1f} V, {missing:.1f} V missing: resistance in the line, or a poor ground of who talks.",
                swing=swing,
                missing=missing,
            ),
        )
    return say(Verdict.GOOD, Phrase("swing {swing:.1f} V: the line talks here.", swing=swing))


def read_levels(line: BusLine, typed: Mapping[str, str], supply_v: float) -> list[BusLevel]:
    """The typed levels, keys `idle:POINT` and `low:POINT`, in the line's order; ReadingError for a figure that is none or has no fellow."""
    found = []
    for point in line.points:
        idle, low = typed.get(f"idle:{point}", "").strip(), typed.get(f"low:{point}", "").strip()
        if bool(idle) != bool(low):
            raise ReadingError(f"{point}: type both levels, the quiet one and the lowest; one alone tells no swing.")
        if idle:
            found.append(judge_level(point, parse_quantity(idle, "V").value, parse_quantity(low, "V").value, supply_v))
    return found


def suspect_stretches(line: BusLine, levels: Sequence[BusLevel], with_codes: Sequence[str]) -> list[BusStretch]:
    """Where the fault of the line most likely lies, the strongest word first.

    Between a point that talks and the next that does not; on the stretch that only members with codes share; with a sound line and one
    member silent, in that member: a unit that never answers.
    """
    found = []
    good = {level.point for level in levels if level.judged.verdict is Verdict.GOOD}
    for level in (v for v in levels if v.judged.verdict is Verdict.BAD):
        way = line.way_to(level.point)
        before = max((line.way_to(p) for p in good if line.way_to(p) == way[: len(line.way_to(p))]), key=len, default=None)
        if before is not None and len(before) < len(way):
            found.append(BusStretch(elements=tuple(way[len(before) :]), why=Phrase("it talks before this stretch and not behind it")))
            break
    if not found and levels and not good:
        found.append(
            BusStretch(elements=(line.master.id,), why=Phrase("no point read talks: who commands, its power and its ground come first"))
        )
    coded = [(m, p) for m, p in line.members if m.id in with_codes and m.id != line.master.id]
    silent_ways = [set(line.way_to(p)) for _, p in coded]
    if silent_ways:
        others = [set(line.way_to(p)) for m, p in line.members if m.id not in with_codes and m.id != line.master.id]
        shared = set.intersection(*silent_ways) - set().union(*others)
        in_order = [e for e in line.way_to(coded[0][1]) if e in shared]
        names = ", ".join(m.title.lower() for m, _ in coded)
        all_good = bool(levels) and all(level.point in good for level in levels) and {p for _, p in coded} <= good
        if all_good and len(coded) == 1:
            found.append(
                BusStretch(
                    elements=(coded[0][0].id,),
                    why=Phrase("the line talks at its own pin and it alone has a code: a unit that never answers"),
                )
            )
        elif in_order:
            found.append(
                BusStretch(elements=tuple(in_order), why=Phrase("only the members with codes ({names}) hang behind it", names=names))
            )
    return found
