"""What a yard's own experience gains: kinds of machine that break in the same few places, worked with and without what 50 jobs on them confirmed."""

from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace

import numpy as np

from bench.rig_trials import TRIES, Bay, RigEnd, bay_of, classes, code_hash, ends_file, hide_fault, read_ends, rows_of, work_one, write_ends
from iron_probe.bay.reader import complaint
from iron_probe.core.job.experience import Experience, factors_on
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.build import machine_of
from iron_probe.rig.catalogue import HiddenFault
from iron_probe.rig.damage import put_in
from iron_probe.rig.machine import Machine
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

SEED = 31_415
EVERY = 4
"""Every so manieth of the shipped sheets is a kind of machine of the yard."""
HABITS, HABIT_SHARE = 3, 0.7
"""How many faults come back on a kind of machine in this yard, and their share of its jobs (chosen here)."""
CONFIRMED, WORKED = 50, 12
OFTEN, SELDOM = "a fault that comes back", "any other"


class Kind:
    """A kind of machine as it breaks in this yard."""

    def __init__(self, bay: Bay, sheet_id: str, rng: np.random.Generator) -> None:
        self.bay, self.sheet_id, self.habits = bay, sheet_id, list[HiddenFault]()
        while len(self.habits) < HABITS:
            hidden = self._any(rng)[1]
            if hidden.element not in {h.element for h in self.habits}:
                self.habits.append(hidden)

    def breaks(self, rng: np.random.Generator) -> tuple[Machine, HiddenFault, str]:
        """The next machine of this kind that somebody complains of, its fault, and whether that comes back here."""
        if rng.random() < HABIT_SHARE:
            hidden = self.habits[int(rng.integers(HABITS))]
            for _ in range(TRIES):
                machine = machine_of(load_sheet(self.sheet_id), 20.0, rng)
                put_in(machine, hidden, self.bay.peaks, rng)
                if complaint(Plant(machine, self.bay.spice)):
                    return machine, hidden, OFTEN
        return *self._any(rng), SELDOM

    def _any(self, rng: np.random.Generator) -> tuple[Machine, HiddenFault]:
        while True:
            drawn = hide_fault(self.bay, self.sheet_id, classes()[int(rng.integers(len(classes())))], rng)
            if drawn is not None:
                return drawn


def _trials(place: int, sheet_id: str) -> Iterator[RigEnd]:
    """Fresh machines of one kind, each worked twice: by the engine's own priors, and by what 50 machines before it had."""
    with Spice() as spice:
        bay = bay_of(sheet_id, spice)
        kind, sheet = Kind(bay, sheet_id, np.random.default_rng((SEED, place))), load_sheet(sheet_id)
        before = np.random.default_rng((SEED, place, 1))
        found = Counter(sheet.element(kind.breaks(before)[1].element).title for _ in range(CONFIRMED))
        known = Experience(CONFIRMED, found)
        raised = {element: by for book in bay.books.values() for element, by in factors_on(book.ensemble, known).items()}
        for turn in range(WORKED):
            for name, by in (("without", {}), ("with", raised)):
                rng = np.random.default_rng((SEED, place, 2, turn))
                machine, hidden, often = kind.breaks(rng)
                end = work_one(bay, machine, [hidden], place * WORKED + turn, often, rng, raised=by)
                yield replace(end, kind=f"{often}, {name}")


def _run_sheet(job: tuple[int, str]) -> None:
    write_ends(ends_file("experience"), _trials(*job))


def table() -> str:
    """Work the kinds that were not worked by this code, and word all."""
    made = {end.sheet for end in read_ends(ends_file("experience"))}
    with ProcessPoolExecutor(2) as pool:
        list(pool.map(_run_sheet, [(k, i) for k, i in enumerate(sheet_ids()) if k % EVERY == 0 and i not in made]))
    found = read_ends(ends_file("experience"))
    groups = {
        f"{often}, {name}": [e for e in found if e.kind == f"{often}, {name}"] for often in (OFTEN, SELDOM) for name in ("without", "with")
    }
    minutes = [f"{name}: {np.mean([e.minutes for e in mine]):.1f}" for name, mine in groups.items() if mine]
    return "\n".join([
        f"## The yard's own experience: {len(found) // 2} machines of {len({e.sheet for e in found})} kinds, each worked without and with it, on code {code_hash()}",
        "",
        f"In this yard {HABIT_SHARE:.0%} of the jobs on a kind are one of {HABITS} faults drawn for it from the rig's catalogue, the others any of the catalogue; {CONFIRMED} such jobs, as they were repaired, are its experience.",
        "",
        *rows_of({name: mine for name, mine in groups.items() if mine}),
        "",
        f"Mean minutes: {'; '.join(minutes)}.",
        "",
    ])  # fmt: skip
