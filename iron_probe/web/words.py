"""Numbers and codes in the trade's words and units."""

from collections.abc import Callable, Sequence
from datetime import datetime
from functools import wraps
from textwrap import wrap
from typing import ParamSpec

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.drain.currents import TOTAL
from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.bench.drain.suspects import title_of
from iron_probe.core.bench.drop import DropVerdict
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.plausible import Doubt
from iron_probe.core.bench.retest import Retest
from iron_probe.core.bench.typed_value import Bound, said_loosely
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import (
    BY_ITSELF,
    FORCED,
    OF_PART,
    UNIT,
    WORDS,
    Aid,
    Instrument,
    Reading,
)
from iron_probe.core.job.fold import LoggedReading
from iron_probe.core.job.history import Change, Figure, Measure
from iron_probe.core.meters.measured import Measured
from iron_probe.core.solve.solution import Symptom
from iron_probe.web.language import N_, Worded, _, figures

P = ParamSpec("P")

SYMPTOM = Worded(
    {
        Symptom.NOTHING: N_("nothing at all"),
        Symptom.CLICK: N_("one click"),
        Symptom.CHATTER: N_("rapid clicking"),
        Symptom.NO_TURN: N_("clunks, does not turn"),
        Symptom.SLOW: N_("slow crank"),
        Symptom.CRANKS: N_("cranks well"),
    }
)

ELSEWHERE = Worded(
    {
        "no_charge": N_("does not charge"),
        "overcharge": N_("overcharge"),
        "drain": N_("goes flat standing"),
        "fuse": N_("a fuse blows"),
    }
)
"""What is wrong when it is not the cranking."""
COMPLAINT = Worded({**{s.value: text for s, text in SYMPTOM.items()}, **ELSEWHERE})
"""Everything a machine can be taken in for, in words."""

MEASURED = Worded(
    {Measured.DC_VOLTS: N_("volts DC"), Measured.AC_VOLTS: N_("volts AC"), Measured.OHMS: N_("ohms"), Measured.AMPS: N_("amps")}
)
"""What a meter is set to."""

INSTRUMENT = Worded(
    {
        Instrument.VOLTMETER: N_("Volts"),
        Instrument.CLAMP: N_("Amps clamp"),
        Instrument.EYES: N_("Look & listen"),
        Instrument.FUNCTION: N_("Function works?"),
        Instrument.LOOKS: N_("How a part looks"),
        Instrument.ANSWERS: N_("Module answers?"),
        Instrument.NEW_FUSE: N_("New fuse fitted"),
        Instrument.LAMP_SMALL: N_("Test lamp 0.25 A"),
        Instrument.LAMP_MEDIUM: N_("Test lamp 1 A"),
        Instrument.LAMP_LARGE: N_("Test lamp 4 A"),
        Instrument.LOAD: N_("Load 100 A"),
        Instrument.OHMMETER: N_("Ohms"),
        Instrument.JUMPER: N_("Jumper"),
        Instrument.STRAP: N_("Strap"),
        Instrument.TESTER: N_("Battery tester"),
        Instrument.CAPACITY: N_("Capacity"),
        Instrument.RIPPLE: N_("Ripple"),
        Instrument.SUBSTITUTE: N_("Substitute lamp"),
        Instrument.FULL_FIELD: N_("Field forced"),
        Instrument.FIELD_OFF: N_("Field wire off"),
        Instrument.AC_VOLTS: N_("AC volts"),
        Instrument.PART_OHM: N_("Ohms of a part, off"),
        Instrument.BARE_OHM: N_("Ohms to ground, ends off"),
    }
)

DOUBT = Worded(
    {
        Doubt.OVER_SUPPLY: N_("{shown} on a {system} machine: log it anyway?"),
        Doubt.LEADS_SWAPPED: N_("{shown} where {good} would be good: are the leads the other way round? Log it anyway?"),
        Doubt.OVER_STARTER: N_("{shown} is more than its battery can give: log it anyway?"),
        Doubt.OVER_SLEEP: N_("{shown} while it sleeps: a bare figure is in mA. Log it anyway?"),
        Doubt.UNDER_SLEEP: N_("{shown} is less than a clamp shows: a bare figure is in mA. Log it anyway?"),
    }
)
"""What is asked about a reading that is hard to believe."""

