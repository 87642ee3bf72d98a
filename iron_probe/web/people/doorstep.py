"""Before somebody is signed in: signing in, joining by a link. Nothing here asks who it is."""

from urllib.parse import urlsplit

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.web.page import Db, Form, field, templates
from iron_probe.web.who import COOKIE, SAMPLE_COOKIE, samples_of
from iron_probe.work import people
from iron_probe.work.people import AccountError

router = APIRouter()
STAYS_S = 30 * 86_400


def address_of(request: Request) -> str:
    """Where a request comes from; behind a proxy uvicorn has put the visitor's own in its place."""
    return request.client.host if request.client else ""


def _onward(then: str) -> str:
    """The page one came from, if it is of this app."""
    parts = urlsplit(then)
    return then if then.startswith("/") and not then.startswith(("//", "/\\")) and not parts.netloc and not parts.scheme else "/"


def _signed_in(request: Request, token: str, then: str) -> Response:
    answer = RedirectResponse(_onward(then), status_code=303)
    answer.set_cookie(COOKIE, token, max_age=STAYS_S, httponly=True, samesite="lax", secure=request.app.state.secure)
    return answer


@router.get("/sign-in")
def sign_in_page(request: Request, then: str = "/") -> Response:
    """Name and password; in the demo the sample people to choose from."""
    return _sign_in_page(request, then)


def _sign_in_page(request: Request, then: str, name: str = "", wrong: str = "") -> Response:
    context = {
        "then": _onward(then),
        "name": name,
        "wrong": wrong,
        "samples": [] if request.app.state.accounts else samples_of(request),
    }
    return templates.TemplateResponse(request, "people/sign_in.html", context, status_code=422 if wrong else 200)


@router.post("/sign-in")
def sign_in(request: Request, db: Db, form: Form) -> Response:
    """Sign in, or say why not; the name stays."""
    name, then = field(form, "name"), field(form, "then", "/")
    password = form.get("password")
    try:
        token = people.sign_in(
            db, name[:200], password[:500] if isinstance(password, str) else "", address_of(request), request.headers.get("user-agent", "")
        )
    except AccountError as error:
        return _sign_in_page(request, then, name, str(error))
    return _signed_in(request, token, then)


@router.post("/sign-in/sample")
def take_sample(request: Request, form: Form) -> Response:
    """Take a sample person, in the demo alone."""
    if request.app.state.accounts:
        raise AccountError("Sample people are of the demo; this yard has accounts: sign in by name and password")
    answer = RedirectResponse(_onward(field(form, "then", "/")), status_code=303)
    answer.set_cookie(SAMPLE_COOKIE, field(form, "person")[:20], httponly=True, samesite="lax", secure=request.app.state.secure)
    return answer


@router.get("/join/{key}")
def join_page(request: Request, db: Db, key: str) -> Response:
    """Set a password by a link that is used once."""
    open_, name = people.who_joins(db, key[:100])
    context = {"key": key, "open": open_, "name": name, "given": "", "wrong": ""}
    return templates.TemplateResponse(request, "people/join.html", context, status_code=200 if open_ else 410)


@router.post("/join/{key}")
def join(request: Request, db: Db, form: Form, key: str) -> Response:
    """Keep the password and sign in with it."""
    given, password = field(form, "name"), form.get("password")
    try:
        person = people.join(db, key[:100], given, password if isinstance(password, str) else "")
    except AccountError as error:
        db.rollback()
        open_, name = people.who_joins(db, key[:100])
        context = {"key": key, "open": open_, "name": name, "given": given, "wrong": str(error)}
        return templates.TemplateResponse(request, "people/join.html", context, status_code=422)
    return _signed_in(request, people.begin(db, person, address_of(request), request.headers.get("user-agent", "")), "/")
