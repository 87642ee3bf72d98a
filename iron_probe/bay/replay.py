"""The replay of a practice case: what was known before each test, what the engine would have tested then, what was tested, and what that told."""

from collections.abc import Mapping, Sequence
from math import log2

from pydantic import BaseModel, ConfigDict

from iron_probe.bay.in_bay import InBay
from iron_probe.bay.marks import TELLS_NOTHING_BIT, minutes_of
from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.next_test import next_tests
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.test_book import TestBook

MOST_STEPS, MOST_TESTS = 40, 30
SHOWN = 3


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True)


class Share(_Part):
    """A suspect with its share."""

    element: str
    mode: str
    p: float


class Tested(_Part):
    """A test as it was made or would have been: the reading, and the minutes [min] it takes."""

    reading: Reading
    minutes: float


class ReplayStep(_Part):
    """One test: its number in the log, what was known before it, the engine's own choice, what was done, and how many bits it told; whether it
    was a look at the `source`, which comes first for every machine and is never idle."""

    number: int
    known: tuple[Share, ...]
    best: Tested | None
    did: Tested
    told_bits: float
    source: bool = False

    @property
    def idle(self) -> bool:
        """Whether it told nothing, and was no look at the source."""
        return self.told_bits < TELLS_NOTHING_BIT and not self.source


class Probed(_Part):
    """A probe of the sleeping machine as it was made or would have been: where, which way, what was typed (nothing of one that was not made), and the
    minutes [min] it takes."""

    where: str
    way: Way
    typed: str = ""
    minutes: float


class ProbeStep(_Part):
    """One probe: its number, the places with the greatest shares of the excess as known before it, the guide's own choice, what was done, how many bits it told:
    none of a total, which every other probe is held against."""

    number: int
    known: tuple[tuple[str, float], ...]
    best: Probed | None
    did: Probed
    told_bits: float

    @property
    def idle(self) -> bool:
        """Whether it told nothing, and was no total."""
        return self.told_bits < TELLS_NOTHING_BIT and self.did.where != TOTAL


class Replay(_Part):
    """All steps up to the first repair, or all probes of a drain, and how many minutes and tests the engine took on the same machine; None where it has no
    word on such a case."""

    steps: tuple[ReplayStep, ...] = ()
    probes: tuple[ProbeStep, ...] = ()
    par_minutes: float | None = None
    par_tests: int = 0

    @staticmethod
    def of(steps: tuple[ReplayStep, ...], par_minutes: float, par_tests: int) -> "Replay":
        """Steps, and what the engine took."""
        return Replay(steps=steps, par_minutes=par_minutes, par_tests=par_tests)

    @property
    def idle(self) -> int:
        """Tests that told nothing."""
        return sum(s.idle for s in self.steps) + sum(s.idle for s in self.probes)


def replayed(case: Case, book: TestBook, heard: Sequence[Reading], taken: Sequence[tuple[int, Reading]]) -> tuple[ReplayStep, ...]:
    """Go through the readings `taken` (with their numbers), after what was `heard` at intake."""
    readings, steps, sheet = list(heard), [], book.ensemble.sheet
    before = case.posterior(readings)
    for number, reading in taken[:MOST_STEPS]:
        offered = next_tests(case, book, before, readings, most=1)
        best = Tested(reading=offered[0].reading, minutes=offered[0].minutes) if offered else None
        last = [readings[-1]] if readings else []
        took = minutes_of(sheet, [*last, reading]) - minutes_of(sheet, last)
        readings.append(reading)
        after = case.posterior(readings)
        steps.append(
            ReplayStep(
                number=number, known=_shares(before), best=best, did=Tested(reading=reading, minutes=took), told_bits=round(told(before, after), 3),
                source={reading.red, reading.black} == {sheet.plus, sheet.minus},
            )
        )  # fmt: skip
        before = after
    return tuple(steps)


def par(case: Case, book: TestBook, heard: Sequence[Reading], bay: InBay) -> tuple[float, int]:
    """Minutes [min] and tests the engine takes on a machine, by its own choice of tests, until it has named what is wrong; where several faults are
    hidden what it names is mended, and it begins anew on what is left."""
    readings, minutes, tests = list(heard), 0.0, 0
    for _ in range(max(len(bay.faults), 1)):
        posterior = case.posterior(readings)
        while tests < MOST_TESTS and not (posterior.settled or posterior.sound):
            test = next(iter(next_tests(case, book, posterior, readings, most=1)), None)
            if test is None:
                break
            readings.append(bay.read(test.reading))
            minutes, tests = minutes + test.minutes, tests + 1
            posterior = case.posterior(readings)
        if posterior.suspects:
            bay.mend([posterior.found or posterior.suspects[0].element])
        if not bay.faults:
            break
        crank = bay.sheet.cranking_state()
        readings = [bay.read(Reading(instrument=Instrument.EYES, state=crank, word="nothing"))] if crank else []
    return round(minutes, 1), tests


def told(before: Posterior, after: Posterior) -> float:
    """Bits that a reading told: how far the shares of the suspects, and of nothing being wrong, moved by it."""
    return moved(*({s.element: s.p for s in p.suspects} | {"": p.no_fault} for p in (before, after)))


def moved(before: Mapping[str, float], after: Mapping[str, float]) -> float:
    """How far shares moved [bit]: the relative entropy of those after to those before; what had none is taken for one in ten thousand."""
    floor = 1e-4
    return max(sum(p * log2(p / max(before.get(of, 0.0), floor)) for of, p in after.items() if p > floor), 0.0)


def _shares(posterior: Posterior) -> tuple[Share, ...]:
    return tuple(Share(element=s.element, mode=s.mode, p=round(s.p, 3)) for s in posterior.suspects[:SHOWN])
