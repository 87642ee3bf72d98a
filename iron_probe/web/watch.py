"""What a machine that watches the yard asks: does it live, can it work, how busy is it; and a line a request without anything personal."""

import json
import logging
import os
import sys

from fastapi import APIRouter, Request, Response
from fastapi.responses import JSONResponse
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Counter, Histogram, generate_latest, multiprocess
from sqlalchemy import text
from sqlalchemy.exc import SQLAlchemyError
from sqlmodel import Session

from iron_probe.core.people.rights import Right
from iron_probe.web.who import needs

router, guarded = APIRouter(), APIRouter()
REQUESTS = Counter("iron_probe_requests", "Requests answered, by method, route and status", ["method", "route", "status"])
SECONDS = Histogram(
    "iron_probe_request_seconds", "From a request's arrival to its answer's beginning", ["method", "route"],
    buckets=(0.01, 0.025, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 15),
)  # fmt: skip
LINES = logging.getLogger("iron_probe.requests")


def log_in_json() -> None:
    """Have requests logged as JSON, a line each, on standard error."""
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(logging.Formatter("%(message)s"))
    LINES.addHandler(handler)
    LINES.setLevel(logging.INFO)
    LINES.propagate = False


def answered(method: str, route: str, status: int, took_s: float) -> None:
    """Count an answer. The route is as it is declared: no number, name or search of anybody stands in it."""
    REQUESTS.labels(method, route, status).inc()
    SECONDS.labels(method, route).observe(took_s)
    if LINES.isEnabledFor(logging.INFO):
        LINES.info(json.dumps({"method": method, "route": route, "status": status, "ms": round(1000 * took_s, 1)}))


@router.get("/health")
def health() -> Response:
    """This process answers."""
    return JSONResponse({"health": "ok"})


@router.get("/ready")
def ready(request: Request) -> Response:
    """It can work: the database answers, and its schema is there. 503 where not."""
    try:
        with Session(request.app.state.looking) as session:
            session.execute(text("select version_num from alembic_version"))
    except SQLAlchemyError:
        return JSONResponse({"ready": False, "why": "the database does not answer"}, status_code=503)
    return JSONResponse({"ready": True})


@guarded.get("/metrics")
@needs(Right.LEAD)
def metrics(request: Request) -> Response:
    """Requests and their times as Prometheus reads them, of all app processes of this host; by the key of whoever leads the yard."""
    registry = CollectorRegistry()
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        multiprocess.MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    else:
        registry.register(REQUESTS)
        registry.register(SECONDS)
    live = f"# TYPE iron_probe_live_screens gauge\niron_probe_live_screens {request.app.state.hub.streams}\n"
    return Response(generate_latest(registry) + live.encode(), media_type=CONTENT_TYPE_LATEST)
