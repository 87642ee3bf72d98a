"""The Bench with the engine's word."""

import html
import re

from tests.conftest import Visitor
from tests.web.conftest import until_ready


def source_first(working: Visitor) -> None:
    """The battery read at rest and under load: what comes after is the engine's to choose."""
    for state, value in (("rest", "12.6"), ("crank", "10.9")):
        working.submit("/jobs/102/readings", instrument="voltmeter", red="bat.plus", black="bat.minus", state=state, value=value)


def test_the_same_step_stands_on_every_tab_and_the_leads_where_it_says(working: Visitor) -> None:
    steps = set()
    for path in ("", "/battery", "/control", "/charge", "/drain", "/fuse", "/repair", "/report", "/edit"):
        page = html.unescape(working.get(f"/jobs/102{path}").text)
        found = re.search(r"data-step>(.*?)</a>", page)
        if found:
            steps.add(found[1])
        else:
            assert path == "/edit"
    assert len(steps) == 1
    source_first(working)
    answered = working.submit("/jobs/102/readings", instrument="eyes", state="rest", word="nothing")
    step = re.search(r"data-step>(.*?)</a>", answered)
    assert step is not None and step[1] in re.findall(r'<p class="now">(.*?)</p>', answered) and step[1] not in steps
    assert html.unescape(step[1]) in html.unescape(working.get("/").text)  # and the Yard says it


def test_suspects_next_test_and_struck_out_are_shown(working: Visitor) -> None:
    source_first(working)
    page = html.unescape(working.get("/jobs/102").text)
    assert "it tells most for its" in page and " bit" not in page
    assert "struck out" in page
    assert "What it does" in page
    card = working.get("/jobs/102/suspects/isolator").text
    assert "it predicts" in card


def test_order_of_work_and_an_absent_element_recompute_at_once(working: Visitor) -> None:
    source_first(working)
    working.submit("/jobs/102/school", method="source")
    assert "the source first, then half of what is left at a time" in working.get("/jobs/102").text
    assert "Not on this machine" in working.submit("/jobs/102/mark", element="isolator", mark="absent")
    assert working.get("/jobs/102/suspects/isolator").status_code == 200
    assert "no element is called" in working.submit("/jobs/102/mark", element="mast", mark="absent")
    assert working.last.status_code == 422


def test_a_reading_the_engine_cannot_use_is_said_not_hidden(working: Visitor) -> None:
    fields = {"instrument": "ohmmeter", "red": "bat.plus", "black": "block", "state": "rest", "value": "2"}
    assert "no element lies between" in html.unescape(working.submit("/jobs/102/readings", **fields))


def test_lamp_and_jumper_readings_are_logged(working: Visitor) -> None:
    working.submit("/jobs/102/readings", instrument="lamp_4a", red="relay.87", black="bat.minus", state="crank", word="bright")
    assert working.last.status_code == 200
    working.submit("/jobs/102/readings", instrument="jumper", red="isolator.in", black="isolator.out", state="crank", word="cranks")
    assert working.last.status_code == 200
    assert "Isolator switch" in working.get("/jobs/102").text


def test_a_range_is_logged_as_it_was_said_and_a_look_leans(working: Visitor) -> None:
    fields = {"instrument": "voltmeter", "red": "bat.plus", "black": "bat.minus", "state": "crank", "value": "about 10,2"}
    page = working.submit("/jobs/102/readings", **fields)
    assert "<em>“about 10,2”</em>" in page
    working.submit("/jobs/102/readings", instrument="looks", branch="isolator", state="crank", word="green")
    assert working.last.status_code == 200
    assert "green" in working.get("/jobs/102").text
    assert "(“about 10,2”)" in working.get("/jobs/102/report").text
    for path in ("", "/suspects/isolator", "/charge", "/control", "/repair", "/report"):
        assert working.get(f"/jobs/102{path}").status_code == 200


