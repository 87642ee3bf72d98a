"""Every test a sheet allows, its minutes, and what sound machines show."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations, islice

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.circuit.elements import Alternator, BranchKind, Fuse, Lamp, Stator, TwoPole
from iron_probe.core.circuit.faults import BARE, WELDED_MODES
from iron_probe.core.circuit.heavy_path import HeavyPath, heavy_path
from iron_probe.core.circuit.network import branch_id
from iron_probe.core.circuit.stator_ways import ac_amps, ac_points
from iron_probe.core.diagnose.ensemble import STRATA, Ensemble
from iron_probe.core.diagnose.evidence import FUSES, Instrument, Reading
from iron_probe.core.diagnose.new_fuse import telling_states
from iron_probe.core.diagnose.outcomes import rough_outcomes
from iron_probe.core.diagnose.own_test import proofs, proves
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.shown import shown_first
from iron_probe.core.limits import LAMP_MINUTES, LOAD_TEST_MINUTES, NEW_FUSE_MINUTES, PART_MINUTES, READ_MINUTES
from iron_probe.core.solve.solution import shown_v

CONTACTS = (BranchKind.SWITCH, BranchKind.CONTACT)
SMALL_LAMP_W = 6.0
"""A lamp under this power [W] is an indicator that can be looked at."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A test that could be made: a reading without its value, and the minutes [min] its points and state take; `light` is a drop along
    the heavy path without the starter's current, and what is made `last` costs a part where it goes wrong."""

    reading: Reading
    minutes: float
    disturbs: bool
    light: bool = False
    last: bool = False


