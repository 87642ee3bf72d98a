"""A practice case on the real pages: begun, read by the stand-in, followed to its end, marked and replayed; what does not fit is refused in words."""

import re
from uuid import uuid4

import pytest
from sqlmodel import Session

from bench.practice_cases import ByStandIn
from iron_probe.bay.case import Level, faults_of
from iron_probe.machines import load_sheet
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import BroughtBy
from iron_probe.store.practice import case_row
from iron_probe.work.practice import machine_with
from tests.conftest import Visitor


@pytest.fixture
def hands(visitor: Visitor) -> ByStandIn:
    return ByStandIn(visitor)


def hidden_in(visitor: Visitor, hands: ByStandIn) -> list[dict[str, object]]:
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        row = case_row(session, visitor.job(int(hands.job.rsplit("/", 1)[1])).id)
    assert row is not None
    return row.faults


def brought_by_touch(visitor: Visitor, hands: ByStandIn) -> bool:
    return any(f.fault.comes is not None and f.fault.comes.by is BroughtBy.TOUCH for f in faults_of(hidden_in(visitor, hands)))


def test_the_guide_alone_leads_through_the_first_case_to_full_marks_and_a_replay(visitor: Visitor, hands: ByStandIn) -> None:
    visitor.submit("/practice", first="1", entry_id=str(uuid4()))
    hands.job = "/".join(visitor.last.url.path.split("/")[:3])
    assert "hidden" not in visitor.get(f"{hands.job}/practice").text.lower().split("still open")[0].split("<main")[1]
    hands.follow()
    before = visitor.get(f"{hands.job}/practice").text
    assert "being worked out" in before and "Hidden was" in before
    visitor.work()
    after = visitor.get(f"{hands.job}/practice").text
    assert "Passed." in after and "Step by step" in after and "the engine:" in after


def test_a_case_is_in_no_list_of_the_yard(visitor: Visitor, hands: ByStandIn) -> None:
    assert hands.begin(Level.ONE, "green-mower", 9)
    number = hands.job.rsplit("/", 1)[1]
    for page in ("/", "/machines", "/history"):
        assert f"/jobs/{number}" not in visitor.get(page).text and "Practice: " not in visitor.get(page).text
    assert f"/jobs/{number}/practice" in visitor.get("/practice").text


def test_the_same_entry_twice_is_one_case(visitor: Visitor) -> None:
    said = {"level": "one", "sheet_id": "green-mower", "number": "9", "entry_id": str(uuid4())}
    visitor.submit("/practice", **said)
    first = visitor.last.url
    visitor.submit("/practice", **said)
    assert visitor.last.url == first


@pytest.mark.parametrize(
    ("said", "word"),
    [({"level": "hard"}, "one of the levels"), ({"sheet_id": "tractor"}, "one of the machines"), ({"number": "-1"}, "whole number"), ({"number": "12345678"}, "whole number")],
)  # fmt: skip
def test_what_is_no_case_is_refused_with_what_was_typed(visitor: Visitor, said: dict[str, str], word: str) -> None:
    page = visitor.submit("/practice", **({"level": "one", "sheet_id": "green-mower", "number": "9"} | said))
    assert visitor.last.status_code == 422 and word in page
    if "number" in said:
        assert f'value="{said["number"]}"' in page


def test_the_stand_in_reads_points_by_title_and_refuses_in_words(visitor: Visitor, hands: ByStandIn) -> None:
    assert hands.begin(Level.ONE, "crew-minibus", 3)
    volts = hands.meter(instrument="voltmeter", state="rest", red="battery plus post", black="bat.minus")
    assert 11 < float(volts["value"]) < 13.5
    token = {"form_token": visitor.cookies["iron_probe_form"]}
    for asked, word in (
        ({"instrument": "voltmeter", "state": "rest", "red": "moon", "black": "bat.minus"}, "point"),
        ({"instrument": "voltmeter", "state": "night", "red": "bat.plus", "black": "bat.minus"}, "state"),
        ({"instrument": "voltmeter", "state": "rest", "red": "bat.plus", "black": ""}, "leads"),
        ({"instrument": "crystal ball", "state": "rest"}, "instrument"),
        ({"instrument": "clamp", "state": "rest", "branch": "nothing-here"}, "no such part"),
        ({"instrument": "clamp", "state": "rest", "branch": ""}, "clamp"),
        ({"where": "total", "way": "guess"}, "probe"),
        ({"where": "nothing-here", "way": "clamp"}, "element"),
        ({}, "No stand-in"),
    ):
        answer = visitor.post(f"{hands.job}/meter", data=token | asked)
        assert answer.status_code == 422 and word in answer.json()["error"], (asked, answer.text)
    assert visitor.post("/jobs/101/meter", data=token | {"at": "total"}).status_code == 422


def test_the_cabin_says_what_is_heard_and_seen(visitor: Visitor, hands: ByStandIn) -> None:
    assert hands.begin(Level.SOUND, "crew-minibus", 3)
    assert "Cranks well" in visitor.get(f"{hands.job}/cabin?state=crank").text
    lit = visitor.get(f"{hands.job}/cabin?state=lamps").text
    assert "Headlamps <small>bright" in lit
    assert visitor.get(f"{hands.job}/cabin?state=night").status_code == 422
    assert visitor.get("/jobs/101/practice").status_code == visitor.get("/jobs/101/cabin?state=crank").status_code == 422