def test_what_was_not_as_drawn_is_kept_with_the_reading_said_and_never_judged_as_a_drop(working: Visitor) -> None:
    place = {"instrument": "voltmeter", "red": "bat.plus", "black": "feed.lug", "state": "crank"}
    page = working.submit(
        "/jobs/102/readings", **place, value="1.2", aided="booster", parted="dash", jumper_from="relay.87", jumper_to="isolator.in"
    )
    row = html.unescape(page.split('class="ev-where">')[1].split("</li>")[0])
    assert "a booster battery on the posts" in row and "a jumper left from" in row and "out or unplugged" in row
    assert "over its share" not in row
    assert "a booster battery on the posts" in html.unescape(working.get("/jobs/102/report").text)
    entry = page.split("?corrects=")[1].split('"')[0]
    field = working.get(f"/jobs/102?corrects={entry}").text
    assert '<option value="booster" selected>' in field and '<option value="dash" selected>' in field
    half = working.submit("/jobs/102/readings", **place, value="1.3", jumper_from="relay.87")
    assert working.last.status_code == 422 and "choose both, or neither" in half and '<option value="relay.87" selected>' in half
    told = working.submit(
        "/jobs/102/readings", instrument="ohmmeter", red="bat.plus", black="feed.lug", state="rest", value="1", aided="charger"
    )
    assert working.last.status_code == 422 and "leave parted, jumpered and aided out" in told


def test_every_instrument_of_a_step_can_be_answered_in_the_field(working: Visitor) -> None:
    page = working.get("/jobs/102?instrument=answers&state=run").text
    assert 'data-takes="answers"' in page and 'data-kind="field_off"' in page and 'value="stops"' in page
    working.submit("/jobs/102/readings", instrument="new_fuse", branch="f1", state="crank", word="holds")
    assert working.last.status_code == 200
    assert "new fuse fitted" in working.get("/jobs/102").text


def test_where_a_point_hangs_free_no_figure_is_promised(working: Visitor) -> None:
    """Key off, the feed behind the open switch is joined to nothing: what a meter shows there is no reading."""
    job = working.get("/jobs/103/probe?red=sol.coil&black=bat.minus&state=rest&instrument=voltmeter").text
    assert "anything up to 12 V" in job and "test lamp" in job
    assert "anything up to" not in working.get("/jobs/103/probe?red=bat.plus&black=bat.minus&state=rest&instrument=voltmeter").text


def test_a_figure_that_jumps_about_is_logged_as_such_and_kept_when_corrected(working: Visitor) -> None:
    fields = {"instrument": "voltmeter", "red": "bat.plus", "black": "bat.minus", "state": "crank", "value": "10.4", "unsteady": "1"}
    page = working.submit("/jobs/102/readings", **fields)
    assert "<em>unsteady</em>" in page
    number = re.search(r'href="\?corrects=([0-9a-f-]+)"', page)
    assert number is not None
    again = working.get(f"/jobs/102?corrects={number[1]}").text
    assert re.search(r'name="unsteady" value="1" checked', again)
    assert ", unsteady" in working.get("/jobs/102/report").text


def test_volts_on_the_part_itself_are_kept_as_such_and_refused_elsewhere(visitor: Visitor) -> None:
    """The tick stands where a conductor lies between the leads, and only there."""
    asked = "/jobs/102/probe?red=bat.plus&black=clamp.plus&state=crank&instrument=voltmeter"
    plain, ticked = visitor.get(asked).text, visitor.get(f"{asked}&itself=plus-clamp").text
    assert 'name="itself" value="plus-clamp" >' in plain and 'name="itself" value="plus-clamp" checked>' in ticked
    assert 'name="itself"' not in visitor.get("/jobs/102/probe?red=bat.plus&black=bat.minus&state=crank&instrument=voltmeter").text
    said = {"instrument": "voltmeter", "red": "bat.plus", "black": "clamp.plus", "state": "crank", "value": "0.02"}
    visitor.submit("/jobs/102/readings", itself="plus-clamp", **said)
    assert "on the plus clamp itself" in visitor.get("/jobs/102").text
    assert "between its own two ends" in visitor.submit("/jobs/102/readings", itself="minus-clamp", **said)


