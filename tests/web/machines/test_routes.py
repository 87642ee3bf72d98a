"""Own machines: brought in, worked on every screen, edited into versions, jobs moved to them."""

import html
import re
from uuid import uuid4

import pytest

from iron_probe.machines import sheet_text
from tests.conftest import Visitor
from tests.odd_sheets import TRAILER, odd_sheets

SCREENS = (
    "",
    "/battery",
    "/captures",
    "/control",
    "/charge",
    "/drain",
    "/drain/sweep",
    "/fuse",
    "/repair",
    "/report",
    "/intake",
    "/suspects",
)


def bring_in(visitor: Visitor, text: str, name: str = "Mast trailer 3", **said: str) -> str:
    visitor.submit("/machines", name=name, text=text, entry_id=str(uuid4()), **said)
    return visitor.last.url.path


def take_in(visitor: Visitor, machine: str, **said: str) -> str:
    fields = {"school": "common", "temp_degc": "12", "cold_degc": "-5", "symptom": "", "entry_id": str(uuid4())}
    visitor.submit("/jobs", machine_no=machine.rsplit("/", 1)[1], **{**fields, **said})
    assert visitor.last.status_code == 200, visitor.last.text
    return re.match(r"/jobs/\d+", visitor.last.url.path).group(0)  # type: ignore[union-attr]


@pytest.mark.parametrize("odd", list(odd_sheets()))
def test_an_odd_sheet_is_worked_on_every_screen(visitor: Visitor, odd: str) -> None:
    machine = bring_in(visitor, odd_sheets()[odd])
    assert visitor.last.status_code == 200
    job = take_in(visitor, machine)
    page = visitor.get(job).text
    points, states = re.findall(r'data-point="([^"]+)"', page), re.findall(r'name="state" value="([^"]+)"', page)
    for state in states:
        visitor.submit(job + "/readings", red=points[0], black=points[1], state=state, instrument="voltmeter", value="0.12")
        assert visitor.last.status_code == 200, (state, visitor.last.text[-400:])
    for screen in SCREENS:
        answer = visitor.get(job + screen)
        assert answer.status_code == 200, (screen, html.unescape(re.sub("<[^>]+>", " ", answer.text))[-300:])
    assert f">{len(states)} count<" in visitor.get(job).text


def test_what_a_sheet_cannot_support_is_not_offered_and_says_why(visitor: Visitor) -> None:
    machine = bring_in(visitor, TRAILER)
    assert "this machine has no starter to crank" in visitor.get(machine).text
    job = take_in(visitor, machine)
    page = visitor.get(job).text
    assert ">Crank trace</a>" not in page
    assert ">Charge board</a>" not in page
    assert "Crank trace is not offered here" in visitor.get(job + "/captures").text


def test_mistakes_stand_beside_their_lines_and_the_text_is_kept(visitor: Visitor) -> None:
    wrong = TRAILER.replace("to: lamp.feed, mm2", "to: lamp.fed, mm2")
    line = next(n for n, text in enumerate(wrong.splitlines(), start=1) if "mast-wire" in text)
    page = visitor.submit("/machines", name="Trailer", text=wrong, entry_id=str(uuid4()))
    assert visitor.last.status_code == 422
    assert re.search(rf'data-line="{line}".*?no point is called', html.unescape(page), re.S)
    assert "lamp.fed, mm2" in html.unescape(page)
    live = visitor.submit("/machines/check", text=wrong)
    assert f'data-line="{line}"' in live
    assert "No mistakes" in visitor.submit("/machines/check", text=TRAILER)


def test_a_job_moves_to_a_newer_version_and_readings_of_what_is_gone_stand_aside(visitor: Visitor) -> None:
    machine = bring_in(visitor, TRAILER)
    job = take_in(visitor, machine)
    for red, value in (("strip", "12.4"), ("beacon.feed", "12.3")):
        visitor.submit(job + "/readings", red=red, black="house.neg", state="lit", instrument="voltmeter", value=value)
    newer = TRAILER.replace("beacon.feed", "mast.stud")
    visitor.submit(machine + "/sheet", text=newer, base="1", note="stud named as it is marked")
    assert visitor.last.status_code == 200
    assert "version 2 of 2" in visitor.last.text
    assert "− " in visitor.get(machine + "/difference").text
    assert visitor.get(machine + "/sheet.yaml?version=1").text.endswith(TRAILER.replace("\r\n", "\n"))
    assert "version 1 of 2" in visitor.get(job + "/intake").text
    page = visitor.submit(job + "/circuit", version="2")
    assert "stands aside: version 2 of the circuit has no such point" in page
    assert ">1 count<" in page
    assert ">2 count<" in visitor.submit(job + "/circuit", version="1")


