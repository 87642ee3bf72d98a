"""Drains of the rig swept to the end: sleepers that stay awake, leaks, welded contacts, shorts and diodes, their currents from ngspice."""

import os
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np

from iron_probe.bay.case import LEAST_DRAIN_A, MOST_DRAIN_A, OVER_LIMIT, limit_of
from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.bench.drain.limits import side_by_side
from iron_probe.core.bench.drain.trial import DrainOutcome, HiddenDrain, carriers_of, splits_first, work_drain
from iron_probe.core.circuit.network import Network, branch_id, network_of
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.build import machine_of, peaks_of
from iron_probe.rig.catalogue import HiddenFault, catalogue, draw_fault
from iron_probe.rig.damage import put_in
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import Machine
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

DRAINS, SEED = 320, 61_507
TRIES = 60
OTHERS = ("short", "contact", "charging", "stator", "undrawn", "module", "drain")
"""Classes of the catalogue that may draw at rest; every other machine has one of the class of drains."""


@dataclass(frozen=True, slots=True)
class RigDrainEnd:
    """How a drain ended: the fault, the sweep, whether the culprit was named at its place (of what no drawing shows, what feeds or what is fed), and
    whether one lay outside every box."""

    fault: str
    sweep: DrainOutcome
    placed: bool
    outside: bool


def asleep_amps(machine: Machine, spice: Spice, network: Network) -> Floats:
    """Amps (branches and the total last) of a machine at rest; a fault that comes and goes is there."""
    plant = Plant(machine, spice)
    plant.go(next(iter(machine.sheet.states)))
    amps = [plant.amps(branch_id(o, b)).value for o, b in zip(network.owners, network.branches, strict=True)]
    posts = [abs(a) for a, o in zip(amps, network.owners, strict=True) if o.type == "battery"]
    return np.array([*amps, max(posts)])


def hide(spice: Spice, sheet_id: str, number: int, peaks: dict[str, float]) -> tuple[HiddenDrain, HiddenFault] | None:
    """A sleeping machine of the rig that draws too much, its fault away for a while in every third; None where the sheet shows none."""
    sheet = load_sheet(sheet_id)
    network = network_of(sheet)
    tree = feed_tree(network)
    limit_a = limit_of(tree)
    rng = np.random.default_rng((SEED, number))
    for turn in range(TRIES):
        machine = machine_of(sheet, 20.0, rng)
        kind = "drain" if number % 2 == 0 and turn < TRIES // 2 else OTHERS[int(rng.integers(len(OTHERS)))]
        try:
            sound = asleep_amps(machine, spice, network)
            hidden = draw_fault(machine, peaks, rng, kind)
            put_in(machine, hidden, peaks, rng)
            now = asleep_amps(machine, spice, network)
        except RigError:
            continue
        if not LEAST_DRAIN_A < now[-1] - sound[-1] < MOST_DRAIN_A or now[-1] < OVER_LIMIT * limit_a:
            continue
        truth = carriers_of(network, tree, now, sound, [float(now[-1]), float(sound[-1])])
        away = (float(rng.uniform(1, 12)), float(rng.uniform(18, 45))) if number % 3 == 2 else None
        drain = HiddenDrain(
            network=network, tree=tree, with_drain=now, without=sound, truth=truth, away=away, share_left=1.0, rng=rng
        )  # fmt: skip
        return (drain, hidden) if truth else None
    return None


def run_sheet(job: tuple[str, int]) -> list[RigDrainEnd]:
    """All trials of one sheet."""
    sheet_id, count = job
    sheet = load_sheet(sheet_id)
    if side_by_side(sheet):
        return []
    found: list[RigDrainEnd] = []
    with Spice() as spice:
        peaks = peaks_of(sheet, spice, list(sheet.states))
        for k in range(count):
            made = hide(spice, sheet_id, k * len(sheet_ids()) + sheet_ids().index(sheet_id), peaks)
            if made is None:
                continue
            drain, hidden = made
            ended = work_drain(drain, splits_first, limit_of(drain.tree))
            placed = ended.placed or (hidden.fault.kind == "undrawn" and bool(set(ended.truth) & set(ended.said)))
            outside = any(not drain.tree.consumers[t].boxed for t in drain.truth)
            found.append(RigDrainEnd(hidden.fault.name, ended, placed, outside))
    return found


def table() -> str:
    """Run all and word the result."""
    part = float(os.environ.get("IRON_PROBE_TRIALS", "1"))
    each = max(1, round(DRAINS * part / len(sheet_ids())))
    with ProcessPoolExecutor(2) as pool:
        rows = [end for sheet in pool.map(run_sheet, [(i, each) for i in sheet_ids()]) for end in sheet]
    away = [r for r in rows if r.sweep.intermittent]
    names, missed = Counter(r.fault for r in rows), Counter(r.fault for r in rows if not r.placed)
    lines = [
        f"## Drains by rig: {len(rows)} sleeping machines",
        "",
        f"Faults of the rig's catalogue ({len(catalogue())} kinds) that draw more than the machine may asleep and up to {MOST_DRAIN_A:g} A, currents by ngspice, away for a while in a third; "
        "swept by main cable, box, fuse and plug, with a clamp, millivolts over fuses, and plugs parted, the total before and after every probe. Two batteries side by side are left out.",
        "",
        "| | all | away for a while | outside every box |",
        "| --- | ---: | ---: | ---: |",
    ]
    groups = [rows, away, [r for r in rows if r.outside]]
    asked: dict[str, Callable[[RigDrainEnd], float]] = {
        "culprit named at its place": lambda r: r.placed,
        "one too many named": lambda r: r.sweep.false_names > 0,
        "sum closes": lambda r: r.sweep.closes,
    }
    for what, of in asked.items():
        lines.append(f"| {what} | " + " | ".join(f"{np.mean([of(r) for r in g]):.1%}" if g else "–" for g in groups) + " |")
    lines.append("| mean minutes | " + " | ".join(f"{np.mean([r.sweep.minutes for r in g]):.1f}" if g else "–" for g in groups) + " |")
    lines += [
        "",
        f"Zeros used that were read while it was away: {sum(r.sweep.stale_zeros for r in rows)}. By fault, named of all: "
        + ", ".join(f"{name.replace('_', ' ')} {n - missed[name]} of {n}" for name, n in sorted(names.items()))
        + ".",
    ]
    return "\n".join(lines)
