"""The control side through the app: pins as readings, checks judged, codes that raise, the list after a repair."""

from tests.conftest import Visitor


def test_a_pin_reading_lands_on_the_circuit(visitor: Visitor) -> None:
    page = visitor.submit(
        "/jobs/102/control/readings",
        at="socket-start-relay",
        red="relay.30",
        black="bat.minus",
        state="rest",
        instrument="voltmeter",
        value="12,58",
    )
    assert "reading 4" in page
    assert "start relay 30 to" in visitor.get("/jobs/102").text.lower()
    page = visitor.submit(
        "/jobs/102/control/readings",
        at="socket-start-relay",
        red="relay.30",
        black="bat.minus",
        state="rest",
        instrument="voltmeter",
        value="lots",
    )
    assert visitor.last.status_code == 422
    assert "is not a voltage" in page
    assert 'value="lots"' in page


def test_checks_and_codes_lean_and_are_withdrawn(visitor: Visitor) -> None:
    visitor.submit("/jobs", sheet_id="pool-car", machine="Pool car 1", symptom="nothing", school="common", temp_degc="15", cold_degc="-5")
    path = f"/jobs/{visitor.last.url.path.split('/')[2]}/control"
    page = visitor.submit(path + "/checks", at="m", module="engine-module", check="pair_ohm", value="120 ohm")
    assert "One end is missing" in page
    assert "ISO 11898-2" in page
    page = visitor.submit(path + "/checks", at="m", module="engine-module", check="ground", value="320mV")
    assert "Poor ground" in page
    assert "reading 1" in page
    page = visitor.submit(path + "/checks", at="m", module="engine-module", check="scan_tool", value="answers")
    assert "The module lives and talks" in page and '<b class="fig">answers</b> <small>reading 2</small>' in page
    page = visitor.submit(path + "/codes", at="codes", code="p0615", text="start relay circuit", active="1", elements="start-relay")
    assert "P0615" in page
    assert "raises Start relay" in page
    entry = page.split('name="entry" value="')[1].split('"')[0]
    assert "P0615" not in visitor.submit(path + "/withdraw", at="codes", entry=entry)
    assert "Enter the code" in visitor.submit(path + "/codes", at="codes", code=" ")
    page = visitor.submit(path + "/checks", at="socket-start-relay", module="start-relay", check="relay_click", value="silent")
    assert "No click: coil or armature" in page
    assert "say silent or clicks" in visitor.submit(path + "/checks", at="m", module="start-relay", check="relay_click", value="hums")
    assert "is no module" in visitor.submit(path + "/checks", at="m", module="battery", check="ground", value="0.1")
    assert "is not a check" in visitor.submit(path + "/checks", at="m", module="engine-module", check="mood", value="1")


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
