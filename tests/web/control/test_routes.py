"""The control side through the app: pins as readings, checks judged, codes that raise, the list after a repair."""

from tests.conftest import Visitor

PIN = {
    "red": "relay.30",
    "black": "bat.minus",
    "state": "rest",
    "instrument": "voltmeter",
    "at": "start-relay:0",
    "back": "/control?after=start-relay:0",
}


def test_a_pin_reading_lands_on_the_circuit_and_the_next_pin_is_asked_for(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/readings", **PIN, value="12,58")
    assert "reading 4" in page and "The load side has power." in page
    assert "start relay 30 to" in visitor.get("/jobs/102").text.lower()
    page = visitor.submit("/jobs/102/readings", **PIN, value="lots")
    assert visitor.last.status_code == 422
    assert "is not a voltage" in page and 'value="lots"' in page
    assert "<h3>Power at the feed</h3>" in page


def test_a_figure_between_live_and_dead_is_neither(visitor: Visitor) -> None:
    assert "dead: fuse, link or wire before the relay".capitalize() in visitor.submit("/jobs/102/readings", **PIN, value="0.16")
    assert "dead: fuse, link or wire before the relay".capitalize() in visitor.submit("/jobs/102/readings", **PIN, value="0.05")
    assert "neither live nor dead" in visitor.submit("/jobs/102/readings", **PIN, value="6.1")


def test_a_pin_reading_is_corrected_and_withdrawn_where_it_stands(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/readings", **PIN, value="2.58")
    entry = page.split("corrects=")[1].split('"')[0]
    page = visitor.get(f"/jobs/102/control?at=start-relay:0&corrects={entry}").text
    assert 'value="2.58"' in page and "Correct <kbd>" in page
    page = visitor.submit("/jobs/102/readings", **PIN, value="12.58", corrects=entry)
    assert "12.58 V" in page and "reading 5" in page and "2.58 V</b>" not in page.replace("12.58 V", "")
    entry = page.split("corrects=")[1].split('"')[0]
    page = visitor.submit("/jobs/102/undo", entry=entry, back="/control?at=start-relay:0")
    assert "12.58 V" not in page and "<h3>Power at the feed</h3>" in page


def test_checks_and_codes_lean_and_are_withdrawn(visitor: Visitor) -> None:
    visitor.submit("/jobs", sheet_id="pool-car", machine="Pool car 1", symptom="nothing", school="common", temp_degc="15", cold_degc="-5")
    path = f"/jobs/{visitor.last.url.path.split('/')[2]}/control"
    page = visitor.submit(path + "/checks", at="engine-module:4", module="engine-module", check="pair_ohm", value="120 ohm")
    assert "One end is missing" in page
    assert "ISO 11898-2" in page
    page = visitor.submit(path + "/checks", at="engine-module:1", module="engine-module", check="ground", value="320mV")
    assert "Poor ground" in page
    assert "reading 1" in page
    page = visitor.submit(path + "/checks", at="engine-module:2", module="engine-module", check="scan_tool", value="answers")
    assert "The module lives and talks" in page and "reading 2" in page
    page = visitor.submit(path + "/codes", at="codes", code="p0615", text="start relay circuit", active="1", elements="start-relay")
    assert "P0615" in page
    assert "raises Start relay" in page
    entry = page.split('name="entry" value="')[1].split('"')[0]
    assert "P0615" not in visitor.submit(path.replace("control", "undo"), entry=entry, back="/control#codes")
    page = visitor.submit(path + "/codes", at="codes", code=" ", text="start relay circuit", elements="start-relay")
    assert "Enter the code" in page and 'value="start relay circuit"' in page and 'value="start-relay" selected' in page
    page = visitor.submit(path + "/checks", at="start-relay:8", module="start-relay", check="relay_click", value="silent")
    assert "No click: coil or armature" in page
    assert "say silent or clicks" in visitor.submit(path + "/checks", at="m", module="start-relay", check="relay_click", value="hums")
    assert "is no module" in visitor.submit(path + "/checks", at="m", module="battery", check="ground", value="0.1")
    assert "is not a check" in visitor.submit(path + "/checks", at="engine-module:0", module="engine-module", check="mood", value="1")


def test_a_check_is_corrected_and_withdrawn_where_it_stands(visitor: Visitor) -> None:
    visitor.submit("/jobs", sheet_id="pool-car", machine="Pool car 1", symptom="nothing", school="common", temp_degc="15", cold_degc="-5")
    job = f"/jobs/{visitor.last.url.path.split('/')[2]}"
    check = {"at": "engine-module:1", "module": "engine-module", "check": "ground", "back": "/control?at=engine-module:1#part"}
    page = visitor.submit(f"{job}/control/checks", value="320mV", **check)
    entry = page.split('aria-label="Correct Ground drop"')[0].rsplit("corrects=", 1)[1].split('"')[0]
    page = visitor.get(f"{job}/control?at=engine-module:1&corrects={entry}").text
    assert 'value="320mV"' in page and "Correct <kbd>" in page
    page = visitor.submit(f"{job}/control/checks", value="32mV", corrects=entry, **check)
    assert "32 mV" in page and "320 mV" not in page
    entry = page.split('aria-label="Withdraw Ground drop"')[0].rsplit('name="entry" value="', 1)[1].split('"')[0]
    assert "32 mV" not in visitor.submit(f"{job}/undo", entry=entry, back="/control?at=engine-module:1")
    page = visitor.submit(f"{job}/control/checks", **{**check, "check": "low_v", "at": "engine-module:5"}, value="lots", low_line="1")
    assert visitor.last.status_code == 422 and 'value="lots"' in page


def test_a_replaced_battery_asks_for_its_list_before_closing(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/repairs", text="New battery.", elements="battery")
    page = visitor.get("/jobs/102/repair").text
    assert "Battery registered" in page
    page = visitor.submit("/jobs/102/close")
    assert "not ticked" in page
    for item in ("battery-register", "battery-clock", "battery-windows"):
        visitor.submit("/jobs/102/ticks", item=item, done="1")
    report = visitor.submit("/jobs/102/close", waive="1")
    assert "closed" in report
    assert "NOT done: Hold-down" in report
    assert "done: Battery registered" in report


def test_a_flat_battery_is_not_condemned_whatever_the_reason(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/battery", test="rest", battery="battery", volts="11.7", bled="1")
    page = visitor.submit("/jobs/102/condemn", element="battery", reason="it is old")
    assert visitor.last.status_code == 422
    assert "one deep discharge condemns nothing" in page
    assert "11.70 V" in visitor.get("/jobs/102/report").text
