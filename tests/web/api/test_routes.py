"""The API answers and refuses in JSON."""

from uuid import uuid4

from sqlmodel import Session

from iron_probe.core.job.job import TECHNICIAN
from iron_probe.machines import sheet_text
from iron_probe.work.machines import NewMachine, bring_in
from tests.conftest import Visitor
from tests.odd_sheets import renamed


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
    assert set(answer) == {
        "suspects",
        "eliminated",
        "found",
        "unexplained",
        "off_sheet",
        "next",
        "tied",
        "access",
        "found_beside",
        "grounded",
        "way",
        "beside",
        "away",
        "no_fault",
        "sound",
        "pair",
        "pair_share",
        "contradictory",
        "work",
        "version",
    }
    assert answer["suspects"][0]["element"] == "frame-bolt"
    for path, body, word in [
        ("/api/v1/sheets/tank/solve", {}, "no sheet is called"),
        ("/api/v1/sheets/green-mower/solve", {"state": "fly"}, "no state is called"),
        ("/api/v1/sheets/green-mower/solve", {"faults": ["x"]}, "is not a fault"),
        ("/api/v1/sheets/green-mower/diagnose", {"readings": [{"state": "crank", "value": "1"}]}, "needs both leads"),
        ("/api/v1/sheets/green-mower/diagnose", {"readings": "none"}, "readings"),
    ]:
        answer = visitor.post(path, json=body)
        assert (answer.status_code, word in answer.json()["error"]) == (404 if "tank" in path else 422, True), answer.text
    assert "POST /api/v1/sheets/{sheet_id}/diagnose" in visitor.get("/api/v1/reference").text


def test_a_machine_of_the_yard_is_answered_like_a_shipped_sheet(visitor: Visitor) -> None:
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        own = bring_in(session, NewMachine(id=uuid4(), name="Own mower"), renamed(sheet_text("green-mower")), "", TECHNICIAN)
        session.commit()
        path = f"/api/v1/sheets/machine-{own.number}"
    state = visitor.get(path).json()["states"][-1]
    assert visitor.post(f"{path}/solve", json={"state": state}).json()["nodes"]
    assert visitor.post(f"{path}/netlist", json={"state": state}).text.strip().endswith(".end")
    assert visitor.post(f"{path}/diagnose", json={"readings": []}).json()["suspects"]
    assert visitor.get("/api/v1/sheets/machine-99999").status_code == 404


def test_a_method_that_is_none_says_which_there_are_and_true_is_no_temperature(visitor: Visitor) -> None:
    answer = visitor.request("DELETE", "/api/v1/sheets")
    assert answer.status_code == 405 and "GET" in answer.headers["allow"]
    assert visitor.post("/api/v1/sheets/green-mower/solve", json={"temp_degc": True}).status_code == 422
