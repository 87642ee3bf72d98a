"""Numbers and codes in the trade's words and units."""

from collections.abc import Sequence
from datetime import datetime
from textwrap import wrap

from iron_probe.core.bench.drain.currents import TOTAL
from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.bench.drain.suspects import title_of
from iron_probe.core.bench.drop import DropVerdict
from iron_probe.core.bench.plausible import Doubt
from iron_probe.core.bench.typed_value import Bound, said_loosely
from iron_probe.core.circuit.faults import FED_ELSEWHERE
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
from iron_probe.core.solve.solution import Symptom

SYMPTOM = {
    Symptom.NOTHING: "nothing at all",
    Symptom.CLICK: "one click",
    Symptom.CHATTER: "rapid clicking",
    Symptom.NO_TURN: "clunks, does not turn",
    Symptom.SLOW: "slow crank",
    Symptom.CRANKS: "cranks well",
}

ELSEWHERE = {
    "no_charge": "does not charge",
    "overcharge": "overcharge",
    "drain": "goes flat standing",
    "fuse": "a fuse blows",
}
"""What is wrong when it is not the cranking."""
COMPLAINT = {**{s.value: text for s, text in SYMPTOM.items()}, **ELSEWHERE}
"""Everything a machine can be taken in for, in words."""

INSTRUMENT = {
    Instrument.VOLTMETER: "Volts",
    Instrument.CLAMP: "Amps clamp",
    Instrument.EYES: "Look & listen",
    Instrument.FUNCTION: "Function works?",
    Instrument.LOOKS: "How a part looks",
    Instrument.ANSWERS: "Module answers?",
    Instrument.NEW_FUSE: "New fuse fitted",
    Instrument.LAMP_SMALL: "Test lamp 0.25 A",
    Instrument.LAMP_MEDIUM: "Test lamp 1 A",
    Instrument.LAMP_LARGE: "Test lamp 4 A",
    Instrument.LOAD: "Load 100 A",
    Instrument.OHMMETER: "Ohms",
    Instrument.JUMPER: "Jumper",
    Instrument.STRAP: "Strap",
    Instrument.TESTER: "Battery tester",
    Instrument.CAPACITY: "Capacity",
    Instrument.RIPPLE: "Ripple",
    Instrument.SUBSTITUTE: "Substitute lamp",
    Instrument.FULL_FIELD: "Field forced",
    Instrument.FIELD_OFF: "Field wire off",
    Instrument.AC_VOLTS: "AC volts",
    Instrument.PART_OHM: "Ohms of a part, off",
    Instrument.BARE_OHM: "Ohms to ground, ends off",
}

DOUBT = {
    Doubt.OVER_SUPPLY: "{shown} on a {system} machine: log it anyway?",
    Doubt.LEADS_SWAPPED: "{shown} where {good} would be good: are the leads the other way round? Log it anyway?",
    Doubt.OVER_STARTER: "{shown} is more than its battery can give: log it anyway?",
    Doubt.OVER_SLEEP: "{shown} while it sleeps: a bare figure is in mA. Log it anyway?",
    Doubt.UNDER_SLEEP: "{shown} is less than a clamp shows: a bare figure is in mA. Log it anyway?",
}
"""What is asked about a reading that is hard to believe."""

LIT = {"works": "lit", "weak": "dim", "dead": "out"}
"""How a lamp looks, by how its function is."""

VERDICT = {
    DropVerdict.WITHIN: "within limit",
    DropVerdict.OVER: "over its share",
    DropVerdict.NO_LOAD: "no load, no proof",
    DropVerdict.NO_CURRENT: "no current flows",
    DropVerdict.UPHILL: "reads uphill",
}


def drain_place(where: str, tree: FeedTree) -> str:
    """A place of the sleeping circuit in words; one no longer on the sheet by its id."""
    known = where == TOTAL or where in tree.behind or any(c.branch == where for c in tree.consumers)
    return title_of(tree, where) if known else where


def volts(value: float | None) -> str:
    """Volts with two decimals, millivolts below 100 mV."""
    if value is None:
        return "–"
    if abs(value) < 0.0005:
        return "0 mV"
    if abs(value) < 0.0995:
        return f"{value * 1000:.0f} mV"
    return f"{value:.2f} V"


def amps(value: float | None) -> str:
    """Amperes with three figures, milliamperes below one."""
    if value is None:
        return "–"
    if abs(value) < 0.9995:
        return f"{value * 1000:.0f} mA".replace("-", "−")
    return (f"{value:.0f} A" if abs(value) >= 99.5 else f"{value:.1f} A").replace("-", "−")


def amps_finely(value: float) -> str:
    """Amperes with every digit that was typed of few: a figure under a milliampere is not shown as none."""
    return f"{1000 * value:.3g} mA" if 0 < abs(value) < 0.001 else amps(value)


