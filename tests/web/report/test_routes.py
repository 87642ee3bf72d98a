"""The report tells the tests of all screens in sentences."""

import re

import pytest

from iron_probe.core.bench.fuse_trip.time_current import multiples_for
from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.web.report import routes
from iron_probe.web.report.routes import tell
from iron_probe.work.told_tests import ToldTest
from tests.conftest import Visitor


def test_a_verdict_a_time_and_kept_words_are_each_told() -> None:
    judged = Judged(verdict=Verdict.BAD, text="Worn.", limit="80 %", source="common practice", next_step="")
    assert tell(ToldTest(title="Battery", what="load", after=0, judged=judged)) == f"{Verdict.BAD.value}: Worn. Limit: 80 %."
    assert tell(ToldTest(title="Module", what="pair", after=0, judged=judged, typed="61 Ω")).startswith("61 Ω, ")
    assert "short" in tell(ToldTest(title="F1", what="time to blow", after=0, typed="0.05 s", blew=multiples_for(0.05, "regular")))
    assert tell(ToldTest(title="Crank trace", what="a.csv", after=0, words="kept")) == "kept"


def test_every_job_of_the_yard_has_its_report(visitor: Visitor, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(routes, "REPORT_WAIT_S", 0.0)  # without the engine's word, which takes seconds a machine
    numbers = [int(n) for n in re.findall(r'href="/jobs/(\d+)', visitor.get("/").text)]
    assert len(set(numbers)) > 8
    for number in set(numbers):
        assert visitor.get(f"/jobs/{number}/report").status_code == 200, number
