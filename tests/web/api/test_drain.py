"""Totals sent by an instrument."""

from tests.conftest import Visitor
from tests.web.drain.steps import take_in


def test_an_instrument_logs_totals_and_says_when_one_tells_nothing_new(visitor: Visitor) -> None:
    job = take_in(visitor)
    url = f"/api/v1{job}/totals"
    assert "with its key alone" in visitor.post(url, json={"amps": 1.2}).json()["error"]
    visitor.headers["X-Job-Key"] = visitor.job(int(job.rsplit("/", 1)[1])).key
    assert visitor.post(url, json={"amps": 1.2}).json() == {"kept": True}
    assert visitor.post(url, json={"amps": 1.21}).json() == {"kept": False}
    assert visitor.post(url, json={"amps": -1.21}).json() == {"kept": True}  # it keeps its sign: it flows into the battery
    assert visitor.post(url, json={"amps": 0.412}).json() == {"kept": True}
    assert "412 mA<small>total" in visitor.get(job + "/drain", headers={"HX-Request": "true"}).text
    assert visitor.post(url, json={"amps": "much"}).status_code == 422
    assert visitor.post(url, content='{"amps": 1}', headers={"Content-Type": "text/plain"}).status_code == 422
    assert "There is no job 999999" in visitor.post("/api/v1/jobs/999999/totals", json={"amps": 1}).json()["error"]
