"""Sample records of the yard: a shuttle's night under a clamp, and a digger's lamp fuse blowing, made by a simple simulator."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

NIGHT_STEP_S, NIGHT_H = 10, 14
NORMAL_A, GATE_A = 0.0315, 0.377


def night() -> str:
    """Fourteen hours, a sample every ten seconds: falling asleep in three steps, then a gate controller that wakes every 52 minutes for
    four, and from three in the morning on stays awake; decimal commas, and one line the logger spoiled."""
    rng = np.random.default_rng(1109)
    t = np.arange(0, NIGHT_H * 3600, NIGHT_STEP_S)
    amps = np.full(len(t), NORMAL_A)
    amps[t < 1500] += 0.12
    amps[t < 420] += 0.46
    amps[t < 90] += 1.1
    wakes = np.arange(1500 + 3120, 8.5 * 3600, 3120)
    for start in wakes:
        amps[(t >= start) & (t < start + 240)] += GATE_A
    amps[t >= 8.6 * 3600] += GATE_A
    amps += 0.0015 * np.sin(t / 9000) + 0.0008 * rng.standard_normal(len(t))
    lines = [f"{s};{a:.4f}".replace(".", ",") for s, a in zip(t, amps, strict=True)]
    lines[2711] = "27110;--,--"
    return "\n".join(["seconds;Total A", *lines, ""])


def lamp_fuse() -> str:
    """Three seconds at 1 kHz: work lamps on at 0.8 s, the boom lamp wire rubs through at 1.7 s, the 30 A fuse opens 70 ms later."""
    rng = np.random.default_rng(1111)
    t = np.arange(3000) / 1000
    opened = t >= 1.77
    on = (t >= 0.8) & ~opened
    inrush = 1 + 5 * np.exp(-np.maximum(t - 0.8, 0) / 0.05)
    lamp = np.where(on, 5.8 * inrush, 0.0)
    short = np.where((t >= 1.7) & ~opened, 128 * (1 - np.exp(-(t - 1.7) / 0.004)), 0.0)
    volts = np.where(opened, 0.0, 25.1 - 0.012 * (2 * lamp + short))
    columns = (volts, lamp + short, lamp, np.zeros(len(t)))
    noise = (0.02, 0.15, 0.15, 0.05)
    shown = [c + n * rng.standard_normal(len(t)) for c, n in zip(columns, noise, strict=True)]
    rows = (f"{s:.3f},{v:.2f},{a:.2f},{b:.2f},{c:.2f}" for s, v, a, b, c in zip(t, *shown, strict=True))
    return "\n".join(["Time,Behind C3,Boom lamps,Roof lamps,Heater fan", "(s),(V),(A),(A),(A)", *rows, ""])


class RecordOf(StrEnum):
    """What a record is of."""

    SLEEP = "sleep"
    TRIP = "trip"


@dataclass(frozen=True, slots=True)
class SampleRecord:
    """A record that ships: what it is of, and how it is made."""

    of: RecordOf
    make: Callable[[], str]


RECORDS = {"shuttle-night.csv": SampleRecord(RecordOf.SLEEP, night), "digger-lamp-fuse.csv": SampleRecord(RecordOf.TRIP, lamp_fuse)}
"""The records by file name."""