def test_what_the_machine_did_in_a_crank_is_kept_with_the_reading_and_of_no_other_state(working: Visitor) -> None:
    fields = {"instrument": "voltmeter", "red": "starter.case", "black": "bat.minus", "value": "0.15", "heard": "cranks"}
    page = working.submit("/jobs/102/readings", state="crank", **fields)
    assert "<em>cranks well</em>" in page
    number = re.search(r'href="\?corrects=([0-9a-f-]+)"', page)
    assert number is not None
    assert re.search(r'<option value="cranks" selected', working.get(f"/jobs/102?corrects={number[1]}").text)
    assert "it then did: cranks well" in working.get("/jobs/102/report").text
    still = working.submit("/jobs/102/readings", state="rest", **fields)
    assert still.count("<em>cranks well</em>") == 1  # with the key off nobody cranked
    refused = working.submit("/jobs/102/readings", state="crank", **fields | {"heard": "bangs"})
    assert 'role="alert"' in refused and 'value="0.15"' in refused


def test_a_wire_fed_from_elsewhere_is_found_as_such_and_what_feeds_it_is_to_be_parted(visitor: Visitor) -> None:
    visitor.submit("/jobs", sheet_id="verge-tractor", machine="Cranks by itself", school="common", temp_degc="20", cold_degc="-5")
    job = f"/jobs/{visitor.last.url.path.split('/')[2]}"
    until_ready(visitor, f"{job}/suspects/s-wire")
    visitor.submit(f"{job}/readings", instrument="eyes", state="rest", word="cranks")
    volts = {"instrument": "voltmeter", "state": "rest"}
    visitor.submit(f"{job}/readings", red="bat.plus", black="relay.87", value="0.4", **volts)
    visitor.submit(f"{job}/readings", instrument="part_ohm", branch="start-relay.contact", state="rest", value="OL")
    visitor.submit(f"{job}/readings", red="starter.S", black="bat.minus", value="11.9", **volts)
    visitor.submit(f"{job}/readings", red="relay.86", black="relay.85", value="0.0", **volts)  # nothing feeds its coil
    page = visitor.get(f"{job}/suspects").text
    assert "S wire, fed from elsewhere" in page and "see which side stays live" in page
    assert "Find what feeds the S wire past the drawing" in visitor.get(job).text


def mower_with(visitor: Visitor, symptom: str, *drops: tuple[str, str, str]) -> str:
    """The Bench of a mower taken in with a complaint, some volts read while cranking, its engine ready."""
    visitor.submit("/jobs", sheet_id="green-mower", machine="Mower 9", symptom=symptom, school="common", temp_degc="20", cold_degc="-5")
    job = str(visitor.last.url.path)
    for red, black, value in drops:
        visitor.submit(job + "/readings", instrument="voltmeter", state="crank", red=red, black=black, value=value)
    until_ready(visitor, job + "/suspects/battery")
    return html.unescape(visitor.get(job).text)


def test_two_faults_are_named_together_and_nothing_then_lies_beyond_the_drawing(visitor: Visitor) -> None:
    drops = (("bat.plus", "plus.eye", "1.5"), ("frame", "frame.eye", "1.4"), ("bat.plus", "bat.minus", "11.2"))
    page = mower_with(visitor, "slow", *drops)
    assert "Two faults at once" in page and "counts in the share of both" in page
    assert "Nothing on this drawing explains" not in page


def test_a_reading_taken_once_more_is_named_as_the_log_numbers_it(visitor: Visitor) -> None:
    """What intake heard stands before the readings in the engine's order, and has no number in the log."""
    page = mower_with(visitor, "slow", ("bat.plus", "bat.minus", "11.1"), ("frame", "frame.eye", "1.3"), ("block", "frame.eye", "0.02"))
    named = re.search(r"Why: (reading \d) fits nothing that is left", page)
    assert named is not None and named[1] in ("reading 2", "reading 3")
    asked = re.search(r"Measure (.+?): cranking", page)
    assert asked is not None and "frame" in asked[1].lower()


def test_what_a_load_tester_shows_of_a_good_battery_is_said_with_its_caution(visitor: Visitor) -> None:
    asked = "/jobs/102/probe?red=bat.plus&black=bat.minus&state=rest&instrument="
    shown = [html.unescape(visitor.get(asked + i).text) for i in ("load_100a", "voltmeter")]
    good = [re.search(r"<b>([\d.]+) V</b>", page) for page in shown]
    assert good[0] is not None and good[1] is not None and 10 < float(good[0][1]) < float(good[1][1]) - 0.3
    assert "fifteen seconds" in shown[0] and "fifteen seconds" not in shown[1]
