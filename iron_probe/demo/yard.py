"""Jobs of the sample yard, with readings that the solver gives for their hidden faults."""

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from uuid import UUID, uuid5

import numpy as np
from sqlmodel import Session

from iron_probe.core.bench.battery.card import BatteryCard
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import ClosedLine, CodeLine, Ending, ReadingLine, RepairLine, TestLine
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.trace.columns import read_samples
from iron_probe.core.trace.layout import guess_layout
from iron_probe.demo.crank_captures import shipped
from iron_probe.demo.drain_yard import fill_drain_yard
from iron_probe.demo.practice_yard import fill_practice
from iron_probe.demo.stage import AT_HAND, SAMPLES, stage_job
from iron_probe.store import captures
from iron_probe.store.own_yard import keep_yard
from iron_probe.store.people import fresh_person
from iron_probe.store.tables import Capture, now
from iron_probe.work.import_capture import engine_of, facts_of
from iron_probe.work.jobs import change_job, set_on
from iron_probe.work.logs import append

_NAMES = UUID("6d0f7a52-5c1e-4c7e-9c3b-0f3f6f1b7a10")
_METER_V = 0.01


@dataclass(frozen=True, slots=True)
class ReadAt:
    """A demo reading to take: red, black, whether it repeats the crank before, and the operating state."""

    red: str
    black: str
    same_crank: bool = False
    state: str = "crank"


@dataclass(frozen=True, slots=True, kw_only=True)
class Story:
    """A demo job: intake, the fault it hides as resistance added to elements, what was measured, repaired and measured again;
    battery tests as typed, codes noted, and a capture of `crank_captures` brought in."""

    key: str
    intake: dict[str, str | float]
    hours_ago: float
    faults: dict[str, float]
    before: list[ReadAt]
    repair: str = ""
    repaired: list[str] = field(default_factory=list)
    battery: list[tuple[str, dict[str, str]]] = field(default_factory=list)
    codes: list[CodeLine] = field(default_factory=list)
    capture: str = ""
    after: list[ReadAt] = field(default_factory=list)


