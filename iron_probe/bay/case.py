"""A practice case: a shipped machine with faults of the catalogue hidden in it, of a level, as its owner would bring it in."""

import contextlib
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any
from zlib import crc32

import numpy as np

from iron_probe.bay.in_bay import InBay
from iron_probe.bay.sound import sound_peaks
from iron_probe.core.bench.drain.feed_tree import FeedTree, feed_tree, usual_total_a
from iron_probe.core.bench.drain.limits import limit_for
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of
from iron_probe.rig.catalogue import HiddenFault, catalogue, draw_fault
from iron_probe.rig.errors import RigError
from iron_probe.rig.spice import Spice

SOUND, DRAIN, FUSE = "sound", "drain", "fuse"
"""Beside the classes of the catalogue: nothing wrong, a drain, a fuse that blows."""
TRIES = 40
"""Draws of a class before it is said not to show on a sheet."""
OF_ONE = 6
"""Severities of one fault at one place that are tried: one that is not noticed in so many hardly shows there."""
LEAST_DRAIN_A, MOST_DRAIN_A, OVER_LIMIT = 0.01, 30.0, 1.1
"""Excess over the sound machine that is called a drain [A], and by how much its total is over the limit: a bigger one has blown a fuse."""
SECOND = ("resistance", "open", "ground ways", "battery flat", "battery worn")
"""Classes that every sheet has a place for: what a second fault is."""


class Level(StrEnum):
    """What is hidden, from what is met every week to what is met once a year."""

    ONE = "one"
    DRAIN = "drain"
    FUSE = "fuse"
    SOUND = "sound"
    TWO = "two"
    COMES = "comes and goes"
    UNDRAWN = "undrawn"
    YARD = "yard"


BY_CHANCE = tuple(level for level in Level if level is not Level.YARD)
"""Levels that are drawn; the last is made from a closed job of the yard."""


@dataclass(frozen=True, slots=True)
class PracticeCase:
    """What is hidden, and how its owner brings it in: the `number` it is asked for by, the `seed` its machine is drawn by; `symptom` as intake has it,
    empty where none of them comes."""

    level: Level
    sheet_id: str
    number: int
    seed: int
    symptom: str
    faults: tuple[HiddenFault, ...]

    def kept(self) -> list[dict[str, Any]]:
        """Its faults as they are kept."""
        return [{"name": f.fault.name, "element": f.element, "severity": f.severity} for f in self.faults]


def faults_of(kept: Sequence[Mapping[str, Any]]) -> tuple[HiddenFault, ...]:
    """Faults as they were kept; RigError for one the catalogue has no more."""
    known = {f.name: f for f in catalogue()}
    if gone := [k["name"] for k in kept if k["name"] not in known]:
        raise RigError(f"the catalogue has no fault “{gone[0]}” any more: start another case")
    return tuple(HiddenFault(known[k["name"]], str(k["element"]), float(k["severity"])) for k in kept)


def limit_of(tree: FeedTree) -> float:
    """What the machine may draw asleep [A]: its limit, and no less than it usually draws and a fifth."""
    usual = usual_total_a(tree)
    return max(limit_for(tree.sheet, usual).limit_a, 1.2 * usual)


def bay_with(sheet: Sheet, kind: str, rng: np.random.Generator, seed: int, spice: Spice) -> InBay | None:
    """A machine with a fault of that class that somebody would come in with, drawn by `rng` and built by the `seed`; None where the sheet shows none."""
    if kind == SOUND:
        return InBay(sheet, seed, sound_peaks(sheet, spice), spice, [])

    def draw() -> HiddenFault:
        return draw_fault(machine_of(sheet, 20.0, rng), sound_peaks(sheet, spice), rng, "short" if kind == FUSE else kind)

    return first_noticed(sheet, seed, spice, draw, lambda bay: comes_in(bay, kind))


def first_noticed(sheet: Sheet, seed: int, spice: Spice, draw: Callable[[], HiddenFault], noticed: Callable[[InBay], bool]) -> InBay | None:
    """The first of some machines with a fault drawn anew each time whose owner notices it as wanted; None where none does."""
    tried = Counter[tuple[str, str]]()
    for turn in range(TRIES):
        with contextlib.suppress(RigError):
            hidden = draw()
            tried[hidden.fault.name, hidden.element] += 1
            if tried[hidden.fault.name, hidden.element] > OF_ONE:
                continue
            bay = InBay(sheet, seed + 1000 * turn, sound_peaks(sheet, spice), spice, [hidden])
            if noticed(bay):
                return bay
    return None


def comes_in(bay: InBay, kind: str) -> bool:
    """Whether its owner would bring it in with that complaint."""
    if kind == DRAIN:
        tree = feed_tree(network_of(bay.sheet))
        sound = InBay(bay.sheet, bay.seed, bay.peaks, bay.spice, [])
        total_a = bay.total_a()
        return LEAST_DRAIN_A < total_a - sound.total_a() < MOST_DRAIN_A and total_a > OVER_LIMIT * limit_of(tree)
    if kind == FUSE:
        return bay.first_blown() is not None
    return bool(bay.symptom)


def draw_case(sheet_id: str, level: Level, number: int, spice: Spice) -> PracticeCase | None:
    """A case by its number; the same number gives the same case. None where this machine shows nothing of that level."""
    rng = np.random.default_rng(
        (number, list(Level).index(level), crc32(sheet_id.encode()))
    )  # the number alone tells nobody what is hidden
    sheet = load_sheet(sheet_id)
    for kind in _kinds(level, rng):
        bay = bay_with(sheet, kind, rng, number, spice)
        if bay is not None and level is Level.TWO:
            bay = _second(bay, rng)
        if bay is not None:
            symptom = kind if kind in (DRAIN, FUSE) else bay.symptom
            return PracticeCase(level, sheet_id, number, bay.seed, symptom, tuple(bay.faults))
    return None


def _kinds(level: Level, rng: np.random.Generator) -> Iterator[str]:
    """Classes in the order they are tried."""
    apart = {"comes and goes", "undrawn"}
    at_work = sorted({f.kind for f in catalogue() if f.shows == "work"} - apart)
    match level:
        case Level.ONE | Level.TWO:
            yield from (str(kind) for kind in rng.permutation(at_work))
        case Level.COMES | Level.UNDRAWN:
            yield level.value
        case _:
            yield {Level.DRAIN: DRAIN, Level.FUSE: FUSE}.get(level, SOUND)


def _second(bay: InBay, rng: np.random.Generator) -> InBay | None:
    """The same with a second fault elsewhere, that is complained of in the same way once the first is mended; None where it would not come in so."""
    for _ in range(TRIES):
        try:
            second = draw_fault(
                machine_of(bay.sheet, 20.0, np.random.default_rng(bay.seed)), bay.peaks, rng, SECOND[int(rng.integers(len(SECOND)))]
            )
            if second.element in {f.element for f in bay.faults}:
                continue
            both = InBay(bay.sheet, bay.seed, bay.peaks, bay.spice, [*bay.faults, second])
            if both.scope is None or _noticed(both) != _noticed(bay):
                continue
            alone = InBay(bay.sheet, bay.seed, bay.peaks, bay.spice, [second])
        except RigError:
            continue
        if _noticed(alone) == _noticed(bay):
            return both
    return None


def _noticed(bay: InBay) -> tuple[object, bool]:
    """By what its owner notices that something is wrong: how it cranks, what it does beside that, or how it charges."""
    return bay.scope, bay.complained is not None
