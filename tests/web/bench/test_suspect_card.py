"""Condemning a part."""

import html

from tests.conftest import Visitor


def test_condemning_without_proof_needs_a_reason_and_shows_in_the_report(working: Visitor) -> None:
    refused = html.unescape(working.submit("/jobs/102/condemn", element="starter", reason=""))
    assert working.last.status_code == 422
    assert "Not proven" in refused
    working.submit("/jobs/102/condemn", element="starter", reason="customer insists")
    report = html.unescape(working.get("/jobs/102/report").text)
    assert "Starter motor" in report
    assert "unproven" in report
    assert "customer insists" in report