class TestBook:
    """Every test a sheet allows, with what sound machines show in each (`sound`: tests, variants) and the outcomes a first ranking goes by
    (`rough`, see `rough_outcomes`), where they were worked out before."""

    __test__ = False

    def __init__(self, ensemble: Ensemble, sound: NDArray[np.float32] | None = None, rough: NDArray[np.int16] | None = None) -> None:
        self.ensemble = ensemble
        self.heavy: HeavyPath = heavy_path(ensemble.network)
        self.candidates = self._all()
        self._own: dict[tuple[str, str], frozenset[int]] = {}
        self._proofs: dict[tuple[str, str], frozenset[int]] = {}
        self.leads = self._leads()
        self.clamps = self._clamps()
        batched = (Instrument.VOLTMETER, Instrument.CLAMP)
        self.others = {
            state: [k for k, c in enumerate(self.candidates) if c.reading.state == state and c.reading.instrument not in batched]
            for state in ensemble.states
        }
        self._number_of = {place_of(c.reading): k for k, c in enumerate(self.candidates)}
        self.own_minutes = np.array([c.minutes for c in self.candidates])
        self.disturbs = np.array([c.disturbs for c in self.candidates], dtype=bool)
        self.last = np.array([c.last for c in self.candidates], dtype=bool)
        self.light = np.array([c.light for c in self.candidates], dtype=bool)
        self.cranking = np.array([ensemble.sheet.states[c.reading.state].cranking for c in self.candidates], dtype=bool)
        self._state_of = np.array([c.reading.state for c in self.candidates])
        self._state_minutes = np.array([ensemble.sheet.states[s].minutes for s in self._state_of])
        self.sound = self._sound() if sound is None else sound
        self.blur = np.std(np.asarray(self.sound, dtype=float), axis=1) if len(self.sound) else np.zeros(0)
        self.rough = np.asfortranarray(rough_outcomes(ensemble, self) if rough is None else rough)  # asked for by stratum

    @cached_property
    def unseen(self) -> Bools:
        """Hypotheses (H,) that every test here shows as it shows a sound machine: what lies outside the circuit, such as amp-hours."""
        rough = self.rough.reshape(len(self.candidates), len(self.ensemble.hypotheses), STRATA)
        alike = np.asarray((rough == rough[:, :1]).all(axis=(0, 2)))
        alike[0] = False
        return alike

    def own_tests(self, element: str, mode: str) -> frozenset[int]:
        """Numbers of the tests by which that fault of an element is found."""
        if (element, mode) not in self._own:
            sheet, found = self.ensemble.sheet, []
            for lead in (None, sheet.minus, *sheet.element(element).points()):
                near = self._by_lead.get(lead, ())
                found += [k for k in near if proves(self.ensemble.network, element, mode, self.candidates[k].reading)]
            self._own[element, mode] = frozenset(found)
        return self._own[element, mode]

    @cached_property
    def _by_lead(self) -> dict[str | None, list[int]]:
        """Numbers of the voltmeter tests by the point of their red lead; of all other tests under None."""
        found: dict[str | None, list[int]] = {}
        for number, candidate in enumerate(self.candidates):
            reading = candidate.reading
            found.setdefault(reading.red if reading.instrument is Instrument.VOLTMETER else None, []).append(number)
        return found

    def proofs(self, element: str, mode: str) -> frozenset[int]:
        """Numbers of the tests that prove the power, ground or command of an element with a fault."""
        if (element, mode) not in self._proofs:
            wanted = [t for need in proofs(self.ensemble.network, element, mode) for way in need for t in way]
            self._proofs[element, mode] = frozenset(k for k, c in enumerate(self.candidates) if any(t.done_by(c.reading) for t in wanted))
        return self._proofs[element, mode]

    def _sound(self) -> NDArray[np.float32]:
        """What sound machines show in each test (tests, variants)."""
        ensemble = self.ensemble.prepare()
        sound = np.arange(ensemble.size)
        shown = np.empty((len(self.candidates), ensemble.size), dtype=np.float32)
        for state in ensemble.states:
            first, (number, red, black) = ensemble.first(state).take(sound), self.leads[state]
            open_v, source_ohm = first.volts[red] - first.volts[black], first.own_ohm[red] + first.own_ohm[black]
            shown[number] = shown_v(open_v.astype(float), source_ohm.astype(float))
            for k in (*self.clamps[state][0], *self.others[state]):
                shown[k] = shown_first(ensemble, self.candidates[k].reading, sound)
        return shown

    def _all(self) -> list[Candidate]:
        sheet, network = self.ensemble.sheet, self.ensemble.network
        found: dict[tuple[str, str, str], Candidate] = {}

        path = self.heavy
        sides = (path.supply_points, path.ground_points)
        alternating = ac_points(sheet)

        def volts(red: str, black: str, state: str) -> None:
            key = (min(red, black), max(red, black), state)
            if red != black and key not in found and not {red, black} & alternating:
                points = sheet.points[red], sheet.points[black]
                minutes = max(p.minutes for p in points) + 0.3 * min(p.minutes for p in points) + READ_MINUTES
                reading = Reading(instrument=Instrument.VOLTMETER, red=red, black=black, state=state, value=0.0)
                light = not sheet.states[state].cranking and any(red in side and black in side for side in sides)
                found[key] = Candidate(reading=reading, minutes=minutes, disturbs=any(p.disturbs for p in points), light=light)

        inner = [*path.supply_points, *path.ground_points]
        for state in self.ensemble.states:
            for branch in network.branches:
                volts(branch.start, branch.end, state)
            for point in sheet.points:
                volts(point, sheet.minus, state)
                if point not in inner:
                    volts(sheet.plus, point, state)
            for side in (path.supply_points, path.ground_points):
                for i, a in enumerate(side):
                    for b in side[i + 2 :]:
                        volts(a, b, state)
            volts(path.supply_points[-1], path.ground_points[0], state)
            for ends in self._proven_at():
                volts(*ends, state)
        tests = [*found.values(), *self._load_tests(), *self._behind_a_fuse(), *self._stays_closed()]
        if self.ensemble.work is Scope.CHARGING:
            return [*tests, *self._charging()]
        for state in self.ensemble.states:
            described = sheet.states[state]
            if path.cranked:
                eyes = Reading(instrument=Instrument.EYES, state=state, word="nothing")
                tests.append(Candidate(reading=eyes, minutes=READ_MINUTES, disturbs=False))
            for owner, branch in zip(network.owners, network.branches, strict=True):
                name = branch_id(owner, branch)
                if described.cranking and (owner.type == "battery" or (owner.type == "cable" and name in path.supply)):
                    at = min(sheet.points[p].minutes for p in (branch.start, branch.end))
                    clamp = Reading(instrument=Instrument.CLAMP, branch=name, state=state, value=0.0, resolution=1.0)
                    tests.append(Candidate(reading=clamp, minutes=at + READ_MINUTES, disturbs=False))
        return tests

    def _proven_at(self) -> list[tuple[str, str]]:
        """Pairs of points between which volts prove the power, ground or command of a part: an input of a module has no branch of its own."""
        asked = dict.fromkeys((m.element, m.name) for m in self.ensemble.modes)
        whole = [way for named in asked for ways in proofs(self.ensemble.network, *named) for way in ways[:1]]
        ends = dict.fromkeys(tuple(sorted(t.points)) for way in whole for t in way if Instrument.VOLTMETER in t.instruments)
        return [(pair[0], pair[1]) for pair in ends if len(pair) == 2]

    def _load_tests(self) -> list[Candidate]:
        """A load tester on the posts of each battery, at rest: what else it can do is not asked of the machine."""
        sheet, still = self.ensemble.sheet, self.ensemble.states[0]
        tests = []
        for battery in sheet.batteries:
            reading = Reading(instrument=Instrument.LOAD, red=battery.end, black=battery.start, state=still, value=0.0)
            minutes = max(sheet.points[p].minutes for p in battery.points()) + LOAD_TEST_MINUTES
            tests.append(Candidate(reading=reading, minutes=minutes, disturbs=False))
        return tests

    def _behind_a_fuse(self) -> list[Candidate]:
        """What tells a short from a fuse that is only open: a large lamp across the fuse, and ohms of each part that may have
        shorted by itself, its ends off."""
        sheet, network, still = self.ensemble.sheet, self.ensemble.network, self.ensemble.states[0]
        tests = []
        for fuse in (e for e in sheet.elements if isinstance(e, Fuse)):
            for state in self.ensemble.states:
                lamp = Reading(instrument=Instrument.LAMP_LARGE, red=fuse.start, black=fuse.end, state=state, word="off")
                tests.append(Candidate(reading=lamp, minutes=sheet.points[fuse.end].minutes + LAMP_MINUTES, disturbs=False))
            for state in telling_states(network, self.ensemble.modes, fuse.id, self.ensemble.states) if fuse.type in FUSES else ():
                new = Reading(instrument=Instrument.NEW_FUSE, branch=fuse.id, state=state, word="holds")
                tests.append(Candidate(reading=new, minutes=sheet.points[fuse.end].minutes + NEW_FUSE_MINUTES, disturbs=False, last=True))
        for element in dict.fromkeys(m.element for m in self.ensemble.modes if m.blows):
            number = next(n for n, o in enumerate(network.owners) if o.id == element and network.branches[n].kind is not BranchKind.CONTACT)
            instrument = Instrument.BARE_OHM if (element, BARE) in network.row else Instrument.PART_OHM
            tests.append(self._by_itself(instrument, number, still))
        return tests

    def _stays_closed(self) -> list[Candidate]:
        """Ohms by itself, in a state that opens it, across each contact that may never open: a bridge around it reads alike in the circuit."""
        network, tests = self.ensemble.network, []
        for element in dict.fromkeys(m.element for m in self.ensemble.modes if m.name in WELDED_MODES):
            number = next(n for n, o in enumerate(network.owners) if o.id == element and network.branches[n].kind in CONTACTS)
            by_hand = network.branches[number].kind is BranchKind.SWITCH
            opened = (s for s in self.ensemble.states if not (by_hand and network.closed_in(s)[number]))
            tests += [self._by_itself(Instrument.PART_OHM, number, state) for state in islice(opened, 1)]
        return tests

    def _by_itself(self, instrument: Instrument, number: int, state: str) -> Candidate:
        """Ohms of the part a branch belongs to by itself, its ends off."""
        network, points = self.ensemble.network, self.ensemble.sheet.points
        branch = network.branches[number]
        reading = Reading(instrument=instrument, branch=branch_id(network.owners[number], branch), state=state, value=0.0)
        minutes = PART_MINUTES + sum(points[p].minutes for p in dict.fromkeys((branch.start, branch.end)))
        return Candidate(reading=reading, minutes=minutes, disturbs=True)

    def _charging(self) -> list[Candidate]:
        """Looking at the charge lamp, clamping the output and the battery, and the ripple, while the engine runs and before."""
        sheet, network = self.ensemble.sheet, self.ensemble.network
        tests = []
        for state in self.ensemble.states:
            for owner, branch in zip(network.owners, network.branches, strict=True):
                name = branch_id(owner, branch)
                if isinstance(owner, Lamp) and owner.watts < SMALL_LAMP_W:
                    lamp = Reading(instrument=Instrument.FUNCTION, branch=name, state=state, word="dead")
                    tests.append(Candidate(reading=lamp, minutes=0.1, disturbs=False))
                elif sheet.states[state].rpm and (owner.type == "battery" or branch.kind is BranchKind.SOURCE):
                    at = min(sheet.points[p].minutes for p in (branch.start, branch.end))
                    clamp = Reading(instrument=Instrument.CLAMP, branch=name, state=state, value=0.0, resolution=0.1)
                    tests.append(Candidate(reading=clamp, minutes=at + READ_MINUTES, disturbs=False))
        for generator in network.generators:
            ripple = Reading(
                instrument=Instrument.RIPPLE, branch=generator.element.id, state=self.ensemble.states[-1], value=0.0, resolution=0.01
            )
            tests.append(Candidate(reading=ripple, minutes=sheet.points[sheet.plus].minutes + READ_MINUTES, disturbs=False))
        return [*tests, *self._unplugged(), *self._fields_off()]

    def _fields_off(self) -> list[Candidate]:
        """With the field wire off: an alternator that goes on charging does so by itself, whatever its outside regulator does."""
        sheet, tests = self.ensemble.sheet, []
        for alternator in (e for e in sheet.elements if isinstance(e, Alternator) and e.f):
            assert alternator.f
            off = Reading(instrument=Instrument.FIELD_OFF, branch=alternator.id, state=self.ensemble.states[-1], word="charges")
            tests.append(Candidate(reading=off, minutes=sheet.points[alternator.f].minutes + PART_MINUTES, disturbs=True))
        return tests

    def _unplugged(self) -> list[Candidate]:
        """With the plug off: ohms and AC volts of every pair of a stator, and ohms of what lies between it and its rectifier."""
        sheet, still, fast = self.ensemble.sheet, self.ensemble.states[0], self.ensemble.states[-1]
        taken: list[tuple[Instrument, str, str, str]] = []
        for stator in (e for e in sheet.elements if isinstance(e, Stator)):
            pairs = list(combinations(stator.phases(), 2))
            taken += [(Instrument.OHMMETER, red, black, still) for red, black in [*pairs, (stator.p1, stator.case)]]
            taken += [(Instrument.AC_VOLTS, red, black, fast) for red, black in pairs]
        for way in (sheet.element(e) for e in ac_amps(sheet)):
            assert isinstance(way, TwoPole)
            taken.append((Instrument.OHMMETER, way.start, way.end, still))
        tests = []
        for instrument, red, black, state in taken:
            reading = Reading(instrument=instrument, red=red, black=black, state=state, value=0.0)
            tests.append(Candidate(reading=reading, minutes=PART_MINUTES + sheet.points[red].minutes, disturbs=True))
        return tests

    def _leads(self) -> dict[str, tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]]:
        """The voltmeter tests of each state: their numbers, and the rows of their red and black points."""
        row, found = self.ensemble.network.point_row, {}
        for state in self.ensemble.states:
            volts = [
                (k, row[c.reading.red or ""], row[c.reading.black or ""])
                for k, c in enumerate(self.candidates)
                if c.reading.state == state and c.reading.instrument is Instrument.VOLTMETER
            ]
            columns = np.array(volts, dtype=np.int64).reshape(len(volts), 3)
            found[state] = (columns[:, 0], columns[:, 1], columns[:, 2])
        return found

    def _clamps(self) -> dict[str, tuple[NDArray[np.int64], NDArray[np.int64]]]:
        """The clamp tests of each state: their numbers, and the rows of their branches."""
        found = {}
        for state in self.ensemble.states:
            numbers = [k for k, c in enumerate(self.candidates) if c.reading.state == state and c.reading.instrument is Instrument.CLAMP]
            rows = [self.ensemble.network.find_branch(self.candidates[k].reading.branch or "") for k in numbers]
            found[state] = (np.array(numbers, dtype=np.int64), np.array(rows, dtype=np.int64))
        return found

    def minutes(self, numbers: Sequence[int], before: Reading | None) -> Floats:
        """Minutes of some tests (numbers,) after another: getting at them, and changing the state; a crank is made anew each time."""
        own, state = self.own_minutes[numbers], self._state_minutes[numbers]
        if before is None or self.ensemble.sheet.states[before.state].cranking:
            return own + state
        return own + np.where(self._state_of[numbers] == before.state, 0.0, state)

    def number_of(self, reading: Reading) -> int | None:
        """Number of the test that a reading made; None where no test is offered there."""
        return self._number_of.get(place_of(reading))

    def numbers_beside(self, readings: Sequence[Reading]) -> list[int]:
        """Numbers of the tests that none of some readings has made."""
        made = {self._number_of.get(place_of(r)) for r in readings}
        return [k for k in range(len(self.candidates)) if k not in made]


def place_of(reading: Reading) -> tuple[str, ...]:
    done = (str(reading.parted), str(reading.jumpered), str(reading.aided)) if reading.conditioned else ()
    return (reading.instrument, *sorted((reading.red or "", reading.black or "")), reading.branch or "", reading.state, *done)


def same_place(a: Reading, b: Reading) -> bool:
    """Whether two readings are taken with the same instrument at the same place in the same state."""
    return place_of(a) == place_of(b)
