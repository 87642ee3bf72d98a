"""Drain jobs of the sample yard: a shuttle whose gate controller stays awake some nights, a generator found flat, a digger's lamp fuse.

What was read is solved on the sleeping circuit with the fault in it, as a meter would show it.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID, uuid5

import numpy as np
from sqlmodel import Session

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import Network, network_of
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine, Line, MarkLine, TestLine
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.trace.columns import read_samples
from iron_probe.core.trace.layout import Channel, Layout, Role, guess_layout
from iron_probe.demo.drain_captures import RECORDS
from iron_probe.demo.stage import AT_HAND, stage_job
from iron_probe.store import captures
from iron_probe.store.tables import Capture, now
from iron_probe.work.fuse_work import CLAMP_ROUND
from iron_probe.work.import_capture import engine_of, facts_of
from iron_probe.work.logs import append

_NAMES = UUID("b0b44c83-8c19-4a2e-8a38-8b1d4bb0a6f2")
METER_STEP_V, CLAMP_STEP_A = 1e-4, 1e-3


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainStory:
    """A demo job: intake, the module that will not sleep, what is read in which order (minutes, place, way), marks, battery tests,
    a record and what was said of a fuse."""

    key: str
    intake: dict[str, str | float]
    hours_ago: float
    awake: str = ""
    marks: tuple[tuple[float, str, str], ...] = ()
    sweep: tuple[tuple[float, str, Way], ...] = ()
    battery: tuple[tuple[str, dict[str, str]], ...] = ()
    record: str = ""
    fuse: str = ""
    clamps: tuple[tuple[str, str], ...] = ()
    said: tuple[tuple[str, dict[str, str]], ...] = ()


STORIES = (
    DrainStory(
        key="shuttle-2",
        intake={
            "sheet_id": "lift-shuttle", "machine": "Shuttle 2, hospital round", "symptom": "drain", "school": "common", "temp_degc": 12, "cold_degc": -5,
            "complaint": "Flat on some Mondays, fine on others. Starts at once with the booster.",
            "circumstances": "After the weekend stand, not every time; the lift was used on the Friday before.",
            "replaced_before": "Battery in spring, tracker in June.",
        },
        hours_ago=19, awake="gate-controller",
        marks=((2, "latched", "hood"), (3, "latched", "doors"), (4, "latched", "boot"), (5, "locked", "")),
        sweep=(
            (6, TOTAL, Way.CLAMP), (9, TOTAL, Way.CLAMP), (14, TOTAL, Way.CLAMP), (24, TOTAL, Way.CLAMP), (41, TOTAL, Way.CLAMP),
            (43, "starter-cable", Way.CLAMP), (44, "b1", Way.DROP), (45, "b2", Way.DROP), (46, "b3", Way.DROP), (47, TOTAL, Way.CLAMP),
            (49, "l1", Way.DROP), (50, "l2", Way.DROP), (51, TOTAL, Way.CLAMP),
        ),
        battery=(("rest", {"volts": "12.31"}),), record="shuttle-night.csv",
    ),
    DrainStory(
        key="generator-pumphouse",
        intake={
            "sheet_id": "standby-generator", "machine": "Stand-by set, pump house", "symptom": "drain", "school": "common", "temp_degc": 9, "cold_degc": -8,
            "complaint": "Found flat at its monthly run. The charger lamp is lit.", "circumstances": "Ran well a month ago.",
        },
        hours_ago=11, awake="controller", marks=((3, "locked", ""),),
        sweep=((4, TOTAL, Way.CLAMP), (31, TOTAL, Way.CLAMP), (34, "starter-cable", Way.CLAMP), (36, TOTAL, Way.CLAMP)),
        battery=(("rest", {"volts": "11.74"}),),
    ),
    DrainStory(
        key="digger-lamps",
        intake={
            "sheet_id": "quay-digger", "machine": "Digger 1, breakwater", "symptom": "fuse", "school": "common", "temp_degc": 14, "cold_degc": -5,
            "complaint": "The lamp fuse goes when the work lamps come on with the boom up. Three fuses so far.",
            "changed_before": "New bucket linkage fitted last month.",
        },
        hours_ago=5, record="digger-lamp-fuse.csv", fuse="c3", clamps=(("Boom lamps", "boom-wire"), ("Roof lamps", "roof-wire")),
        said=(("seen", {"blows": "lamps", "holds": "run", "dead": "", "working": ""}),),
    ),
)  # fmt: skip


def fill_drain_yard(session: Session) -> None:
    """Write the drain jobs."""
    for story in STORIES:
        _tell(session, story)


def _tell(session: Session, story: DrainStory) -> None:
    start = now() - timedelta(hours=story.hours_ago)
    job = stage_job(session, uuid5(_NAMES, story.key), story.intake, start)
    lines: list[tuple[float, str, Line]] = [
        (minute, f"mark {k}", MarkLine.model_validate({"what": what, "text": text})) for k, (minute, what, text) in enumerate(story.marks)
    ]
    if story.awake:
        lines += _sweep(job, story)
    for k, (test, typed) in enumerate(story.battery):
        lines.append((1.0, f"battery {k}", TestLine(screen="battery", subject="battery", test=test, typed=typed)))
    if story.record:
        row = _record(session, job, story.record, start + timedelta(minutes=60))
        if story.fuse:
            rounds = {CLAMP_ROUND + column: branch for column, branch in story.clamps}
            read = TestLine(screen="trip", subject=story.fuse, test="capture", typed={"capture": str(row.id), **rounds})
            lines.append((70, "capture", read))
    lines += [
        (62.0 + k, f"said {k}", TestLine(screen="trip", subject=story.fuse, test=test, typed=typed))
        for k, (test, typed) in enumerate(story.said)
    ]
    for minute, name, line in sorted(lines, key=lambda entry: entry[0]):
        append(session, job, AT_HAND, line, entry_id=uuid5(job.id, name), at=start + timedelta(minutes=minute))


def _sweep(job: Job, story: DrainStory) -> list[tuple[float, str, Line]]:
    """The readings of a sweep, with the module awake from the start and all else asleep after a while."""
    network = network_of(job.sheet, Conditions(temp_degc=job.temp_degc))
    state = next(iter(network.sheet.states))
    values = network.nominal[:, None].copy()
    values[network.row[story.awake, "wakeful"]] = 1.0
    solved = solve_state(network, state, values)
    rng = np.random.default_rng(sum(map(ord, story.key)))
    falling = {6: 1.62, 9: 0.58, 14: 0.14, 24: 0.02, 4: 0.31}
    found: list[tuple[float, str, Line]] = []
    for k, (minute, where, way) in enumerate(story.sweep):
        if way is Way.DROP:
            seen = abs(float(solved.drop(where)[0])) * (1 + 0.05 * rng.standard_normal())
            value, step = round(seen / METER_STEP_V) * METER_STEP_V, METER_STEP_V
        else:
            amps = _amps(network, solved.amps[:, 0], where) + (falling.get(int(minute), 0.0) if where == TOTAL else 0.0)
            value, step = round((amps * (1 + 0.01 * rng.standard_normal())) / CLAMP_STEP_A) * CLAMP_STEP_A, CLAMP_STEP_A
        typed = f"{value * 1000:.1f} mV" if way is Way.DROP else f"{value * 1000:.0f} mA"
        found.append((minute, f"drain {k}", DrainLine(where=where, way=way, typed=typed, value=value, resolution=step)))
    return found


def _amps(network: Network, amps: Floats, where: str) -> float:
    return abs(float(amps[network.find_branch("battery" if where == TOTAL else where)]))


def _record(session: Session, job: Job, name: str, at: datetime) -> Capture:
    """A record brought in, as the layout page would have confirmed it."""
    data = RECORDS[name].make().encode()
    guessed = guess_layout(data)
    amps = [c.model_copy(update={"role": Role.AMPS}) for c in guessed.layout.channels if "Behind" not in c.name]
    volts = [c.model_copy(update={"role": Role.VOLTS}) for c in guessed.layout.channels if "Behind" in c.name]
    channels: tuple[Channel, ...] = (*volts, *amps)
    layout = Layout.model_validate({**guessed.layout.model_dump(), "channels": [c.model_dump() for c in channels]})
    samples = read_samples([data], layout)
    row = Capture(
        id=uuid5(job.id, name), job_id=job.id, at=at, filename=name, size_bytes=len(data), status="ready", read_samples=samples.count,
        layout=layout.model_dump(mode="json"), facts=facts_of(samples, layout, engine_of(job)),
    )  # fmt: skip
    captures.save(session, row)
    for number, channel in enumerate(samples.data):
        captures.write_blocks(session, row.id, number, channel)
    session.commit()
    return row
