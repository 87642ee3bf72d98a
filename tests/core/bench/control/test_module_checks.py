"""A module's supply, ground and lines."""

import pytest

from iron_probe.core.bench.control.module_checks import CHECKS, LowLine, find_check, judge_check, reading_of
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.circuit.elements import Module
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet


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
    stands, dead, loaded = (reading_of(find_check("reference"), module, sheet, v) for v in (5.0, 0.2, 4.3))
    assert stands is not None and (stands.instrument, stands.branch, stands.word) == (Instrument.ANSWERS, module.id, "answers")
    assert not sheet.states[stands.state].cranking and not sheet.states[stands.state].rpm
    assert dead is not None and dead.word == "silent" and loaded is None  # a sensor that loads it says nothing of the module
    silent = reading_of(find_check("scan_tool"), module, sheet, 0.0)
    assert silent == dead
    for check in CHECKS:
        assert judge_check(check, check.words[-1] if check.words else "1", 12)[1].source
    with pytest.raises(ReadingError, match="is not a check"):
        find_check("aura")
