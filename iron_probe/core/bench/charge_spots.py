"""Where a charging system is read: each place of the design with its leads or clamp, in every state, and what a sound machine shows there."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.charging import Place, maker_of, places_of, room_v
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Alternator, Conditions, Fuse, Lamp, Rectifier
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.wiring import joined_to, wiring_of
from iron_probe.core.diagnose.evidence import FORCED, Instrument, Reading
from iron_probe.core.diagnose.test_book import SMALL_LAMP_W
from iron_probe.core.limits import DIODE_RIPPLE_V
from iron_probe.core.phrase import Phrase

FORCES = {Instrument.SUBSTITUTE: "l", Instrument.FULL_FIELD: "f", Instrument.FIELD_OFF: "f"}
"""The terminal of an alternator that a forced test is made at."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SpotIn:
    """A place in a state: the reading to take there, and what sound machines show (nominal and band in SI; None where it is no figure)."""

    reading: Reading
    good: float | None = None
    low: float = 0.0
    high: float = 0.0

    @property
    def state(self) -> str:
        return self.reading.state

    def off(self, read: Reading) -> bool:
        """Whether a figure lies outside the band of sound machines, with room for meter and contact."""
        if read.value is None or self.good is None:
            return False
        room, value = room_v(self.good), abs(read.value) if self.reading.instrument is Instrument.CLAMP else read.value
        return not self.low - room <= value <= self.high + room


@dataclass(frozen=True, slots=True, kw_only=True)
class Spot:
    """A place of the charging system: what it is, what it says, and the states it is read in."""

    key: str
    title: str
    says: str
    states: tuple[SpotIn, ...]

    def in_state(self, state: str) -> SpotIn:
        """The place in a state; in its last where it is not read in that one."""
        return next((s for s in self.states if s.state == state), self.states[-1])


def charge_spots(sheet: Sheet, at: Conditions, states: Sequence[str]) -> tuple[Spot, ...]:
    """The places of a machine's charging, those on the way of the current first; ReadingError when it has no charging."""
    maker = maker_of(sheet)
    running = [s for s in states if sheet.states[s].rpm] or list(states)
    volts = tuple(_volts(p) for p in places_of(sheet, at, states))
    return (
        *volts,
        *_lamp(sheet, states),
        _amps(sheet, at, maker, running),
        _ripple(sheet, maker, running[-1]),
        *_forced(maker, running[-1]),
    )


def _volts(place: Place) -> Spot:
    states = tuple(
        SpotIn(reading=Reading(red=place.red, black=place.black, state=s, value=0.0), good=good, low=low, high=high)
        for s, good, low, high in place.good
    )
    return Spot(key=place.key, title=place.title, says=place.says, states=states)


def warning_lamp(sheet: Sheet) -> Lamp | None:
    """The charge lamp of a sheet, if it has one."""
    return next((e for e in sheet.elements if isinstance(e, Lamp) and e.watts < SMALL_LAMP_W), None)


def _lamp(sheet: Sheet, states: Sequence[str]) -> tuple[Spot, ...]:
    lamp = warning_lamp(sheet)
    if lamp is None:
        return ()
    looks = tuple(SpotIn(reading=Reading(instrument=Instrument.FUNCTION, branch=lamp.id, state=s, word="works")) for s in states)
    return (Spot(key="lamp", title=lamp.title, says=Phrase("lit with the key on, out while it charges"), states=looks),)


def _amps(sheet: Sheet, at: Conditions, maker: Alternator | Rectifier, running: Sequence[str]) -> Spot:
    branch = f"{maker.id}.output"

    def read(state: str) -> SpotIn:
        good, low, high = (abs(a) for a in good_machine(sheet, state, at).expected_amps(branch))
        reading = Reading(instrument=Instrument.CLAMP, branch=branch, state=state, value=0.0)
        return SpotIn(reading=reading, good=good, low=min(low, high), high=max(low, high))

    return Spot(
        key="amps",
        title=Phrase("Amps from the output"),
        says=Phrase("clamp on the charge cable: what it gives at this speed"),
        states=tuple(read(s) for s in running),
    )


def _ripple(sheet: Sheet, maker: Alternator | Rectifier, state: str) -> Spot:
    most = DIODE_RIPPLE_V * sheet.system_v / 12
    reading = Reading(instrument=Instrument.RIPPLE, branch=maker.id, state=state, value=0.0)
    says = Phrase("peak to peak across the battery on a scope: the diodes. An AC meter's rms is multiplied by 2√3")
    return Spot(key="ripple", title="Ripple", says=says, states=(SpotIn(reading=reading, good=0.0, low=0.0, high=most),))


def _forced(maker: Alternator | Rectifier, state: str) -> tuple[Spot, ...]:
    """Going around what may be dead, and seeing whether it charges."""
    said = {
        Instrument.SUBSTITUTE: (Phrase("Lamp from plus to the lamp terminal"), Phrase("a quarter ampere, at fast idle. It charges: the fault is in the lamp circuit, not in the alternator")),
        Instrument.FULL_FIELD: (Phrase("Field forced"), Phrase("past its regulator for a moment. The volts rise: the alternator is good; look at regulator, its feed and its ground")),
        Instrument.FIELD_OFF: (Phrase("Field wire off"), Phrase("at the alternator, at fast idle. It goes on charging: the alternator itself. It stops: the regulator, or the wire between")),
    }  # fmt: skip
    offered = [i for i in FORCED if isinstance(maker, Alternator) and getattr(maker, FORCES[i])]
    return tuple(
        Spot(
            key=i.value,
            title=said[i][0],
            says=said[i][1],
            states=(SpotIn(reading=Reading(instrument=i, branch=maker.id, state=state, word="charges")),),
        )
        for i in offered
    )


def fuses_out(sheet: Sheet) -> tuple[Fuse, ...]:
    """The fuses and links between the output stud and battery plus."""
    maker, metal = maker_of(sheet), wiring_of(sheet)
    near, far = (set(joined_to(metal, p)) for p in (maker.b, sheet.plus))
    fuses = (e for e in sheet.elements if isinstance(e, Fuse))
    return tuple(f for f in fuses if {f.start, f.end} & near and {f.start, f.end} & (far | near) and not {f.start, f.end} <= near)
