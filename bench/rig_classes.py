"""The classes that single faults meet too seldom, each some hundred times on a seed of its own: sound machines, what no drawing shows, two faults
with a repair between, charging, and flat batteries on good alternators."""

from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np

from bench.rig_trials import (
    DRAWN,
    NONE,
    TWO,
    UNDRAWN,
    Bay,
    RigEnd,
    bay_of,
    classes,
    code_hash,
    ends_file,
    hide_fault,
    read_ends,
    rows_of,
    work_one,
    write_ends,
)
from iron_probe.bay.reader import charges, complaint
from iron_probe.core.diagnose.scope import Scope
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.build import machine_of
from iron_probe.rig.catalogue import HiddenFault, draw_fault
from iron_probe.rig.damage import put_in
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import Machine
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

SEED = 271_829
FLAT = "flat battery on a good alternator"
EACH = {NONE: 13, UNDRAWN: 13, TWO: 13, "charging": 20, FLAT: 7}
"""Trials of each class on each sheet that shows it."""
WITHIN = 12
"""Tests within which a sound machine is to be done with."""


def work_class(bay: Bay, sheet_id: str, kind: str, number: int) -> RigEnd | None:
    """One trial of a class; None where the sheet does not show it."""
    rng = np.random.default_rng((SEED, sorted(EACH).index(kind), number))
    if kind == NONE:
        return work_one(bay, machine_of(load_sheet(sheet_id), 20.0, rng), [], number, kind, rng)
    if kind == TWO:
        return _two(bay, sheet_id, number, rng)
    if kind == FLAT:
        return _flat(bay, sheet_id, number, rng)
    drawn = hide_fault(bay, sheet_id, kind, rng)
    return None if drawn is None else work_one(bay, drawn[0], [drawn[1]], number, kind, rng)


def _two(bay: Bay, sheet_id: str, number: int, rng: np.random.Generator) -> RigEnd | None:
    """Two faults: the one that is found is repaired, and what is left of the complaint is worked again."""
    kinds = [k for k in classes() if k != UNDRAWN]
    drawn = hide_fault(bay, sheet_id, kinds[int(rng.integers(len(kinds)))], rng)
    if drawn is None:
        return None
    machine, first = drawn
    second = draw_fault(machine, bay.peaks, rng, DRAWN[int(rng.integers(len(DRAWN)))])
    put_in(machine, second, bay.peaks, rng)
    if second.element == first.element or not complaint(Plant(machine, bay.spice)):
        return None
    end = work_one(bay, machine, [first, second], number, TWO, rng)
    left = second if end.named == first.element else first
    if end.end != "right":
        return end
    mended = _only(bay, sheet_id, left, rng)
    if mended is None or not complaint(Plant(mended, bay.spice)):
        return end  # what is left is nothing that anybody would come in for
    after = work_one(bay, mended, [left], number, TWO, rng)
    return replace(after, tests=end.tests + after.tests, minutes=end.minutes + after.minutes)


def _only(bay: Bay, sheet_id: str, hidden: HiddenFault, rng: np.random.Generator) -> Machine | None:
    machine = machine_of(load_sheet(sheet_id), 20.0, rng)
    try:
        put_in(machine, hidden, bay.peaks, rng)
    except RigError:
        return None
    return machine


def _flat(bay: Bay, sheet_id: str, number: int, rng: np.random.Generator) -> RigEnd | None:
    """A flat battery brought in as a machine that does not charge."""
    sheet = load_sheet(sheet_id)
    if Scope.CHARGING not in bay.books or not sheet.running_states():
        return None
    machine = machine_of(sheet, 20.0, rng)
    hidden = draw_fault(machine, bay.peaks, rng, "battery flat", "flat")
    put_in(machine, hidden, bay.peaks, rng)
    told = charges(Plant(machine, bay.spice), Plant(machine_of(sheet, 20.0), bay.spice))[1]
    return work_one(bay, machine, [hidden], number, FLAT, rng, told=(Scope.CHARGING, told))


def _run_sheet(job: tuple[str, list[tuple[str, int]], Path]) -> None:
    sheet_id, wanted, file = job
    with Spice() as spice:
        bay = bay_of(sheet_id, spice)
        worked = (work_class(bay, sheet_id, kind, number) for kind, number in wanted)
        write_ends(file, (end for end in worked if end is not None))


def outcomes() -> list[RigEnd]:
    """All trials, those made before by the same code read back, the others made now."""
    ids, file = sheet_ids(), ends_file("rig-classes")
    made = {(end.kind, end.number) for end in read_ends(file)}
    jobs = [
        (i, [(kind, n) for kind, each in EACH.items() for n in range(k, each * len(ids), len(ids)) if (kind, n) not in made], file)
        for k, i in enumerate(ids)
    ]
    with ProcessPoolExecutor(2) as pool:
        list(pool.map(_run_sheet, [job for job in jobs if job[1]]))
    return read_ends(file)


def table() -> str:
    """Work what is left of them and word it."""
    found = outcomes()
    groups = {kind: [o for o in found if o.kind == kind] for kind in EACH}
    sound = groups[NONE]
    within = np.mean([o.end == "right" and o.tests <= WITHIN for o in sound])
    return "\n".join([
        f"## Classes by rig, on a seed of their own: {len(found):,} machines, on code {code_hash()}",
        "",
        "As above, but after a right end of two faults the one found is repaired, and the other must be found too where anybody would still complain; "
        "a flat battery is brought in as a machine that does not charge.",
        "",
        *rows_of({kind: mine for kind, mine in groups.items() if mine}),
        "",
        f"Sound machines ended as such within {WITHIN} tests: {within:.1%}.",
        "",
    ])  # fmt: skip
