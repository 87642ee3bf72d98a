"""The battery card: rest, tester, cranking, load and capacity, each judged with its limit; how long it lasts; charging it up."""

from contextlib import suppress
from datetime import date, timedelta
from typing import Any
from urllib.parse import quote

from fastapi import APIRouter, Request, Response
from sqlmodel import Session

from iron_probe.core.bench.battery.card import TESTS
from iron_probe.core.bench.plausible import doubt_of_volts
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.fits import PAIR
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import TestLine, WaitLine
from iron_probe.store.tables import now
from iron_probe.web import words
from iron_probe.web.battery.page import BatteryPage, battery_page
from iron_probe.web.entry import LONGEST, Entered, ask_first, by_meter, corrected, correcting_test, read_at
from iron_probe.web.language import N_
from iron_probe.web.local_units import read_degrees
from iron_probe.web.machines.page import read_battery
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.logs import append, job_log
from iron_probe.work.machines import battery_of, fit_battery

router = APIRouter()
SCREEN = Screen(name="battery", path="/battery", title=N_("Battery"))
DAYS_A_YEAR = 365.25
FIELDS = (
    "volts", "temp", "hours_since", "bled", "charged", "charger", "first", "second", "how", "measured", "measured_as", "rated", "rated_as", "mohm",
    "posts", "clamps", "amps", "rest", "points", "load", "ah",
)  # fmt: skip


@router.get("/jobs/{number}/battery")
def card(
    request: Request, job: CurrentJob, db: Db, b: str = "", draw: str = "", hours: str = "", charger: str = "", corrects: str = ""
) -> Response:  # fmt: skip
    """The card of one battery, a test of it to be corrected; draw, hours and charger current in the address answer the two calculators."""
    asked = {"draw": draw[:40], "hours": hours[:40], "charger": charger[:40]}
    log = job_log(db, job)
    return _shown(request, db, battery_page(job, log, b, asked, correcting_test(log, "battery", corrects)))


def _shown(request: Request, db: Session, page: BatteryPage, status: int = 200, fitting: Entered | None = None) -> Response:
    """The card; `fitting` is what was said of the battery really fitted and could not be taken."""
    fitted = battery_of(db, page.job.pinned.machine_id)
    kept = {f"battery_{name}": f"{said:g}" if isinstance(said, float) else said for name, said in fitted.items()}
    context = {"page": page, "fitted": fitted, "age": _age(fitted), "fitting": fitting or Entered(said=kept)}
    return templates.TemplateResponse(request, "battery/battery.html", context, status_code=status)


def _age(fitted: dict[str, Any]) -> float | None:
    """Years since the battery was fitted; None where nobody knows, or what was kept is no day."""
    try:
        return (now().date() - date.fromisoformat(fitted.get("fitted_on", ""))).days / DAYS_A_YEAR
    except ValueError:
        return None


@router.post("/jobs/{number}/battery/fitted")
def fit(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Keep what battery is really fitted: everything that is judged and forecast of it goes by that."""
    battery, wrong = read_battery(form)
    if wrong:
        fitting = Entered.refused(form, ReadingError(" ".join(wrong.values())))
        return _shown(request, db, battery_page(job, job_log(db, job), field(form, "battery")), 422, fitting)
    fit_battery(db, job.pinned.machine_id, battery)
    return _card_of(job, field(form, "battery"))


def _card_of(job: Job, battery: str) -> Response:
    return back_to(job, f"/battery?b={quote(battery)}")


@router.post("/jobs/{number}/battery")
def log_test(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Keep a test as typed, with the readings it leaves; or say in its place why it cannot be taken."""
    log = job_log(db, job)
    name, kind = field(form, "battery"), field(form, "test")
    typed = {k: field(form, k)[:LONGEST] for k in FIELDS if field(form, k)}
    with suppress(ValueError):  # what is no temperature is refused where the test is judged
        typed |= {"temp": f"{read_degrees(typed['temp']):.1f}"} if "temp" in typed else {}
    page = battery_page(job, log, name)
    if kind not in TESTS:
        raise ReadingError(f"“{kind[:40]}” is not a battery test; there are {', '.join(TESTS)}")
    try:
        entry = page.card.judge(kind, typed)
        subject = PAIR if kind == "pair" else page.card.battery.id
        line = TestLine(
            screen="battery", subject=subject, test=kind, typed=typed, readings=list(entry.readings), read_at=read_at(form), corrects=corrected(form, log), meter=by_meter(form)
        )  # fmt: skip
        nominal_v = page.card.battery.volts
        for volts in (value for _, value, unit in entry.figures if unit == "V"):
            ask_first(form, doubt_of_volts(volts, nominal_v), words.volts(volts), system=f"{nominal_v:g} V")
        append(db, job, whoever(), line, entry_id=entry_id(form))
    except IronProbeError as error:
        return _shown(request, db, battery_page(job, log, name, entered=Entered.refused(form, error, kind)), 422)
    return _card_of(job, page.card.battery.id)


@router.post("/jobs/{number}/battery/wait")
def wait(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Put the charge plan on the clock: when to measure again."""
    asked = {"charger": field(form, "charger")[:40]}
    page = battery_page(job, job_log(db, job), field(form, "battery"), asked)
    if page.plan is None:
        return _shown(request, db, page, 422)
    text = f"{page.card.battery.title} on the charger at {page.plan.amps:.0f} A, then rest; measure it again"
    append(db, job, whoever(), WaitLine(text=text, until=now() + timedelta(hours=page.plan.measure_hours)), entry_id=entry_id(form))
    return _card_of(job, page.card.battery.id)
