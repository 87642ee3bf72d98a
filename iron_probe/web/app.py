"""The web application: routes, safety headers and the one place where errors become answers."""

import contextlib
from collections.abc import AsyncIterator, Awaitable, Callable
from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, PlainTextResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy import Engine
from sqlalchemy.exc import OperationalError
from sqlmodel import Session
from starlette.exceptions import HTTPException

from iron_probe.core.errors import IronProbeError
from iron_probe.web import api, api_drain, battery, bench, captures, charge, control, drain, fuse, intake, repair, report, sweep, yard
from iron_probe.web.csrf import CsrfError, ensure_token
from iron_probe.web.importing import Importer
from iron_probe.web.page import templates

STATIC = Path(__file__).parent / "static"
POLICY = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'; manifest-src 'self'"


def create_app(engine: Engine, uploads: Path) -> FastAPI:
    """The app on a migrated database; uploaded captures lie in `uploads` until they are read."""
    importer = Importer(engine, uploads)

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        with Session(engine) as session:
            importer.resume(session)
        yield
        importer.stop()

    app = FastAPI(lifespan=lifespan, title="Iron Probe", docs_url=None, redoc_url=None, openapi_url="/api/v1/openapi.json")
    app.state.engine, app.state.importer = engine, importer
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for screen in (yard, intake, bench, battery, captures, charge, control, drain, sweep, fuse, repair, report):
        app.include_router(screen.router, include_in_schema=False)

    app.include_router(api.router)
    app.include_router(api_drain.router)

    @app.middleware("http")
    async def safety(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        token, fresh = ensure_token(request)
        request.state.csrf = token
        response = await call_next(request)
        response.headers["Content-Security-Policy"] = POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        if not request.url.path.startswith("/static"):
            response.headers.setdefault("Cache-Control", "no-store")
        if fresh:
            response.set_cookie("iron_probe_form", token, httponly=True, samesite="strict", path="/")
        return response

    def refuse(request: Request, status: int, heading: str, text: str) -> Response:
        return templates.TemplateResponse(request, "refusal.html", {"heading": heading, "text": text}, status_code=status)

    @app.exception_handler(HTTPException)
    async def http_error(request: Request, error: HTTPException) -> Response:
        if request.url.path.startswith("/static"):
            return PlainTextResponse("not found", status_code=error.status_code)
        heading = {404: "Not here", 405: "Not this way", 410: "Deleted"}.get(error.status_code, "Refused")
        text = (
            error.detail
            if error.detail not in ("Not Found", "Method Not Allowed")
            else f"There is no page at {request.url.path}. The yard lists every job in hand."
        )
        if request.url.path.startswith("/api/"):
            return JSONResponse({"error": text}, status_code=error.status_code)
        return refuse(request, error.status_code, heading, text)

    @app.exception_handler(CsrfError)
    async def forged(request: Request, error: CsrfError) -> Response:
        return refuse(request, 403, "Form out of date", str(error))

    @app.exception_handler(IronProbeError)
    async def refused(request: Request, error: IronProbeError) -> Response:
        if request.url.path.startswith("/api/"):
            return JSONResponse({"error": str(error)}, status_code=422)
        return refuse(request, 422, "Refused", f"{error}. Nothing was changed.")

    @app.exception_handler(RequestValidationError)
    async def misshapen(request: Request, error: RequestValidationError) -> Response:
        told = "; ".join(f"{'.'.join(str(p) for p in e['loc'] if p != 'body') or 'body'}: {e['msg'].lower()}" for e in error.errors())
        if request.url.path.startswith("/api/"):
            return JSONResponse({"error": told}, status_code=422)
        return refuse(request, 404, "Not here", f"The address does not fit: {told}. The yard lists every job in hand.")

    @app.exception_handler(OperationalError)
    async def database_away(request: Request, error: OperationalError) -> Response:
        return refuse(
            request,
            503,
            "The database does not answer",
            "Nothing was saved. Go back: what you typed is still in the form. Try again in a moment.",
        )

    return app