LIT = Worded({"works": N_("lit"), "weak": N_("dim"), "dead": N_("out")})
"""How a lamp looks, by how its function is."""

SCHOOL = Worded({School.COMMON: N_("common"), School.TIGHT: N_("tight"), School.MACHINE: N_("machine")})
"""Whose limits a job goes by, as its field names them."""
VERDICT = Worded(
    {
        DropVerdict.WITHIN: N_("within limit"),
        DropVerdict.OVER: N_("over its share"),
        DropVerdict.NO_LOAD: N_("no load, no proof"),
        DropVerdict.NO_CURRENT: N_("no current flows"),
        DropVerdict.UPHILL: N_("reads uphill"),
    }
)

JUDGED = Worded({Verdict.GOOD: N_("good"), Verdict.WEAK: N_("weak"), Verdict.BAD: N_("bad"), Verdict.OPEN: N_("not judged yet")})

OUTCOME = Worded(
    {
        Retest.WITHIN: N_("within limit"),
        Retest.STILL_OVER: N_("improved but still off"),
        Retest.UNCHANGED: N_("unchanged"),
        Retest.WORSE: N_("worse"),
        Retest.OPEN: N_("not retested"),
    }
)


def drain_place(where: str, tree: FeedTree) -> str:
    """A place of the sleeping circuit in words; one no longer on the sheet by its id."""
    known = where == TOTAL or where in tree.behind or any(c.branch == where for c in tree.consumers)
    return title_of(tree, where) if known else where


def _written(worded: Callable[P, str]) -> Callable[P, str]:
    """A wording whose figures stand as the language of the request writes them."""

    @wraps(worded)
    def written(*said: P.args, **named: P.kwargs) -> str:
        return figures(worded(*said, **named))

    return written


@_written
def volts(value: float | None) -> str:
    """Volts with two decimals, millivolts below 100 mV."""
    if value is None:
        return "–"
    if abs(value) < 0.0005:
        return "0 mV"
    if abs(value) < 0.0995:
        return f"{value * 1000:.0f} mV"
    return f"{value:.2f} V"


@_written
def amps(value: float | None) -> str:
    """Amperes with three figures, milliamperes below one."""
    if value is None:
        return "–"
    if abs(value) < 0.9995:
        return f"{value * 1000:.0f} mA".replace("-", "−")
    return (f"{value:.0f} A" if abs(value) >= 99.5 else f"{value:.1f} A").replace("-", "−")


@_written
def amps_finely(value: float) -> str:
    """Amperes with every digit that was typed of few: a figure under a milliampere is not shown as none."""
    return f"{1000 * value:.3g} mA" if 0 < abs(value) < 0.001 else amps(value)


@_written
def ohms(value: float | None) -> str:
    """Ohms in the unit that keeps the figure short."""
    if value is None:
        return "–"
    for limit, factor, unit in ((0.9995, 1e3, "mΩ"), (999.5, 1.0, "Ω"), (999.5e3, 1e-3, "kΩ")):
        if abs(value) < limit:
            return f"{value * factor:.3g} {unit}"
    return "open" if value > 5e6 else f"{value * 1e-6:.3g} MΩ"


@_written
def hours(value: float) -> str:
    """Hours up to two days, days beyond, minutes below one hour."""
    if value < 1:
        return f"{value * 60:.0f} min"
    return f"{value:.1f} h" if value < 48 else _("%.1f days") % (value / 24)


@_written
def figure(value: float, unit: str) -> str:
    """A number of the core with its unit: V, A, Ω, Ah, min, rpm or a share."""
    known = {"V": volts, "A": amps, "Ω": ohms, "share": percent}
    return known[unit](value) if unit in known else f"{value:.3g} {unit}"


