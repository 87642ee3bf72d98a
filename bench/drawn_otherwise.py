"""Drawings composed from answers, worked on machines that are not quite so: joints nobody drew, other lengths and sizes, a feed taken elsewhere."""

from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from bench.rig_trials import UNDRAWN, Bay, RigEnd, code_hash, ends_file, read_ends, rows_of, work_one, write_ends
from iron_probe.bay.reader import complaint
from iron_probe.blocks import pattern_book
from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.compose.compose import compose
from iron_probe.core.compose.edits import change, put_in
from iron_probe.core.compose.sheet_text import SheetText
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.errors import IronProbeError
from iron_probe.rig.build import machine_of, peaks_of
from iron_probe.rig.catalogue import HiddenFault, draw_fault
from iron_probe.rig.damage import put_in as put_fault_in
from iron_probe.rig.errors import RigError
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

SEED, EACH = 314_159, 4
"""Trials on each variant of the library."""
JOINT_SHARE = 0.35
"""Of the trials in which the fault sits in a joint that the drawing lacks."""
JOINTS, FEED_SHARE = (1, 4), 0.3
"""Joints nobody drew, and how often one consumer's fuse is fed from another point than drawn."""
SIZES = {"length_m": (0.6, 1.8), "mm2": (0.7, 1.5), "capacity_ah": (0.8, 1.3), "cca_a": (0.8, 1.3), "r_mohm": (0.6, 1.8)}
"""By how much what nobody measured is off, from and to (chosen here)."""
IN_PART = "in a part drawn"
TRIES = 12


@dataclass(frozen=True, slots=True)
class Other:
    """The machine as it really is: its sheet, and the joints nobody drew with the part each lies at the end of."""

    sheet: Sheet
    joints: dict[str, str]


def differ(text: str, rng: np.random.Generator) -> Other:
    """A machine that differs from its drawing."""
    wires = [e["id"] for e in SheetText(text).elements if e.get("type") in ("wire", "cable")]
    for element in SheetText(text).elements:
        for name, (low, high) in SIZES.items():
            if isinstance(element.get(name), int | float):
                text = change(text, element["id"], name, f"{element[name] * low * (high / low) ** rng.random():.3g}")
    fuses = [e for e in SheetText(text).elements if e.get("type") == "fuse" and e["id"].startswith("c")]
    if len(fuses) > 1 and rng.random() < FEED_SHARE:
        moved, other = rng.choice(len(fuses), 2, replace=False)
        text = change(text, fuses[moved]["id"], "from", fuses[other]["from"])
    joints: dict[str, str] = {}
    for beside in rng.choice(wires, min(int(rng.integers(*JOINTS, endpoint=True)), len(wires)), replace=False):
        before = {e["id"] for e in SheetText(text).elements}
        text = put_in(text, str(beside), "", "joint")
        joints |= {e["id"]: str(beside) for e in SheetText(text).elements if e["id"] not in before}
    return Other(read_sheet(text), joints)


def trial(bay: Bay, drawing: Sheet, text: str, number: int) -> RigEnd | None:
    """One machine that differs, with one fault that somebody would complain of; None where none was met in some tries."""
    rng = np.random.default_rng((SEED, number))
    for _ in range(TRIES):
        try:
            other = differ(text, rng)
            machine = machine_of(other.sheet, 20.0, rng)
            in_joint = rng.random() < JOINT_SHARE
            carried = {joint: bay.peaks.get(beside, 0.0) for joint, beside in other.joints.items()}
            hidden = draw_fault(machine, carried if in_joint else bay.peaks, rng, "resistance" if in_joint else None)
            put_fault_in(machine, hidden, bay.peaks | carried, rng)
        except (RigError, IronProbeError):
            continue
        if hidden.fault.shows != "work" or not complaint(Plant(machine, bay.spice)):
            continue
        told = hidden
        if hidden.element in other.joints:  # what the drawing can say of it: beside that part
            told = HiddenFault(hidden.fault.model_copy(update={"kind": UNDRAWN}), other.joints[hidden.element], hidden.severity)
        kind = UNDRAWN if told.fault.kind == UNDRAWN else IN_PART
        return work_one(bay, machine, [told], number, kind, rng, drawing=drawing)
    return None


def _run(job: tuple[int, list[int], Path]) -> None:
    place, numbers, file = job
    composed = compose(pattern_book(), pattern_book().library[place].answers, sheet_id=f"variant-{place}")
    drawing = composed.sheet
    with Spice() as spice:
        books = {work: TestBook(Ensemble(drawing, work=work)) for work in Scope if states_of(drawing, work)}
        bay = Bay(spice, books, peaks_of(drawing, spice, list(drawing.states)))
        write_ends(file, _ended(bay, drawing, composed.text, numbers))


def _ended(bay: Bay, drawing: Sheet, text: str, numbers: list[int]) -> Iterator[RigEnd]:
    for number in numbers:
        end = trial(bay, drawing, text, number)
        if end is not None:
            yield end


def table() -> str:
    """Work what is left of the trials and word them."""
    file, variants = ends_file("drawn-otherwise"), len(pattern_book().library)
    made = {end.number for end in read_ends(file)}
    jobs = [(k, [n for n in range(k, variants * EACH, variants) if n not in made], file) for k in range(variants)]
    with ProcessPoolExecutor(1) as pool:
        list(pool.map(_run, [job for job in jobs if job[1]]))
    return worded(read_ends(file))


def worded(found: list[RigEnd]) -> str:
    """The table of what was worked so far."""
    groups = {kind: [o for o in found if o.kind == kind] for kind in (IN_PART, UNDRAWN)} | {"all": found}
    joints = groups[UNDRAWN]
    offered = np.mean([o.element in o.edits or (o.mode == "beside" and o.end == "right") for o in joints]) if joints else 0.0
    ways = Counter(o.mode for o in found)["way"]
    return "\n".join([
        f"## Drawn otherwise: {len(found):,} of {len(pattern_book().library) * EACH} machines that differ from their composed drawing, on code {code_hash()}",
        "",
        f"Drawings are the {len(pattern_book().library)} variants of the library as composed; each machine has one to four joints nobody drew, lengths, sizes, batteries and joints off by up to 1.8 times, "
        "every third one a consumer fed from elsewhere, and one fault of the rig's catalogue. Right is the part, a way it lies in, or 'at or beside' the part that the joint lies at the end of.",
        "",
        *rows_of({kind: mine for kind, mine in groups.items() if mine}),
        "",
        f"The right edit of the drawing among the first three, where the fault lies in what is not drawn: {offered:.1%}. Found as a way: {ways}.",
        "",
    ])  # fmt: skip
