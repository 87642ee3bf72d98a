"""What the yard has done: jobs found by words, person, part, kind of machine and date; what was found on a kind how often."""

from datetime import UTC, datetime, timedelta
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request, Response
from sqlmodel import Session

from iron_probe.store import history
from iron_probe.store.history import PAGE, Asked
from iron_probe.web.page import templates
from iron_probe.work.history import summary_kept

router = APIRouter()
LONGEST = 120
PARTS = {
    "battery": "battery", "cable": "cable", "wire": "wire", "frame": "frame or body", "joint": "joint", "plug": "plug", "ground": "ground point",
    "fuse": "fuse", "link": "fusible link", "breaker": "breaker", "switch": "switch", "relay": "relay", "solenoid": "solenoid", "starter": "starter",
    "alternator": "alternator", "field_regulator": "field regulator", "stator": "stator", "rectifier": "rectifier", "charger": "charger",
    "diode": "diode", "module": "control module", "load": "consumer", "lamp": "lamp",
}  # fmt: skip
"""Kinds of parts one may look for, as the sheet calls them and as people do."""


@router.get("/history")
def found(
    request: Request,
    words: str = "",
    kind: str = "",
    person: str = "",
    part: str = "",
    since: str = "",
    until: str = "",
    before: int = 0,
) -> Response:
    """Jobs that were asked for, newest first; all of them where nothing was."""
    said = {"words": words, "kind": kind, "person": person, "part": part, "since": since, "until": until}
    said = {name: value.replace("\x00", "").strip()[:LONGEST] for name, value in said.items()}
    from_, wrong_from = _day(said["since"])
    to, wrong_to = _day(said["until"])
    asked = Asked(
        words=said["words"], kind=said["kind"], person=said["person"], part=said["part"] if said["part"] in PARTS else "", since=from_,
        until=to + timedelta(days=1) if to else None, before=before if 0 < before < 2**62 else 0,
    )  # fmt: skip
    with Session(request.app.state.past) as db:
        context = _found(db, asked, said) | {"wrong": wrong_from or wrong_to}
    return templates.TemplateResponse(request, "history/history.html", context, status_code=422 if context["wrong"] else 200)


def _found(db: Session, asked: Asked, said: dict[str, str]) -> dict[str, Any]:
    rows = history.jobs_found(db, asked)
    return {
        "rows": [(row, summary_kept(row), complaint) for row, complaint in rows[:PAGE]], "said": said,
        "kinds": history.kinds(db), "hands": history.hands(db), "parts": PARTS, "asked": any(said.values()),
        "found_on": history.found_on(db, asked.kind) if asked.kind else [],
        "onward": f"/history?{urlencode({**{k: v for k, v in said.items() if v}, 'before': rows[PAGE - 1][0].number})}" if len(rows) > PAGE else "",
    }  # fmt: skip


def _day(typed: str) -> tuple[datetime | None, str]:
    """A day as a browser's field gives it; what is wrong with it where it is none."""
    if not typed:
        return None, ""
    try:
        return datetime.strptime(typed, "%Y-%m-%d").replace(tzinfo=UTC), ""
    except ValueError:
        return None, f"“{typed[:20]}” is no day: write it as 2026-11-30"
