"""Totals from a logging instrument: one JSON line each, kept when it tells something new."""

import secrets
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Header, HTTPException
from pydantic import BaseModel, ConfigDict, Field

from iron_probe.web.api.routes import REFUSALS, Refusal
from iron_probe.web.page import CurrentJob, Db
from iron_probe.work.instrument import log_instrument_total

router = APIRouter(prefix="/api/v1", tags=["v1"])


class TotalIn(BaseModel):
    """A total as an instrument reads it [A], minus where it flows into the battery; `id` makes sending it twice harmless."""

    model_config = ConfigDict(extra="forbid")

    amps: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)]
    resolution_a: Annotated[float, Field(gt=0, le=1)] = 0.001
    series: bool = False
    id: UUID | None = None


class TotalKept(BaseModel):
    """Whether it tells something new; one that only repeats the one before is kept and not judged."""

    kept: bool


@router.post(
    "/jobs/{number}/totals",
    responses={
        **REFUSALS,
        403: {"model": Refusal, "description": "without the job's key, or from another site"},
        404: {"model": Refusal, "description": "no such job"},
        409: {"model": Refusal, "description": "another total was sent under this id"},
        410: {"model": Refusal, "description": "deleted"},
        503: {"model": Refusal, "description": "the database does not answer"},
    },
)
def log_total(
    job: CurrentJob, db: Db, total: TotalIn, x_job_key: Annotated[str, Header(description="the key of the job")] = ""
) -> TotalKept:
    """Log a total of the sleeping machine; every one is kept, those that tell something new are judged."""
    if not secrets.compare_digest(x_job_key.encode(), job.key.encode()):
        raise HTTPException(403, "This job takes totals with its key alone: send it as X-Job-Key. The drain watch of the job shows it.")
    return TotalKept(kept=log_instrument_total(db, job, total.amps, total.resolution_a, series=total.series, total_id=total.id))
