"""A machine's circuit as files: the sheet, the feed list, a netlist, the map."""

from urllib.parse import quote

from fastapi import APIRouter, Response

from iron_probe.core.answers import spice_answer
from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.compose.netlist import write_netlist
from iron_probe.core.compose.wire_list import feed_list
from iron_probe.store import queries
from iron_probe.store.tables import MachineRow, SheetVersion
from iron_probe.web.bench.drawing import Folding, ink_of, map_of
from iron_probe.web.machines.routes import Machine
from iron_probe.web.machines.wall_plate import wall_plate
from iron_probe.web.page import Db, templates
from iron_probe.work.history import told_history
from iron_probe.work.sheets import sheet_of

router = APIRouter()


@router.get("/machines/{number}/sheet.yaml")
def sheet(machine: Machine, db: Db, version: int = 0) -> Response:
    """A version of the circuit as a sheet, with where it comes from as remarks at its head."""
    chosen = queries.version_or_newest(db, machine.id, version)
    return _file(machine, chosen, told_history(db, machine, chosen) + chosen.text, "sheet", "yaml", "application/yaml")


@router.get("/machines/{number}/feeds.csv")
def feeds(machine: Machine, db: Db, version: int = 0) -> Response:
    """Its parts as a table."""
    chosen = queries.version_or_newest(db, machine.id, version)
    return _file(machine, chosen, feed_list(chosen.text), "feeds", "csv", "text/csv")


@router.get("/machines/{number}/parts.net")
def parts(machine: Machine, db: Db, version: int = 0) -> Response:
    """Its parts of two ends as plain text, to be changed and taken back."""
    chosen = queries.version_or_newest(db, machine.id, version)
    return _file(machine, chosen, write_netlist(chosen.text), "parts", "net", "text/plain")


@router.get("/machines/{number}/netlist.cir")
def netlist(machine: Machine, db: Db, version: int = 0, state: str = "") -> Response:
    """One of its states, solved, as a SPICE netlist; the first where none is named."""
    chosen = queries.version_or_newest(db, machine.id, version)
    circuit = sheet_of(db, chosen.content_hash)
    return _file(machine, chosen, spice_answer(circuit, state or next(iter(circuit.states))), "netlist", "cir", "text/plain")


@router.get("/machines/{number}/map.svg")
def plate(machine: Machine, db: Db, version: int = 0) -> Response:
    """The whole map as a drawing that stands by itself."""
    chosen = queries.version_or_newest(db, machine.id, version)
    circuit = sheet_of(db, chosen.content_hash)
    return _file(machine, chosen, map_alone(circuit), "map", "svg", "image/svg+xml")


def map_alone(circuit: Sheet) -> str:
    """The whole map of a circuit as SVG that stands by itself."""
    whole = Folding(SheetKey(circuit))
    context = {"drawing": map_of(whole), "ink": ink_of(whole, next(iter(circuit.states))), "sheet": circuit}
    return templates.get_template("machines/map.svg").render(context)


@router.get("/machines/{number}/plate.pdf")
def wall(machine: Machine, db: Db, version: int = 0) -> Response:
    """Map and boxes as a plate for the wall."""
    chosen = queries.version_or_newest(db, machine.id, version)
    return _file(machine, chosen, wall_plate(machine, chosen, sheet_of(db, chosen.content_hash)), "plate", "pdf", "application/pdf")


def _file(machine: MachineRow, version: SheetVersion, text: str | bytes, what: str, kind: str, media_type: str) -> Response:
    name = quote(f"{machine.name}-v{version.number}.{kind}")
    headers = {"Content-Disposition": f"attachment; filename=\"{what}-{machine.number}-v{version.number}.{kind}\"; filename*=UTF-8''{name}"}
    return Response(text, media_type=media_type if isinstance(text, bytes) else f"{media_type}; charset=utf-8", headers=headers)
