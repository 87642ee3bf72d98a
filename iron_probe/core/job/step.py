"""What a job comes to now, and what its Yard row keeps of it: values, worded where people read them."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.guide.route import Leg
from iron_probe.core.guide.step import Act, GuideStep, How, Why
from iron_probe.core.job.history import Figure
from iron_probe.core.job.lines import Ending


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Asked(_Value):
    """A reading to take, its points, part and state by the titles the sheet gives them; `itself` where both probes are on the part."""

    instrument: Instrument
    state: str
    red: str = ""
    black: str = ""
    part: str = ""
    itself: bool = False


class ProbeAsked(_Value):
    """A probe of a drain hunt, its place by title."""

    way: Way
    title: str


class JobStep(_Value):
    """The step to take now: what is `asked` for, the `probe` of a drain hunt, `until` when to wait, titles of the parts `named` and how they were found, how many readings are owed, what another bench `told`, the number of the reading taken `again` (0 for what intake heard); no act where
    the log cannot be judged."""

    act: Act | None = None
    leg: Leg | None = None
    why: Why | None = None
    asked: Asked | None = None
    probe: ProbeAsked | None = None
    until: datetime | None = None
    named: tuple[str, ...] = ()
    how: How | None = None
    owed: int = 0
    told: str = ""
    again: int | None = None


class SideBar(_Value):
    """How much of its allowance a side of the starting circuit lost, whole; None where it was not measured."""

    side: str
    share: Annotated[float, Field(ge=0)] | None = None
    over: bool = False


class Due(_Value):
    """Something waited for."""

    text: str
    until: datetime


class Summary(_Value):
    """What the Yard shows of a job; whether its step was said while it `awaits_engine`, `page` is the screen it is worked on, `count` the readings that count,
    `figures` what is held against the machine's other jobs, `confirmed` the parts it met, `ending` as what it was closed,
    `repaired` titles of the parts that were repaired, `parts` of what types they are."""

    step: JobStep
    awaits_engine: bool = False
    page: str = ""
    sheet_title: str = ""
    symptom: str = ""
    count: int = 0
    bars: tuple[SideBar, ...] = ()
    waits: tuple[Due, ...] = ()
    figures: tuple[Figure, ...] = ()
    confirmed: tuple[str, ...] = ()
    ending: Ending | None = None
    repaired: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()


def asked_of(reading: Reading, sheet: Sheet) -> Asked:
    """A reading in the sheet's words; what the sheet has no more by its id."""

    def point(name: str | None) -> str:
        return sheet.points[name].title if name in sheet.points else name or ""

    part = (reading.branch or "").partition(".")[0]
    return Asked(
        instrument=reading.instrument,
        state=sheet.states[reading.state].title if reading.state in sheet.states else reading.state,
        red=point(reading.red),
        black=point(reading.black),
        part=next((e.title for e in sheet.elements if e.id == part), part),
        itself=reading.itself is not None,
    )


def kept_step(step: GuideStep, sheet: Sheet) -> JobStep:
    """A step of the guide as the Yard keeps it."""
    return JobStep(
        act=step.act,
        leg=step.leg,
        why=step.why,
        asked=asked_of(step.reading, sheet) if step.reading else None,
        probe=ProbeAsked(way=step.probe.way, title=step.probe.title) if step.probe else None,
        until=step.until,
        named=tuple(sheet.element(p).title for p in step.parts),
        how=step.how,
        owed=step.owed,
        told=step.told,
        again=step.again,
    )
