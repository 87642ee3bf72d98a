"""What a device keeps to work on while the link is down: the worker that answers then, and the word by which the app is installed."""

from pathlib import Path

from fastapi import APIRouter, Response
from fastapi.responses import FileResponse, JSONResponse

router = APIRouter()
STATIC = Path(__file__).parent / "static"
MANIFEST = {
    "name": "Iron Probe",
    "short_name": "Iron Probe",
    "start_url": "/",
    "display": "standalone",
    "background_color": "#f3f0e6",
    "theme_color": "#15191c",
    "icons": [{"src": "/static/icon.svg", "sizes": "any", "type": "image/svg+xml"}],
}


@router.get("/sw.js")
def worker() -> Response:
    """The service worker, from the root so that it answers for every page."""
    return FileResponse(STATIC / "sw.js", media_type="text/javascript")


@router.get("/manifest.webmanifest")
def manifest() -> Response:
    """What an installed app is called and begins with."""
    return JSONResponse(MANIFEST, media_type="application/manifest+json")
