"""The rows of the evidence: each drawn once for all it says, as every page of a job shows thirty of them and one is new."""

from markupsafe import Markup

from iron_probe.core.bench.drop import JudgedDrop
from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.fold import LoggedReading
from iron_probe.core.kept import Kept
from iron_probe.web.language import spoken
from iron_probe.web.page import templates

_rows: Kept[tuple[object, ...], Markup] = Kept("evidence rows", 8192)


def evidence_row(r: LoggedReading, judged: JudgedDrop | None, sheet: Sheet, *, past: bool, version: int, source: str, job: int) -> Markup:
    """The row of a reading of a job: `past` when it was read before the last repair, `version` of the circuit, `source` of the limit it was judged by."""

    def drawn() -> Markup:
        row = templates.env.get_template("bench/_evidence_row.html")
        return Markup(row.render(r=r, j=judged, sheet=sheet, past=past, version=version, source=source, job_number=job))

    become = (r.withdrawn, r.corrected_by, r.aside)  # all that changes of a line once it is put down
    return _rows.get((spoken(), r.id, r.number, become, judged, SheetKey(sheet), past, version, source), drawn)
