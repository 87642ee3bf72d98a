"""Every page one works on says what it is for; no help is left for a page that is gone."""

import pytest

from iron_probe.web.help_words import HELP
from iron_probe.web.rooms import SCREENS
from tests.conftest import Visitor
from tests.web.test_who import routes_of


def test_every_help_belongs_to_a_page_and_every_screen_of_a_job_has_one(visitor: Visitor) -> None:
    pages = {path for method, path, _ in routes_of(visitor) if method == "GET"}
    assert set(HELP) - pages == set()
    assert {f"/jobs/{{number}}{s.path}" for s in SCREENS} - set(HELP) == set()


@pytest.mark.parametrize("path", ["/", "/jobs/101", "/history", "/practice"])
def test_a_page_shows_its_help(visitor: Visitor, path: str) -> None:
    route = "/jobs/{number}" if path.startswith("/jobs/") else path
    assert HELP[route][:40] in visitor.get(path).text