def test_two_learners_on_one_case_do_not_see_each_other(visitor: Visitor) -> None:
    hands = [ByStandIn(visitor), ByStandIn(visitor)]
    assert all(h.begin(Level.ONE, "green-mower", 9) for h in hands) and hands[0].job != hands[1].job
    hands[0].repair("charge-fuse")
    asked = {"instrument": "voltmeter", "state": "run", "red": "bat.plus", "black": "bat.minus"}
    assert all(h.meter(**asked) for h in hands)
    rows = [visitor.get(f"{h.job}/practice").text for h in hands]
    assert "Parts repaired" not in rows[0] or "Still open" in rows[1]
    shown = [h.meter(instrument="voltmeter", state="rest", red=p, black="bat.minus")["value"] for h in hands for p in ("bat.plus",)]
    assert all(abs(float(v) - float(shown[0])) < 0.2 for v in shown)


def test_without_the_guide_nothing_is_told_until_it_is_closed(visitor: Visitor) -> None:
    visitor.submit("/practice", level="one", sheet_id="green-mower", number="9", alone="1", entry_id=str(uuid4()))
    job = "/".join(visitor.last.url.path.split("/")[:3])
    for screen in ("", "/battery", "/control", "/charge", "/repair", "/drain", "/report"):
        page = visitor.get(job + screen).text
        assert "data-step" not in page and 'class="suspects"' not in page, screen
    assert "yours to choose" in visitor.get(job).text
    visitor.submit(f"{job}/close", ending="not_reproduced", anyway="1", entry_id=str(uuid4()))
    assert "data-step" in visitor.get(job).text


def test_marks_are_kept_by_person_and_go_out_as_files(visitor: Visitor, hands: ByStandIn) -> None:
    assert hands.begin(Level.ONE, "green-mower", 9)
    refused = visitor.get(f"{hands.job}/practice.json")
    assert refused.status_code == 422 and "once the job is closed" in refused.text
    hands.follow()
    visitor.get(f"{hands.job}/practice")
    visitor.work()
    told = visitor.get(f"{hands.job}/practice.json").json()
    assert told["marks"] >= 60 and told["hidden"] and told["replay"]["steps"] and told["without_guide"] is False
    page = visitor.get("/practice").text
    assert f'Una Skerry</td><td class="num">1</td><td class="num">1</td><td class="num">{told["marks"]}' in page
    header, *rows = visitor.get("/practice/records.csv").text.splitlines()
    assert header.startswith("closed,by,level") and rows[-1].endswith(f"Una Skerry,one,green-mower,9,0,{told['marks']}")
    link = "/practice?level=one&amp;machine=green-mower&amp;number=9"
    assert link in visitor.get(f"{hands.job}/practice").text
    set_ = visitor.get(link.replace("&amp;", "&") + "&alone=1").text
    assert 'value="9"' in set_ and 'value="green-mower" selected' in set_ and 'name="alone" value="1" checked' in set_


@pytest.mark.parametrize("query", ["level=hard", "machine=tractor", "number=1234567890", "alone=%00"])
def test_a_link_to_no_case_is_the_form_as_it_comes(visitor: Visitor, query: str) -> None:
    assert visitor.get(f"/practice?{query}").status_code == 200


def test_hands_on_a_part_bring_on_what_comes_by_touch_and_cost_minutes(visitor: Visitor, hands: ByStandIn) -> None:
    number = next(n for n in range(40) if hands.begin(Level.COMES, "crew-minibus", n) and brought_by_touch(visitor, hands))
    assert number >= 0
    job = hands.job
    part = hidden_in(visitor, hands)[0]["element"]
    shown = [visitor.submit(f"{job}/hands", by="touch", element=part, state="crank") for _ in range(2)]
    assert all("cost its minutes" in page for page in shown)
    heard = [re.search(r'data-heard="(\w+)"', page)[1] for page in shown]  # type: ignore[index]
    assert heard[0] != heard[1]  # there, and away
    before = float(re.search(r"to the last repair</td><td class=\"num\">([\d.]+)", visitor.get(f"{job}/practice").text)[1])  # type: ignore[index]
    assert before >= 2


@pytest.mark.parametrize(
    "said", [{"by": "shout"}, {"by": "touch", "element": "anchor"}, {"by": "touch", "element": "battery", "state": "afloat"}]
)
def test_hands_do_only_what_they_can(visitor: Visitor, hands: ByStandIn, said: dict[str, str]) -> None:
    assert hands.begin(Level.ONE, "green-mower", 9)
    page = visitor.submit(f"{hands.job}/hands", **({"element": "battery", "state": "crank"} | said))
    assert visitor.last.status_code == 422 and 'role="alert"' in page
    assert visitor.submit("/jobs/103/hands", by="touch", element="battery", state="crank") and visitor.last.status_code == 422