def ohms(value: float | None) -> str:
    """Ohms in the unit that keeps the figure short."""
    if value is None:
        return "–"
    for limit, factor, unit in ((0.9995, 1e3, "mΩ"), (999.5, 1.0, "Ω"), (999.5e3, 1e-3, "kΩ")):
        if abs(value) < limit:
            return f"{value * factor:.3g} {unit}"
    return "open" if value > 5e6 else f"{value * 1e-6:.3g} MΩ"


def hours(value: float) -> str:
    """Hours up to two days, days beyond, minutes below one hour."""
    if value < 1:
        return f"{value * 60:.0f} min"
    return f"{value:.1f} h" if value < 48 else f"{value / 24:.1f} days"


def figure(value: float, unit: str) -> str:
    """A number of the core with its unit: V, A, Ω, Ah, min, rpm or a share."""
    known = {"V": volts, "A": amps, "Ω": ohms, "share": percent}
    return known[unit](value) if unit in known else f"{value:.3g} {unit}"


def percent_whole(share: float) -> str:
    """A share as whole percent."""
    return f"{100 * share:.0f} %"


def watts(value: float | None) -> str:
    """Whole watts, one decimal below ten."""
    return "–" if value is None else f"{value:.0f} W" if abs(value) >= 9.95 else f"{value:.1f} W"


def quantity(value: float | None, instrument: Instrument) -> str:
    """A value in the unit of its instrument."""
    if instrument is Instrument.CLAMP:
        return amps(value)
    if instrument is Instrument.CAPACITY:
        return "–" if value is None else f"{value:.1f} Ah"
    return ohms(value) if UNIT.get(instrument) == "Ω" else volts(value)


def said(word: str) -> str:
    """The word a reading was answered with, as it is said."""
    return SYMPTOM[Symptom(word)] if word in set(Symptom) else word.replace("_", " ")


def shown(reading: Reading) -> str:
    """What a reading showed, as a number with unit or a word."""
    if reading.value is None:
        return said(reading.word or "")
    sign = {Bound.AT_LEAST: "over ", Bound.AT_MOST: "under "}.get(reading.bound, "")
    return sign + quantity(reading.value, reading.instrument)


AID = {Aid.CHARGER: "a charger", Aid.BOOSTER: "a booster battery"}


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


MEASURE = {
    Measure.REST_V: "posts at rest",
    Measure.CRANKING_V: "posts, cranking",
    Measure.CHARGING_V: "posts, charging",
    Measure.SUPPLY_DROP_V: "supply side, cranking",
    Measure.GROUND_DROP_V: "ground side, cranking",
    Measure.DRAW_A: "draw asleep",
}
"""What is read on each job of a machine."""
CHANGE = {
    Change.WORSE: "worse than last time",
    Change.BETTER: "better than last time",
    Change.SAME: "as last time",
    Change.OTHER_WEATHER: "other weather: not held against the last",
    Change.NOT_JUDGED: "",
}
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


MODE = {FED_ELSEWHERE: "fed from elsewhere"}
"""Fault modes that their names do not say."""


def mode(name: str) -> str:
    """A fault mode in words."""
    return MODE.get(name, name.replace("_", " "))


PLAIN = {
    FED_ELSEWHERE: "is fed from where it should not be",
    "high_resistance": "had a bad connection and lost volts",
    "open": "was parted: nothing came through",
    "shorted": "was shorted to ground",
    "shorted_fuse_holds": "was shorted to ground, its fuse still whole",
    "shorted_second_fuse": "was shorted to ground",
    "shorted_to_supply": "was joined to a live wire",
    "leak_to_ground": "let current leak to ground",
    "stuck_open": "did not close",
    "stuck_closed": "did not open",
    "flat": "was flat",
    "empty": "was empty",
    "worn": "was worn out",
    "dead_cell": "had a dead cell",
    "frozen": "was frozen",
    "cut_off": "had cut itself off",
    "low_capacity": "held too little",
    "no_output": "gave nothing",
    "full_on": "charged without limit",
    "dead": "did nothing",
    "dragging": "dragged",
    "dead_spot": "had a dead spot",
    "wrong_rating": "was of the wrong rating",
    "contact_burnt": "had burnt contacts",
    "contact_resistive": "had burnt contacts",
    "contact_welded": "had welded contacts",
    "contact_open": "pulled in and passed nothing on",
    "coil_open": "had an open winding",
    "coil_shorted": "had a shorted winding",
    "belt_slips": "was driven by a slipping belt",
    "never_answers": "never answered",
    "stays_awake": "did not fall asleep",
}
"""What a fault was, to who pays for it; of the others their name says it."""


def plainly(name: str) -> str:
    """What a part with a fault did, for somebody who never held a meter."""
    return PLAIN.get(name) or f"had a fault ({mode(name)})"


def as_shown(value: float | str | None, instrument: Instrument) -> str:
    """A predicted value in the instrument's unit, or the symptom's words."""
    if isinstance(value, str):
        return SYMPTOM[Symptom(value)]
    return quantity(value, instrument)


BY_CODE = {
    Instrument.FUNCTION: ("out", "dim", "lit"),
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
