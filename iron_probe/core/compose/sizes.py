"""Sizes of a composed machine: from its engine, its volts and where its battery sits to cables, joints, links, coils and fuses."""

from collections.abc import Mapping
from math import sqrt

from iron_probe.core.circuit.ampacity import CARRIES_A, CRANKS, FUSE_SHARE, cable_carries_a
from iron_probe.core.circuit.conductors import conductor_ohm
from iron_probe.core.compose.pattern_book import Figure

LINKS_A = (15, 20, 25, 30, 40, 50, 60, 80, 100, 125, 150, 175, 200, 250, 300, 350, 400, 500, 600)
"""Ratings links and large fuses come in [A] (common practice)."""
FUSES_A = (2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 80)
"""Ratings blade and cartridge fuses come in [A] (common practice)."""
MAIN_FUSES_A = (*FUSES_A, 100, 125, 150)
"""The same of one that all consumers hang on: bolted ones are larger."""
CABLE_DROP_SHARE = 0.012
"""A maker lets a starter cable drop so much of the system's volts at the load current (0.1 to 0.2 V of 12: common practice)."""
WIRE_DROP_SHARE = 0.03
"""The same for a consumer's wire (0.3 to 0.5 V of 12: common practice)."""
FUSE_OVER_LOAD = 1.35
"""A fuse is chosen so far over what its consumer draws (common practice)."""


def cable_mm2(amps: float, length_m: float, drop_v: float, *, cranking: bool = False) -> float:
    """The smallest standard size [mm²] that carries so many amperes and drops no more than `drop_v` over its length."""
    carried = amps / CRANKS if cranking else amps
    for area in sorted(CARRIES_A):
        if area >= 0.5 and cable_carries_a(area) >= carried and amps * conductor_ohm(area, length_m) <= drop_v:
            return area
    return max(CARRIES_A)


def rating_over(amps: float, ratings: tuple[float, ...] = LINKS_A) -> float:
    """The next rating [A] that lasts at so many amperes; the largest where none does."""
    return next((r for r in ratings if r * FUSE_SHARE >= amps), ratings[-1])


def fuse_for(amps: float) -> float:
    """The fuse [A] a maker puts before a consumer of so many amperes."""
    return rating_over(amps * FUSE_OVER_LOAD * FUSE_SHARE, FUSES_A)


