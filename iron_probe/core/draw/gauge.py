"""A straight scale with its limits and where a measured figure stands on it: places are shares 0..1 along the scale."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.battery.load_test import least_volts
from iron_probe.core.circuit.battery import BatteryState, Chemistry, open_circuit_v
from iron_probe.core.limits import (
    CAPACITY_BAD_SHARE,
    CAPACITY_GOOD_SHARE,
    CONDUCTANCE_GOOD_SHARE,
    CONDUCTANCE_WEAK_SHARE,
    CRANKING_GOOD_V,
    CRANKING_LOW_V,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Gauge:
    """`ticks` (place, label); `bad_to` and `weak_to` end the zones from the left; `at` the figure, with `low` and `high` if it is an interval."""

    ticks: tuple[tuple[float, str], ...]
    bad_to: float
    weak_to: float
    at: float | None = None
    low: float | None = None
    high: float | None = None


def gauge(
    least: float,
    most: float,
    ticks: Sequence[tuple[float, str]],
    bad: float,
    weak: float,
    at: float | None,
    low: float | None = None,
    high: float | None = None,
) -> Gauge:
    """A scale from `least` to `most`, bad below `bad`, weak below `weak`; figures beyond its ends stand at the end."""

    def place(value: float) -> float:
        return min(max((value - least) / (most - least), 0.0), 1.0)

    def maybe(value: float | None) -> float | None:
        return None if value is None else place(value)

    return Gauge(
        ticks=tuple((place(v), label) for v, label in ticks),
        bad_to=place(bad),
        weak_to=place(weak),
        at=maybe(at),
        low=maybe(low),
        high=maybe(high),
    )


def battery_gauge(kind: str, figures: dict[str, float], chemistry: Chemistry, blocks: float, temp_degc: float) -> Gauge:
    """The scale of a battery test and where its figures stand; volts are of the whole battery of `blocks` 12 V blocks."""
    if kind == "rest":
        marks = [
            (open_circuit_v(chemistry, BatteryState(state_of_charge=c, temp_degc=temp_degc)) * blocks, f"{100 * c:.0f} %")
            for c in (0, 0.25, 0.5, 0.75, 1)
        ]
        span = marks[-1][0] - marks[0][0]
        return gauge(marks[0][0] - 0.25 * span, marks[-1][0] + 0.25 * span, marks, marks[1][0], marks[3][0], figures.get("rest"))
    if kind == "crank":
        ticks = [(v * blocks, f"{v * blocks:g}") for v in (8, 9, 9.6, 10, 11, 12)]
        return gauge(7.5 * blocks, 12.8 * blocks, ticks, CRANKING_LOW_V * blocks, CRANKING_GOOD_V * blocks, figures.get("posts"))
    if kind == "load":
        least = least_volts(temp_degc) * blocks
        ticks = [(v * blocks, f"{v * blocks:g}") for v in (8, 9, 10, 11, 12)]
        return gauge(7.5 * blocks, 12.8 * blocks, [*ticks, (least, f"{least:.2f}")], least, least + 0.2 * blocks, figures.get("end"))
    if kind == "conductance":
        share = figures["measured"] / figures["rated"] if "measured" in figures and figures.get("rated") else None
        return gauge(
            0, 1.25, [(v / 100, f"{v} %") for v in (0, 20, 40, 60, 80, 100)], CONDUCTANCE_WEAK_SHARE, CONDUCTANCE_GOOD_SHARE, share
        )
    share = figures.get("share")
    return gauge(
        0,
        1.25,
        [(v / 100, f"{v} %") for v in (0, 20, 50, 80, 100)],
        CAPACITY_BAD_SHARE,
        CAPACITY_GOOD_SHARE,
        share,
        figures.get("low"),
        figures.get("high"),
    )
