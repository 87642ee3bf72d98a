"""The battery card through the app: a test to the Bench, wrong input kept, undo, the calculators, the clock."""

from tests.conftest import Visitor


def test_a_rest_test_becomes_a_reading_and_is_withdrawn_again(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/battery", test="rest", battery="battery", volts="12,48", bled="1")
    assert "charged" in page
    bench = visitor.get("/jobs/102").text
    assert "by battery" in bench
    assert "12.48 V" in bench
    entry = page.split('name="entry" value="')[1].split('"')[0]
    page = visitor.submit("/jobs/102/undo", entry=entry, back="/battery?b=battery")
    assert "12.48 V" not in page and "Measure again" not in page
    assert "withdrawn" in visitor.get("/jobs/102").text


def test_wrong_input_stays_where_it_was_typed(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/battery", test="load", battery="battery", load="400 A", points="3 10.2\nx y")
    assert visitor.last.status_code == 422
    assert "line 2" in page
    assert "x y" in page
    assert "is not a battery test" in visitor.submit("/jobs/102/battery", test="soup", battery="battery")
    assert "has no battery called" in visitor.submit("/jobs/102/battery", test="rest", battery="nobody", volts="12")
    assert visitor.get("/jobs/102/battery?b=nobody").status_code == 422


def test_how_long_and_what_would_explain_it(visitor: Visitor) -> None:
    text = visitor.get("/jobs/102/battery?draw=220 mA&hours=9").text
    assert "needs <b>" in text
    assert "does not explain it alone" in text
    assert "Dead after 12.0 h needs" in visitor.get("/jobs/102/battery?draw=220 mA&hours=overnight").text
    assert "is not a current" in visitor.get("/jobs/102/battery?draw=much").text
    assert "is no time" in visitor.get("/jobs/102/battery?hours=soon").text
    assert "at most a year" in visitor.get("/jobs/102/battery?hours=9999 d").text


def test_the_charge_plan_starts_a_clock(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/battery/wait", battery="battery", charger="12")
    assert "on the charger at 12 A" in visitor.get("/").text


def test_two_batteries_have_two_cards(visitor: Visitor) -> None:
    visitor.submit("/jobs", sheet_id="ferry-van", machine="Van 3", symptom="slow", school="common", temp_degc="8", cold_degc="-5")
    number = visitor.last.url.path.split("/")[2]
    page = visitor.get(f"/jobs/{number}/battery?b=battery-2").text
    assert "Second battery" in page
    paired = visitor.submit(f"/jobs/{number}/battery", test="pair", battery="battery", first="12.6", second="12.3", how="joined")
    assert "something between them loses it" in paired


def test_a_lost_cell_may_be_condemned_and_is_no_forecast(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/battery", test="rest", battery="battery", volts="10.5", hours_since="3", charged="1")
    assert "a cell is lost" in page
    assert "<b>A cell is lost</b>" in page and "Mark it bad" not in page
    assert "How long will it last" not in page


def test_a_flat_battery_is_never_said_to_have_failed_charged(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/battery", test="rest", battery="battery", volts="11.9", bled="1")
    page = visitor.submit("/jobs/102/battery", test="capacity", battery="battery", load="24 A", points="0 11.9\n5 11.2\n9 10.8\n12 10.4")
    assert "failed on a charged battery" not in page
    assert "one deep discharge condemns nothing" in page
