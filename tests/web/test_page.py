"""What every page shares."""

from uuid import UUID, uuid4

import pytest
from starlette.datastructures import FormData
from starlette.requests import Request

from iron_probe.web.page import entry_id, field, is_fragment
from tests.conftest import Visitor


def test_a_field_is_plain_text_without_what_the_database_cannot_keep() -> None:
    form = FormData({"a": "  x\r\ny\x00 ", "n": "1"})
    assert field(form, "a") == "x\ny" and field(form, "missing", "else") == "else"


def test_a_broken_entry_id_becomes_a_new_one() -> None:
    known = uuid4()
    assert entry_id(FormData({"entry_id": str(known)})) == known
    assert isinstance(entry_id(FormData({"entry_id": "nonsense"})), UUID)


@pytest.mark.parametrize(
    ("headers", "part"), [({}, False), ({"hx-request": "true"}, True), ({"hx-request": "true", "hx-boosted": "true"}, False)]
)
def test_only_htmx_asks_for_parts(headers: dict[str, str], part: bool) -> None:
    sent = [(k.encode(), v.encode()) for k, v in headers.items()]
    assert is_fragment(Request({"type": "http", "headers": sent})) is part


@pytest.mark.parametrize("number", [0, 999_999, 2**63])
def test_a_job_that_is_none_is_told(visitor: Visitor, number: int) -> None:
    answer = visitor.get(f"/jobs/{number}")
    assert answer.status_code == 404 and "The yard lists every job" in answer.text