def test_two_people_editing_one_sheet_neither_loses(visitor: Visitor) -> None:
    machine = bring_in(visitor, TRAILER)
    visitor.submit(machine + "/sheet", text=TRAILER.replace("ohm: 120", "ohm: 90"), base="1")
    page = visitor.submit(machine + "/sheet", text=TRAILER.replace("watts: 55", "watts: 35"), base="1")
    assert visitor.last.status_code == 409
    assert "Version 2 was kept meanwhile" in page
    assert "watts: 35" in page


def test_a_wrongly_chosen_machine_is_changed_afterwards(visitor: Visitor) -> None:
    job = take_in(visitor, bring_in(visitor, sheet_text("pool-car"), "Pool car 9"))
    other = bring_in(visitor, sheet_text("estate-car"), "Estate 2")
    assert "Estate 2" in visitor.submit(job + "/circuit", machine_no=other.rsplit("/", 1)[1])


def test_the_battery_really_fitted_counts(visitor: Visitor) -> None:
    machine = bring_in(visitor, TRAILER, battery_ah="60", battery_chemistry="lifepo4")
    assert "60 Ah" in visitor.get(take_in(visitor, machine) + "/battery").text
    page = visitor.submit(machine, name="Mast trailer 3", battery_ah="many")
    assert visitor.last.status_code == 422
    assert "Battery Ah is a number" in page


def test_deleting_a_job_is_undone_from_the_yard(visitor: Visitor) -> None:
    job = take_in(visitor, bring_in(visitor, TRAILER))
    page = visitor.submit(job + "/delete")
    assert "Bring job" in page
    assert visitor.get(job).status_code == 410
    visitor.submit(job + "/restore")
    assert visitor.get(job).status_code == 200


def test_machines_are_searched_retired_and_merged_on_their_pages(visitor: Visitor) -> None:
    machine, double = bring_in(visitor, TRAILER, "Mast trailer 3", plate="CQ-3"), bring_in(visitor, TRAILER, "Trailer three")
    job = take_in(visitor, double)
    assert (
        "Mast trailer 3" in visitor.get("/machines?search=cq-3").text and "Trailer three" not in visitor.get("/machines?search=cq-3").text
    )
    assert "No machine here has" in visitor.get("/machines?search=%00no-such").text
    refused = visitor.submit(machine + "/merge", double=double.rsplit("/", 1)[1])
    assert "tick that both are the same machine" in refused
    visitor.submit(machine + "/merge", double=double.rsplit("/", 1)[1], same="1")
    assert visitor.get(double).url.path == machine and f'href="{job}"' in visitor.last.text
    assert all(visitor.get(double + page).status_code == 200 for page in ("/workbench", "/import", "/sheet.yaml", "/difference"))
    assert take_in(visitor, double) != job  # a form that was open meanwhile
    assert "choose another machine" in visitor.submit(machine + "/merge", double=double.rsplit("/", 1)[1], same="1")
    assert "Take it apart again" in visitor.get(machine).text
    assert "Nothing was taken apart" in visitor.submit(machine + "/apart", double="0")
    visitor.submit(machine + "/apart", double=double.rsplit("/", 1)[1])
    assert visitor.last.url.path == double and f'href="{job}"' in visitor.last.text
    assert "Take it apart again" not in visitor.get(machine).text and visitor.get(double).url.path == double
    visitor.submit(machine + "/retire", left="1")
    assert "It is back" in visitor.last.text and "Mast trailer 3" not in visitor.get("/machines").text
    assert "Mast trailer 3" in visitor.get("/machines?retired=true").text


def test_notes_are_kept_and_too_long_ones_stay_in_the_field(visitor: Visitor) -> None:
    machine = bring_in(visitor, TRAILER)
    visitor.submit(machine, name="Mast trailer 3", notes="isolator behind the seat")
    assert "isolator behind the seat</textarea>" in visitor.get(machine).text
    visitor.submit(machine, name="Mast trailer 3", notes="x" * 4001)
    assert visitor.last.status_code == 422 and "at most 4000" in html.unescape(visitor.last.text)


def test_what_a_job_left_is_the_machines_baseline_and_worse_is_said_on_the_next(visitor: Visitor) -> None:
    machine = bring_in(visitor, sheet_text("pool-car"), "Pool car 9")
    leads = {"red": "bat.plus", "black": "bat.minus", "state": "crank", "instrument": "voltmeter"}
    first, second = take_in(visitor, machine), take_in(visitor, machine)
    visitor.submit(first + "/readings", **leads, value="10.6")
    assert "first time read" in visitor.get(machine).text
    visitor.submit(first + "/close", ending="no_fault", waive="1")
    visitor.submit(second + "/readings", **leads, value="9.5")
    assert "Worse than last time" in visitor.get(second + "/charge").text and "Worse than last time" not in visitor.get(first).text
    assert "worse than last time" in visitor.get(machine + "#trend").text