STORIES = [
    Story(
        key="bus-7",
        hours_ago=30,
        intake={
            "sheet_id": "crew-minibus",
            "machine": "Bus 7, harbour run",
            "complaint": "Groans over on the first start of the day and sounds as if it will not make it. Better once it has run.",
            "symptom": "slow",
            "circumstances": "Worst after two wet nights on the quay.",
            "replaced_before": "Battery in spring; no change.",
            "temp_degc": 9,
            "cold_degc": -8,
        },
        faults={"ground-stud": 0.0031},
        before=[
            ReadAt("bat.plus", "bat.minus"),
            ReadAt("bat.plus", "starter.B", same_crank=True),
            ReadAt("starter.case", "bat.minus"),
            ReadAt("starter.case", "chassis.front", same_crank=True),
            ReadAt("chassis.front", "bat.minus"),
            ReadAt("chassis.locker", "ground.lug"),
        ],
        repair="Ground stud in the locker: rust under the eyelet. Cleaned stud and eyelet to bright metal, new serrated washer, tightened, sealed.",
        repaired=["ground-stud"],
        after=[
            ReadAt("bat.plus", "bat.minus"),
            ReadAt("bat.plus", "starter.B", same_crank=True),
            ReadAt("starter.case", "bat.minus", same_crank=True),
            ReadAt("starter.case", "chassis.front"),
            ReadAt("chassis.front", "bat.minus", same_crank=True),
            ReadAt("chassis.locker", "ground.lug"),
        ],
    ),
    Story(
        key="bus-12",
        hours_ago=2,
        intake={
            "sheet_id": "crew-minibus",
            "machine": "Bus 12, school run",
            "complaint": "Turns slowly, once had to be towed off the ferry ramp.",
            "symptom": "slow",
            "circumstances": "Cold mornings; got worse after the isolator was moved inside the locker.",
            "changed_before": "Isolator switch moved in the locker last month.",
            "temp_degc": 6,
            "cold_degc": -10,
        },
        faults={"isolator": 0.0042},
        before=[
            ReadAt("bat.plus", "bat.minus"),
            ReadAt("bat.plus", "starter.B", same_crank=True),
            ReadAt("starter.case", "bat.minus"),
        ],
    ),
    Story(
        key="patrol-2",
        hours_ago=1,
        intake={
            "sheet_id": "patrol-motorcycle",
            "machine": "Patrol 2, shore road",
            "complaint": "Lights are fine, nothing happens on the button. It was ridden home yesterday through spray.",
            "symptom": "nothing",
            "circumstances": "After salt spray; the stand had to be kicked down.",
            "temp_degc": 11,
            "cold_degc": -5,
        },
        faults={"stand-switch": 900.0},
        before=[ReadAt("bat.plus", "bat.minus", state="run"), ReadAt("sol.coil", "bat.minus")],
    ),
    Story(
        key="pool-6",
        hours_ago=0.9,
        intake={
            "sheet_id": "pool-car",
            "machine": "Pool car 6, harbour office",
            "complaint": "Takes three tries in the morning and shakes until warm. The office has already bought it a battery.",
            "symptom": "cranks",
            "circumstances": "Every morning, wet or dry.",
            "replaced_before": "Battery, four weeks ago.",
            "temp_degc": 14,
            "cold_degc": -8,
        },
        faults={},
        before=[],
        battery=[
            ("rest", {"volts": "12.66", "hours_since": "2"}),
            ("rest", {"volts": "12.58", "bled": "1"}),
            ("conductance", {"measured": "575", "mohm": "5.4"}),
            ("crank", {"posts": "11.12", "clamps": "11.09", "amps": "149"}),
        ],
        capture="pool-car-weak-cylinder.csv",
    ),
    Story(
        key="ski-1",
        hours_ago=0.7,
        intake={
            "sheet_id": "rescue-watercraft",
            "machine": "Rescue ski 1",
            "complaint": "Dead on the button after the exercise on Saturday. The pump runs.",
            "symptom": "nothing",
            "circumstances": "Came back on the trailer with the lanyard hanging in the wash.",
            "changed_before": "Lanyard post cover swapped by the crew.",
            "temp_degc": 13,
            "cold_degc": 2,
        },
        faults={"lanyard-post": 5200.0},
        before=[ReadAt("sol.coil", "bat.minus"), ReadAt("mod.supply", "mod.ground")],
        battery=[("rest", {"volts": "12.81", "hours_since": "40"})],
        codes=[CodeLine(code="U3107", text="stop circuit, no valid input", module="start module", active=True, elements=["lanyard-post"])],
    ),
    Story(
        key="green-4",
        hours_ago=0.6,
        intake={
            "sheet_id": "green-mower",
            "machine": "Mower 4, cemetery",
            "complaint": "Needs a charge every second week. New battery last autumn and again this spring.",
            "symptom": "no_charge",
            "circumstances": "Stands wet; the seat pan was repainted in winter.",
            "replaced_before": "Two batteries.",
            "temp_degc": 16,
            "cold_degc": 5,
        },
        faults={"rectifier-ground": 0.62},
        before=[
            ReadAt("bat.plus", "bat.minus", state="rest"),
            ReadAt("bat.plus", "bat.minus", state="fast"),
            ReadAt("rect.B", "rect.case", state="fast"),
        ],
    ),
    Story(
        key="tern",
        hours_ago=0.5,
        intake={
            "sheet_id": "harbour-launch",
            "machine": "Workboat Tern",
            "complaint": "Voltmeter at the helm goes past the scale since the switch panel was moved; one lamp blew.",
            "symptom": "overcharge",
            "circumstances": "Always, as soon as it runs.",
            "changed_before": "Helm switch panel moved.",
            "temp_degc": 12,
            "cold_degc": 0,
        },
        faults={"sense-wire": 40_000.0},
        before=[ReadAt("bat.plus", "bat.minus", state="fast"), ReadAt("bat.plus", "bat.minus", state="rest")],
    ),
    Story(
        key="parcel-11",
        hours_ago=0.4,
        intake={
            "sheet_id": "parcel-van",
            "machine": "Parcel van 11",
            "complaint": "Charge warning after the front end was repaired. An alternator was fitted, the warning stayed.",
            "symptom": "no_charge",
            "circumstances": "Always.",
            "changed_before": "Radiator and front panel replaced.",
            "replaced_before": "Alternator.",
            "temp_degc": 15,
            "cold_degc": -5,
        },
        faults={"bus-splice": 900_000.0},
        before=[ReadAt("bat.plus", "bat.minus", state="fast"), ReadAt("alt.B", "bat.plus", state="loaded")],
    ),
]


