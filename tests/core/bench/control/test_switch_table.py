"""Terminals live by position, contacts with the plug off."""

from iron_probe.core.bench.control.switch_table import continuity_table, live_table, switches_of
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.machines import load_sheet
from tests.core.bench.control.readings import volts


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
