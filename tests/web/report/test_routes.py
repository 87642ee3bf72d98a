"""The report tells the tests of all screens in sentences."""

import re

import pytest

from iron_probe.core.bench.fuse_trip.time_current import multiples_for
from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.diagnose.apart import FoundWay
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.posterior import Suspect
from iron_probe.web.report import routes
from iron_probe.web.report.routes import tell
from iron_probe.work.told_tests import ToldTest
from iron_probe.work.word import Verdicts
from tests.conftest import Visitor
from tests.left import left_of


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


def test_a_way_that_is_found_is_the_finding_of_its_report(visitor: Visitor, monkeypatch: pytest.MonkeyPatch) -> None:
    """Of a job that its drop log has not ended: the report says the way, and neither that nothing is proven nor that the complaint stays open."""
    sheet = visitor.job(103).sheet
    first, second = next(
        (a, b) for a in sheet.elements for b in sheet.elements
        if a is not b and {a.type, b.type} <= {"cable", "joint", "plug", "wire"} and len(set(a.points()) & set(b.points())) == 1
    )  # fmt: skip
    ends = sorted(set(first.points()) ^ set(second.points()))
    way = FoundWay(elements=(first.id, second.id), first=ends[0], last=ends[1], share=0.96)
    suspects = tuple(Suspect(element=e, p=0.48, mode="open", modes=(("open", 0.48),)) for e in way.elements)
    left = left_of(suspects=suspects, off_sheet=0.02)
    word = Verdicts(posterior=left, tests=(), numbers=(), order=Order.BEST, tied=way.elements, way=way)
    monkeypatch.setattr(routes, "first_word", lambda *asked: word)
    report = visitor.get("/jobs/103/report").text
    assert "The way from" in report and "has a bad place" in report
    assert "Not proven yet" not in report
    assert "The complaint stays open" not in report
    assert "own test is still to be made" not in report
