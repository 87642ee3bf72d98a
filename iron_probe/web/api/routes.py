"""The same answers as the command line, as JSON under /api/v1; nothing of these is stored."""

from typing import Annotated

from fastapi import APIRouter, HTTPException, Path, Request, Response
from fastapi.responses import PlainTextResponse
from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.answers import DiagnoseAnswer, SheetAnswer, SolveAnswer, diagnose_answer, sheet_answer, solve_answer, spice_answer
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.read_readings import ReadingEntry, as_reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.web.page import templates
from iron_probe.work.ensembles import home, wanted

WAIT_S = 60.0
"""How long a diagnosis waits for its ensemble [s]."""

router = APIRouter(prefix="/api/v1", tags=["v1"])

Degrees = Annotated[float, Field(ge=-40, le=60, description="temperature of air and oil, °C")]
SheetId = Annotated[str, Path(max_length=40, description="id of a shipped sheet")]


class Refusal(BaseModel):
    """Why something was not answered, and what is allowed."""

    error: str


class SolveRequest(BaseModel):
    """A state to solve, with faults as `element=mode` or `element=mode:severity`."""

    model_config = ConfigDict(extra="forbid")

    state: Annotated[str, Field(max_length=60)] = "crank"
    faults: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=8)] = []
    temp_degc: Degrees = 20.0


class DiagnoseRequest(BaseModel):
    """Readings to hold against a sheet."""

    model_config = ConfigDict(extra="forbid")

    readings: Annotated[list[ReadingEntry], Field(max_length=60)]
    school: Order = Order.BEST
    temp_degc: Degrees = 20.0


REFUSALS: dict[int | str, dict[str, object]] = {
    400: {"model": Refusal, "description": "the request cannot be read"},
    422: {"model": Refusal, "description": "refused, with the reason"},
    503: {"model": Refusal, "description": "not yet: the database does not answer, or the circuit is still being worked out"},
}


@router.get("/sheets")
def sheets() -> list[SheetAnswer]:
    """The shipped sheets with their states, nodes, elements and fault modes."""
    return [sheet_answer(load_sheet(i)) for i in sheet_ids()]


@router.get("/sheets/{sheet_id}", responses=REFUSALS)
def sheet(sheet_id: SheetId) -> SheetAnswer:
    """One sheet."""
    return sheet_answer(load_sheet(sheet_id))


@router.post("/sheets/{sheet_id}/solve", responses=REFUSALS)
def solve(sheet_id: SheetId, asked: SolveRequest) -> SolveAnswer:
    """Solve an operating state."""
    return solve_answer(load_sheet(sheet_id), asked.state, asked.faults, Conditions(temp_degc=asked.temp_degc))


@router.post("/sheets/{sheet_id}/netlist", responses=REFUSALS, response_class=PlainTextResponse)
def export_netlist(sheet_id: SheetId, asked: SolveRequest) -> Response:
    """A solved state as a SPICE netlist."""
    return PlainTextResponse(spice_answer(load_sheet(sheet_id), asked.state, asked.faults, Conditions(temp_degc=asked.temp_degc)))


@router.post("/sheets/{sheet_id}/diagnose", responses=REFUSALS)
def diagnose(sheet_id: SheetId, asked: DiagnoseRequest) -> DiagnoseAnswer:
    """Hold readings against a sheet: suspects, what is struck out and by which reading, what to measure next."""
    readings = [as_reading(entry) for entry in asked.readings]
    engine = home().wait_for(wanted(load_sheet(sheet_id), asked.temp_degc, Scope.STARTING), WAIT_S)
    if engine is None:
        raise HTTPException(503, "This circuit's faults are still being worked out: ask again in some seconds")
    with engine.lock:
        return diagnose_answer(Case(engine.ensemble), engine.book, readings, asked.school)


@router.get("/reference", include_in_schema=False)
def reference(request: Request) -> Response:
    """The API document as a page."""
    return templates.TemplateResponse(request, "api/reference.html", {"document": request.app.openapi()})
