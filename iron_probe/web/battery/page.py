"""What the battery card shows, gathered: the battery as drawn, each test on its scale, how long it lasts, how to charge it."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from iron_probe.core.bench.battery.card import BatteryCard, JudgedTest
from iron_probe.core.bench.battery.charging_up import ChargePlan, plan_charge
from iron_probe.core.bench.battery.endurance import Endurance, draw_that_explains, endurance, explains
from iron_probe.core.bench.drop_board import cranks
from iron_probe.core.bench.typed_value import parse_hours, parse_quantity
from iron_probe.core.circuit.elements import Battery
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.gauge import Gauge, battery_gauge
from iron_probe.core.errors import IronProbeError, SolveError
from iron_probe.core.job.fits import PAIR
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import TestLine
from iron_probe.web.entry import NOTHING, Entered

ORDER = ("rest", "conductance", "crank", "load", "capacity", "accepted")
DRAW_A = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Scale:
    """One kind of test: its scale, the newest entry of it, the earlier ones, and what stands in its form."""

    kind: str
    gauge: Gauge
    newest: JudgedTest | None
    number: int | None
    entry_id: UUID | None
    at: datetime | None
    earlier: tuple[JudgedTest, ...]
    entered: Entered


@dataclass(frozen=True, slots=True, kw_only=True)
class Lasting:
    """How long it lasts: the typed draw and time, that time [h] where it was understood, the answer, and the draws [A] that would explain it on this
    and a good battery."""

    draw: str
    hours: str
    after_h: float | None
    answer: Endurance | None
    this_a: float | None
    good_a: float | None
    draw_a: float
    explains_this: bool
    explains_good: bool
    wrong: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BatteryPage:
    """The whole context of the card."""

    job: Job
    sheet: Sheet
    batteries: tuple[Battery, ...]
    card: BatteryCard
    scales: tuple[Scale, ...]
    pair: Scale | None
    pairing: str
    lasting: Lasting
    charger: str
    plan: ChargePlan | None
    plan_wrong: str


def pairing(sheet: Sheet) -> str:
    """How two batteries of a sheet are wired: `series`, `parallel`, or nothing for one."""
    found = sheet.batteries
    if len(found) < 2:
        return ""
    return "series" if sum(b.volts for b in found) == sheet.system_v else "parallel"


def find_battery(sheet: Sheet, name: str) -> Battery:
    """The battery of that id, the first when none is named; SolveError when the sheet has no such battery."""
    found = sheet.batteries
    chosen = next((b for b in found if b.id == name), None) if name else next(iter(found), None)
    if chosen is None:
        raise SolveError(f"{sheet.title} has no battery called “{name[:40]}”; it has {', '.join(b.id for b in found)}")
    return chosen


def lines_of(log: JobLog, battery: str) -> list[tuple[TestLine, int | None, UUID, datetime]]:
    """The standing tests of a battery in this epoch, those of the pair included, with their first reading's number."""
    return [
        (line, kept.first, kept.id, kept.at)
        for kept, line in log.tests("battery")
        if kept.epoch == log.epoch and line.subject in (battery, PAIR)
    ]


def battery_page(job: Job, log: JobLog, name: str = "", asked: dict[str, str] | None = None, entered: Entered = NOTHING) -> BatteryPage:
    """Gather the card of a job's battery. `asked` are the draw, hours and charger of the calculators; `entered` what stands in a test's form,
    its kind the field."""
    asked = asked or {}
    sheet = job.sheet
    battery = find_battery(sheet, name)
    card = BatteryCard(sheet=sheet, battery=battery, temp_degc=job.temp_degc)
    kept: dict[str, list[tuple[JudgedTest, int | None, UUID, datetime]]] = {}
    for line, number, entry_id, at in lines_of(log, battery.id):
        entry = card.add(line.test, line.typed)
        kept.setdefault(line.test, []).append((entry, number if line.readings else None, entry_id, at))

    def scale(kind: str) -> Scale:
        mine = kept.get(kind, [])
        newest, number, entry_id, at = mine[-1] if mine else (None, None, None, None)
        figures = {n: v for n, v, _ in newest.figures} if newest else {}
        return Scale(
            kind=kind, gauge=battery_gauge(kind, figures, battery.chemistry, card.blocks, job.temp_degc), newest=newest, number=number,
            entry_id=entry_id, at=at, earlier=tuple(e for e, *_ in mine[:-1]), entered=entered if entered.at == kind else NOTHING,
        )  # fmt: skip

    plan, plan_wrong = _plan(card, asked.get("charger", ""))
    paired = pairing(sheet)
    return BatteryPage(
        job=job, sheet=sheet, batteries=sheet.batteries, card=card, scales=tuple(scale(k) for k in ORDER if k != "crank" or cranks(sheet)), pair=scale("pair") if paired else None,
        pairing=paired, lasting=_lasting(card, asked), charger=asked.get("charger", ""), plan=plan, plan_wrong=plan_wrong,
    )  # fmt: skip


def _plan(card: BatteryCard, charger: str) -> tuple[ChargePlan | None, str]:
    """The charge plan for a typed charger current; a tenth of the rating when nothing is typed."""
    try:
        amps = parse_quantity(charger, "A").value if charger.strip() else card.battery.capacity_ah / 10
        charge = 0.5 if card.charge is None else card.charge
        return plan_charge(charge, card.battery.capacity_ah, card.share_left, card.battery.chemistry, amps), ""
    except IronProbeError as error:
        return None, str(error)


def _lasting(card: BatteryCard, asked: dict[str, str]) -> Lasting:
    draw, hours = asked.get("draw", ""), asked.get("hours", "")
    charge, share, sheet = card.charge_left, card.share_left, card.sheet
    answer, after_h, this_a, good_a, wrong, told = None, None, None, None, "", [False, False]
    draw_a = DRAW_A
    try:
        draw_a = abs(parse_quantity(draw, "A").value) if draw.strip() else DRAW_A
        answer = endurance(sheet, draw_a, charge, share, card.temp_degc)
        if hours.strip():
            after_h = parse_hours(hours)
            this_a, good_a = draw_that_explains(sheet, after_h, charge, share, card.temp_degc)
            told = explains([answer.usable_ah, answer.good_ah], draw_a, after_h) if draw.strip() else told
    except IronProbeError as error:
        wrong = str(error)
    return Lasting(
        draw=draw,
        hours=hours,
        after_h=after_h,
        answer=answer,
        this_a=this_a,
        good_a=good_a,
        draw_a=draw_a,
        explains_this=told[0],
        explains_good=told[1],
        wrong=wrong,
    )
