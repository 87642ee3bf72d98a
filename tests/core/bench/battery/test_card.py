"""The card: tests as typed, in order, and the evidence they leave."""

import pytest

from iron_probe.core.bench.battery.card import BatteryCard
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.elements import Battery
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.errors import ReadingError, SheetError
from iron_probe.machines import load_sheet


def card(sheet_id: str = "pool-car") -> BatteryCard:
    sheet = load_sheet(sheet_id)
    battery = next(e for e in sheet.elements if isinstance(e, Battery))
    return BatteryCard(sheet=sheet, battery=battery, temp_degc=10)


def test_charge_from_the_rest_test_is_known_to_those_after_it() -> None:
    mine = card()
    assert mine.add("conductance", {"measured": "210"}).judged.verdict is Verdict.OPEN
    mine.add("rest", {"volts": "12,55", "bled": "1"})
    assert mine.charge is not None
    assert mine.add("conductance", {"measured": "210"}).judged.verdict is Verdict.BAD
    assert mine.not_condemned is None
    again = card()
    assert [again.add(e.kind, e.typed).judged for e in mine.entries] == [e.judged for e in mine.entries]


def test_a_low_crank_is_split_into_charge_resistance_draw_and_joint() -> None:
    mine = card()
    mine.add("rest", {"volts": "12.6", "bled": "1"})
    expected = {n: v for n, v, _ in mine.judge("crank", {"posts": "9", "amps": "180"}).figures}["expected amps"]
    by_draw = mine.judge("crank", {"posts": "9.3", "amps": f"{2.3 * expected:.0f}"})
    assert "starter's draw" in by_draw.judged.text
    by_resistance = mine.judge("crank", {"posts": "8.6", "clamps": "8.2", "amps": f"{expected:.0f}"})
    assert "internal resistance" in by_resistance.judged.text
    assert "Post to clamp loses 0.40 V" in by_resistance.judged.text
    assert [r.instrument for r in by_resistance.readings] == [Instrument.VOLTMETER, Instrument.CLAMP]
    assert mine.judge("crank", {"posts": "9.3"}).judged.verdict is Verdict.OPEN
    with pytest.raises(ReadingError, match="not below"):
        mine.judge("crank", {"posts": "12.7"})
    with pytest.raises(ReadingError, match="above the posts"):
        mine.judge("crank", {"posts": "9.3", "clamps": "9.9"})


def test_what_it_holds_comes_from_runs_and_charges_and_tells_its_bound() -> None:
    mine = card()
    rated = mine.battery.capacity_ah
    mine.add("accepted", {"ah": f"{0.4 * rated:.0f}"})
    assert mine.held is not None
    assert 0.3 < mine.share_left < 0.4
    mine.add("rest", {"volts": "12.7", "bled": "1"})
    early = mine.add("capacity", {"load": f"{rated / 3:.1f}", "points": "0 12.4\n3 11.6\n4 11.2\n5 10.8"})
    assert (mine.held.bound, early.readings[0].bound, early.judged.verdict) == (Bound.AT_MOST, Bound.AT_MOST, Verdict.BAD)
    assert mine.charge is None  # run down: nobody has read how far
    assert mine.not_condemned is None


def test_a_battery_run_down_is_empty_until_it_is_charged_and_read() -> None:
    mine = card()
    mine.add("rest", {"volts": "12.7", "bled": "1"})
    mine.add("capacity", {"load": f"{mine.battery.capacity_ah / 4:.1f}", "points": "0 12.4\n60 11.8\n120 11.2\n150 10.4"})
    assert mine.charge == mine.charge_left == 0.0
    mine.add("accepted", {"ah": "40"})
    assert mine.charge is None
    assert mine.charge_left == 1.0


def test_a_cell_lost_is_read_at_rest_after_a_charge() -> None:
    mine = card()
    lost = mine.add("rest", {"volts": "10.5", "hours_since": "3", "charged": "1"})
    assert mine.cell_lost
    assert lost.readings[0].value == 10.5
    assert mine.not_condemned is None


def test_points_typed_wrongly_are_told_by_line() -> None:
    mine = card()
    with pytest.raises(SheetError, match=r"line 2.*\n.*line 3"):
        mine.judge("capacity", {"load": "20", "points": "0 12.4\nfive 12\n10\n15 11.8"})
    with pytest.raises(ReadingError, match="No points yet"):
        mine.judge("load", {"load": "250", "points": " "})


def test_lamp_watts_stand_for_amps() -> None:
    figures = {n: v for n, v, _ in card().judge("capacity", {"load": "220 W", "points": "0 12.4\n10 12.0"}).figures}
    assert 14 < figures["mean"] < 17


def test_24_v_is_judged_per_block() -> None:
    mine = card("quay-digger")
    assert mine.blocks == 1  # two blocks of 12 V, each its own card
    assert mine.judge("pair", {"first": "12.6", "second": "12.1", "how": "series"}).judged.verdict is Verdict.BAD


def test_capacity_and_tester_are_evidence_on_the_circuit() -> None:
    """A battery that holds a fifth is named, with its own test; one that holds all is cleared of it."""
    case = Case(Ensemble(load_sheet("green-mower")))
    low = Reading(instrument=Instrument.CAPACITY, branch="battery", state="rest", value=6.0, resolution=1)
    posterior = case.posterior([low])
    assert (posterior.suspects[0].element, posterior.suspects[0].mode, posterior.found) == ("battery", "low_capacity", "battery")
    slow = Reading(instrument=Instrument.EYES, state="crank", word="slow")
    sound = Reading(instrument=Instrument.TESTER, branch="battery", state="rest", value=0.0115, resolution=1e-4)
    worn = sound.model_copy(update={"value": 0.09})
    assert (
        case.posterior([slow, sound]).share("battery")
        < case.posterior([slow]).share("battery")
        < case.posterior([slow, worn]).share("battery")
    )
