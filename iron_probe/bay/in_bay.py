"""A machine of the rig in a technician's hands: read as he is asked to, asleep and awake, mended, and tried again."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import inf

import numpy as np

from iron_probe.bay.acts import Handled
from iron_probe.bay.reader import RigReader, complaint
from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.bench.drain.feed_tree import FeedTree, feed_tree
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.limits import METER_STEP_V
from iron_probe.rig.build import machine_of
from iron_probe.rig.catalogue import HiddenFault
from iron_probe.rig.damage import put_in
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

CLAMP_SHARE, CLAMP_STEP_A = 0.01, 1e-3
"""A low-current clamp: its error, and its last digit (common practice)."""


@dataclass
class InBay:
    """A machine of a `sheet`, which is the drawing the technician has, as its `seed` draws it, with the `faults` that are left in it; `innocent` are
    the parts mended for nothing, `mended` all of them, `handled` what hands did beside reading."""

    sheet: Sheet
    seed: int
    peaks: dict[str, float]
    spice: Spice
    faults: list[HiddenFault]
    innocent: list[str] = field(default_factory=list)
    mended: list[str] = field(default_factory=list)
    handled: list[Handled] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.rebuild()
        brought = Plant(self.plant.machine, self.spice)
        told = complaint(brought) if self.faults else None
        self.plant.blown |= brought.blown  # its owner has tried everything
        self.scope: Scope | None = told[0] if told else None
        crank = self.sheet.cranking_state()
        heard = (r.word for r in told[1] if r.instrument is Instrument.EYES and r.state == crank) if told else iter(())
        self.complained = next(heard, None)
        self.reader.complained = self.complained

    @property
    def symptom(self) -> str:
        """What its owner would choose at intake; nothing where it does not come."""
        return self.complained or ("no_charge" if self.scope is Scope.CHARGING else "")

    def read(self, asked: Reading) -> Reading:
        """What the rig's meter shows, or what comes of what is done. ReadingError where the machine has no place for such a test."""
        return self.reader.read(asked)

    def total_a(self) -> float:
        """Amps from the battery while it sleeps, as a clamp shows them."""
        self.plant.go(next(iter(self.sheet.states)))
        return self._clamped(max(abs(self.plant.amps(b.id).value) for b in self.sheet.batteries))

    def probed(self, where: str, way: Way) -> str:
        """What is typed of a probe of the sleeping machine: millivolts over a fuse, a clamp's amps, or the total with it out."""
        self.plant.go(next(iter(self.sheet.states)))
        element = self.sheet.element(where.partition(".")[0])
        if way is Way.DROP:
            red, black = element.points()[:2]
            shown = self.plant.between(red, black).value
            return f"{1000 * round(abs(shown) / METER_STEP_V) * METER_STEP_V:.1f} mV"
        if way in (Way.CLAMP, Way.SERIES):
            return _milliamps(self._clamped(abs(self.plant.amps(where).value)))
        self.plant.part(element.id)
        total = self.total_a()
        self.plant.join(element.id)
        return _milliamps(total)

    def first_blown(self) -> tuple[str, str] | None:
        """A fuse of the drawing that blows, and the first state it blows in, as its owner has seen it; None where none does."""
        plant = Plant(self.plant.machine, self.spice)
        for state in self.sheet.states:
            plant.go(state)
            if fuse := next((f for f in plant.blown if any(e.id == f for e in self.sheet.elements)), None):
                return fuse, state
        return None

    def mend(self, elements: list[str]) -> None:
        """Put right what is wrong with some parts, or beside them where no drawing shows it, with a new fuse for any that has blown."""
        for part in elements:
            cured = [f for f in self.faults if self.lies_at(f, part)]
            self.innocent += [] if cured else [part]
            self.faults = [f for f in self.faults if f not in cured]
        self.mended += elements
        self.rebuild()

    def own_part(self, drawn: Sheet, element: str) -> str:
        """The part of this machine that is meant by one of a drawing that was changed since: the same, or one that it touches; nothing where it touches none."""
        if any(e.id == element for e in self.sheet.elements):
            return element
        meets = {p for e in drawn.elements if e.id == element for p in e.points()} - {self.sheet.plus, self.sheet.minus}
        return next((e.id for e in self.sheet.elements if meets & set(e.points())), "")

    def lies_at(self, fault: HiddenFault, part: str) -> bool:
        """Whether a technician who takes that part in hand meets the fault: it is the part's, or joins it undrawn, or lies where no fuse parts it further."""
        if fault.element == part:
            return True
        here, there = self.sheet.element(part), self.sheet.element(fault.element)
        posts = {self.sheet.plus, self.sheet.minus}
        if fault.fault.kind == "undrawn":
            return bool((set(here.points()) & set(there.points())) - posts)
        return fault.fault.shows == "drain" and _behind(self._tree(), part, there.points())

    def _tree(self) -> FeedTree:
        return feed_tree(network_of(self.sheet))

    def _clamped(self, true_a: float) -> float:
        shown = true_a * (1 + CLAMP_SHARE * float(self.reader.rng.standard_normal()))
        return round(shown / CLAMP_STEP_A) * CLAMP_STEP_A

    def rebuild(self) -> None:
        """The machine as its seed draws it, with the faults that are left and what hands have torn in them."""
        rng = np.random.default_rng(self.seed)
        machine = machine_of(self.sheet, 20.0, rng)
        torn = {h.element for h in self.handled if h.broke} & {f.element for f in self.faults}
        whole = {element: dict(machine.values[element]) for element in torn}
        for hidden in self.faults:
            put_in(machine, hidden, self.peaks, rng)
        for element in torn:
            machine.values[element] = whole[element] | {"ohm": inf}
        self.plant = Plant(machine, self.spice, rng)
        self.reader = RigReader(self.plant, rng, drawing=self.sheet, faults=self.faults)


def _milliamps(amps: float) -> str:
    return f"{1000 * amps:.0f} mA"


def _behind(tree: FeedTree, part: str, points: Sequence[str]) -> bool:
    """Whether a place hangs behind a part, with no other fuse between."""
    members = tree.behind.get(part, frozenset())
    inner = [tree.behind[s.branch] for s, _ in tree.fuses() if tree.behind[s.branch] < members]
    own = members - frozenset().union(*inner)
    return any(tree.consumers[k].point in points for k in own)
