"""Cranking currents from physics, independent of the app's own simulator: gas torque of each cylinder, motor equation, inertia.

Polytropic compression p V^1.3 on a slider crank, torque (p - p0) dV/dθ, direct-current motor U = k ω + I R and M = k I, J dω/dt = ΣM
(any textbook on engine mechanics and machines); figures of an ordinary small engine.
"""

from dataclasses import dataclass

import numpy as np

from iron_probe.core.arrays import Floats

STEP_S = 2e-4
IDLE_A = 35.0
"""What the motor draws turning nothing but itself [A]."""


@dataclass(frozen=True, kw_only=True)
class Cranked:
    """Traces (traces, samples) of amps and volts at the posts, the mean engine speed [1/min] of each over its steady part, and the step [s]."""

    amps: Floats
    volts: Floats
    rpm: Floats
    step_s: float


def crank(
    cylinders: int, traces: int, weak: dict[int, float], rng: np.random.Generator, seconds: float = 3.5, friction_nm: Floats | None = None
) -> Cranked:
    """Crank `traces` engines that differ in friction, inertia and compression; `weak` gives the loss of some cylinders, 0..1."""
    swept = rng.uniform(3.2e-4, 5.0e-4, traces)  # m³ a cylinder
    ratio = rng.uniform(9.0, 11.0, traces)
    friction = rng.uniform(16, 26, traces) * cylinders / 4 if friction_nm is None else friction_nm
    inertia = rng.uniform(0.12, 0.2, traces)
    k = rng.uniform(0.26, 0.34, traces) * (cylinders / 4) ** 0.5  # V s at the crankshaft, gear included
    ohm, battery_ohm, source_v = 0.018, 0.006, 12.5
    sound = np.ones((traces, cylinders)) + 0.012 * rng.standard_normal((traces, cylinders))
    for cylinder, loss in weak.items():
        sound[:, cylinder] *= 1 - loss
    offset = 4 * np.pi * np.arange(cylinders) / cylinders
    count, start = round(seconds / STEP_S), round(0.25 / STEP_S)
    angle, speed = rng.uniform(0, 4 * np.pi, traces), np.zeros(traces)
    amps, turned = np.zeros((traces, count)), np.zeros((traces, count))
    dead = swept / (ratio - 1)
    for n in range(start, count):
        current = np.maximum((source_v - k * speed) / (ohm + battery_ohm), IDLE_A)  # its freewheel lets the engine run ahead
        own = (angle[:, None] - offset) % (4 * np.pi)  # 0 at top of compression
        closed = (own < np.pi) | (own > 3 * np.pi)
        volume = dead[:, None] + swept[:, None] * (1 - np.cos(own)) / 2
        bottom = (dead + swept)[:, None]
        pressure = 0.95e5 * sound * ((bottom / volume) ** 1.3 - 1) * np.where(own < np.pi, 0.93, 1.0)
        gas = np.where(closed, pressure * swept[:, None] * np.sin(own) / 2, 0.0).sum(axis=1)
        drag = friction * np.tanh(speed / 0.5) + 0.35 * speed
        speed = np.maximum(speed + STEP_S * (k * (current - IDLE_A) + gas - drag) / inertia, 0.0)
        angle += STEP_S * speed
        amps[:, n], turned[:, n] = current, angle
    steady = slice(round(1.2 / STEP_S), None)
    turns = (turned[:, -1] - turned[:, steady.start]) / (2 * np.pi)
    rpm = turns / (STEP_S * (count - 1 - steady.start)) * 60
    volts = source_v - battery_ohm * amps
    return Cranked(amps=amps, volts=volts, rpm=rpm, step_s=STEP_S)
