"""Errors become answers in one place."""

import pytest
from sqlalchemy.exc import OperationalError

from iron_probe.web.yard import routes
from tests.conftest import Visitor


class FullError(Exception):
    sqlstate = "53100"


@pytest.mark.parametrize(
    ("error", "status", "told"),
    [
        (OperationalError("select", {}, Exception("connection refused")), 503, "Wait: the database does not answer"),
        (OperationalError("insert", {}, FullError()), 507, "The disk is full"),
        (OSError(28, "No space left on device"), 507, "The disk is full"),
    ],
)
def test_a_failing_house_is_told_in_words(
    visitor: Visitor, monkeypatch: pytest.MonkeyPatch, error: Exception, status: int, told: str
) -> None:
    def fails(*_: object, **__: object) -> None:
        raise error

    monkeypatch.setattr(routes, "yard_page", fails)
    answer = visitor.get("/")
    assert answer.status_code == status and told in answer.text


def test_a_strange_address_leads_back_and_the_api_answers_in_json(visitor: Visitor) -> None:
    assert "The yard lists every job" in visitor.get("/nothing/here").text
    assert visitor.get("/jobs/abc").status_code == 404
    answer = visitor.get("/api/v1/nothing")
    assert answer.status_code == 404 and "error" in answer.json()
