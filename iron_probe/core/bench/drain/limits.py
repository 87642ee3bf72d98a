"""How much a sleeping machine may draw, how long it takes to sleep, and how the meter gets in without ending the drain."""

from dataclasses import dataclass
from enum import StrEnum

from iron_probe.core.bench.battery.endurance import rated_ah
from iron_probe.core.bench.drain.validity import INTO_BATTERY
from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.circuit.elements import Battery, Module
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.limits import METER_FUSE_A, NO_SLEEPER_A, SMALL_AH, SMALL_LIMIT_MA, WAKING_INRUSH
from iron_probe.core.phrase import Phrase


class LimitSchool(StrEnum):
    """Whose limit for the sleeping draw counts."""

    NOW = "now"
    OLDER = "older"
    GOOD = "good"


LIMIT_MA = {LimitSchool.NOW: 50.0, LimitSchool.OLDER: 100.0, LimitSchool.GOOD: 30.0}
LIMIT_REASON = {
    LimitSchool.NOW: Phrase("50 mA: what makers and most shops allow today (default)"),
    LimitSchool.OLDER: Phrase("100 mA: the older rule, for machines with many memories and big batteries; misses small drains"),
    LimitSchool.GOOD: Phrase("30 mA: where most good ones settle; finds more, and cries wolf at some sound machines"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawLimit:
    """Most a machine may draw asleep [A], and where that comes from."""

    limit_a: float
    source: str


def limit_for(sheet: Sheet, usual_a: float, school: LimitSchool = LimitSchool.NOW) -> DrawLimit:
    """The sheet's own figure if it has one; a few milliamperes over what its modules take for small machines; else the school's. `usual_a` is what
    the sound machine draws asleep [A]."""
    if sheet.drain_limit_ma is not None and school is LimitSchool.NOW:
        return DrawLimit(limit_a=sheet.drain_limit_ma / 1000, source=Phrase("the sheet's own figure"))
    if is_small(sheet):
        over = Phrase(" over the {usual_a:.0f} mA that what is drawn takes asleep", usual_a=1000 * usual_a) if usual_a >= 0.0005 else ""
        return DrawLimit(
            limit_a=usual_a + SMALL_LIMIT_MA / 1000, source=Phrase("small machine, a few mA{over}: common practice", over=over)
        )
    return DrawLimit(limit_a=LIMIT_MA[school] / 1000, source=Phrase("{school}: common practice", school=LIMIT_REASON[school]))


def judge_total(total_a: float, limit: DrawLimit, waited_minutes: float | None, sheet: Sheet) -> Judged:
    """The total against its limit, once the machine had its time to sleep; minus where it flows into the battery."""
    said = f"{1000 * total_a:.0f} mA" if abs(total_a) < 1 else f"{total_a:.2f} A"
    text_limit, sleep_minutes = f"{1000 * limit.limit_a:.0f} mA", sheet.sleep_minutes
    if total_a < -limit.limit_a:
        said = said.replace("-", "−")
        return Judged(verdict=Verdict.OPEN, text=f"{said}: " + INTO_BATTERY, limit=text_limit, source=limit.source)
    if total_a >= NO_SLEEPER_A:
        return _no_sleeper(total_a, said, text_limit, limit, sheet)
    if total_a <= limit.limit_a:
        return Judged(verdict=Verdict.GOOD, text=Phrase("{said}: asleep.", said=said), limit=text_limit, source=limit.source)
    if waited_minutes is None or waited_minutes < sleep_minutes:
        left = "" if waited_minutes is None else Phrase(" {more:.0f} min to go.", more=sleep_minutes - waited_minutes)
        return Judged(
            verdict=Verdict.OPEN, text=Phrase("{said}: may still be falling asleep.{left}", said=said, left=left), limit=text_limit, source=limit.source,
            next_step=Phrase("Wait without opening a door; look on at the strip."),
        )  # fmt: skip
    return Judged(
        verdict=Verdict.BAD, text=Phrase("{said} after {waited_minutes:.0f} min: a drain, {over_ma:.0f} mA over the limit.", said=said, waited_minutes=waited_minutes, over_ma=1000 * (total_a - limit.limit_a)),
        limit=text_limit, source=limit.source, next_step=Phrase("Split first: clamp the main cables, then sweep the boxes."),
    )  # fmt: skip


def _no_sleeper(total_a: float, said: str, text_limit: str, limit: DrawLimit, sheet: Sheet) -> Judged:
    """More than anything asleep takes: the heat it makes, and how long the battery stands it."""
    return Judged(
        verdict=Verdict.BAD,
        text=Phrase("{said} is no sleeper: something is switched on, stuck or shorted. {watts:.0f} W turn to heat somewhere, and a full battery is empty in {hours:.1f} h.", said=said, watts=total_a * sheet.system_v, hours=rated_ah(sheet) / total_a),
        limit=Phrase("{text_limit} asleep; nothing asleep takes {most_a:g} A", text_limit=text_limit, most_a=NO_SLEEPER_A), source=limit.source,
        next_step=Phrase("Part minus or pull the main fuse now, and feel for what is hot. Then clamp the main cables; fuses rated under it are out."),
    )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class WayIn:
    """A way to get the meter in: what to do, and what it risks on this machine; `advised` the one to begin with."""

    id: str
    title: str
    steps: tuple[str, ...]
    risk: str
    advised: bool


def side_by_side(sheet: Sheet) -> bool:
    """Whether two batteries lie in parallel: they feed each other, and one clamp no longer reads the total."""
    ends = [(b.start, b.end) for b in sheet.elements if isinstance(b, Battery)]
    in_series = {a for a, _ in ends} & {b for _, b in ends}
    return len(ends) > 1 and not in_series and sum(b.volts for b in sheet.elements if isinstance(b, Battery)) != sheet.system_v


def ways_in(sheet: Sheet, awake_a: float, ground_cables: int) -> tuple[WayIn, ...]:
    """Clamp, bridge first, series meter; with the draw to expect [A] against the meter's fuse worked out before anything is connected."""
    modules = any(isinstance(e, Module) for e in sheet.elements)
    burst = WAKING_INRUSH * awake_a
    resets = (
        Phrase("opening the post resets its modules and may end the drain for good")
        if modules
        else Phrase("nothing on this sheet sleeps, so nothing is reset")
    )
    around = (
        Phrase("around all plus cables, or each ground cable in turn and add them: one alone shows only its share")
        if ground_cables > 1
        else Phrase("around every cable of one post")
    )
    if side_by_side(sheet):
        around += Phrase(
            ". Two batteries side by side: part the second one first, or clamp both and add with their signs, as they feed each other"
        )
    fuse = (
        Phrase(
            "its modules may take {burst:.1f} A as they wake, over the meter's {fuse_a:g} A fuse: bridge while it wakes",
            burst=burst,
            fuse_a=METER_FUSE_A,
        )
        if burst > METER_FUSE_A
        else Phrase(
            "its modules may take {burst:.1f} A as they wake, under the meter's {fuse_a:g} A fuse",
            burst=burst,
            fuse_a=METER_FUSE_A,
        )
    )
    return (
        WayIn(
            id="clamp", title="Clamp", steps=(Phrase("Zero the low-current clamp away from cables."), Phrase("Close it {around}.", around=around)),
            risk=Phrase("touches nothing; its zero creeps, so zero it again every few minutes"), advised=True,
        ),
        WayIn(
            id="bridge", title=Phrase("Bridge first, then open"),
            steps=(Phrase("Clip a fused jumper from post to cable end, then part the clamp."), Phrase("Meter on 10 A in parallel to the jumper, then take the jumper off.")),
            risk=Phrase("power is never lost; a slip loses it: {resets}", resets=resets), advised=False,
        ),
        WayIn(
            id="series", title=Phrase("Series meter"),
            steps=(Phrase("Doors latched by hand, key out, lamps off."), Phrase("10 A range, red lead in the 10 A jack; part the minus clamp and put the meter between.")),
            risk=Phrase("{resets}; {fuse}. Never crank, open doors or switch lamps on through it", resets=resets, fuse=fuse), advised=False,
        ),
    )  # fmt: skip


_OPENS = (
    ("hood", Phrase("Hood, where it has one: switch closed, latch shut by hand")),
    ("doors", Phrase("Doors, cab and lids: latched by hand with a tool, windows down")),
    ("boot", Phrase("Lamps behind a lid (boot, locker, glove box) seen to be out")),
)
_SMALL_OPENS = (("seat", Phrase("Seat, covers and lids shut; a lamp or socket under them seen to be off")),)
_EVERY = (
    ("key", Phrase("Key out and far away, out of reach of its aerial")),
    ("scan", Phrase("Scan tool and chargers unplugged")),
    ("acc", Phrase("Added things asked about: radio, tracker, alarm, pump, tow socket")),
)


def latches_of(sheet: Sheet) -> tuple[tuple[str, str], ...]:
    """What is seen to on a machine before the wait begins, each with its key: a small one has no hood and no doors (common practice)."""
    return (*(_SMALL_OPENS if is_small(sheet) else _OPENS), *_EVERY)


def is_small(sheet: Sheet) -> bool:
    """Whether a machine is a small one: powersports, mowers; told by its battery."""
    return max(b.capacity_ah for b in sheet.batteries) < SMALL_AH
