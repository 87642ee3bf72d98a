"""The same answers as the command line, as JSON under /api/v1; nothing of these is stored."""

import re
from typing import Annotated

from fastapi import APIRouter, Depends, HTTPException, Path, Request, Response
from fastapi.responses import PlainTextResponse
from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.answers import (
    DiagnoseAnswer,
    SheetAnswer,
    SolveAnswer,
    diagnose_answer,
    sheet_answer,
    solve_answer,
    spice_answer,
    work_told_by,
)
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.read_readings import ReadingEntry, as_reading
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.errors import unknown_name
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.store import queries
from iron_probe.web.page import Db, templates
from iron_probe.work.ensembles import home, wanted
from iron_probe.work.sheets import fitted_sheet

WAIT_S = 60.0
"""How long a diagnosis waits for its ensemble [s]."""

router = APIRouter(prefix="/api/v1", tags=["v1"])

Degrees = Annotated[float, Field(ge=-40, le=60, strict=True, description="temperature of air and oil, °C")]
OWN = re.compile(r"machine-(\d{1,9})")
SheetId = Annotated[str, Path(max_length=40, description="id of a shipped sheet, or machine-N for the circuit of machine N of the yard")]


def circuit(sheet_id: SheetId, db: Db) -> Sheet:
    """The circuit of the path: a shipped sheet, or the newest version of a machine's with the battery really fitted; 404 for none."""
    if own := OWN.fullmatch(sheet_id):
        machine = queries.find_machine(db, int(own.group(1)))
        if machine is None:
            raise HTTPException(404, f"There is no machine {own.group(1)} in the yard.")
        return fitted_sheet(db, queries.newest_version(db, machine.id).content_hash, machine.battery)
    if sheet_id not in sheet_ids():
        raise HTTPException(404, unknown_name("sheet", sheet_id, list(sheet_ids())))
    return load_sheet(sheet_id)


Circuit = Annotated[Sheet, Depends(circuit)]


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
    work: Annotated[Scope | None, Field(description="the kind of work; left out, what the states of the readings say")] = None
    school: Order = Order.BEST
    temp_degc: Degrees = 20.0


REFUSALS: dict[int | str, dict[str, object]] = {
    400: {"model": Refusal, "description": "the request cannot be read"},
    404: {"model": Refusal, "description": "there is no such thing"},
    422: {"model": Refusal, "description": "refused, with the reason"},
    503: {"model": Refusal, "description": "not yet: the database does not answer, or the circuit is still being worked out"},
}


REFUSED_AS_JSON: dict[int | str, dict[str, object]] = {
    status: {"description": said["description"], "content": {"application/json": {"schema": {"$ref": "#/components/schemas/Refusal"}}}}
    for status, said in REFUSALS.items()
}
"""The same of a route whose own answers are no JSON."""


@router.get("/sheets")
def sheets() -> list[SheetAnswer]:
    """The shipped sheets with their states, nodes, elements and fault modes."""
    return [sheet_answer(load_sheet(i)) for i in sheet_ids()]


@router.get("/sheets/{sheet_id}", responses=REFUSALS)
def one_sheet(sheet: Circuit) -> SheetAnswer:
    """One sheet."""
    return sheet_answer(sheet)


@router.post("/sheets/{sheet_id}/solve", responses=REFUSALS)
def solve(sheet: Circuit, asked: SolveRequest) -> SolveAnswer:
    """Solve an operating state."""
    return solve_answer(sheet, asked.state, asked.faults, Conditions(temp_degc=asked.temp_degc))


@router.post("/sheets/{sheet_id}/netlist", responses=REFUSED_AS_JSON, response_class=PlainTextResponse)
def export_netlist(sheet: Circuit, asked: SolveRequest) -> Response:
    """A solved state as a SPICE netlist."""
    return PlainTextResponse(spice_answer(sheet, asked.state, asked.faults, Conditions(temp_degc=asked.temp_degc)))


@router.post("/sheets/{sheet_id}/diagnose", responses=REFUSALS)
def diagnose(sheet: Circuit, asked: DiagnoseRequest) -> DiagnoseAnswer:
    """Hold readings against a sheet: suspects, what is struck out and by which reading, what to measure next."""
    readings = [as_reading(entry) for entry in asked.readings]
    engine = home().wait_for(wanted(sheet, asked.temp_degc, asked.work or work_told_by(sheet, readings)), WAIT_S)
    if engine is None:
        raise HTTPException(503, "This circuit's faults are still being worked out: ask again in some seconds")
    with engine.lock:
        return diagnose_answer(Case(engine.ensemble, unseen=engine.book.unseen), engine.book, readings, asked.school)


@router.get("/reference", include_in_schema=False)
def reference(request: Request) -> Response:
    """The API document as a page."""
    return templates.TemplateResponse(request, "api/reference.html", {"document": request.app.openapi()})
