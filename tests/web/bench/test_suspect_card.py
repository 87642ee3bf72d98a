"""Condemning a part."""

import html
import re

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


def test_a_suspect_shows_predicted_against_read_on_one_scale_and_its_own_test_a_tap_away(working: Visitor) -> None:
    leader = re.findall(r'/suspects/([\w-]+)\?work=starting"', working.get("/jobs/102").text)[0]
    card = html.unescape(working.get(f"/jobs/102/suspects/{leader}?work=starting").text)
    assert card.count('class="mark-read"') >= 3 and "<table" not in card.split('class="card"')[1]
    asked = re.findall(r'Its own test: <a class="button small" href="([^"]+)"', card)[0]
    bench = working.get(asked).text
    assert f'value="{leader}"' in bench and 'value="voltmeter"' in bench