def sizes(said: Mapping[str, Figure]) -> dict[str, Figure]:
    """All figures blocks may ask for, from those the answers gave: `volts`, `starter_12v_a`, `stall_12v_mohm`, `charge_12v_a`, `main_m`,
    `loom_m` and what stands beside them.

    A starter of as much power at 24 V draws two thirds of the amperes (larger engines, better cables), at 6 V 1.8 times; its winding's
    ohms follow the volts over the amperes. Coils of one power have ohms by the square of the volts. Common practice, no source.
    """
    volts = float(said["volts"])
    blocks = volts / 12
    amps = float(said["starter_12v_a"]) * {6.0: 1.8, 12.0: 1.0, 24.0: 0.65}[volts]
    main_m, loom_m = float(said["main_m"]), float(said["loom_m"])
    charge_a = float(said["charge_12v_a"]) * {6.0: 1.2, 12.0: 1.0, 24.0: 0.6}[volts]
    stator_a = float(said["stator_a"]) / blocks
    # the smaller the machine the smaller its hardware: joints follow the current they are made for
    joint = min(4.0, 140 / max(amps, 20))
    made: dict[str, Figure] = {
        "block_volts": 12 if volts == 24 else volts,
        "starter_a": round(amps, 1),
        "stall_mohm": round(float(said["stall_12v_mohm"]) * blocks * float(said["starter_12v_a"]) / amps, 2),
        "load_v": round(float(said["load_12v_v"]) * blocks, 2),
        "heavy_mm2": cable_mm2(amps, main_m, CABLE_DROP_SHARE * volts, cranking=True),
        "strap_mm2": max(6.0, cable_mm2(float(said["feeds_w"]) / volts * 1.3, 0.4, CABLE_DROP_SHARE * volts)),
        "second_m": round(max(0.4, main_m * 0.4), 2),
        "ground_m": round(max(0.4, main_m * 0.7), 2),
        "half_loom_m": round(loom_m / 2, 2),
        "box_m": round(max(0.3, loom_m * 0.2), 2),
        "clamp_mohm": round(0.12 * joint, 3),
        "stud_mohm": round(0.12 * joint, 3),
        "mount_mohm": round(0.12 * joint, 3),
        "eyelet_mohm": round(0.15 * joint, 3),
        "bolts_mohm": round(0.2 * joint, 3),
        "start_link_a": rating_over(amps * 1.3),
        "main_fuse_a": rating_over(float(said["feeds_w"]) / volts * 1.3 + 8, MAIN_FUSES_A),
        "main_link_a": rating_over(float(said["feeds_w"]) / volts * 1.2 + 30),
        "box_mm2": max(6.0, cable_mm2(float(said["feeds_w"]) / volts * 1.1 + 10, loom_m * 0.2, 0.02 * volts)),
        "bus_mm2": max(10.0, cable_mm2(float(said["feeds_w"]) / volts * 1.3 + 10, loom_m, 0.04 * volts)),
        "second_fuse_a": rating_over(float(said["feeds_w"]) / volts + 20, MAIN_FUSES_A),
        "key_fuse_a": rating_over(float(said["key_w"]) / volts * 1.2 + 8, FUSES_A),
        "pole_mohm": round(15 * min(blocks, 1) ** 2, 2),
        "key_mm2": max(2.5, cable_mm2(float(said["key_w"]) / volts + 6, loom_m / 2, 0.015 * volts)),
        "s_mm2": 4.0 if amps > 100 else 2.5,
        "dynamo_a": round(22 / blocks, 1),
        "charge_a": round(charge_a, 1),
        "charge_link_a": rating_over(charge_a * 1.1),
        "charge_mm2": cable_mm2(charge_a, 1.0, CABLE_DROP_SHARE * volts),
        "stator_fuse_a": rating_over(stator_a * 1.05, FUSES_A),
        "stator_mm2": cable_mm2(stator_a, 0.8, 0.02 * volts),
        "stator_a": stator_a,
        "self_rpm": round(float(said["idle_rpm"]) * 0.9),
        "stator_in_rpm": round(float(said["idle_rpm"]) * 0.5),
        "stator_knee_rpm": round(float(said["idle_rpm"]) * 0.8),
        "shut_ohm": round(9 * blocks**2, 2),
        "glow_ohm": round(0.45 * blocks**2 * 4 / max(float(said["cylinders"]), 3), 3),
        "flame_ohm": round(0.9 * blocks**2, 3),
    }
    made["glow_fuse_a"] = rating_over(volts / float(made["glow_ohm"]) * 1.1)
    return {**said, **made, **_coils(blocks, max(1.0, 140 / amps))}


def _coils(blocks: float, small: float) -> dict[str, Figure]:
    """Coils, modules and their thresholds by the number of 12 V blocks; a starter so many times `small` has a solenoid with less to move."""
    return {
        "coil_ohm": round(85 * blocks**2, 1),
        "pull_in_v": 7.5 * blocks,
        "drop_out_v": 2.5 * blocks,
        "slave_coil_ohm": round(16 * blocks**2, 2),
        "heavy_coil_ohm": round(4.2 * blocks**2, 3),
        "heavy_contact_mohm": round(0.5 * sqrt(blocks), 3),
        "hold_ohm": round(1.1 * blocks**1.5 * sqrt(small), 3),
        "pull_ohm": round(0.4 * blocks**1.5 * sqrt(small), 3),
        "solenoid_in_v": 6.8 * blocks,
        "solenoid_out_v": 3.0 * blocks,
        "alive_v": 6.0 * blocks,
        "input_v": 5.0 * blocks,
        "joins_v": 13.2 * blocks,
    }
