"""The closed loop on the rig: faults of its own catalogue, worked by the engine's own choice of tests to the end, class by class.

Outcomes are written one a line as they come, into a file named by the code that made them, so that a run that was stopped goes on.
"""

import hashlib
import json
import os
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import asdict, dataclass, field
from pathlib import Path

import numpy as np

from iron_probe.bay.reader import RigReader, complaint
from iron_probe.core.circuit.faults import FED_ELSEWHERE
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.wiring import joined_to, wiring_of
from iron_probe.core.diagnose.apart import way_found
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.next_test import Order, next_tests
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.build import machine_of, peaks_of
from iron_probe.rig.catalogue import HiddenFault, catalogue, draw_fault
from iron_probe.rig.damage import put_in
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import Machine
from iron_probe.rig.meters import Slip
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

FAULTS, SOUND, HANDS = 1000, 64, 288
MOST_TESTS = 30
SURE = 0.9
SOUND_SHARE = 0.05
"""How many of the machines that come in have nothing wrong (common practice)."""
SEED = 61_803
EDITS = 3
"""Edits of the drawing that are offered at most."""
TRIES = 40
"""Draws of a class on a sheet before it is said not to show there."""
ROOT = Path(__file__).parent.parent
NONE, TWO, UNDRAWN = "sound machine", "two faults", "undrawn"
HAND_CLASSES = (TWO, *(s for s in Slip if s is not Slip.NO_CONTACT))
"""A fault of any class beside a second one, or met by a hand that slips at its first volts."""
DRAWN = ("resistance", "open", "ground ways", "battery flat", "battery worn")
"""Classes that every sheet has a place for: what the second fault is."""
Told = tuple[Scope, list[Reading]]
"""The kind of work, and what was heard or read as it came in."""
ENDS = ("right", "beside", "wrong and sure", "unexplained", "not ended")


@dataclass(frozen=True, slots=True, kw_only=True)
class RigEnd:
    """How one trial ended: the hidden fault, who was named with what share, whether by its own test, after how many tests."""

    number: int
    sheet: str
    kind: str
    fault: str
    element: str
    severity: float
    named: str | None
    mode: str | None
    share: float
    found: bool
    tests: int
    minutes: float
    end: str
    claims: list[tuple[float, bool]] = field(default_factory=list)
    """After each reading: the share of the leading suspect, and whether it was at fault."""
    edits: list[str] = field(default_factory=list)
    """The parts beside which a joint that the drawing lacks is most likely, at the end."""


@dataclass(frozen=True, slots=True)
class Bay:
    """One sheet made ready: its engine by kind of work, and what its parts carry."""

    spice: Spice
    books: dict[Scope, TestBook]
    peaks: dict[str, float]


def bay_of(sheet_id: str, spice: Spice) -> Bay:
    sheet = load_sheet(sheet_id)
    books = {work: TestBook(Ensemble(sheet, work=work)) for work in Scope if states_of(sheet, work)}
    return Bay(spice, books, peaks_of(sheet, spice, list(sheet.states)))


def hide_fault(bay: Bay, sheet_id: str, kind: str, rng: np.random.Generator) -> tuple[Machine, HiddenFault] | None:
    """A machine with a fault of that class that somebody would complain of; None when the class does not show on this sheet."""
    sheet = load_sheet(sheet_id)
    for _ in range(TRIES):
        machine = machine_of(sheet, 20.0, rng)
        try:
            hidden = draw_fault(machine, bay.peaks, rng, kind)
        except RigError:
            return None
        put_in(machine, hidden, bay.peaks, rng)
        if complaint(Plant(machine, bay.spice)):
            return machine, hidden
    return None


