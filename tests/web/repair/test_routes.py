"""Verdicts after repairs."""

import html

from tests.conftest import Visitor


def test_a_verdict_under_another_fault_is_void_and_joint_cures_prove_none(working: Visitor) -> None:
    working.submit("/jobs/102/condemn", element="starter", reason="sounded tired")
    working.submit("/jobs/102/repairs", text="isolator replaced", elements="isolator")
    assert "that verdict is void" in working.get("/jobs/102/repair").text
    working.submit("/jobs/102/repairs", text="battery replaced too", elements="battery")
    report = html.unescape(working.get("/jobs/102/report").text)
    assert "none of them alone is proven" in report
    assert "void, as another fault was present" in report


def test_several_parts_are_mended_at_once_and_a_refusal_keeps_them(working: Visitor) -> None:
    refused = working.post(
        "/jobs/102/repairs", data={"form_token": working.cookies["iron_probe_form"], "text": "", "elements": ["isolator", "plus-clamp"]}
    ).text
    for part in ("isolator", "plus-clamp"):
        assert f'name="elements" value="{part}" checked' in refused
    working.post(
        "/jobs/102/repairs",
        data={"form_token": working.cookies["iron_probe_form"], "text": "both", "elements": ["isolator", "plus-clamp", ""]},
    )
    report = working.get("/jobs/102/report").text
    assert "Isolator switch" in report and "Plus clamp" in report


def test_a_job_is_closed_as_what_was_chosen_and_the_report_says_so(working: Visitor) -> None:
    page = working.get("/jobs/102/repair").text
    assert '<option value="unproven" selected>' in page and "What stands" in page
    working.submit("/jobs/102/close", ending="handed_on")
    assert "handed to another" in working.get("/jobs/102/report").text
    working.submit("/jobs/102/close")
    assert "handed to another" not in working.get("/jobs/102/report").text.split("What you told us")[0].split("still open")[0]


def test_the_time_a_repair_took_is_noted_and_what_is_none_keeps_what_was_typed(working: Visitor) -> None:
    page = working.submit("/jobs/102/repairs", text="strap renewed", fitted="strap 35", took="a while")
    assert working.last.status_code == 422 and "is no time" in page and 'value="a while"' in page and "strap renewed" in page
    working.submit("/jobs/102/repairs", text="strap renewed", took="1,5 h")
    working.submit("/jobs/102/repairs", text="clamp cleaned", took="20 min")
    report = working.get("/jobs/102/report").text
    assert "strap renewed 1 h 30 min." in report and "Time in all: 1 h 50 min." in report
