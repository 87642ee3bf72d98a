"""A reading as it really comes: instrument, place, state, value or word, and what lowers its weight."""

from enum import StrEnum
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from iron_probe.core.bench.typed_value import LARGEST_AC_V, Bound
from iron_probe.core.circuit.faults import BARE
from iron_probe.core.circuit.network import Network
from iron_probe.core.errors import ReadingError, SolveError
from iron_probe.core.solve.solution import Symptom


class Instrument(StrEnum):
    """What the reading was taken with."""

    VOLTMETER = "voltmeter"
    CLAMP = "clamp"
    LAMP_SMALL = "lamp_0.25a"
    LAMP_MEDIUM = "lamp_1a"
    LAMP_LARGE = "lamp_4a"
    LOAD = "load_100a"
    OHMMETER = "ohmmeter"
    JUMPER = "jumper"
    STRAP = "strap"
    EYES = "eyes"
    FUNCTION = "function"
    TESTER = "battery_tester"
    CAPACITY = "capacity"
    RIPPLE = "ripple"
    SUBSTITUTE = "substitute_lamp"
    FULL_FIELD = "full_field"
    FIELD_OFF = "field_off"
    AC_VOLTS = "ac_volts"
    PART_OHM = "part_ohm"
    BARE_OHM = "bare_ohm"
    LOOKS = "looks"
    ANSWERS = "answers"
    NEW_FUSE = "new_fuse"


class Aid(StrEnum):
    """What fed the machine beside its own battery while a reading was taken, on the battery's posts."""

    CHARGER = "charger"
    BOOSTER = "booster"


LAMPS = (Instrument.LAMP_SMALL, Instrument.LAMP_MEDIUM, Instrument.LAMP_LARGE)
BRIDGES = (Instrument.JUMPER, Instrument.STRAP)
UNIT: dict[Instrument, str] = {
    Instrument.VOLTMETER: "V",
    Instrument.LOAD: "V",
    Instrument.CLAMP: "A",
    Instrument.OHMMETER: "Ω",
    Instrument.TESTER: "Ω",
    Instrument.CAPACITY: "Ah",
    Instrument.RIPPLE: "V",
    Instrument.AC_VOLTS: "V",
    Instrument.PART_OHM: "Ω",
    Instrument.BARE_OHM: "Ω",
}
"""Unit of the instruments that show a number; the others answer with a word."""
LAMP_WORDS = ("off", "dim", "bright")
FUNCTION_WORDS = ("dead", "weak", "works")
FUSE_WORDS = ("blows", "holds")
ANSWER_WORDS = ("silent", "answers")
LOOK_WORDS = ("good", "green", "loose", "burnt", "warm", "chafed")
WORDS: dict[Instrument, tuple[str, ...]] = {
    **dict.fromkeys((Instrument.EYES, *BRIDGES), tuple(s.value for s in Symptom)),
    **dict.fromkeys(LAMPS, LAMP_WORDS),
    Instrument.FUNCTION: FUNCTION_WORDS,
    Instrument.LOOKS: LOOK_WORDS,
    Instrument.ANSWERS: ANSWER_WORDS,
    Instrument.NEW_FUSE: FUSE_WORDS,
    Instrument.SUBSTITUTE: ("no_change", "charges"),
    Instrument.FULL_FIELD: ("no_change", "charges"),
    Instrument.FIELD_OFF: ("stops", "charges"),
}
"""What an instrument that shows no figure is answered with; of a forced test that it does not charge so, or that it does."""
MEANT: dict[Instrument, dict[str, str]] = {
    Instrument.FUNCTION: {"pass": "works", "ok": "works", "good": "works", "fail": "dead", "nothing": "dead", "dim": "weak"},
    **{lamp: {"nothing": "off", "out": "off", "dark": "off", "glows": "dim", "on": "bright", "lit": "bright"} for lamp in LAMPS},
    Instrument.ANSWERS: {
        "nothing": "silent",
        "no answer": "silent",
        "dead": "silent",
        "fail": "silent",
        "ok": "answers",
        "pass": "answers",
    },
    Instrument.LOOKS: {"ok": "good", "fine": "good", "corroded": "green", "rubbed": "chafed", "hot": "warm", "melted": "burnt"},
}
"""Other words for what an instrument answers with, as they are said."""
FORCED = (Instrument.SUBSTITUTE, Instrument.FULL_FIELD, Instrument.FIELD_OFF)
"""A test lamp from battery plus to the lamp terminal, the field forced past its regulator, the field wire off; the branch names the alternator, and a
figure in place of the word is what the posts then show [V]."""
ALTERING = (*BRIDGES, *FORCED)
"""Instruments that make another circuit of the machine."""
IN_CIRCUIT = (Instrument.VOLTMETER, Instrument.CLAMP, Instrument.LOAD, Instrument.EYES, Instrument.FUNCTION, *LAMPS)
"""Instruments that read the circuit as it stands, so that what was done to it before shows in them."""
BY_ITSELF = (Instrument.PART_OHM, Instrument.BARE_OHM)
"""Ohms of a part by itself, its ends off: across it, and from a wire's or plug's metal to battery minus; the branch names it."""
AROUND = (
    *BY_ITSELF,
    Instrument.CLAMP,
    Instrument.FUNCTION,
    Instrument.LOOKS,
    Instrument.TESTER,
    Instrument.CAPACITY,
    Instrument.RIPPLE,
    *FORCED,
    Instrument.ANSWERS,
    Instrument.NEW_FUSE,
)
"""Instruments that name a branch: what the clamp is around, which function is tried or part looked at, which battery was tested."""
LARGEST_OF = {Instrument.AC_VOLTS: LARGEST_AC_V}
"""The most an instrument may have shown [SI], where it is not what its unit says."""
NO_OHMS = ("battery", "charger", "alternator", "rectifier", "stator", "module", "field_regulator")
"""Parts that no ohms across tell anything about."""
FUSES = ("fuse", "link")
"""Parts that blow and are renewed."""
OF_BATTERY = {Instrument.TESTER: "r_ohm", Instrument.CAPACITY: "capacity_ah"}
"""Battery tests, with the parameter of the battery that they show: internal resistance [Ω], capacity at 20 h [Ah]."""
OF_PART = {**OF_BATTERY, Instrument.RIPPLE: "ripple_v"}
"""Readings that show a parameter of one part; ripple is that of an alternator or rectifier, peak to peak across the battery [V]."""


