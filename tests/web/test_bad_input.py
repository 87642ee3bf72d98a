"""What a tired or hostile hand sends: a clear word each, nothing lost, nothing run."""

import html
import re
from uuid import uuid4

import pytest

from tests.conftest import Visitor

CRANK = {"red": "bat.plus", "black": "starter.B", "state": "crank", "instrument": "voltmeter"}


def readings(visitor: Visitor) -> int:
    return visitor.get("/jobs/102").text.count('class="ev-no"')


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"value": "abc"}, "“abc” is not a voltage"),
        ({"value": ""}, "The field is empty"),
        ({"value": "400"}, "beyond 60 V"),
        ({"value": "3 A"}, "is in A, but this field takes a voltage"),
        ({"value": "1", "red": "bat.nowhere"}, "No point is called “bat.nowhere”"),
        ({"value": "1", "black": "bat.plus"}, "Red and black are on the same point"),
        ({"value": "1", "black": ""}, "needs both leads"),
        ({"value": "1", "state": "flying"}, "no state is called “flying”"),
        ({"value": "1", "instrument": "spoon"}, "is not an instrument known here"),
        ({"value": "1", "amps": "many"}, "“many” is not a current"),
        ({"instrument": "eyes", "word": "boom"}, "needs a word: one of nothing, click"),
        ({"value": "1", "corrects": str(uuid4())}, "reading to correct no longer counts"),
    ],
)
def test_refused_readings_keep_what_was_typed(visitor: Visitor, fields: dict[str, str], word: str) -> None:
    before = readings(visitor)
    page = html.unescape(visitor.submit("/jobs/102/readings", **{**CRANK, **fields}))
    assert visitor.last.status_code == 422
    assert word in page
    if fields.get("value"):
        assert f'value="{fields["value"]}"' in page
    assert readings(visitor) == before


@pytest.mark.parametrize("value", ["1.44", "1.44 v", "1440mv", "1,44", "-1.44"])
def test_accepted_spellings(visitor: Visitor, value: str) -> None:
    page = visitor.submit("/jobs/102/readings", **CRANK, value=value)
    assert visitor.last.status_code == 200
    assert "1.44 V" in page


def test_a_double_click_logs_once(visitor: Visitor) -> None:
    before, same = readings(visitor), str(uuid4())
    for _ in range(2):
        visitor.submit("/jobs/102/readings", **CRANK, value="0.5", entry_id=same)
    assert readings(visitor) == before + 1


def test_two_tabs_both_count_and_an_old_tab_still_logs(visitor: Visitor) -> None:
    before = readings(visitor)
    first, second = (re.findall(r'name="entry_id" value="([^"]+)"', visitor.get("/jobs/102").text)[-1] for _ in range(2))
    visitor.submit("/jobs/102/readings", **CRANK, value="0.5", entry_id=first)
    visitor.submit("/jobs/102/readings", **CRANK, value="0.6", entry_id=second)
    assert readings(visitor) == before + 2


def test_a_deleted_or_unknown_job_says_so(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/delete")
    assert "Job 102 was deleted on" in visitor.submit("/jobs/102/readings", **CRANK, value="0.5")
    assert visitor.last.status_code == 410
    for path in ("/jobs/999", "/jobs/99999999999999999999999", "/jobs/-1", "/nothing"):
        assert visitor.get(path).status_code == 404
    assert "Bus 12" not in visitor.get("/").text


def intake(**fields: str) -> dict[str, str]:
    return {
        "sheet_id": "crew-minibus",
        "machine": "Van 3",
        "symptom": "slow",
        "school": "common",
        "temp_degc": "12",
        "cold_degc": "-10",
        **fields,
    }


def test_script_in_a_name_is_shown_not_run(visitor: Visitor) -> None:
    page = visitor.submit("/jobs", **intake(machine="<script>alert(1)</script>", complaint="'); drop table job; --"))
    assert "<script>alert" not in page
    assert "&lt;script&gt;alert(1)" in page
    assert "Bus 12" in visitor.get("/").text


def test_long_complaint_fits_and_too_long_is_kept_in_the_form(visitor: Visitor) -> None:
    visitor.submit("/jobs", **intake(complaint="groans " * 1428))
    assert visitor.last.status_code == 200
    page = visitor.submit("/jobs", **intake(complaint="x" * 20_000))
    assert visitor.last.status_code == 422
    assert "20,000 characters; at most 12,000" in page
    assert "x" * 20_000 in page


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"machine": ""}, "Give the machine a name"),
        ({"sheet_id": "tank"}, "or the circuit sheet that comes nearest"),
        ({"temp_degc": "warm"}, "Temperature now is from −40 °C to 60 °C"),
        ({"cold_degc": "-300"}, "from −40 °C to 60 °C: a number such as 15 or -10"),
        ({"temp_degc": "nan"}, "from −40 °C to 60 °C: a number such as 15 or -10"),
        ({"symptom": "odd"}, "Choose one of the symptoms"),
    ],
)
def test_intake_refusals(visitor: Visitor, fields: dict[str, str], word: str) -> None:
    page = html.unescape(visitor.submit("/jobs", **intake(**fields)))
    assert (visitor.last.status_code, word in page) == (422, True)
    assert "Van 3" in page or not fields.get("machine", "x")


def test_a_forged_form_is_refused(visitor: Visitor) -> None:
    answer = visitor.post("/jobs/102/readings", data={**CRANK, "value": "1", "form_token": "other"})
    assert answer.status_code == 403
    assert "Nothing was saved" in answer.text
    assert visitor.post("/jobs/102/readings", data={**CRANK, "value": "1"}).status_code == 403


def test_null_bytes_and_odd_text_never_break(visitor: Visitor) -> None:
    for value in ("\x00", "٣", "1\x00", "🔋", "%s", "0x10", "∞", "-", ",", "1e309"):
        visitor.submit("/jobs/102/readings", **CRANK, value=value)
        assert visitor.last.status_code in (200, 422), value
    visitor.submit("/jobs", **intake(machine="null\x00byte", complaint="\ud83d"[:0] + "ok"))
    assert visitor.last.status_code == 200


@pytest.mark.parametrize("path", ["/", "/jobs/new", "/jobs/101", "/jobs/101/repair", "/jobs/101/report", "/jobs/101/intake", "/nothing"])
def test_every_page_is_sealed_against_inline_script(visitor: Visitor, path: str) -> None:
    answer = visitor.get(path)
    policy = answer.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert not re.search(r"<script(?![^>]*\bsrc=)|\son\w+=|\sstyle=", answer.text)


def test_works_without_script(visitor: Visitor) -> None:
    page = visitor.get("/jobs/102?red=bat.plus&black=isolator.in&state=crank").text
    assert re.search(r'name="black" [^>]*value="isolator stud to battery"', page)
    assert 'method="post" action="/jobs/102/readings"' in page


def test_a_finding_is_only_claimed_with_its_own_test(visitor: Visitor) -> None:
    assert "Not proven yet" in visitor.get("/jobs/102/report").text
    assert "Ground stud in locker lost" in visitor.get("/jobs/101/report").text
