"""Suspects on the Bench, the condemn guard, and the API."""

import html

import pytest

from tests.conftest import Visitor


@pytest.fixture
def working(visitor: Visitor) -> Visitor:
    """A visitor whose ensemble is ready."""
    visitor.get("/jobs/102/suspects/isolator")
    return visitor


def test_suspects_next_test_and_struck_out_are_shown(working: Visitor) -> None:
    page = html.unescape(working.get("/jobs/102").text)
    assert "bit in" in page
    assert "struck out" in page
    assert "What it does" in page
    card = working.get("/jobs/102/suspects/isolator").text
    assert "It predicts" in card


def test_order_of_work_and_an_absent_element_recompute_at_once(working: Visitor) -> None:
    working.submit("/jobs/102/school", method="source")
    assert "source first, then halve what is left" in working.get("/jobs/102").text
    assert "Not on this machine" in working.submit("/jobs/102/mark", element="isolator", mark="absent")
    assert working.get("/jobs/102/suspects/isolator").status_code == 200
    assert "no element is called" in working.submit("/jobs/102/mark", element="mast", mark="absent")
    assert working.last.status_code == 422


def test_condemning_without_proof_needs_a_reason_and_shows_in_the_report(working: Visitor) -> None:
    refused = html.unescape(working.submit("/jobs/102/condemn", element="starter", reason=""))
    assert working.last.status_code == 422
    assert "Not proven" in refused
    working.submit("/jobs/102/condemn", element="starter", reason="customer insists")
    report = html.unescape(working.get("/jobs/102/report").text)
    assert "Starter motor" in report
    assert "unproven" in report
    assert "customer insists" in report


def test_a_reading_the_engine_cannot_use_is_said_not_hidden(working: Visitor) -> None:
    fields = {"instrument": "ohmmeter", "red": "bat.plus", "black": "block", "state": "rest", "value": "2"}
    assert "no element lies between" in html.unescape(working.submit("/jobs/102/readings", **fields))


def test_lamp_and_jumper_readings_are_logged(working: Visitor) -> None:
    working.submit("/jobs/102/readings", instrument="lamp_4a", red="relay.87", black="bat.minus", state="crank", word="bright")
    assert working.last.status_code == 200
    working.submit("/jobs/102/readings", instrument="jumper", red="isolator.in", black="isolator.out", state="crank", word="cranks")
    assert working.last.status_code == 200
    assert "Isolator switch" in working.get("/jobs/102").text


def test_api_answers_and_refuses_in_json(visitor: Visitor) -> None:
    listed = visitor.get("/api/v1/sheets").json()
    assert {s["id"] for s in listed} >= {"crew-minibus", "quay-digger"}
    assert set(listed[0]["elements"][0]) == {"id", "type", "title", "from", "to", "faults"}
    solved = visitor.post("/api/v1/sheets/green-mower/solve", json={"state": "crank", "faults": ["frame-bolt=high_resistance:0.05"]}).json()
    assert solved["symptoms"] == ["slow"] or solved["nodes"]["frame"] > 1
    asked = {
        "readings": [
            {"instrument": "eyes", "state": "crank", "value": "slow"},
            {"red": "frame", "black": "frame.eye", "state": "crank", "value": "1,9 V"},
        ]
    }
    answer = visitor.post("/api/v1/sheets/green-mower/diagnose", json=asked).json()
    assert set(answer) == {"suspects", "eliminated", "found", "unexplained", "off_sheet", "next", "tied", "access"}
    assert answer["suspects"][0]["element"] == "frame-bolt"
    for path, body, word in [
        ("/api/v1/sheets/tank/solve", {}, "no sheet is called"),
        ("/api/v1/sheets/green-mower/solve", {"state": "fly"}, "no state is called"),
        ("/api/v1/sheets/green-mower/solve", {"faults": ["x"]}, "is not a fault"),
        ("/api/v1/sheets/green-mower/diagnose", {"readings": [{"state": "crank", "value": "1"}]}, "needs both leads"),
        ("/api/v1/sheets/green-mower/diagnose", {"readings": "none"}, "readings"),
    ]:
        answer = visitor.post(path, json=body)
        assert (answer.status_code, word in answer.json()["error"]) == (422, True), answer.text
    assert "POST /api/v1/sheets/{sheet_id}/diagnose" in visitor.get("/api/v1/reference").text


def test_a_verdict_under_another_fault_is_void_and_joint_cures_prove_none(working: Visitor) -> None:
    working.submit("/jobs/102/condemn", element="starter", reason="sounded tired")
    working.submit("/jobs/102/repairs", text="isolator replaced", elements="isolator")
    assert "that verdict is void" in working.get("/jobs/102/repair").text
    working.submit("/jobs/102/repairs", text="battery replaced too", elements="battery")
    report = html.unescape(working.get("/jobs/102/report").text)
    assert "none of them alone is proven" in report
    assert "void, as another fault was present" in report
