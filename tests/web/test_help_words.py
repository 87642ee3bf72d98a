"""Every page one works on says what it is for; no help is left for a page that is gone."""

import pytest
from fastapi.routing import APIRoute

from iron_probe.web.help_words import HELP
from iron_probe.web.rooms import SCREENS
from tests.conftest import Visitor


def test_every_help_belongs_to_a_page_and_every_screen_of_a_job_has_one(visitor: Visitor) -> None:
    pages = {r.path for r in visitor.app.routes if isinstance(r, APIRoute) and "GET" in r.methods}  # type: ignore[attr-defined]
    assert set(HELP) - pages == set()
    assert {f"/jobs/{{number}}{s.path}" for s in SCREENS} - set(HELP) == set()


@pytest.mark.parametrize("path", ["/", "/jobs/101", "/history", "/practice"])
def test_a_page_shows_its_help(visitor: Visitor, path: str) -> None:
    route = "/jobs/{number}" if path.startswith("/jobs/") else path
    assert HELP[route][:40] in visitor.get(path).text