class Reading(BaseModel):
    """One reading. Two points for leads, a branch for the clamp (volts with a branch: both probes on that part itself); `value` in V, A, Ω or
    Ah, or `word` for lamps, bridges and eyes.

    `resolution` is one step of the last digit; `bound` tells over range and under the last digit from an exact figure;
    `amps` the current clamped in the same moment; `crank` counts attempts at a state, so that readings of one crank or of one key-on are
    known, and `heard` is what the machine did in it;
    `disturbed` is set when something was touched before that may have moved the fault; `told` when nobody here read it;
    `unsteady` says whether the figure jumped about (None: nobody said), and `value` is then its middle. What was not as the sheet has it: `parted`
    an element taken out or its plug off, `jumpered` two points that a jumper was left across, `aided` what else fed the posts.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    instrument: Instrument = Instrument.VOLTMETER
    red: str | None = None
    black: str | None = None
    branch: str | None = None
    state: str
    value: float | None = None
    resolution: Annotated[float, Field(ge=0)] = 0.01
    bound: Bound = Bound.EXACT
    word: str | None = None
    amps: float | None = None
    crank: Annotated[int, Field(ge=1)] | None = None
    heard: Symptom | None = None
    disturbed: bool = False
    told: bool = False
    unsteady: bool | None = None
    parted: str | None = None
    jumpered: tuple[str, str] | None = None
    aided: Aid | None = None

    @property
    def conditioned(self) -> bool:
        """Whether the machine was not as the sheet has it while this was read."""
        return bool(self.parted or self.jumpered or self.aided)

    @property
    def alters(self) -> bool:
        """Whether it says something of another circuit than the sheet's: by its instrument, or by what was done to the machine before."""
        return self.conditioned or self.instrument in ALTERING

    @property
    def itself(self) -> str | None:
        """The part that both probes of a voltmeter are on, its own two ends; None for any other reading."""
        return self.branch if self.instrument is Instrument.VOLTMETER else None

    @property
    def on_part(self) -> str | None:
        """The part that is read alone: both probes on it, or its ohms with its ends off; None for any other reading."""
        return self.branch if self.instrument in BY_ITSELF else self.itself

    @property
    def did(self) -> Symptom | None:
        """What the machine did while it was taken, as far as anybody said."""
        return Symptom(self.word) if self.instrument is Instrument.EYES and self.word else self.heard

    @model_validator(mode="after")
    def _complete(self) -> "Reading":
        kind = self.instrument
        if kind in AROUND and not self.branch:
            raise ValueError(f"a {kind.value} reading needs the branch it was taken on")
        if kind not in (*AROUND, Instrument.EYES) and not (self.red and self.black):
            raise ValueError("this instrument needs both leads: give red and black")
        if self.heard and kind is Instrument.EYES:
            raise ValueError("what was heard is this reading's own word: leave heard out")
        if self.red and self.red == self.black:
            raise ValueError("red and black are on the same point")
        if kind in UNIT and self.value is None:
            raise ValueError(f"a {kind.value} reading needs a value in {UNIT[kind]}")
        if self.conditioned and kind not in IN_CIRCUIT:
            raise ValueError(
                f"a {kind.value} reading says nothing of what else was done to the machine: leave parted, jumpered and aided out"
            )
        if kind in WORDS and self.word not in WORDS[kind] and not (kind in FORCED and self.value is not None):
            raise ValueError(f"a {kind.value} reading needs a word: one of {', '.join(WORDS[kind])}")
        return self


