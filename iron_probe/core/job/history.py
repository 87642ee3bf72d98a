"""What a machine shows job after job: figures that are read each time, and whether they got worse since."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from pydantic import BaseModel, ConfigDict

from iron_probe.core.bench.drop import LOADED
from iron_probe.core.bench.drop_board import DropBoard
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.fold import LoggedReading, newest_volts
from iron_probe.core.limits import ALIKE_DEGC, RETEST_CHANGE_SHARE, RETEST_CHANGE_V, TREND_DRAW_A, TREND_POSTS_V


class Measure(StrEnum):
    """What is read on each job of a machine."""

    REST_V = "rest_v"
    CRANKING_V = "cranking_v"
    CHARGING_V = "charging_v"
    SUPPLY_DROP_V = "supply_drop_v"
    GROUND_DROP_V = "ground_drop_v"
    DRAW_A = "draw_a"


RISES = (Measure.SUPPLY_DROP_V, Measure.GROUND_DROP_V, Measure.DRAW_A)
"""Measures that get worse as they rise; all others as they fall."""


class Figure(BaseModel):
    """A measure as it stands on a job [V, A]: when it was read, and the temperature of the job."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    measure: Measure
    value: float
    at: datetime
    temp_degc: float


class Change(StrEnum):
    """How a figure stands to the one of the job before."""

    WORSE = "worse"
    BETTER = "better"
    SAME = "same"
    OTHER_WEATHER = "other_weather"
    NOT_JUDGED = "not_judged"


class Since(NamedTuple):
    """A figure, the one of an earlier job, that job's number, and how they stand to each other."""

    now: Figure
    before: Figure
    job: int
    change: Change


def figures_of(
    sheet: Sheet, counting: Sequence[LoggedReading], board: DropBoard | None, draw: tuple[float, datetime] | None, temp_degc: float
) -> tuple[Figure, ...]:
    """The measures of a job as it stands: posts at rest, cranking and in the fastest running state read, whole sides while cranking, and
    `draw` [A], the total of the sleeping machine with its time."""
    found: list[Figure] = []

    def add(measure: Measure, value: float, at: datetime) -> None:
        found.append(Figure(measure=measure, value=value, at=at, temp_degc=temp_degc))

    places = (
        (Measure.REST_V, (next(iter(sheet.states)),)),
        (Measure.CRANKING_V, (sheet.cranking_state(),)),
        (Measure.CHARGING_V, tuple(reversed(sheet.running_states()))),
    )
    for measure, states in places:
        read = next((r for s in states if s and (r := newest_volts(counting, {sheet.plus, sheet.minus}, s))), None)
        if read is not None and read.reading.value is not None:
            add(measure, abs(read.reading.value), read.at)
    times = {r.number: r.at for r in counting}
    for measure, side in zip((Measure.SUPPLY_DROP_V, Measure.GROUND_DROP_V), board.sides if board else (), strict=False):
        whole = board.whole(side) if board else None
        if whole is not None and whole.verdict in LOADED:
            add(measure, whole.reading.drop_v, times[whole.reading.number])
    if draw is not None:
        add(Measure.DRAW_A, *draw)
    return tuple(found)


def change_of(before: Figure, now: Figure, system_v: float) -> Change:
    """Whether a measure got worse. Rest volts tell how full a battery is, not how it wears; cranks in other weather are not held against each other."""
    if now.measure is Measure.REST_V:
        return Change.NOT_JUDGED
    if now.measure is Measure.CRANKING_V and abs(now.temp_degc - before.temp_degc) > ALIKE_DEGC:
        return Change.OTHER_WEATHER
    posts_v = TREND_POSTS_V * system_v / 12
    least = {
        Measure.CRANKING_V: posts_v, Measure.CHARGING_V: posts_v, Measure.DRAW_A: max(TREND_DRAW_A, RETEST_CHANGE_SHARE * before.value),
    }.get(now.measure, max(RETEST_CHANGE_V, RETEST_CHANGE_SHARE * before.value))  # fmt: skip
    rise = (now.value - before.value) * (1 if now.measure in RISES else -1)
    return Change.WORSE if rise > least else Change.BETTER if rise < -least else Change.SAME


def since_last(now: Iterable[Figure], earlier: Sequence[tuple[int, Sequence[Figure]]], system_v: float) -> tuple[Since, ...]:
    """Each figure against the one of the newest job before that has it; `earlier` is (job, its figures), newest first."""
    found = []
    for figure in now:
        before = next(((job, f) for job, figures in earlier for f in figures if f.measure is figure.measure), None)
        if before is not None:
            found.append(Since(figure, before[1], before[0], change_of(before[1], figure, system_v)))
    return tuple(found)
