"""Drain watch, fuse sweep and blown fuse through the app."""

import re
from datetime import timedelta

import pytest
from sqlalchemy import text
from sqlmodel import Session

from iron_probe.core.kept import Kept
from iron_probe.demo.drain_captures import lamp_fuse, night
from iron_probe.store import captures
from iron_probe.work.import_capture import import_capture
from iron_probe.work.jobs import find_job
from tests.conftest import Visitor


def take_in(visitor: Visitor, sheet: str = "lift-shuttle") -> str:
    visitor.submit("/jobs", sheet_id=sheet, machine="Drain test", symptom="", school="common", temp_degc="20", cold_degc="-5")
    return f"/jobs/{visitor.last.url.path.split('/')[2]}"


def total(visitor: Visitor, job: str, value: str) -> str:
    return visitor.submit(job + "/drain/totals", value=value, way="clamp")


def read(visitor: Visitor, job: str, where: str, value: str, way: str = "fuse drop") -> str:
    return visitor.submit(job + "/drain/readings", where=where, value=value, way=way, back=f"/drain/sweep?at={where}")


def later(visitor: Visitor, job: str, minutes: float) -> None:
    """Let time pass: everything logged so far moves into the past."""
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        found = find_job(session, int(job.rsplit("/", 1)[1]))
        assert found is not None
        session.execute(text("update log_entry set at = at - :by where job_id = :job"), {"by": timedelta(minutes=minutes), "job": found.id})
        session.commit()
    next(k for k in Kept.every if k.name == "logs").clear()


def test_the_watch_waits_and_judges(visitor: Visitor) -> None:
    job = take_in(visitor)
    assert "no total read yet" in visitor.get(job + "/drain").text
    visitor.submit(job + "/drain/marks", what="locked")
    assert "may still be falling asleep" in total(visitor, job, "1,2 A")
    assert "falls asleep: read the total" in visitor.get("/").text
    later(visitor, job, 50)
    page = total(visitor, job, "412")
    assert "412 mA after 50 min: a drain" in page
    visitor.submit(job + "/drain/marks", what="opened")
    assert "may still be falling asleep" in total(visitor, job, "600 mA")
    page = total(visitor, job, "lots")
    assert visitor.last.status_code == 422
    assert "is not a current" in page
    assert 'value="lots"' in page


def test_a_load_switched_on_on_purpose_is_booked_off(visitor: Visitor) -> None:
    job = take_in(visitor)
    visitor.submit(job + "/drain/marks", what="booked", text="bay lamp", amps="400")
    assert ">25 mA<small>total" in total(visitor, job, "425")
    visitor.submit(job + "/drain/marks", what="unbooked")
    assert ">425 mA<small>total" in total(visitor, job, "425")
    assert "is no mark" in visitor.submit(job + "/drain/marks", what="kicked")


def test_a_sweep_goes_down_to_the_plug(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "410")
    read(visitor, job, "b1", "0.0")
    page = read(visitor, job, "b2", "0.5")
    assert "feeds the lift box" in page
    page = read(visitor, job, "l2", "4.1")
    assert "<b>Gate controller fuse L2</b> something behind it draws" in page
    total(visitor, job, "411")
    page = read(visitor, job, "gate-controller.supply", "33", "plug parted")
    assert "<b>Gate controller</b> does not sleep" in page
    assert "the sum closes" in page
    assert "from 411 mA to 33 mA" in visitor.get(job + "/drain/sweep?at=l2").text
    report = visitor.get(job + "/report").text
    assert "Gate controller: does not sleep" in report


def test_a_sweep_spoiled_by_sleep_turns_to_no_information(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "405")
    read(visitor, job, "c1", "0")
    page = total(visitor, job, "30")
    page = visitor.get(job + "/drain/sweep?box=cabin").text
    assert "Sweep again" in page
    assert "after it was 30 mA, normal" in page
    assert "slot-no-information" in page


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({"where": "", "value": "3", "way": "fuse pulled"}, "pulled without its number is no evidence"),
        ({"where": "c1", "value": "900 V", "way": "fuse drop"}, "beyond"),
        ({"where": "c1", "value": "500", "way": "fuse drop"}, "cannot carry"),
        ({"where": "starter-cable", "value": "3", "way": "fuse drop"}, "is no fuse"),
        ({"where": "c1", "value": "5", "way": "guess"}, "Say how it was read"),
        ({"where": "c1", "value": "900", "way": "fuse pulled"}, "pulling it woke something"),
    ],
)
def test_bad_sweep_readings_are_told_beside_the_field(visitor: Visitor, fields: dict[str, str], told: str) -> None:
    job = take_in(visitor)
    total(visitor, job, "410")
    page = visitor.submit(job + "/drain/readings", **fields)
    assert visitor.last.status_code == 422
    assert told in page