def shows_figure(instrument: Instrument, said: str) -> bool:
    """Whether what was said of an instrument is a figure: always, never, or of a forced test where it begins with a digit."""
    return instrument in UNIT or (instrument in FORCED and said.strip()[:1].isdigit())


def word_meant(instrument: Instrument, said: str) -> str:
    """The word an instrument answers with that somebody means by another; what is not known stays as it was said."""
    plain = " ".join(said.split()).casefold()
    return MEANT.get(instrument, {}).get(plain, plain)


def check_reading(reading: Reading, network: Network) -> None:
    """Refuse a reading whose state, points, branch or parts are not on the sheet; raises ReadingError saying what is known."""
    try:
        network.sheet.state(reading.state)
        if reading.parted is not None:
            network.sheet.element(reading.parted)
        for point in (reading.red, reading.black, *(reading.jumpered or ())):
            if point is not None:
                network.sheet.point(point)
        if reading.branch is not None:
            whole = reading.instrument in (*OF_PART, *FORCED, Instrument.LOOKS, Instrument.ANSWERS, Instrument.NEW_FUSE)
            owner = network.sheet.element(reading.branch) if whole else network.owners[network.find_branch(reading.branch)]
            if reading.instrument is Instrument.BARE_OHM and (owner.id, BARE) not in network.row:
                raise ReadingError(f"ohms to ground with its ends off are taken on a wire or a plug; {reading.branch} is a {owner.type}")
            if reading.instrument is Instrument.ANSWERS and owner.type != "module":
                raise ReadingError(f"only a module answers a scan tool; {reading.branch} is a {owner.type}")
            if reading.instrument is Instrument.NEW_FUSE and owner.type not in FUSES:
                raise ReadingError(f"a new fuse is fitted in place of a fuse; {reading.branch} is a {owner.type}")
            if reading.itself and {reading.red, reading.black} != set(owner.points()):
                ends = " and ".join(owner.points())
                raise ReadingError(f"volts on {reading.itself} itself are read between its own two ends: {ends}")
            if reading.instrument is Instrument.PART_OHM and owner.type in NO_OHMS:
                raise ReadingError(f"no ohms are taken across a {owner.type}: {reading.branch} has tests of its own")
            if reading.instrument in OF_PART and (owner.id, OF_PART[reading.instrument]) not in network.row:
                raise ReadingError(f"a {reading.instrument.value} reading is not taken on a {owner.type}: {reading.branch} shows none")
    except SolveError as error:
        raise ReadingError(str(error)) from error
