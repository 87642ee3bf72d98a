"""People of the yard: oneself, everybody, and the audit of what was done."""

import re
from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Depends, HTTPException, Request, Response
from fastapi.responses import RedirectResponse
from sqlmodel import Session

from iron_probe.core.people.rights import Right, Role
from iron_probe.store import people as kept
from iron_probe.store.people import Person
from iron_probe.web.page import Db, Form, field, templates
from iron_probe.web.people.doorstep import address_of
from iron_probe.web.who import COOKIE, Who, needs
from iron_probe.work import people
from iron_probe.work.people import AccountError, Done, account_line, of_line

router = APIRouter()
MOST_SHOWN = 100
IN_EVERY = ("Mozilla", "AppleWebKit", "Gecko", "Version", "Mobile", "Safari")
"""What nearly every browser calls itself beside its own name."""


def person_of(db: Db, number: int) -> Person:
    """The person of the path; 404 where there is none."""
    found = kept.person_numbered(db, number)
    if found is None:
        raise HTTPException(404, f"There is nobody of number {number}. Everybody is listed under People.")
    return found


Somebody = Annotated[Person, Depends(person_of)]


def device_of(browser: str) -> str:
    """A browser in a few words, from the long name it gives itself: its own name, and what it runs on."""
    names = [name for name, _ in re.findall(r"(\w+)/(\d+)", browser) if name not in IN_EVERY] or ["a browser"]
    on = re.search(r"\(([^)]*)\)", browser)
    return f"{names[-1]} on {on[1][:40]}" if on else browser[:40] or names[0]


@router.get("/me")
def me(request: Request, db: Db, who: Who) -> Response:
    """Oneself: role, where one is signed in, password, keys of instruments."""
    return _me(request, db, who)


def _me(request: Request, db: Session, who: Who, wrong: str = "", key: str = "") -> Response:
    context = {
        "who": who,
        "sign_ins": kept.sign_ins_of(db, who.person.id) if who.sign_in else [],
        "wrong": wrong,
        "key": key,
        "device_of": device_of,
    }
    return templates.TemplateResponse(request, "people/me.html", context, status_code=422 if wrong else 200)


@router.post("/me/password")
@needs(Right.LOOK)
def change_password(request: Request, db: Db, form: Form, who: Who) -> Response:
    """Another password; every other sign-in ends."""
    old, new = form.get("old"), form.get("new")
    person = db.get_one(Person, who.person.id) if who.sign_in else None
    try:
        if person is None or not isinstance(old, str) or not isinstance(new, str):
            raise AccountError("A sample person has no password")
        people.change_password(db, person, old[:500], new[:500], who.sign_in)
    except AccountError as error:
        return _me(request, db, who, str(error))
    return RedirectResponse("/me?changed=1", status_code=303)


@router.post("/me/key")
def make_key(request: Request, db: Db, form: Form, who: Who) -> Response:
    """A key for an instrument or a program, shown once."""
    if who.sign_in is None:
        raise AccountError("In the demo everything on this machine may write without a key")
    return _me(
        request, db, who, key=people.begin(db, who.person, address_of(request), f"key for {field(form, 'of')[:60] or 'an instrument'}")
    )


@router.post("/me/sign-ins/{sign_in}/end")
@needs(Right.LOOK)
def end_one(db: Db, form: Form, who: Who, sign_in: UUID) -> Response:
    """End one of one's own sign-ins."""
    people.sign_out(db, sign_in, who.person)
    return RedirectResponse("/me" if sign_in != who.sign_in else "/sign-in", status_code=303)


@router.post("/sign-out")
@needs(Right.LOOK)
def sign_out(db: Db, form: Form, who: Who) -> Response:
    """End this sign-in."""
    if who.sign_in is not None:
        people.sign_out(db, who.sign_in, who.person)
    answer = RedirectResponse("/sign-in", status_code=303)
    answer.delete_cookie(COOKIE)
    return answer


@router.get("/people")
@needs(Right.LEAD)
def everybody(request: Request, db: Db) -> Response:
    """Everybody who works in the yard, or did."""
    return _everybody(request, db)


def _everybody(request: Request, db: Session, wrong: str = "", given: str = "", link: tuple[str, str] | None = None) -> Response:
    context = {"people": kept.people(db), "roles": list(Role), "wrong": wrong, "given": given, "link": link}
    return templates.TemplateResponse(request, "people/people.html", context, status_code=422 if wrong else 200)


def _address(request: Request, key: str) -> str:
    scheme = "https" if request.app.state.secure else "http"  # a proxy that speaks TLS asks by plain HTTP
    return f"{scheme}://{request.headers['host']}/join/{key}"


@router.post("/people")
@needs(Right.LEAD)
def add(request: Request, db: Db, form: Form, who: Who) -> Response:
    """Somebody new: the link by which they join is shown once."""
    name = field(form, "name")
    try:
        person, key = people.add_person(db, name, _role(form), who.person.name)
    except AccountError as error:
        db.rollback()
        return _everybody(request, db, str(error), name)
    return _everybody(request, db, link=(person.name, _address(request, key)))


@router.post("/people/{number}/link")
@needs(Right.LEAD)
def fresh_link(request: Request, db: Db, form: Form, who: Who, somebody: Somebody) -> Response:
    """A new link for somebody to set a password by."""
    name = somebody.name
    return _everybody(request, db, link=(name, _address(request, people.link_for(db, somebody, who.person.name))))


@router.post("/people/{number}/role")
@needs(Right.LEAD)
def change_role(db: Db, form: Form, who: Who, somebody: Somebody) -> Response:
    """Another role."""
    people.change_role(db, somebody, _role(form), who.person)
    return RedirectResponse("/people", status_code=303)


@router.post("/people/{number}/left")
@needs(Right.LEAD)
def leave(db: Db, form: Form, who: Who, somebody: Somebody) -> Response:
    """Somebody left the yard, or is back."""
    people.leave(db, somebody, who.person, back=field(form, "back") == "1")
    return RedirectResponse("/people", status_code=303)


def _role(form: Form) -> Role:
    try:
        return Role(field(form, "role"))
    except ValueError:
        raise AccountError(f"A role is one of {', '.join(Role)}") from None


@dataclass(frozen=True, slots=True)
class Audit:
    """A page of the audit: its lines, newest first, whose, and where the next page begins."""

    lines: list[Done]
    who: str
    before_line: int
    before_event: int


@router.get("/audit")
@needs(Right.LEAD)
def audit(request: Request, db: Db, who: str = "", line: int = 0, event: int = 0) -> Response:
    """Who did what: lines of all logs, and what was done to accounts."""
    lines = kept.lines_of_all(db, who[:80], max(line, 0) or None, MOST_SHOWN)
    events = kept.account_events(db, max(event, 0) or None, MOST_SHOWN)
    done = [Done(entry.at, entry.by, number, entry.kind, of_line(entry.payload)) for entry, number in lines]
    done += [shown for e in events if (shown := account_line(e)) and (not who or shown.by == who)]
    page = Audit(
        sorted(done, key=lambda d: d.at, reverse=True), who,
        lines[-1][0].seq if len(lines) == MOST_SHOWN else 0, events[-1].seq if len(events) == MOST_SHOWN else 0,
    )  # fmt: skip
    return templates.TemplateResponse(request, "people/audit.html", {"page": page, "people": kept.people(db)})
