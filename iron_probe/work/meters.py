"""Meters in the yard: joined by its key, taken to a job, set, zeroed; what they show is watched and recorded there."""

import secrets
from collections.abc import Mapping
from datetime import datetime
from uuid import UUID

from sqlmodel import Session

from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Actor, Job
from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.messages import Hello, Use, Uses
from iron_probe.store import meters, queries
from iron_probe.store.meters import MeterRow, MeterUse, Placing
from iron_probe.store.tables import now

FACTORS = (1e-4, 1e6)
"""Between these a clamp's factor lies [A a unit]."""


def yard_key(session: Session) -> str:
    """The key by which an agent joins this yard."""
    return queries.secret(session, "meters", secrets.token_urlsafe(24))


def arrived(session: Session, hello: Hello) -> datetime:
    """Keep the meters an agent brings. The moment it joined at."""
    rows = [
        MeterRow(
            id=m.id_of(hello.agent), agent=hello.agent, name=m.name, address=m.address, identity=m.identity, measures=list(m.measures),
            channel=m.channel, four_wire=m.four_wire, factor=m.factor, stand_in=m.stand_in,
        )
        for m in hello.meters
    ]  # fmt: skip
    return meters.join(session, hello.agent, rows)


def wanted_of(session: Session, agent: str) -> tuple[Uses, dict[tuple[UUID, int], tuple[MeterUse, MeterRow]]]:
    """What an agent's meters are used for: as it is told, and by meter and job's number."""
    found = meters.uses_of_agent(session, agent)
    uses = Uses(
        uses=tuple(
            Use(meter=use.meter_id, job=job.number, measured=Measured(use.measured), factor=use.factor, zero=use.zero, reset=use.reset)
            for use, _, job in found
        )
    )
    return uses, {(use.meter_id, job.number): (use, row) for use, row, job in found}


def usable(session: Session, job: Job) -> list[MeterRow]:
    """Meters that may be taken to a job: stand-ins to those of the practice bay, real ones to all others."""
    return [m for m in meters.meters(session) if m.stand_in == job.practice]


def take(session: Session, job: Job, meter_id: UUID, actor: Actor, measured: str = "") -> None:
    """Use a meter on a job, set to what it measures first where nothing else is said. ReadingError where it cannot be."""
    meter = next((m for m in usable(session, job) if m.id == meter_id), None)
    if meter is None:
        raise ReadingError("There is no such meter for this job: stand-ins read practice machines, real meters all others")
    chosen = _measures(meter, measured or meter.measures[0])
    row = MeterUse(meter_id=meter.id, job_id=job.id, measured=chosen, factor=meter.factor, by=actor.name)
    meters.use(session, row, alone=not meter.stand_in)
    meters.tell(session, job.number)
    session.commit()


def put_away(session: Session, job: Job, meter_id: UUID) -> None:
    """Use a meter on a job no more."""
    session.delete(_used(session, job, meter_id))
    meters.tell(session, job.number)
    session.commit()


def set_to(session: Session, job: Job, meter_id: UUID, said: Mapping[str, str]) -> None:
    """Set a meter: `measured`, `factor`, `zero` (what it shows now becomes nothing), `reset` its least and greatest, `watches`."""
    row = _used(session, job, meter_id)
    meter = session.get_one(MeterRow, meter_id)
    if said.get("measured"):
        row.measured, row.zero, row.reset = _measures(meter, said["measured"]), 0.0, row.reset + 1
    if said.get("factor"):
        row.factor, row.zero, row.reset = _factor(said["factor"]), 0.0, row.reset + 1
    if said.get("shown"):  # the page's zero key sends what the meter shows
        row.zero, row.reset = row.zero + _number(said["shown"], "what the meter shows"), row.reset + 1
    if said.get("reset"):
        row.reset += 1
    if said.get("watches"):
        if row.measured != Measured.AMPS:
            raise ReadingError("Only amperes are watched: set the meter to amps, round the cable that carries all, then watch")
        row.watches = said["watches"] == "1"
    session.add(row)
    meters.tell(session, job.number)
    session.commit()


def place(session: Session, job: Job, placing: Placing) -> None:
    """Put the stand-ins' leads somewhere on a practice machine, and hold it in a state from now. ReadingError where there is no such place."""
    sheet = job.sheet
    if not job.practice:
        raise ReadingError("Only leads of stand-ins are placed by the page: those of a real meter are where you hold them")
    sheet.state(placing.state)
    for point in filter(None, (placing.red, placing.black)):
        if point not in sheet.points:
            raise ReadingError(f"There is no point {point[:40]} on this machine: choose it from the list")
    if placing.branch:
        sheet.element(placing.branch.partition(".")[0])
    old = meters.placing(session, job.id)
    moved = old is None or (old.red, old.black, old.branch) != (placing.red, placing.black, placing.branch)
    if moved:  # what was held at the old place says nothing of the new one
        for use, _ in meters.uses_of(session, job.id):
            use.reset += 1
            session.add(use)
        meters.tell(session, job.number, meters.RESET)
    placing.at = now()
    session.merge(placing)
    session.commit()


def _used(session: Session, job: Job, meter_id: UUID) -> MeterUse:
    row = meters.use_of(session, job.id, meter_id)
    if row is None:
        raise ReadingError("That meter is not in use on this job: take it first")
    return row


def _measures(meter: MeterRow, measured: str) -> str:
    if measured not in meter.measures:
        raise ReadingError(f"{meter.name} cannot be set to that: it measures {', '.join(m.replace('_', ' ') for m in meter.measures)}")
    return measured


def _number(text: str, what: str) -> float:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = float("nan")
    if not abs(value) < 1e9:
        raise ReadingError(f"“{text[:20]}” is no figure for {what}: type a plain number")
    return value


def _factor(text: str) -> float:
    value = _number(text, "the clamp's factor")
    if not FACTORS[0] <= value <= FACTORS[1]:
        raise ReadingError(
            f"A clamp's factor is what one unit it sends stands for: 1 as it is, 100 for a clamp of 10 mV/A; {value:g} is none of a clamp"
        )
    return value
