"""What a job comes to now, and what its Yard row keeps of it: values, worded where people read them."""

from datetime import datetime
from enum import StrEnum
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field


class Stage(StrEnum):
    """Where a job stands."""

    BEGIN = "begin"
    MEASURE = "measure"
    LOOK = "look"
    DRAIN = "drain"
    FUSE = "fuse"
    CHARGE = "charge"
    REPAIR = "repair"
    RETEST = "retest"
    PROVE = "prove"
    CLOSED = "closed"
    UNJUDGED = "unjudged"


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class JobStep(_Value):
    """The step to take now: titles of the parts `named`, of the two points to measure `between`, how many readings are owed,
    the complaint it begins with, and what a judgement of the core `told`."""

    stage: Stage
    named: tuple[str, ...] = ()
    between: tuple[str, str] | None = None
    owed: int = 0
    complaint: str = ""
    told: str = ""


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
    """What the Yard shows of a job; `page` is the screen it is worked on, `count` the readings that count."""

    step: JobStep
    page: str = ""
    sheet_title: str = ""
    symptom: str = ""
    count: int = 0
    bars: tuple[SideBar, ...] = ()
    waits: tuple[Due, ...] = ()
