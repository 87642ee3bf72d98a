"""The API answers and refuses in JSON."""

from tests.conftest import Visitor


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