def percent_whole(share: float) -> str:
    """A share as whole percent."""
    return f"{100 * share:.0f} %"


@_written
def watts(value: float | None) -> str:
    """Whole watts, one decimal below ten."""
    return "–" if value is None else f"{value:.0f} W" if abs(value) >= 9.95 else f"{value:.1f} W"


@_written
def quantity(value: float | None, instrument: Instrument) -> str:
    """A value in the unit of its instrument."""
    if instrument is Instrument.CLAMP:
        return amps(value)
    if instrument is Instrument.CAPACITY:
        return "–" if value is None else f"{value:.1f} Ah"
    return ohms(value) if UNIT.get(instrument) == "Ω" else volts(value)


def said(word: str) -> str:
    """The word a reading was answered with, as it is said."""
    return SYMPTOM[Symptom(word)] if word in set(Symptom) else _(word.replace("_", " "))


def shown(reading: Reading) -> str:
    """What a reading showed, as a number with unit or a word."""
    if reading.value is None:
        return said(reading.word or "")
    sign = {Bound.AT_LEAST: _("over "), Bound.AT_MOST: _("under ")}.get(reading.bound, "")
    return sign + quantity(reading.value, reading.instrument)


AID = Worded({Aid.CHARGER: N_("a charger"), Aid.BOOSTER: N_("a booster battery")})


def done_to(reading: Reading, sheet: Sheet) -> str:
    """What was not as drawn while a reading was taken; nothing where all was."""
    told = []
    if reading.aided:
        told.append(f"{AID[reading.aided]} on the posts")
    if reading.parted:
        told.append(f"{element_title(reading.parted, sheet).lower()} out or unplugged")
    if reading.jumpered:
        told.append("a jumper left from {} to {}".format(*(point_title(p, sheet) for p in reading.jumpered)))
    return ", ".join(told)


def set_to(on: str) -> str:
    """What a meter is set to, in words."""
    return MEASURED[Measured(on)] if on in {m.value for m in Measured} else on[:20]


def as_said(r: LoggedReading) -> str:
    """What was typed of a figure where its middle alone does not say it: a range, or about something; else nothing."""
    return f"“{r.typed}”" if r.reading.value is not None and said_loosely(r.typed) else ""


MOST_LISTED = 8
"""Reading numbers named one by one; of more the newest, and how many there are."""


def listed(which: Sequence[int], numbers: Sequence[int]) -> str:
    """Readings by their numbers in the log, counted from 1 in the evidence; what intake heard by its name."""
    named = [str(numbers[n - 1]) if numbers[n - 1] else "at intake" for n in which]
    if len(named) <= MOST_LISTED:
        return ", ".join(named)
    return f"{', '.join(named[-MOST_LISTED:])} and {len(named) - MOST_LISTED} before them"


def percent(share: float) -> str:
    """A share as whole percent, with the ends kept honest."""
    if share > 0.995:
        return ">99 %"
    return "<1 %" if 0 < share < 0.005 else f"{100 * share:.0f} %"


MEASURE = Worded(
    {
        Measure.REST_V: N_("posts at rest"),
        Measure.CRANKING_V: N_("posts, cranking"),
        Measure.CHARGING_V: N_("posts, charging"),
        Measure.SUPPLY_DROP_V: N_("supply side, cranking"),
        Measure.GROUND_DROP_V: N_("ground side, cranking"),
        Measure.DRAW_A: N_("draw asleep"),
    }
)
"""What is read on each job of a machine."""
CHANGE = Worded(
    {
        Change.WORSE: N_("worse than last time"),
        Change.BETTER: N_("better than last time"),
        Change.SAME: N_("as last time"),
        Change.OTHER_WEATHER: N_("other weather: not held against the last"),
        Change.NOT_JUDGED: "",
    }
)
"""How a figure stands to the one of the job before."""


def measured(figure: Figure) -> str:
    """A figure of a job in its unit."""
    return amps(figure.value) if figure.measure is Measure.DRAW_A else volts(figure.value)


