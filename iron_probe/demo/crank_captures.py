"""Sample crank captures of the yard: machines of the rig cranked by ngspice, with what a scope and a clamp add to them.

The files are shipped (`web/static/captures`); making them anew needs ngspice and is done by `tools/generated.py`.
"""

from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of
from iron_probe.rig.crank import crank_trace
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

RATE_HZ = 2000
SECONDS = 4.2
CRANK_S = (0.6, 3.9)
FOLDER = Path(__file__).parent.parent / "web" / "static" / "captures"


@dataclass(frozen=True, kw_only=True)
class CaptureStory:
    """One capture: whose machine, `compression` of each cylinder in firing order, values of its parts multiplied, brushes that spark so
    often a second or leave their commutator [s], and how the scope wrote it."""

    name: str
    sheet_id: str
    compression: tuple[float, ...]
    factors: tuple[tuple[str, str, float], ...] = ()
    hash_per_s: float = 0.0
    gaps_s: tuple[float, ...] = ()
    comma: bool = False
    turned: bool = False
    milliseconds: bool = False


STORIES = (
    CaptureStory(name="minibus-sound.csv", sheet_id="crew-minibus", compression=(1, 1, 1, 1)),
    CaptureStory(name="pool-car-weak-cylinder.csv", sheet_id="pool-car", compression=(1, 1, 0.82, 1), comma=True),
    CaptureStory(
        name="workboat-brushes.csv", sheet_id="harbour-launch", compression=(1, 1, 1, 1), factors=(("starter", "ohm", 3.5),), hash_per_s=45,
        gaps_s=(2.31, 3.02), turned=True, milliseconds=True,
    ),
)  # fmt: skip

Floats = NDArray[np.float64]


@cache
def traces(story: CaptureStory) -> tuple[Floats, Floats, Floats]:
    """Time [s], amps and volts of a story."""
    rng = np.random.default_rng(sum(map(ord, story.name)))
    sheet = load_sheet(story.sheet_id)
    machine = machine_of(sheet)
    for element, name, factor in story.factors:
        machine.values[element][name] *= factor
    with Spice() as spice:
        plant = Plant(machine, spice)
        plant.go(next(iter(sheet.states)))
        rest_v = plant.between(sheet.plus, sheet.minus).value
        plant.go(sheet.cranking_state() or "")
        crank = crank_trace(plant, CRANK_S[1] - CRANK_S[0], story.compression)
    time = np.arange(round(SECONDS * RATE_HZ)) / RATE_HZ
    running = (time >= CRANK_S[0]) & (time < CRANK_S[1])
    amps = np.where(running, np.interp(time - CRANK_S[0], crank.time_s, crank.amps), 0.0)
    volts = np.where(running, np.interp(time - CRANK_S[0], crank.time_s, crank.volts), rest_v)
    mean_a = float(amps[running].mean())
    for gap in story.gaps_s:
        amps[(time > gap) & (time < gap + 0.011)] *= 0.05
    if story.hash_per_s:
        at = rng.uniform(*CRANK_S, round(story.hash_per_s * (CRANK_S[1] - CRANK_S[0])))
        amps[np.searchsorted(time, at).clip(max=len(time) - 1)] -= mean_a * rng.uniform(0.15, 0.4, len(at))
    return time, amps + 0.9 * rng.standard_normal(len(time)), volts + 0.004 * rng.standard_normal(len(time))


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


def shipped(name: str) -> bytes:
    """A capture as it ships."""
    return (FOLDER / name).read_bytes()
