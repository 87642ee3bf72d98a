"""A test on the control side: where the leads go, in which state, what counts as good in wide bands, and what it proves."""

from dataclasses import dataclass
from enum import StrEnum

from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import LAMPS, Instrument, Reading
from iron_probe.core.limits import (
    CONTACT_CLOSED_OHM,
    CONTACT_DROP_V,
    CONTACT_OPEN_OHM,
    OHMS_APART_SHARE,
    TERMINAL_DEAD_SHARE,
    TERMINAL_LIVE_SHARE,
)


class Wanted(StrEnum):
    """What a sound machine shows, as wide as a technician takes it: 0.05 and 0.16 V are both dead."""

    LIVE = "live"
    DEAD = "dead"
    LITTLE = "little"
    """A drop over a closed contact."""
    CLOSED = "closed"
    OPEN = "open"
    OHMS = "ohms"
    """About the ohms of the drawing."""
    WORD = "word"


@dataclass(frozen=True, slots=True, kw_only=True)
class ControlStep:
    """A test: the reading to take, what is `wanted` of it, the figure of a good machine (V or Ω, or the word heard), what it proves, what it means if not."""

    title: str
    reading: Reading
    wanted: Wanted
    expected: float | str
    proves: str
    otherwise: str

    def met(self, read: Reading, system_v: float) -> bool | None:
        """Whether a reading is as wanted; None where it lies between live and dead, or says nothing of it."""
        if self.wanted is Wanted.WORD:
            return read.word == self.expected
        if read.instrument in LAMPS:
            lit = read.word == "bright"
            return None if read.word == "dim" or self.wanted not in (Wanted.LIVE, Wanted.DEAD) else lit is (self.wanted is Wanted.LIVE)
        return None if read.value is None else _within(self.wanted, abs(read.value), system_v, self.expected)


def _within(wanted: Wanted, value: float, system_v: float, expected: float | str) -> bool | None:
    if wanted in (Wanted.LIVE, Wanted.DEAD):
        live, dead = value >= TERMINAL_LIVE_SHARE * system_v, value <= TERMINAL_DEAD_SHARE * system_v
        return None if not live and not dead else live is (wanted is Wanted.LIVE)
    if wanted is Wanted.LITTLE:
        return value <= most_drop_v(float(expected), system_v)
    if wanted is Wanted.CLOSED:
        return value <= CONTACT_CLOSED_OHM
    if wanted is Wanted.OPEN:
        return value >= CONTACT_OPEN_OHM
    return abs(value - float(expected)) <= OHMS_APART_SHARE * float(expected)


def most_drop_v(expected_v: float, system_v: float) -> float:
    """The most a sound closed contact loses [V]: its limit, or twice what the drawing's own loses."""
    return max(CONTACT_DROP_V * system_v / 12, 2 * abs(expected_v))


def level_wanted(expected_v: float, system_v: float) -> Wanted | None:
    """Live or dead, as a sound machine shows it there; None for a voltage between."""
    if abs(expected_v) >= TERMINAL_LIVE_SHARE * system_v:
        return Wanted.LIVE
    return Wanted.DEAD if abs(expected_v) <= TERMINAL_DEAD_SHARE * system_v else None


def volts_step(
    sheet: Sheet, at: Conditions, title: str, leads: tuple[str, str], state: str, proves: str, otherwise: str, drop: bool = False
) -> ControlStep:
    """A voltage across two points in a state: live, dead, or a `drop` that must be little."""
    expected = good_machine(sheet, state, at).expected(*leads)[0]
    wanted = Wanted.LITTLE if drop else level_wanted(expected, sheet.system_v) or Wanted.LIVE
    reading = Reading(red=leads[0], black=leads[1], state=state, value=0.0)
    return ControlStep(title=title, reading=reading, wanted=wanted, expected=expected, proves=proves, otherwise=otherwise)


def ohms_step(title: str, leads: tuple[str, str], state: str, wanted: Wanted, expected: float, proves: str, otherwise: str) -> ControlStep:
    """Ohms across a part, its plug off."""
    reading = Reading(instrument=Instrument.OHMMETER, red=leads[0], black=leads[1], state=state, value=0.0)
    return ControlStep(title=title, reading=reading, wanted=wanted, expected=expected, proves=proves, otherwise=otherwise)