def clock(moment: datetime) -> str:
    """Day and time, short."""
    return f"{moment:%d %b %H:%M}"


def minutes(took: float) -> str:
    """Minutes as they are said: “40 min”, “1 h 20 min”."""
    hours, rest = divmod(round(took), 60)
    return " ".join(filter(None, (f"{hours} h" if hours else "", f"{rest} min" if rest or not hours else "")))


def label_lines(title: str, part: str = "", width: int = 15) -> list[str]:
    """A title broken into short lines for the map, with the part of the element it names."""
    text = f"{title}, {part}" if part else title
    return wrap(text, width, break_long_words=False)[:3]


def as_shown(value: float | str | None, instrument: Instrument) -> str:
    """A predicted value in the instrument's unit, or the symptom's words."""
    if isinstance(value, str):
        return SYMPTOM[Symptom(value)]
    return quantity(value, instrument)


BY_CODE = {
    Instrument.FUNCTION: (N_("out"), N_("dim"), N_("lit")),
    Instrument.LOOKS: ("good", "green, loose or burnt", "burnt or chafed", "nothing odd"),
}
"""What a code stands for where it is not the word that is answered: a function is foretold as a lamp, a part's look by its kind of fault."""


def code_shown(value: float, instrument: Instrument) -> str:
    """A predicted number, or the word a code stands for."""
    if instrument in WORDS:
        return said(BY_CODE.get(instrument, WORDS[instrument])[int(value)])
    return quantity(abs(value) if instrument is Instrument.CLAMP else value, instrument)


def state_title(state: str, sheet: Sheet) -> str:
    """An operating state in the sheet's words; its id where the sheet has it no more."""
    return sheet.states[state].title.lower() if state in sheet.states else state


def attempt(reading: Reading, sheet: Sheet) -> str:
    """The state a reading was taken in, of cranks with the number of the crank."""
    title, state = state_title(reading.state, sheet), sheet.states.get(reading.state)
    return f"{title} {reading.crank}" if reading.crank and state and state.cranking else title


def element_title(element: str, sheet: Sheet) -> str:
    """An element in the sheet's words; its id where the sheet has it no more."""
    return next((e.title for e in sheet.elements if e.id == element), element)


def point_title(point: str, sheet: Sheet) -> str:
    """A point in the sheet's words; its name where the sheet has it no more."""
    return sheet.points[point].title if point in sheet.points else point


def place(reading: Reading, sheet: Sheet) -> str:
    """Where a reading was taken, in the sheet's words."""
    if reading.itself:
        return f"on the {element_title(reading.itself, sheet).lower()} itself"
    if reading.branch:
        element = element_title(reading.branch.partition(".")[0], sheet)
        if reading.instrument in (*OF_PART, *FORCED, *BY_ITSELF, Instrument.NEW_FUSE):
            return f"{element}, {INSTRUMENT[reading.instrument].lower()}"
        return f"clamp on {element.lower()}" if reading.instrument is Instrument.CLAMP else element
    if reading.red and reading.black:
        return f"{point_title(reading.red, sheet)} to {point_title(reading.black, sheet)}"
    return "tried it"


MARKS = {
    "": "nothing known",
    "exposed": "exposed to weather or heat",
    "aftermarket": "aftermarket, spliced in",
    "recently_replaced": "replaced recently",
    "weak_point": "known weak point",
    "absent": "not on this machine",
}


FIGURES = {
    "rating_a": "A", "mm2": "mm²", "awg": "AWG", "length_m": "m", "r_mohm": "mΩ", "watts": "W", "ohm": "Ω", "coil_ohm": "coil Ω",
    "load_a": "draws A", "stall_mohm": "stall mΩ", "capacity_ah": "Ah", "cca_a": "CCA", "rated_a": "A", "asleep_a": "asleep A", "draw_a": "awake A",
    "closed_in": "closed in", "on_in": "on in", "awake_in": "awake in",
}  # fmt: skip
"""Figures of a part as the feed list names them."""