def work_one(
    bay: Bay, machine: Machine, faults: list[HiddenFault], number: int, kind: str, rng: np.random.Generator, slip: Slip | None = None,
    order: Order = Order.BEST, told: Told | None = None, drawing: Sheet | None = None,
    raised: dict[str, float] | None = None,
) -> RigEnd:  # fmt: skip
    """Take the machine in as its owner brings it, or as `told`, and follow the engine's tests, in an order of work, to the end; on the shipped
    sheet of its id, or another `drawing` of it, by the engine's own priors, or with those of some parts `raised`."""
    sheet = drawing or load_sheet(machine.sheet.id)
    brought = Plant(machine, bay.spice)
    told = told or (complaint(brought) if faults else None)
    work, readings = told if told else (Scope.STARTING, [])
    book, hidden = bay.books[work], faults[0] if faults else None
    plant = Plant(machine, bay.spice, rng)
    plant.blown |= brought.blown  # its owner has tried everything
    heard = next((r.word for r in readings if r.instrument is Instrument.EYES and r.state == machine.sheet.cranking_state()), None)
    reader, case = RigReader(plant, rng, slip, heard, drawing=drawing), Case(book.ensemble, raised=raised, unseen=book.unseen)
    minutes, posterior, test = 0.0, case.posterior(readings), None
    guilty = {f.element for f in faults}
    claims = [_claim(posterior, guilty)] if readings else []
    for _ in range(MOST_TESTS):
        if posterior.settled or posterior.sound:
            break
        test = next(iter(next_tests(case, book, posterior, readings, order, most=1)), None)
        if test is None:
            break
        readings = [*readings, reader.read(test.reading)]
        minutes += test.minutes
        posterior = case.posterior(readings)
        claims.append(_claim(posterior, guilty))
    top = posterior.suspects[0] if posterior.suspects else None
    named, share = (top.element, top.p) if top else (None, 0.0)
    way = way_found(posterior, sheet, readings) if test is None else None
    if way:  # right where the fault is in it
        named, share = next((e for e in way.elements if e in guilty), way.elements[0]), way.share
    if near := posterior.found_beside:
        named, share = near, posterior.beside[0][1]
    unexplained = bool(posterior.unexplained) or posterior.off_sheet > 0.5
    sure = posterior.found is not None or share >= SURE
    fed = sure and top is not None and top.mode == FED_ELSEWHERE and any(f.fault.kind == UNDRAWN for f in faults)
    return RigEnd(
        number=number, sheet=machine.sheet.id, kind=kind, fault=hidden.fault.name if hidden else "none", element=hidden.element if hidden else "",
        severity=hidden.severity if hidden else 0.0, named=named, mode="beside" if near else "way" if way else top.mode if top else None, share=share,
        found=posterior.settled, tests=len(readings), minutes=minutes, claims=[c for c in claims if c is not None],
        edits=[element for element, _ in posterior.beside[:EDITS]],
        end=_end_undrawn(sheet, machine, faults, named or "", fed) if near or fed else _end(sheet, faults, named, sure, unexplained, posterior.no_fault > share),
    )  # fmt: skip


def _claim(posterior: Posterior, guilty: set[str]) -> tuple[float, bool] | None:
    """What is claimed of the leading suspect, and whether it is at fault; None where there is none."""
    if not posterior.suspects:
        return None
    return round(posterior.suspects[0].p, 4), posterior.suspects[0].element in guilty


def _end_undrawn(sheet: Sheet, machine: Machine, faults: list[HiddenFault], near: str, fed: bool) -> str:
    """How a trial ended that found something the drawing lacks at the end of a part, a joint, a bridge or a feed: right where one ends at that
    point, either end of a bridge being one of its two; of a point `fed` from elsewhere where it is one metal with it."""
    lies = {p for f in faults if f.fault.kind == UNDRAWN for p in sheet.element(f.element).points()}
    lies |= {p for b in machine.bypasses for p in (b.a, b.b)} if lies else set()
    if fed:  # the same volts stand on all that is one metal with it
        lies = {p for at in lies - {sheet.plus, sheet.minus} if at in sheet.points for p in joined_to(wiring_of(sheet), at)}
    if (lies - {sheet.plus, sheet.minus}) & set(sheet.element(near).points()):
        return "right"
    return "beside" if any(_touching(sheet, f.element, near) for f in faults) else "wrong and sure"


def _touching(sheet: Sheet, a: str, b: str) -> bool:
    """Whether two parts meet at a point other than the battery's own posts."""
    return bool((set(sheet.element(a).points()) - {sheet.minus, sheet.plus}) & set(sheet.element(b).points()))


def _end(sheet: Sheet, faults: list[HiddenFault], named: str | None, sure: bool, unexplained: bool, none: bool) -> str:
    """How it ended. One of two faults is right, the other shows after its repair; of what no drawing shows, "unexplained" is."""
    if not faults:
        return "right" if none else "wrong and sure" if sure else "unexplained" if unexplained else "not ended"
    undrawn, guilty = faults[0].fault.kind == UNDRAWN, {f.element for f in faults}
    if named in guilty and not undrawn and (sure or not unexplained):
        return "right"
    if named is not None and sure:
        return "beside" if any(_touching(sheet, e, named) for e in guilty) else "wrong and sure"
    return ("right" if undrawn else "unexplained") if unexplained else "not ended"