def test_a_branch_above_the_total_is_a_disagreement_and_undo_takes_it_back(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "90")
    page = read(visitor, job, "c2", "9.0")
    assert "Instruments disagree" in page
    read(visitor, job, "c3", "0.0")
    entry = re.search(
        r'name="entry" value="([^"]+)"><input type="hidden" name="back" value="[^"]*"><button class="quiet" aria-label="Take back reading D2"',
        page,
    )
    assert entry
    page = visitor.submit(job + "/drain/undo", back="/drain/sweep?box=cabin", entry=entry[1])
    assert "Instruments disagree" not in page
    assert "2 readings so far" in page


def test_a_slot_is_corrected_added_and_put_back(visitor: Visitor) -> None:
    job = take_in(visitor)
    fields = {"id": "c1", "title": "Radio fuse", "rating_a": "20", "kind": "mini", "box": "cabin", "slot": "C1", "row": "1", "column": "1"}
    page = visitor.submit(job + "/drain/boxes", **fields, feeds="radio and horn")
    assert "Radio fuse" in page
    assert "20 A mini: radio and horn" in page
    page = visitor.submit(job + "/drain/boxes", **{**fields, "rating_a": "lots"})
    assert visitor.last.status_code == 422
    assert "Rating:" in page
    new = {
        "id": "",
        "title": "Tow socket fuse",
        "rating_a": "15",
        "box": "cabin",
        "slot": "X1",
        "row": "4",
        "column": "1",
        "fed_from": "cabin.in",
    }
    page = visitor.submit(job + "/drain/boxes", **new)
    assert "Tow socket fuse" in page
    total(visitor, job, "400")
    assert "behind Tow socket fuse, off the drawing" in read(visitor, job, "added-1", "1.9")
    page = visitor.submit(job + "/drain/boxes", id="c1", put_back="1")
    assert "Radio fuse" not in page