def fill_yard(session: Session) -> None:
    """Write the demo jobs, and the people one may work as."""
    for name, role in SAMPLES:
        session.add(fresh_person(name, role, sample=True))
    keep_yard(session, "Cinder Quay fleet yard", "Island council, Harbour Road 7, Cinder Quay")
    for story in sorted(STORIES, key=lambda s: -s.hours_ago):
        _tell(session, story)
    fill_drain_yard(session)
    fill_practice(session)


def _tell(session: Session, story: Story) -> None:
    start = now() - timedelta(hours=story.hours_ago)
    job = stage_job(session, uuid5(_NAMES, story.key), story.intake, start)
    rng = np.random.default_rng(sum(map(ord, story.key)))
    minute, crank, step = 4.0, 0, 0
    for faults, probes in ((story.faults, story.before), ({}, story.after)):
        for probe in probes:
            cranking = job.sheet.states[probe.state].cranking
            crank += cranking and not probe.same_crank
            value = _read(job, faults, probe, rng)
            reading = Reading(
                instrument=Instrument.VOLTMETER,
                red=probe.red,
                black=probe.black,
                state=probe.state,
                value=value,
                resolution=_METER_V,
                crank=crank if cranking else None,
            )
            line = ReadingLine(reading=reading, typed=f"{value:.2f}")
            append(session, job, AT_HAND, line, entry_id=uuid5(job.id, f"reading {step}"), at=start + timedelta(minutes=minute))
            minute, step = minute + 3, step + 1
        if story.repair and probes is story.before:
            minute += 25
            append(
                session,
                job,
                AT_HAND,
                RepairLine(text=story.repair, elements=story.repaired),
                entry_id=uuid5(job.id, "repair"),
                at=start + timedelta(minutes=minute),
            )
            minute += 5
    _tests(session, job, story, start + timedelta(minutes=minute))
    if story.after:
        closed_at = start + timedelta(minutes=minute)
        append(session, job, AT_HAND, ClosedLine(ending=Ending.REPAIRED), entry_id=uuid5(job.id, "closed"), at=closed_at)
        change_job(session, job, set_on(closed_at=closed_at))


def _tests(session: Session, job: Job, story: Story, at: datetime) -> None:
    """Battery tests, codes and a capture, as the screens would have kept them."""
    sheet = job.sheet
    battery = sheet.batteries[0]
    card = BatteryCard(sheet=sheet, battery=battery, temp_degc=job.temp_degc)
    for step, (test, typed) in enumerate(story.battery):
        entry = card.add(test, typed)
        line = TestLine(screen="battery", subject=battery.id, test=test, typed=typed, readings=list(entry.readings))
        append(session, job, AT_HAND, line, entry_id=uuid5(job.id, f"battery {step}"), at=at + timedelta(minutes=4 * step))
    for step, code in enumerate(story.codes):
        append(session, job, AT_HAND, code, entry_id=uuid5(job.id, f"code {step}"), at=at + timedelta(minutes=20 + step))
    if story.capture:
        data = shipped(story.capture)
        layout = guess_layout(data).layout
        samples = read_samples([data], layout)
        row = Capture(
            id=uuid5(job.id, "capture"), job_id=job.id, at=at + timedelta(minutes=25), filename=story.capture, size_bytes=len(data), status="ready",
            read_samples=samples.count, layout=layout.model_dump(mode="json"), facts=facts_of(samples, layout, engine_of(job)),
        )  # fmt: skip
        captures.save(session, row)
        for number, channel in enumerate(samples.data):
            captures.write_blocks(session, row.id, number, channel)
        session.commit()


def _read(job: Job, faults: dict[str, float], probe: ReadAt, rng: np.random.Generator) -> float:
    network = network_of(job.sheet, Conditions(temp_degc=job.temp_degc))
    values = network.nominal[:, None].copy()
    for element, ohm in faults.items():
        values[network.row[element, "r_ohm"], 0] += ohm
    seen = float(solve_state(network, probe.state, values).between(probe.red, probe.black)[0])
    return round(seen * (1 + 0.01 * rng.standard_normal()) / _METER_V) * _METER_V