def rows_of(groups: dict[str, list[RigEnd]]) -> list[str]:
    """A line of the table for each group: how many, how they ended, after how many tests."""
    lines = [
        "| class | trials | right | beside | wrong and sure | unexplained | not ended | mean tests |",
        "| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |",
    ]
    for kind, mine in groups.items():
        count = Counter(o.end for o in mine)
        shares = " | ".join(f"{count[e] / len(mine):.1%}" for e in ENDS)
        lines.append(f"| {kind} | {len(mine)} | {shares} | {np.mean([o.tests for o in mine]):.1f} |")
    return lines


def classes() -> list[str]:
    """Classes of the catalogue that are complained of at work; drains have their own trials."""
    return sorted({f.kind for f in catalogue() if f.shows == "work"})


def trials_of(sheet_id: str, numbers: list[int], order: Order = Order.BEST) -> Iterator[RigEnd]:
    """The trials of one sheet, each drawn by its own number so that any of them can be made alone: faults, class by class; sound
    machines; faults met by a hand that slips, or by a second fault. Faults alone are worked in the `order` named."""
    with Spice() as spice:
        bay = bay_of(sheet_id, spice)
        for number in numbers:
            rng = np.random.default_rng((SEED, number))
            turn = number // len(sheet_ids())
            if FAULTS <= number < FAULTS + SOUND:
                yield work_one(bay, machine_of(load_sheet(sheet_id), 20.0, rng), [], number, NONE, rng)
                continue
            hand = number >= FAULTS + SOUND  # every kind of slip meets faults of all classes, and not always the same
            drawn = _draw(bay, sheet_id, int(rng.integers(len(classes()))) if hand else turn, rng)
            if drawn is None:
                continue
            machine, hidden, kind = drawn
            if not hand:
                yield work_one(bay, machine, [hidden], number, kind, rng, order=order)
                continue
            kind = HAND_CLASSES[turn % len(HAND_CLASSES)]
            if isinstance(kind, Slip):
                yield work_one(bay, machine, [hidden], number, kind.value, rng, kind)
                continue
            second = draw_fault(machine, bay.peaks, rng, DRAWN[int(rng.integers(len(DRAWN)))])
            put_in(machine, second, bay.peaks, rng)
            if complaint(Plant(machine, bay.spice)):
                yield work_one(bay, machine, [hidden, second], number, kind, rng)


def _draw(bay: Bay, sheet_id: str, turn: int, rng: np.random.Generator) -> tuple[Machine, HiddenFault, str] | None:
    """The class whose turn it is, or the next that shows on this sheet."""
    kinds = classes()
    for step in range(len(kinds)):
        kind = kinds[(turn + step) % len(kinds)]
        drawn = hide_fault(bay, sheet_id, kind, rng)
        if drawn is not None:
            return *drawn, kind
    return None


def code_hash() -> str:
    """Hash of the code whose figures these are: circuits, solver and reasoning of the core, the rig, and the shipped sheets."""
    text = hashlib.sha256()
    for folder in ("core/circuit", "core/solve", "core/diagnose", "rig", "machines"):
        for path in sorted((ROOT / "iron_probe" / folder).rglob("*")):
            if path.suffix in (".py", ".yaml"):
                text.update(path.read_bytes())
    return text.hexdigest()[:12]


def write_ends(file: Path, ends: Iterable[RigEnd]) -> None:
    """Write trials down as they end, one a line, so that a run that was stopped goes on."""
    for end in ends:
        with file.open("a") as out:
            out.write(json.dumps(asdict(end)) + "\n")


def read_ends(file: Path) -> list[RigEnd]:
    """The trials written so far; none where there is no file."""
    return [RigEnd(**json.loads(line)) for line in file.read_text().splitlines()] if file.exists() else []


def ends_file(topic: str) -> Path:
    """Where the trials of a topic made by this code are written."""
    folder = ROOT / ".bench"
    folder.mkdir(exist_ok=True)
    return folder / f"{topic}-{code_hash()}.jsonl"


def _run_sheet(job: tuple[str, list[int], Path, Order]) -> None:
    sheet_id, numbers, file, order = job
    write_ends(file, trials_of(sheet_id, numbers, order))