def test_hands_that_break_a_caution_are_told_so_at_once_and_it_costs_marks_and_money(visitor: Visitor, hands: ByStandIn) -> None:
    assert hands.begin(Level.SOUND, "green-mower", 9)
    sheet = visitor.job(int(hands.job.rsplit("/", 1)[1])).sheet
    crank = sheet.cranking_state()
    starter, fuse, cable = (next(e.id for e in sheet.elements if e.type == kind) for kind in ("starter", "fuse", "cable"))
    page = visitor.submit(f"{hands.job}/hands", by="touch", element=starter, state=crank)
    assert 'role="alert"' in page and "by what turns" in page
    shown = visitor.submit(f"{hands.job}/hands", by="series", element=fuse, state=crank)
    assert "The ammeter shows" in shown and 'role="alert"' not in shown
    assert "fuse blew" in visitor.submit(f"{hands.job}/hands", by="series", element=cable, state=crank)
    refused = visitor.submit(f"{hands.job}/hands", by="bridge", element="battery", state=crank)
    assert visitor.last.status_code == 422 and "only passes through" in refused
    told = visitor.get(f"{hands.job}/practice").text
    assert "by what turns" in told and "fuse blew" in told and "The customer pays" in told


def test_a_case_is_made_from_a_closed_job_of_the_yard(visitor: Visitor, hands: ByStandIn) -> None:
    closed = next(n for n in range(101, 112) if (job := visitor.job(n)) is not None and job.closed_at is not None and not job.practice)
    assert f"/practice?level=yard&amp;number={closed}" in visitor.get(f"/jobs/{closed}/report").text
    link = visitor.get(f"/practice?level=yard&number={closed}").text
    assert f'value="{closed}"' in link and 'value="yard" checked' in link
    visitor.submit("/practice", level="yard", sheet_id="", number=str(closed), entry_id=str(uuid4()))
    hands.job = "/".join(visitor.last.url.path.split("/")[:3])
    begun, source = visitor.job(int(hands.job.rsplit("/", 1)[1])), visitor.job(closed)
    assert begun.practice and begun.complaint == source.complaint and begun.symptom == source.symptom
    assert begun.sheet.id == source.sheet.id and begun.pinned.content_hash == source.pinned.content_hash
    assert hands.meter(instrument="voltmeter", state=next(iter(begun.sheet.states)), red=begun.sheet.plus, black=begun.sheet.minus)


@pytest.mark.parametrize(("number", "word"), [("", "closed job"), ("999999", "no job"), ("103", "still open"), ("abc", "closed job")])
def test_what_makes_no_case_of_the_yard_is_refused_with_the_reason(visitor: Visitor, number: str, word: str) -> None:
    page = visitor.submit("/practice", level="yard", sheet_id="green-mower", number=number, entry_id=str(uuid4()))
    assert visitor.last.status_code == 422 and word in page


@pytest.mark.parametrize(("screen", "names"), [("/drain", "Go there"), ("/drain/sweep", 'data-key="n"'), ("/fuse", "Halve it")])
def test_benches_name_no_next_place_to_who_works_alone(visitor: Visitor, screen: str, names: str) -> None:
    pages = []
    for alone in ("", "1"):
        visitor.submit("/practice", level="drain", sheet_id="pool-car", number="8", alone=alone, entry_id=str(uuid4()))
        pages.append(visitor.get("/".join(visitor.last.url.path.split("/")[:3]) + screen).text)
    assert names in pages[0] and names not in pages[1]


def test_what_cannot_be_solved_was_not_done(visitor: Visitor, hands: ByStandIn, monkeypatch: pytest.MonkeyPatch) -> None:
    assert hands.begin(Level.SOUND, "green-mower", 9)

    def stuck(*_: object) -> None:
        raise RigError("it never settles")

    with monkeypatch.context() as patch:
        patch.setattr("iron_probe.work.practice.handle_in", stuck)
        page = visitor.submit(f"{hands.job}/hands", by="touch", element="battery", state="crank")
        assert visitor.last.status_code == 422 and "does not answer" in page
    assert "Cranks" in visitor.get(f"{hands.job}/cabin?state=crank").text


@pytest.mark.parametrize(
    ("level", "sheet", "number", "told"), [(Level.DRAIN, "pool-car", 8, "Probe by probe"), (Level.FUSE, "ferry-van", 2, "Step by step")]
)
def test_drains_and_fuses_have_a_replay_too(visitor: Visitor, hands: ByStandIn, level: Level, sheet: str, number: int, told: str) -> None:
    assert hands.begin(level, sheet, number)
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        row = case_row(session, visitor.job(int(hands.job.rsplit("/", 1)[1])).id)
        assert row is not None
        hands.blows = machine_with(load_sheet(sheet), row.seed, faults_of(row.faults)).first_blown() or ("", "")
    hands.follow()
    visitor.get(f"{hands.job}/practice")
    visitor.work()
    page = visitor.get(f"{hands.job}/practice").text
    assert told in page and "the engine:" in page and "Passed." in page
    replay = visitor.get(f"{hands.job}/practice.json").json()["replay"]
    assert replay["par_minutes"] > 0 and (replay["probes"] or replay["steps"])
