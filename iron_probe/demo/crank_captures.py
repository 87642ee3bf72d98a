"""Sample crank captures of the yard, made by a simple simulator: humps of given height at a given speed, noise, hash and gaps."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

RATE_HZ = 2000
SECONDS = 4.2
CRANK_S = (0.6, 3.9)


@dataclass(frozen=True, kw_only=True)
class CaptureStory:
    """One capture: `compression` of each hump in firing order, `mean_a`, `rpm`, the supply's resistance, spikes a second, gaps [s]."""

    name: str
    compression: tuple[float, ...]
    mean_a: float
    rpm: float
    inrush_a: float
    supply_ohm: float
    hash_per_s: float = 0.0
    gaps_s: tuple[float, ...] = ()
    comma: bool = False
    turned: bool = False
    milliseconds: bool = False


STORIES = (
    CaptureStory(name="minibus-sound.csv", compression=(1, 1, 1, 1), mean_a=212, rpm=205, inrush_a=640, supply_ohm=0.0062),
    CaptureStory(name="pool-car-weak-cylinder.csv", compression=(1, 1, 0.74, 1), mean_a=148, rpm=232, inrush_a=520, supply_ohm=0.0078, comma=True),
    CaptureStory(
        name="workboat-brushes.csv", compression=(1, 1, 1, 1), mean_a=131, rpm=141, inrush_a=390, supply_ohm=0.0069, hash_per_s=45,
        gaps_s=(2.31, 3.02), turned=True, milliseconds=True,
    ),
)  # fmt: skip


def traces(story: CaptureStory) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Time [s], amps and volts of a story."""
    rng = np.random.default_rng(sum(map(ord, story.name)))
    time = np.arange(round(SECONDS * RATE_HZ)) / RATE_HZ
    since = time - CRANK_S[0]
    running = (since >= 0) & (time < CRANK_S[1])
    cylinders = len(story.compression)
    turns = np.maximum(since - 0.12 * (1 - np.exp(-np.maximum(since, 0) / 0.12)), 0) * story.rpm / 60
    cycle = turns / 2 * cylinders
    which = np.floor(cycle).astype(int) % cylinders
    height = np.take(story.compression, which)
    wave = np.sin(np.pi * (cycle % 1)) ** 2
    rise = 1 - np.exp(-np.maximum(since, 0) / 0.15)
    amps = story.mean_a * (0.72 + 0.56 * wave * height) * rise + story.inrush_a * np.exp(-np.maximum(since, 0) / 0.07)
    amps *= 1 - np.exp(-np.maximum(since, 0) / 0.002)
    for gap in story.gaps_s:
        amps[(time > gap) & (time < gap + 0.011)] *= 0.05
    if story.hash_per_s:
        at = rng.uniform(*CRANK_S, round(story.hash_per_s * (CRANK_S[1] - CRANK_S[0])))
        amps[np.searchsorted(time, at).clip(max=len(time) - 1)] -= story.mean_a * rng.uniform(0.15, 0.4, len(at))
    amps = np.where(running, amps, 0.0)
    volts = 12.52 - story.supply_ohm * amps + 0.004 * rng.standard_normal(len(time))
    return time, amps + 0.9 * rng.standard_normal(len(time)), volts


def csv_of(story: CaptureStory) -> str:
    """The capture as its scope wrote it: time, clamp, volts at the posts; separators, unit and clamp direction by the story."""
    time, amps, volts = traces(story)
    unit, scale = ("ms", 1e3) if story.milliseconds else ("s", 1.0)
    sign = -1 if story.turned else 1
    lines = [f"Time,Clamp,Posts\n({unit}),(A),(V)"]
    lines += [
        f"{t * scale:.2f},{sign * a:.1f},{v:.3f}" if story.milliseconds else f"{t:.4f},{sign * a:.1f},{v:.3f}"
        for t, a, v in zip(time, amps, volts, strict=True)
    ]
    text = "\n".join(lines) + "\n"
    return text.replace(",", ";").replace(".", ",") if story.comma else text