def test_settings_change_limit_and_method(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    total(visitor, job, "80")
    visitor.submit(job + "/drain/settings", school="older", method="pull", ground_cables="2", meter_step_v="1e-05")
    page = visitor.get(job + "/drain").text
    assert "80 mA: asleep" in page
    assert "round one ground cable of 2 only" in page
    assert "Total with it pulled" in visitor.get(job + "/drain/sweep").text


def test_two_ground_cables_clamped_in_turn_are_added(visitor: Visitor) -> None:
    job = take_in(visitor)
    visitor.submit(job + "/drain/settings", ground_cables="2")
    for shown in ("300", "110"):
        visitor.submit(job + "/drain/totals", value=shown, way="clamp", part_of="1")
    assert "No drain to sweep for yet" not in visitor.get(job + "/drain/sweep").text
    page = read(visitor, job, "l2", "4.1")
    assert "placed of 410 mA: the sum closes" in page


def test_dead_functions_after_a_reversed_battery_name_the_open_leg(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    page = visitor.submit(job + "/fuse", fuse="c3", test="seen", dead="intake-heater", working="beacon")
    assert "Open leg" in page
    assert "Intake heater fuse E2" in page


def test_drain_and_battery_are_judged_together(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "6 A")
    assert "The drain alone explains it" in visitor.get(job + "/drain?hours=9").text
    assert "is no time" in visitor.get(job + "/drain?hours=soon").text


def bring_in(visitor: Visitor, job: str, name: str, data: str) -> str:
    """Upload a record, confirm its layout (volts where a column says so, else amps) and read it here and now; gives its id."""
    visitor.post(
        job + "/captures", data={"form_token": visitor.cookies["iron_probe_form"]}, files={"file": (name, data.encode(), "text/csv")}
    )
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        found = find_job(session, int(job.rsplit("/", 1)[1]))
        assert found is not None
        row = captures.captures_of(session, found)[0]
        names = row.preview["names"]
        channels = [
            {"column": k, "name": n, "role": "volts" if "Behind" in n else "amps"}
            for k, n in enumerate(names)
            if k != row.layout["time_column"]
        ]
        row.layout = {**row.layout, "channels": channels}
        row.status = "reading"
        captures.save(session, row)
        import_capture(visitor.app.state.engine, row.id)  # type: ignore[attr-defined]
        return str(row.id)


def test_a_record_with_decimal_commas_and_a_broken_line_is_read_as_a_night(visitor: Visitor) -> None:
    job = take_in(visitor)
    record = bring_in(visitor, job, "night.csv", night())
    page = visitor.get(f"{job}/drain?record={record}").text
    assert re.search(r"<dt>sleeps at</dt><dd>31 mA", page)
    assert "every 52 min" in page
    assert "awake since" in page
    assert "1 odd line left out" in visitor.get(f"{job}/captures/{record}").text


def test_a_blown_fuse_is_read_from_its_capture(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    record = bring_in(visitor, job, "lamp-fuse.csv", lamp_fuse())
    page = visitor.submit(job + "/fuse", fuse="c3", test="capture", capture=record)
    assert "Boom lamps ran away: a short" in page
    assert page.count(">cleared<") >= 1
    report = visitor.get(job + "/report").text
    assert "Boom lamps ran away (short)" in report
    assert "cleared: heater fan" in report
    page = visitor.submit(job + "/fuse", fuse="c3", test="seen", blows="lamps", holds="run")
    assert "Boom lamp wire" in page
    assert "3 cleared by when it holds" in page
    assert "the loom itself lies on ground" in visitor.submit(job + "/fuse", fuse="c3", test="ohms", ohms="0.3", unplugged="1")
    assert "A short: " in visitor.submit(job + "/fuse", fuse="c3", test="time", seconds="0.05")


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({"fuse": "c99", "test": "time", "seconds": "1"}, "is no fuse on this sheet"),
        ({"fuse": "c3", "test": "time", "seconds": "soon"}, "Type the seconds"),
        ({"fuse": "c3", "test": "ohms", "ohms": "low"}, "is not a resistance"),
        ({"fuse": "c3", "test": "capture", "capture": "x"}, "Choose a capture from the list"),
        ({"fuse": "c3", "test": "seen", "blows": "lamps", "holds": "lamps"}, "cannot both blow and hold"),
        ({"fuse": "c3", "test": "smell"}, "nothing this page keeps"),
    ],
)
def test_bad_words_of_a_fuse_are_told(visitor: Visitor, fields: dict[str, str], told: str) -> None:
    page = visitor.submit(take_in(visitor, "quay-digger") + "/fuse", **fields)
    assert visitor.last.status_code == 422
    assert told in page


def test_every_sheet_has_its_drain_pages(visitor: Visitor) -> None:
    for sheet in ("training-kart", "standby-generator", "fire-tender", "harbour-launch"):
        job = take_in(visitor, sheet)
        for page in ("/drain", "/drain/sweep", "/fuse"):
            assert visitor.get(job + page).status_code == 200, (sheet, page)


def test_an_instrument_logs_totals_and_says_when_one_tells_nothing_new(visitor: Visitor) -> None:
    job = take_in(visitor)
    url = f"/api/v1{job}/totals"
    assert "with its key alone" in visitor.post(url, json={"amps": 1.2}).json()["error"]
    visitor.headers["X-Job-Key"] = visitor.job(int(job.rsplit("/", 1)[1])).key
    assert visitor.post(url, json={"amps": 1.2}).json() == {"kept": True}
    assert visitor.post(url, json={"amps": -1.21}).json() == {"kept": False}
    assert visitor.post(url, json={"amps": 0.412}).json() == {"kept": True}
    assert "412 mA<small>total" in visitor.get(job + "/drain", headers={"HX-Request": "true"}).text
    assert visitor.post(url, json={"amps": "much"}).status_code == 422
    assert visitor.post(url, content='{"amps": 1}', headers={"Content-Type": "text/plain"}).status_code == 422
    assert "There is no job 999999" in visitor.post("/api/v1/jobs/999999/totals", json={"amps": 1}).json()["error"]


@pytest.mark.parametrize(("symptom", "page"), [("drain", "/drain"), ("fuse", "/fuse"), ("no_charge", "/charge"), ("slow", "")])
def test_a_machine_is_taken_in_for_what_is_wrong_with_it(visitor: Visitor, symptom: str, page: str) -> None:
    visitor.submit("/jobs", sheet_id="lift-shuttle", machine="Taken in", symptom=symptom, school="common", temp_degc="20", cold_degc="-5")
    assert re.fullmatch(r"/jobs/\d+" + page, visitor.last.url.path)
    assert visitor.get("/").status_code == 200
    assert (
        visitor.get(visitor.last.url.path.replace(page, "") + "/report" if page else visitor.last.url.path + "/report").status_code == 200
    )


def test_a_fuse_taken_off_again_and_a_capture_of_none_break_no_page(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    new = {"id": "", "title": "Winch fuse", "rating_a": "15", "box": "cab", "slot": "X1", "row": "4", "column": "1", "fed_from": "cbox.in"}
    visitor.submit(job + "/drain/boxes", **new)
    visitor.submit(job + "/fuse", fuse="added-1", test="time", seconds="0.05")
    visitor.submit(job + "/drain/boxes", id="added-1", put_back="1")
    assert visitor.get(job + "/fuse").status_code == 200
    assert "taken off the boxes again" in visitor.get(job + "/report").text
    record = bring_in(visitor, job, "night.csv", night())
    page = visitor.submit(job + "/fuse", fuse="c3", test="capture", capture=record)
    assert visitor.last.status_code == 422
    assert "No column is volts" in page
    assert visitor.get(job + "/report").status_code == 200
