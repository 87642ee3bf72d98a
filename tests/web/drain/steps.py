"""Steps of drain work by forms."""

from sqlmodel import Session

from iron_probe.store import captures
from iron_probe.work.import_capture import import_capture
from iron_probe.work.jobs import find_job
from tests.conftest import Visitor


def take_in(visitor: Visitor, sheet: str = "lift-shuttle") -> str:
    visitor.submit("/jobs", sheet_id=sheet, machine="Drain test", symptom="", school="common", temp_degc="20", cold_degc="-5")
    return f"/jobs/{visitor.last.url.path.split('/')[2]}"


def total(visitor: Visitor, job: str, value: str) -> str:
    return visitor.submit(job + "/drain/totals", value=value, way="clamp")


def read(visitor: Visitor, job: str, where: str, value: str, way: str = "fuse drop") -> str:
    return visitor.submit(job + "/drain/readings", where=where, value=value, way=way, back=f"/drain/sweep?at={where}")


def bring_in(visitor: Visitor, job: str, name: str, data: str) -> str:
    """Upload a record, confirm its layout (volts where a column says so, else amps) and read it here and now; gives its id."""
    visitor.post(
        job + "/captures", data={"form_token": visitor.cookies["iron_probe_form"]}, files={"file": (name, data.encode(), "text/csv")}
    )
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        found = find_job(session, int(job.rsplit("/", 1)[1]))
        assert found is not None
        row = captures.captures_of(session, found)[0]
        names = row.preview["names"]
        channels = [
            {"column": k, "name": n, "role": "volts" if "Behind" in n else "amps"}
            for k, n in enumerate(names)
            if k != row.layout["time_column"]
        ]
        row.layout = {**row.layout, "channels": channels}
        row.status = "reading"
        captures.save(session, row)
        import_capture(visitor.app.state.engine, row.id)  # type: ignore[attr-defined]
        return str(row.id)
