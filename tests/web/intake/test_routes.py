"""Taking in goes to the work that fits."""

import re

import pytest

from tests.conftest import Visitor


@pytest.mark.parametrize(("symptom", "page"), [("drain", "/drain"), ("fuse", "/fuse"), ("no_charge", "/charge"), ("slow", "")])
def test_a_machine_is_taken_in_for_what_is_wrong_with_it(visitor: Visitor, symptom: str, page: str) -> None:
    visitor.submit("/jobs", sheet_id="lift-shuttle", machine="Taken in", symptom=symptom, school="common", temp_degc="20", cold_degc="-5")
    assert re.fullmatch(r"/jobs/\d+" + page, visitor.last.url.path)
    assert visitor.get("/").status_code == 200
    assert (
        visitor.get(visitor.last.url.path.replace(page, "") + "/report" if page else visitor.last.url.path + "/report").status_code == 200
    )
