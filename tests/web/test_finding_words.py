"""What was found, in words."""

from dataclasses import replace

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.apart import Access, FoundWay
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.next_test import Order
from iron_probe.web import finding_words
from iron_probe.web.page import templates
from iron_probe.work.jobs import find_job
from iron_probe.work.word import Verdicts
from tests.left import left_of


def test_a_joint_beside_a_part_is_told_with_the_part(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    told = finding_words.found_beside(left_of(beside=((wire.id, 0.95),)), minibus)
    assert told.startswith(f"{wire.title.lower()}: sound between its own two ends, so a joint or splice")


def test_a_joint_is_offered_to_be_drawn_where_it_is_likely_or_found() -> None:
    assert finding_words.to_draw(left_of(beside=(("a", 0.5), ("b", 0.12), ("c", 0.05)), off_sheet=0.2)) == ("a", "b")
    assert finding_words.to_draw(left_of()) == ()


def test_a_way_to_ground_is_named_where_something_speaks_for_it(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    likely, hardly = (left_of(grounded=((wire.id, p),), off_sheet=0.9) for p in (0.8, 0.02))
    assert (
        finding_words.grounded(likely, minibus)
        == f"most likely a way to ground at the {wire.title.lower()}, which is sound by itself: 80 %"
    )
    assert finding_words.grounded(hardly, minibus) == finding_words.grounded(left_of(), minibus) == ""


def test_a_way_is_told_by_its_ends_and_parts(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    first, last = wire.points()
    told = finding_words.way(FoundWay(elements=(wire.id,), first=first, last=last, share=0.9), minibus)
    assert told == f"the way from {minibus.points[first].title} to {minibus.points[last].title} ({wire.title.lower()})"


def test_two_faults_are_one_sentence_and_none_is_nothing(minibus: Sheet) -> None:
    assert finding_words.two_at_once(left_of(), minibus) == ""


def test_a_way_and_a_tie_are_told_with_the_access_that_splits_them(minibus: Sheet, yard: Engine) -> None:
    first, second = [e for e in minibus.elements if e.type == "wire"][:2]
    ohms = Reading(instrument=Instrument.OHMMETER, red=first.points()[0], black=first.points()[1], state="rest", value=1.0)
    access = Access(element=first.id, reading=ohms, bits=0.5)
    way = FoundWay(elements=(first.id, second.id), first=first.points()[0], last=second.points()[1], share=0.9)
    with Session(yard) as session:
        job = find_job(session, 102)
    macro = templates.get_template("shared/_told_apart.html").module.told_apart  # type: ignore[attr-defined]
    word = Verdicts(posterior=left_of(), tests=(), numbers=(), order=Order.BEST, tied=way.elements, access=access)
    tie, found = macro(word, minibus, job), macro(replace(word, way=way), minibus, job)
    assert "Cannot be told apart" in tie
    assert "Found: the way from" in found
    assert "Cannot" not in found
    for told in (tie, found):
        assert f'href="/jobs/102?red={first.points()[0]}' in told
        assert f"Unplug it and take ohms across {first.title}" in told
    assert macro(replace(word, tied=(), access=None), minibus, job).strip() == ""


def test_what_no_test_shows_is_said_where_it_holds_a_share() -> None:
    assert "13 % lies on what no test in the circuit shows" in finding_words.untested(left_of(untested=0.13))
    assert finding_words.untested(left_of(untested=0.01)) == ""
