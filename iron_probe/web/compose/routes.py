"""Putting a machine together from a few answers, with its drawing beside them."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import PlainTextResponse, RedirectResponse

from iron_probe.core.compose.answers_file import write_answers
from iron_probe.core.errors import SheetError
from iron_probe.web.compose.page import Answers, compose_page, composed_of, kinds, read_said
from iron_probe.web.machines.page import read_machine
from iron_probe.web.page import Db, Form, entry_id, field, templates
from iron_probe.web.who import whoever
from iron_probe.work.machines import bring_in

router = APIRouter()


@router.get("/compose")
def start(request: Request) -> Response:
    """The kinds of machine, or a machine as far as the address answers for it."""
    said = read_said(request.query_params)
    return _page(request, said) if said.get("kind") else _kinds(request)


@router.post("/compose")
def draw(request: Request, form: Form) -> Response:
    """The machine as it is answered now; the address follows."""
    return _page(request, read_said(form), _named(form))


@router.post("/compose/keep")
def keep(request: Request, db: Db, form: Form) -> Response:
    """Keep the machine with the answers it was put together from, and go on to it or to taking it in."""
    said = read_said(form)
    machine, wrong = read_machine(form, entry_id(form))
    if wrong:
        return _page(request, said, _named(form), wrong)
    try:
        composed = composed_of(said, machine.name[:60])
    except SheetError:
        return _page(request, said, _named(form))
    if composed.mistakes:
        told = {"keep": "Not kept yet: something said above cannot be taken; it stands beside its question."}
        return _page(request, said, _named(form), told)
    machine = replace(machine, kind=composed.settled.kind.title)  # the form's `kind` is a name of the book
    answers = len(composed.settled.said)
    note = f"put together from {answers} answer{'s' if answers > 1 else ''}" if answers else "put together from what is usual"
    row = bring_in(db, machine, composed.text, note, whoever(), answers=write_answers(said))
    return RedirectResponse(
        f"/jobs/new?machine={row.number}" if field(form, "then") == "job" else f"/machines/{row.number}", status_code=303
    )


@router.get("/compose/answers.yaml")
def answers_file(request: Request) -> Response:
    """The answers of an address as a file."""
    return _file(write_answers(read_said(request.query_params)), "answers.yaml")


@router.get("/compose/sheet.yaml")
def sheet_file(request: Request, title: Annotated[str, Query(max_length=60)] = "") -> Response:
    """The circuit sheet that the answers of an address make."""
    return _file(composed_of(read_said(request.query_params), title).text, "sheet.yaml")


def _file(text: str, name: str) -> Response:
    return PlainTextResponse(text, media_type="application/yaml", headers={"Content-Disposition": f'attachment; filename="{name}"'})


def _named(form: Form) -> dict[str, str]:
    return {k: field(form, k) for k in ("name", "plate")}


def _kinds(request: Request, wrong: str = "") -> Response:
    context = {"kinds": kinds(), "wrong": wrong}
    return templates.TemplateResponse(request, "compose/kinds.html", context, status_code=422 if wrong else 200)


def _page(request: Request, said: Answers, named: dict[str, str] | None = None, wrong: dict[str, str] | None = None) -> Response:
    try:
        page = compose_page(said)
    except SheetError as error:
        return _kinds(request, str(error))
    status = 422 if wrong or (page.composed.mistakes and request.method == "POST") else 200
    answer = templates.TemplateResponse(
        request, "compose/compose.html", {"page": page, "named": named or {}, "wrong": wrong or {}}, status_code=status
    )
    answer.headers["HX-Replace-Url"] = page.address
    return answer
