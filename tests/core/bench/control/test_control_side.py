"""The control side: chain order, pins of a relay, switch tables, module checks, what a replaced part asks for."""

import pytest

from iron_probe.core.bench.control.after_repair import todos
from iron_probe.core.bench.control.interlock import chain_of
from iron_probe.core.bench.control.module_checks import CHECKS, LowLine, find_check, judge_check, reading_of
from iron_probe.core.bench.control.pins import socket_of
from iron_probe.core.bench.control.switch_table import continuity_table, live_table, switches_of
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.circuit.elements import Conditions, Module, Relay
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet, sheet_ids


def volts(red: str, black: str, state: str, value: float) -> Reading:
    return Reading(red=red, black=black, state=state, value=value)


def test_the_chain_runs_as_the_command_does() -> None:
    order = [link.element.id for link in chain_of(network_of(load_sheet("verge-tractor")), None)]
    wanted = ["key-crank-pole", "clutch-switch", "pto-switch", "seat-switch", "start-relay", "solenoid"]
    assert [e for e in order if e in wanted] == wanted


def test_the_chain_shows_what_is_proven() -> None:
    ensemble = Ensemble(load_sheet("green-mower"))
    readings = [
        Reading(instrument=Instrument.EYES, state="crank", word="nothing"),
        volts("brake.out", "bat.minus", "crank", 12.4),
        volts("brake.out", "blade.out", "crank", 12.4),
    ]
    words = {link.element.id: link.word for link in chain_of(ensemble.network, Case(ensemble).posterior(readings))}
    assert words["blade-switch"] in ("found", "suspect")
    assert words["brake-switch"] == words["key-crank-pole"] == "proven"


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_relay_has_its_pins_and_its_steps_read_good_on_a_good_machine(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    for relay in (e for e in sheet.elements if isinstance(e, Relay)):
        socket = socket_of(sheet, relay, Conditions())
        assert {p.point for p in socket.pins} == {relay.common, relay.make, *relay.coil, *([relay.rest] if relay.rest else [])}
        assert socket.commanded in relay.coil
        by = {s.title: s.expected for s in socket.steps}
        assert isinstance(by["Across the coil"], float)
        assert abs(by["Across the coil"]) > relay.pull_in_v
        assert isinstance(by["Drop over the contact, commanded"], float)
        assert abs(by["Drop over the contact, commanded"]) < 0.3


def test_a_bridge_of_the_start_relay_spins_a_good_machine() -> None:
    sheet = load_sheet("crew-minibus")
    relay = next(e for e in sheet.elements if e.id == "start-relay")
    assert isinstance(relay, Relay)
    steps = socket_of(sheet, relay, Conditions()).steps
    assert next(s.expected for s in steps if s.reading.instrument is Instrument.JUMPER) == "cranks"


def test_the_odd_terminal_of_an_ignition_switch() -> None:
    sheet = load_sheet("verge-tractor")
    poles = next(p for p in switches_of(sheet) if len(p) > 1)
    minus = sheet.minus
    dead = volts("key.crank", minus, "crank", 0.0)
    assert "Read the feed" in live_table(sheet, poles, [dead]).finding
    fed = volts("key.B", minus, "crank", 12.3)
    assert "this contact" in live_table(sheet, poles, [dead, fed]).finding
    assert "before the switch" in live_table(sheet, poles, [dead, volts("key.B", minus, "crank", 0.1)]).finding
    stuck = volts("key.crank", minus, "rest", 12.4)
    assert "stuck contact" in live_table(sheet, poles, [stuck]).finding
    assert live_table(sheet, poles, [volts("key.crank", minus, "crank", 12.1)]).finding == "As the table says so far."


def test_a_change_over_button_with_the_plug_off() -> None:
    """1-2 closed at rest, 1-3 closed pressed, nothing else."""
    sheet = load_sheet("piste-sled")
    poles = next(p for p in switches_of(sheet) if p[0].part == "start button")
    table = continuity_table(sheet, poles, [])
    wants = {pole.id: [c.wanted for c in cells] for pole, cells in table.poles}
    assert wants == {"button-rest": [True, False], "button-start": [False, True]}
    pole, cells = table.poles[1]
    read = Reading(instrument=Instrument.OHMMETER, red=pole.start, black=pole.end, state=str(cells[1].state), value=2e6)
    assert "at fault" in continuity_table(sheet, poles, [read]).finding


@pytest.mark.parametrize(
    ("check", "typed", "verdict"),
    [
        ("ground", "40 mV", Verdict.GOOD), ("ground", "0.3", Verdict.BAD), ("feed", "0.2", Verdict.GOOD),
        ("reference", "5.01", Verdict.GOOD), ("reference", "0.2", Verdict.BAD),
        ("pair_ohm", "60", Verdict.GOOD), ("pair_ohm", "120", Verdict.BAD), ("pair_ohm", "1.5", Verdict.BAD), ("pair_ohm", "75", Verdict.WEAK),
        ("high_v", "2.6", Verdict.GOOD), ("high_v", "1.9", Verdict.BAD), ("low_v", "2.3", Verdict.GOOD), ("low_v", "2.6", Verdict.BAD),
        ("one_wire_idle", "11.9", Verdict.GOOD), ("one_wire_idle", "7", Verdict.BAD), ("one_wire_low", "0.9", Verdict.GOOD), ("one_wire_low", "4.5", Verdict.BAD),
        ("relay_click", "clicks", Verdict.GOOD), ("relay_click", "silent", Verdict.BAD), ("relay_contact", "40 mV", Verdict.GOOD), ("relay_contact", "11.8", Verdict.BAD),
    ],
)  # fmt: skip
def test_module_checks(check: str, typed: str, verdict: Verdict) -> None:
    assert judge_check(find_check(check), typed, 12.0)[1].verdict is verdict


def test_how_low_the_low_line_may_lie_is_a_school() -> None:
    assert judge_check(find_check("low_v"), "1.6", 12, LowLine.TWO)[1].verdict is Verdict.BAD
    assert judge_check(find_check("low_v"), "1.6", 12, LowLine.ONE)[1].verdict is Verdict.GOOD


def test_power_and_ground_of_a_module_are_readings_and_every_check_names_its_source() -> None:
    sheet = load_sheet("pool-car")
    module = next(e for e in sheet.elements if isinstance(e, Module))
    reading = reading_of(find_check("ground"), module, sheet, 0.3)
    assert reading is not None
    assert {reading.red, reading.black} == {module.ground, sheet.minus}
    assert reading_of(find_check("pair_ohm"), module, sheet, 60) is None
    for check in CHECKS:
        assert judge_check(check, check.words[-1] if check.words else "1", 12)[1].source
    with pytest.raises(ReadingError, match="is not a check"):
        find_check("aura")


def test_after_a_replacement() -> None:
    sheet = load_sheet("pool-car")
    by = {t.id for t in todos([sheet.element("engine-module"), sheet.element("battery")])}
    assert {"module-theft", "battery-register"} <= by
    assert todos([sheet.element("clamp-minus" if any(e.id == "clamp-minus" for e in sheet.elements) else "lamp-switch")]) == []
