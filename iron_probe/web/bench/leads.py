"""The leads of the Bench where they stand: what a good machine and the leading suspects show there, and the way the current takes between them."""

from dataclasses import dataclass

from iron_probe.core.bench.drop_board import good_machine, with_band
from iron_probe.core.circuit.elements import Conductor, Joint
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import BRIDGES, LAMPS, OF_BATTERY, UNIT, Instrument, Reading
from iron_probe.core.diagnose.likelihood import predict
from iron_probe.core.diagnose.prediction import Prediction
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.test_book import same_place
from iron_probe.core.draw.way_between import way_between
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Job
from iron_probe.web.bench.typed import Typed
from iron_probe.web.point_names import point_meant
from iron_probe.work.verdicts import ready_or_why, would_read
from iron_probe.work.word import Verdicts

OFFERED = tuple(i for i in Instrument if i not in OF_BATTERY)
"""Instruments in the field; the battery card takes the others."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Leads:
    """Where the leads are, and what a good machine shows there: nominal and band in the instrument's SI unit, None where it cannot be said."""

    instrument: Instrument
    red: str
    black: str
    branch: str
    state: str
    good: float | None
    low: float
    high: float
    floating: bool
    unknown: str
    """Why a lead is nowhere: the point it was given is not of this machine."""
    cautions: tuple[str, ...]
    unit: str
    by_suspect: tuple[tuple[str, float], ...] = ()
    word: str = ""
    way: tuple[str, ...] = ()
    """Branches the current takes from one lead to the other."""
    between: str = ""
    """The conductor between the two leads, whose own ends may be probed; empty where there is none."""
    itself: bool = False
    """Whether both probes are on that part itself."""


def probe_part(job: Job, typed: Typed, found: Verdicts | None, scope: Scope) -> Leads:
    """The leads as asked for, with what is unknown left out, and what a good machine and the leading suspects of that work would show."""
    sheet = job.sheet
    state = typed.state if typed.state in sheet.states else next(iter(sheet.states))
    instrument = Instrument(typed.instrument) if typed.instrument in {i.value for i in OFFERED} else Instrument.VOLTMETER
    (red, unknown_red), (black, unknown_black) = _lead(sheet, typed.red), _lead(sheet, typed.black)
    good = good_machine(sheet, state, job.conditions)
    whole = {e.id for e in sheet.elements}
    branch = typed.branch if typed.branch in good.network.branch_row or typed.branch in whole else next((b.id for b in sheet.batteries), "")
    band: tuple[float | None, float, float] = (None, 0.0, 0.0)
    floating = False
    placed = bool(red and black and red != black)
    if instrument is Instrument.CLAMP and branch in good.network.branch_row:
        nominal, low, high = good.expected_amps(branch)
        band = (abs(nominal), min(abs(low), abs(high)), max(abs(low), abs(high)))
    elif instrument is Instrument.LOAD and placed:
        asked = Reading(instrument=instrument, red=red, black=black, state=state, value=0.0)
        band = with_band(predict(asked, good.network, Prediction.of(good.solution)))
    elif instrument is Instrument.VOLTMETER and placed:
        band = good.expected(red, black)
        floating = bool(good.solution.floating(red)[0] or good.solution.floating(black)[0])
    between = conductor_between(sheet, red, black, typed.itself) if instrument is Instrument.VOLTMETER else ""
    cautions = [
        *sheet.states[state].cautions,
        *(["bridge"] if instrument in BRIDGES else []),
        *(["field"] if instrument is Instrument.FULL_FIELD else []),
        *(["fuse"] if instrument is Instrument.NEW_FUSE else []),
        *(["load_test"] if instrument is Instrument.LOAD else []),
        *(["test_lamp"] if instrument in LAMPS else []),
    ]
    return Leads(
        instrument=instrument, red=red, black=black, branch=branch, state=state, good=band[0], low=band[1], high=band[2],
        floating=floating, unknown=unknown_red or unknown_black, cautions=tuple(cautions), way=way_between(good.solution, red, black) if placed else (), unit=UNIT.get(instrument, ""), between=between, itself=bool(between) and typed.itself == between,
        by_suspect=_by_suspect(job, instrument, red, black, branch, state, found, scope),
    )  # fmt: skip


def _lead(sheet: Sheet, text: str) -> tuple[str, str]:
    """The point a lead's field names, empty where it names none of this machine, and then why."""
    try:
        return point_meant(sheet, text), ""
    except ReadingError as error:
        return "", str(error)


def conductor_between(sheet: Sheet, red: str, black: str, meant: str = "") -> str:
    """The joint, plug, wire or cable with just these two ends; of several the one that is `meant`, empty where there is none."""
    found = [e.id for e in sheet.elements if isinstance(e, Joint | Conductor) and set(e.points()) == {red, black}]
    return meant if meant in found else next(iter(found), "")


def _by_suspect(
    job: Job, instrument: Instrument, red: str, black: str, branch: str, state: str, found: Verdicts | None, scope: Scope
) -> tuple[tuple[str, float], ...]:
    """What the leading suspects would show at the leads as they stand."""
    engine = ready_or_why(job, scope)[0]
    if engine is None or found is None or instrument not in (Instrument.VOLTMETER, Instrument.CLAMP, Instrument.EYES, Instrument.LOAD):
        return ()
    if instrument is Instrument.CLAMP:
        reading = Reading(instrument=instrument, branch=branch, state=state, value=0.0)
    elif instrument is Instrument.EYES:
        reading = Reading(instrument=instrument, state=state, word="nothing")
    elif red and black and red != black:
        reading = Reading(instrument=instrument, red=red, black=black, state=state, value=0.0)
    else:
        return ()
    told = next((t.by_suspect for t in found.tests if same_place(t.reading, reading)), None)
    if told is not None:  # worked out with the test already
        return told
    return tuple(would_read(engine, found.posterior, reading, [s.element for s in found.posterior.suspects[:3]]))
