"""Every page of the demo is there in every language: no text of a catalogue breaks one."""

import pytest

from iron_probe.web.language import COOKIE, languages
from iron_probe.web.rooms import SCREENS
from tests.conftest import Visitor

JOBS = (101, 103, 106, 109, 111)
OTHERS = (
    "/", "/jobs/new", "/machines", "/machines/2", "/machines/2/workbench", "/machines/2/import", "/machines/2/sheet", "/machines/new", "/history", "/practice",
    "/people", "/audit", "/yard", "/compose", "/compose?kind=van", "/sign-in", "/jobs/109/drain/sweep?at=l2",
)  # fmt: skip


@pytest.mark.parametrize("language", list(languages()))
def test_every_page_is_there(visitor: Visitor, language: str) -> None:
    visitor.cookies.set(COOKIE, language)
    for path in (*OTHERS, *(f"/jobs/{job}{screen.path}" for job in JOBS for screen in SCREENS)):
        answer = visitor.get(path)
        assert answer.status_code == 200 and f'<html lang="{language}">' in answer.text, path
