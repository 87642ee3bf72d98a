"""Totals from a logging instrument: one JSON line each, kept when it tells something new."""

from datetime import timedelta
from typing import Annotated
from uuid import UUID, uuid4

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.store import queries
from iron_probe.store.job_log import DrainLine
from iron_probe.store.tables import now
from iron_probe.web.api import REFUSALS
from iron_probe.web.page import CurrentJob, Db

router = APIRouter(prefix="/api/v1", tags=["v1"])

CHANGED_SHARE, CHANGED_A = 0.04, 0.004
"""A total that moved by less than this share and this many amperes is the one before."""
AT_LEAST = timedelta(minutes=5)
"""One total is kept this often even if nothing moves: three days are under nine hundred lines."""


class TotalIn(BaseModel):
    """A total as an instrument reads it [A]; `id` makes sending it twice harmless."""

    model_config = ConfigDict(extra="forbid")

    amps: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)]
    resolution_a: Annotated[float, Field(gt=0, le=1)] = 0.001
    series: bool = False
    id: UUID | None = None


class TotalKept(BaseModel):
    """Whether it was written: not when it only repeats the one before."""

    kept: bool


@router.post("/jobs/{number}/totals", responses={**REFUSALS, 404: {"description": "no such job"}, 410: {"description": "deleted"}})
def log_total(job: CurrentJob, db: Db, total: TotalIn) -> TotalKept:
    """Log a total of the sleeping machine."""
    log = queries.job_log(db, job)
    before = next((entry for entry in reversed(log.lines(DrainLine)) if entry[1].where == TOTAL), None)
    amps = abs(total.amps)
    if before is not None and now() - before[0].at < AT_LEAST and abs(before[1].value - amps) <= max(CHANGED_SHARE * amps, CHANGED_A):
        return TotalKept(kept=False)
    way = Way.SERIES if total.series else Way.CLAMP
    line = DrainLine(where=TOTAL, way=way, typed=f"{1000 * amps:.1f} mA, instrument", value=amps, resolution=total.resolution_a)
    return TotalKept(kept=queries.append(db, job, total.id or uuid4(), line))
