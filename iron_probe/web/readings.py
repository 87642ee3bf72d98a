"""A reading on the circuit, from whichever screen it was typed on: read, asked about, logged, and back to that screen."""

from collections.abc import Callable, Mapping

from fastapi import APIRouter, Request, Response
from pydantic import ValidationError
from sqlmodel import Session
from starlette.datastructures import FormData

from iron_probe.core.bench.charging import peak_to_peak_v
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.bench.plausible import doubt_of
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.evidence import AROUND, LARGEST_OF, UNIT, Instrument, Reading, check_reading, shows_figure, word_meant
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import AnyLine, ReadingLine
from iron_probe.core.job.numbering import numbered
from iron_probe.core.meters.measured import needed
from iron_probe.web import words
from iron_probe.web.bench import routes as bench
from iron_probe.web.charge import routes as charge
from iron_probe.web.control import routes as control
from iron_probe.web.entry import Entered, ask_first, by_meter, corrected, read_at
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field
from iron_probe.web.point_names import point_meant
from iron_probe.web.who import whoever
from iron_probe.work.logs import append

router = APIRouter()
Shown = Callable[[Request, Job, Session, Form, Entered], Response]
SCREENS: Mapping[str, Shown] = {"/control": control.refused, "/charge": charge.refused}
"""Screens with fields of their own beside the Bench, and how each is shown again with what could not be logged."""


@router.post("/jobs/{number}/readings")
def log_reading(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Log a reading and go back to the screen it came from, or say beside its field why it cannot be, what was typed still in it."""
    back = field(form, "back")
    shown = next((screen for path, screen in SCREENS.items() if back.startswith(path)), bench.refused)
    try:
        log = log_reading_of(db, job, form)
    except IronProbeError as error:
        return shown(request, job, db, form, Entered.refused(form, error))
    return back_to(job, back) if back else bench.again(request, job, log, form)


def log_reading_of(session: Session, job: Job, form: FormData) -> JobLog:
    """Log the reading a form holds, and give the log as it then stands; raises IronProbeError when it cannot be taken, DoubtedError when it is to be asked about."""
    same = bool(field(form, "same_crank"))

    def settle(line: AnyLine, log: JobLog) -> AnyLine:
        assert isinstance(line, ReadingLine)
        return numbered(line, log, job.sheet, same_crank=same)

    line = read_form(job, form)
    _ask(job, line.reading, form)
    return append(session, job, whoever(), line, entry_id=entry_id(form), settle=settle)


def _ask(job: Job, reading: Reading, form: FormData) -> None:
    """The question about a reading that a sound or broken machine hardly shows."""
    good = None
    if reading.instrument is Instrument.VOLTMETER and reading.red and reading.black and not reading.conditioned:
        good = good_machine(job.sheet, reading.state, job.conditions).expected(reading.red, reading.black)[0]
    shown = words.quantity(reading.value, reading.instrument)
    system = f"{job.sheet.system_v:g} V"
    ask_first(form, doubt_of(reading, job.sheet, good), shown, system=system, good=words.volts(good))


def read_form(job: Job, form: FormData) -> ReadingLine:
    """The reading a form holds, its crank not yet numbered; raises ReadingError with a clear word."""
    sheet = job.sheet
    try:
        instrument = Instrument(field(form, "instrument") or Instrument.VOLTMETER.value)
    except ValueError as error:
        raise ReadingError(f"“{field(form, 'instrument')[:40]}” is not an instrument known here.") from error
    state = field(form, "state")
    sheet.state(state)
    taken: dict[str, object] = {
        "instrument": instrument,
        "state": state,
        "disturbed": bool(field(form, "disturbed")),
        "told": bool(field(form, "told")),
        "unsteady": True if field(form, "unsteady") else None,
        "heard": _heard(job, form),
        "aided": field(form, "aided") or None,
        "parted": field(form, "parted") or None,
        "jumpered": _jumpered(form),
    }
    _set_right(form, instrument)
    value = _figure(form)
    if shows_figure(instrument, value):
        quantity = parse_quantity(value, UNIT.get(instrument, "V"), LARGEST_OF.get(instrument))
        taken |= {"value": quantity.value, "resolution": quantity.resolution, "bound": quantity.bound, "amps": _amps(form)}
    else:
        taken["word"] = word_meant(instrument, field(form, "word"))
    if instrument in AROUND:
        taken["branch"] = field(form, "branch")
    elif instrument is not Instrument.EYES:
        taken |= {"red": point_meant(sheet, field(form, "red")) or None, "black": point_meant(sheet, field(form, "black")) or None}
        if instrument is Instrument.VOLTMETER and field(form, "itself"):
            taken["branch"] = field(form, "itself")
    try:
        reading = Reading.model_validate(taken)
    except ValidationError as error:
        text = error.errors()[0]["msg"].removeprefix("Value error, ")
        raise ReadingError(f"{text[0].upper()}{text[1:]}. Nothing was logged; what you typed is still here.") from error
    check_reading(reading, network_of(sheet))
    return ReadingLine(
        reading=reading, typed=value or field(form, "word"), corrects=corrected(form), read_at=read_at(form), meter=by_meter(form)
    )


def _set_right(form: FormData, instrument: Instrument) -> None:
    """Refuse the figure of a meter that is set to something else than the reading needs."""
    on, wanted = field(form, "meter_on"), needed(instrument)
    if on and wanted is not None and on != wanted:
        raise ReadingError(f"The meter is on {words.set_to(on)}, and this wants {words.set_to(wanted)}: set it over, then log again")


def _figure(form: FormData) -> str:
    """What was typed as a figure; an AC meter shows a ripple as rms, the record keeps peak to peak."""
    if rms := field(form, "rms"):
        return f"{peak_to_peak_v(parse_quantity(rms, 'V').value):.3f}"
    return field(form, "value")


def _amps(form: FormData) -> float | None:
    text = field(form, "amps")
    return abs(parse_quantity(text, "A").value) if text else None


def _jumpered(form: FormData) -> tuple[str, str] | None:
    """The two points a jumper was left across; None for none, ReadingError where one is missing."""
    start, end = field(form, "jumper_from"), field(form, "jumper_to")
    if bool(start) != bool(end) or (start and start == end):
        raise ReadingError(
            "A jumper was left across two points: choose both, or neither. Nothing was logged; what you typed is still here."
        )
    return (start, end) if start else None


def _heard(job: Job, form: FormData) -> str | None:
    """What the machine did in the crank a reading was taken in; nothing where it is no crank, or its own word says it."""
    counts = job.sheet.state(field(form, "state")).cranking and field(form, "instrument") != Instrument.EYES
    return field(form, "heard") or None if counts else None