def outcomes(numbers: Sequence[int], order: Order = Order.BEST) -> list[RigEnd]:
    """The trials of some numbers, those made before by the same code read back, the others made now."""
    ids, file = sheet_ids(), ends_file("rig" if order is Order.BEST else f"rig-{order.value}")
    made = {end.number for end in read_ends(file)}
    jobs = [(i, [n for n in numbers if n % len(ids) == k and n not in made], file, order) for k, i in enumerate(ids)]
    with ProcessPoolExecutor(2) as pool:
        list(pool.map(_run_sheet, [job for job in jobs if job[1]]))
    return read_ends(file)


def table() -> str:
    """Run what is left of a share of the trials, all sheets and classes alike, and word them; with IRON_PROBE_TRIALS=0 word all that was made."""
    share = float(os.environ.get("IRON_PROBE_TRIALS", "1"))
    parts = ((0, FAULTS), (FAULTS, SOUND), (FAULTS + SOUND, HANDS))
    wanted = {first + n for first, most in parts for n in range(round(most * share))}
    found = [end for end in outcomes(sorted(wanted)) if end.number in wanted or not wanted]
    lines = [
        f"## Rig: {len(found):,} of {FAULTS + SOUND + HANDS:,} machines of the rig worked by the engine, on code {code_hash()}",
        "",
        "Readings and faults come from ngspice and the rig's own catalogue (`iron_probe/rig`). Beside: named with certainty, and sharing a point with the fault. Of what no drawing shows, 'unexplained' is right, or 'at or beside' a part that ends where it lies; of two faults either one.",
        "",
    ]
    hands = {str(kind) for kind in HAND_CLASSES}
    groups = {kind: [o for o in found if o.kind == kind] for kind in sorted({o.kind for o in found})}
    groups = {k: v for k, v in groups.items() if k not in hands} | {k: v for k, v in groups.items() if k in hands}
    groups |= {"all single faults and sound machines": [o for o in found if o.kind not in hands], "all": found}
    return "\n".join([*lines, *rows_of(groups), "", *_calibration([o for o in found if o.kind not in hands]), ""])


def _calibration(found: list[RigEnd]) -> list[str]:
    """How often what was claimed of the leading suspect was right, by what was claimed, over all steps of some trials, each trial weighed by how often
    the catalogue says that its class comes to its sheet: the classes are worked alike often, and do not come alike often."""
    weight = trial_weights(found)
    claims = np.array([(*c, w) for o, w in zip(found, weight, strict=True) for c in o.claims], dtype=float).reshape(-1, 3)
    bins = np.minimum((claims[:, 0] * 10).astype(int), 9)
    lines = [
        "Share of the leading suspect after each reading, of single faults and of sound machines (5 %), and how often it was the one; trials are weighed by how often "
        "the catalogue says their class comes to their sheet, and beside it as they were worked, all classes alike often:",
        "",
        "| share claimed | times claimed | mean claim | right | mean claim, unweighed | right, unweighed |",
        "| --- | ---: | ---: | ---: | ---: | ---: |",
    ]
    error, plain = 0.0, 0.0
    for k in sorted(set(bins.tolist())):
        mine = claims[bins == k]
        claimed, right = np.average(mine[:, :2], axis=0, weights=mine[:, 2])
        alike, alike_right = mine[:, :2].mean(axis=0)
        error += mine[:, 2].sum() * abs(claimed - right)
        plain += len(mine) * abs(alike - alike_right)
        lines.append(
            f"| {k / 10:.0%} to {(k + 1) / 10:.0%} | {len(mine):,} | {claimed:.0%} | {right:.0%} | {alike:.0%} | {alike_right:.0%} |"
        )
    return (
        [*lines, "", f"Expected calibration error: {error / claims[:, 2].sum():.3f}; unweighed {plain / len(claims):.3f}."]
        if len(claims)
        else lines
    )


def trial_weights(found: Sequence[RigEnd]) -> list[float]:
    """How much each trial weighs, so that on every sheet the classes weigh as the catalogue says they come, and sound machines 5 %."""
    chance = {kind: sum(f.chance for f in catalogue() if f.kind == kind) for kind in classes()}
    times = Counter((o.sheet, o.kind) for o in found)
    comes = {sheet: sum(chance[kind] for s, kind in times if s == sheet and kind != NONE) for sheet in {o.sheet for o in found}}
    share = {(s, k): SOUND_SHARE if k == NONE else (1 - SOUND_SHARE) * chance[k] / comes[s] for s, k in times}
    return [share[o.sheet, o.kind] / times[o.sheet, o.kind] for o in found]
