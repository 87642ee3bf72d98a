"""Charging: designs as they solve, output and drops judged, what may not be subtracted, energy, stator and diodes."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from iron_probe.core.bench.bus import bus_line, judge_level, suspect_stretches
from iron_probe.core.bench.charging import (
    TimedVolts,
    band,
    energy_balance,
    has_charging,
    judge_charge_drop,
    judge_commanded,
    judge_output,
    judge_ripple,
    peak_to_peak_v,
    places_of,
    subtract,
)
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.stator import judge_matrix, judge_pair_ohms, judge_pair_volts, read_matrix, stator_readings
from iron_probe.core.circuit.elements import Conditions, Stator
from iron_probe.core.circuit.network import Floats, network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.unplugged import shown_alone
from iron_probe.core.errors import ReadingError
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution
from iron_probe.machines import load_sheet, sheet_ids


def solved(sheet_id: str, state: str, *faults: tuple[str, str, float]) -> Solution:
    network = network_of(load_sheet(sheet_id))
    values = network.nominal[:, None].copy()
    for element, mode, severity in faults:
        find_mode(fault_modes(network), element, mode).apply(values, np.array([severity]))
    return solve_state(network, state, values)


def posts(solution: Solution) -> float:
    sheet = solution.network.sheet
    return float(solution.between(sheet.plus, sheet.minus)[0])


CHARGING = [i for i in sheet_ids() if has_charging(load_sheet(i))]


def test_fourteen_sheets_charge() -> None:
    assert len(CHARGING) >= 14


@pytest.mark.parametrize("sheet_id", CHARGING)
def test_a_sound_machine_charges_at_its_fastest_and_settles_in_every_state(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    for state in sheet.running_states():
        assert not solved(sheet_id, state).chatter[0]
    low, high = band(20, sheet.system_v)
    assert low < posts(solved(sheet_id, sheet.running_states()[-1])) < high


def test_an_open_charge_lamp_leaves_a_lamp_woken_alternator_asleep_until_it_revs() -> None:
    assert posts(solved("estate-car", "fast", ("charge-lamp", "open", 1))) < 12.7
    assert posts(solved("estate-car", "fast")) > 14
    assert posts(solved("estate-car", "fast", ("l-wire", "open", 1))) < 12.7


def test_a_lost_sense_wire_overcharges_and_reads_low_at_the_terminal() -> None:
    lost = solved("harbour-launch", "fast", ("sense-wire", "open", 1))
    assert posts(lost) > 15.0
    assert float(lost.between("alt.S", "alt.case")[0]) < 1


def test_a_replacement_that_never_answers_charges_at_its_default_with_the_bus_alive() -> None:
    deaf = solved("parcel-van", "fast", ("alternator", "never_answers", 1))
    assert posts(deaf) == pytest.approx(posts(solved("parcel-van", "fast", ("bus-wire", "open", 1))), abs=0.05)
    bus = float(deaf.between("alt.bus", "alt.case")[0])
    assert bus > 0.8 * 12
    assert "does not answer" in judge_commanded(posts(deaf), bus, 12).text


def test_a_silent_bus_leaves_the_default_voltage() -> None:
    default = posts(solved("parcel-van", "fast", ("bus-wire", "open", 1)))
    assert 13.3 < default < 13.7 < posts(solved("parcel-van", "fast"))


def test_an_outside_regulator_needs_its_ground_its_feed_and_its_field_wire() -> None:
    for element in ("regulator-base", "regulator-feed", "field-wire"):
        assert posts(solved("fire-tender", "fast", (element, "open", 1))) < 12.7, element
    assert posts(solved("fire-tender", "fast", ("regulator", "full_on", 1))) > 15.5
    assert posts(solved("fire-tender", "rest")) > 12.5


def test_speed_belt_and_load_limit_the_output() -> None:
    slipping = solved("crew-minibus", "loaded", ("alternator", "belt_slips", 0.3))
    assert posts(slipping) < 13
    assert posts(solved("fire-tender", "idle")) < posts(solved("fire-tender", "fast"))


def test_a_flat_battery_takes_more_and_holds_the_voltage_down() -> None:
    sheet = load_sheet("green-mower")
    flat = solve_state(network_of(sheet, Conditions(charge=0.1)), "idle")
    assert float(flat.current("battery")[0]) > 5 * float(solved("green-mower", "idle").current("battery")[0])
    assert posts(flat) < posts(solved("green-mower", "idle"))


@pytest.mark.parametrize(
    ("volts", "amps", "verdict", "word"),
    [
        (14.3, 12, Verdict.GOOD, "charges"),
        (12.5, None, Verdict.BAD, "not charging"),
        (12.8, 45, Verdict.OPEN, "flat battery"),
        (15.6, None, Verdict.BAD, "sense"),
        (13.3, None, Verdict.WEAK, "default"),
    ],
)
def test_output(volts: float, amps: float | None, verdict: Verdict, word: str) -> None:
    judged = judge_output(volts, amps, 12.4, 20, 12, commanded=True)
    assert judged.verdict is verdict
    assert word in judged.text


def test_drops_are_scaled_to_full_output() -> None:
    assert judge_charge_drop("plus", 0.15, 30, 90, 12).verdict is Verdict.BAD
    assert judge_charge_drop("plus", 0.05, 30, 90, 12).verdict is Verdict.GOOD
    assert judge_charge_drop("case", 0.01, 5, 90, 12).verdict is Verdict.OPEN
    assert judge_charge_drop("case", 0.01, None, 90, 12).verdict is Verdict.OPEN
    assert judge_ripple(0.9, 12).verdict is Verdict.BAD


def test_a_moving_source_is_not_subtracted() -> None:
    at = datetime(2026, 3, 1, 10, tzinfo=UTC)
    with pytest.raises(ReadingError, match=r"moved by 0\.50 V.*14\.60 V at 10:00:00"):
        subtract(TimedVolts(14.6, at, 14.3), TimedVolts(13.8, at + timedelta(seconds=40), 13.8))
    with pytest.raises(ReadingError, match="7 min"):
        subtract(TimedVolts(14.6, at, None), TimedVolts(14.3, at + timedelta(minutes=7), None))
    assert subtract(TimedVolts(14.6, at, None), TimedVolts(14.3, at + timedelta(seconds=30), None)) == pytest.approx(0.3)


def test_energy_balance_adds_up() -> None:
    for b in energy_balance(load_sheet("estate-car"), Conditions(), 21):
        assert b.can_give_a > b.loads_a + b.battery_a - 0.5
        assert b.hours is not None
        assert b.hours == pytest.approx(21 / 0.85 / b.battery_a)
    starved = energy_balance(load_sheet("fire-tender"), Conditions(), 30)[0]
    assert starved.battery_a < 0
    assert starved.hours is None


def test_the_places_of_a_design_are_its_own() -> None:
    keys = {
        i: {p.key for p in places_of(load_sheet(i), Conditions(), ("run", "fast"))}
        for i in ("estate-car", "fire-tender", "parcel-van", "green-mower")
    }
    assert "l" in keys["estate-car"]
    assert {"f", "reg"} <= keys["fire-tender"]
    assert "bus" in keys["parcel-van"]
    assert keys["green-mower"] == {"posts", "output", "plus", "case"}


def test_stator_pairs() -> None:
    assert judge_pair_ohms([0.7, 0.72, 0.71], 0.2).verdict is Verdict.GOOD
    assert "phase 2 is open" in judge_pair_ohms([1e9, 1e9, 0.7], 0.2).text
    assert "1-2 is low" in judge_pair_ohms([0.4, 0.71, 0.7], 0.2).text
    assert judge_pair_volts([32, 31.5, 32.2], 2000, 16).verdict is Verdict.GOOD
    assert judge_pair_volts([20, 31.5, 32.2], 2000, 16).verdict is Verdict.BAD
    with pytest.raises(ReadingError, match="short the leads again"):
        judge_pair_ohms([0.2, 0.3, 0.3], 0.5)


def test_the_diode_matrix_names_the_diode_and_resists_swapped_leads() -> None:
    sound = {f"{w}{p}{rail}": v for p in "123" for rail in "+−" for w, v in (("f", "0.5"), ("r", "OL"))}
    assert judge_matrix(read_matrix(sound), False, 0.5).verdict is Verdict.GOOD
    shorted = {**sound, "f2+": "0.01", "r2+": "0.01"}
    told = judge_matrix(read_matrix(shorted), star_grounded=False, winding_ohm=0.5)
    assert "phase 2 to +: shorted" in told.text
    assert "drains nothing" in told.text
    assert "about 24 A" in judge_matrix(read_matrix(shorted), star_grounded=True, winding_ohm=0.5).text
    swapped = {**sound, **{f"f{p}+": "OL" for p in "123"}, **{f"r{p}+": "0.5" for p in "123"}}
    diodes = read_matrix(swapped)
    assert all(d.word.startswith("sound") for d in diodes)
    assert "swapped" in diodes[0].word
    assert "phase 3 to −: open" in judge_matrix(read_matrix({**sound, "f3−": "OL"}), False, 0.5).text
    with pytest.raises(ReadingError, match="is not a voltage"):
        read_matrix({"f1+": "beep"})


def test_the_substitute_lamp_tells_the_lamp_circuit_from_the_alternator() -> None:
    case = Case(Ensemble(load_sheet("estate-car"), work=Scope.CHARGING))
    flat = [Reading(red="bat.plus", black="bat.minus", state="fast", value=12.4)]
    lamp = Reading(instrument=Instrument.SUBSTITUTE, branch="alternator", state="fast", word="charges")
    woken, still = case.posterior([*flat, lamp]), case.posterior([*flat, lamp.model_copy(update={"word": "no_change"})])
    assert woken.share("alternator") < 0.02
    circuit = ("fuse-a", "key-feed", "key-run-pole", "fuse-b", "charge-lamp", "l-wire")
    assert sum(woken.share(e) for e in circuit) > 0.7
    assert still.share("alternator") > case.posterior(flat).share("alternator")
    with pytest.raises(ReadingError, match="has no wire"):
        case.posterior([lamp.model_copy(update={"instrument": Instrument.FULL_FIELD})])


def test_a_forced_field_clears_the_alternator_and_finds_its_regulator() -> None:
    case = Case(Ensemble(load_sheet("fire-tender"), work=Scope.CHARGING))
    readings = [
        Reading(red="bat.plus", black="bat.minus", state="fast", value=12.5),
        Reading(red="reg.A", black="reg.ground", state="fast", value=12.3),
        Reading(red="reg.ground", black="bat.minus", state="fast", value=0.01),
        Reading(instrument=Instrument.FULL_FIELD, branch="alternator", state="fast", word="charges"),
        Reading(red="alt.F", black="reg.F", state="fast", value=0.0),
        Reading(red="alt.B", black="alt.case", state="fast", value=12.5),
    ]
    posterior = case.posterior(readings)
    assert posterior.suspects[0].element == "regulator"
    assert posterior.share("alternator") < 0.02


def test_an_alternator_is_not_condemned_before_its_small_wires_are_read() -> None:
    case = Case(Ensemble(load_sheet("estate-car"), work=Scope.CHARGING))
    dead = [
        Reading(red="bat.plus", black="bat.minus", state="fast", value=12.4),
        Reading(red="alt.B", black="alt.case", state="fast", value=12.4),
        Reading(red="lamp.l", black="alt.L", state="fast", value=0.0),
        Reading(instrument=Instrument.FUNCTION, branch="charge-lamp", state="fast", word="works"),
    ]
    before = case.posterior(dead)
    assert before.suspects[0].element == "alternator"
    assert before.found is None
    assert case.posterior([*dead, Reading(red="alt.L", black="alt.case", state="fast", value=1.1)]).found == "alternator"


def test_a_machine_without_a_charging_system_lives_on_its_battery() -> None:
    sheet = load_sheet("training-kart")
    assert not has_charging(sheet)
    idle = energy_balance(sheet, Conditions(), 0.0)[0]
    assert idle.can_give_a == 0
    assert idle.lasts_hours == pytest.approx(0.5 * 9 * 0.95 / -idle.battery_a)


@pytest.mark.parametrize(("sheet_id", "share"), [("green-mower", 2.0), ("piste-sled", 2 / 3)])
def test_an_unplugged_stator_reads_as_it_is_joined(sheet_id: str, share: float) -> None:
    """Pairs in star are two windings in line, in delta one beside the two others; an open winding shows in ohms and AC volts."""
    network = network_of(load_sheet(sheet_id))
    stator = next(e for e in network.sheet.elements if isinstance(e, Stator))
    fast = network.sheet.running_states()[-1]

    def read(instrument: Instrument, red: str, black: str, values: Floats) -> float:
        reading = Reading(instrument=instrument, red=red, black=black, state=fast, value=0.0)
        return float(shown_alone(network, reading, values.__getitem__)[0])

    sound = network.nominal[:, None]
    assert read(Instrument.OHMMETER, stator.p1, stator.p2, sound) == pytest.approx(share * stator.phase_mohm / 1000, rel=1e-6)
    assert read(Instrument.OHMMETER, stator.p3, stator.case, sound) > 1e7
    expected = stator.pair_v_per_krpm * network.sheet.states[fast].rpm / 1000
    assert read(Instrument.AC_VOLTS, stator.p2, stator.p3, sound) == pytest.approx(expected, rel=1e-6)
    opened = sound.copy()
    find_mode(fault_modes(network), stator.id, "phase_1_open").apply(opened, np.ones(1))
    volts, ohms = (read(i, stator.p1, stator.p2, opened) for i in (Instrument.AC_VOLTS, Instrument.OHMMETER))
    if stator.joined == "star":
        assert volts == 0
        assert ohms > 1e7
    else:  # the other two windings still make the pair's volts, over twice the ohms of one
        assert volts == pytest.approx(expected, rel=0.01)
        assert ohms == pytest.approx(2 * stator.phase_mohm / 1000, rel=1e-3)
        assert "1-2 is twice" in judge_pair_ohms([ohms, 0.4, 0.4], 0.0, "delta").text


def test_stator_ohms_typed_on_the_board_accuse_the_stator() -> None:
    sheet = load_sheet("green-mower")
    stator = next(e for e in sheet.elements if isinstance(e, Stator))
    typed = {
        "leads": "0.2",
        "p12": "0.70",
        "p23": "OL",
        "p31": "OL",
        "ground": "OL",
        "rpm": "3100",
        "v12": "33.8",
        "v23": "0.4",
        "v31": "0.3",
    }
    readings = stator_readings(stator, sheet, typed)
    assert next(r.value for r in readings if r.instrument is Instrument.AC_VOLTS) == pytest.approx(33.8 * 3000 / 3100)
    assert readings[0].value == pytest.approx(0.5)
    low = Reading(red=sheet.plus, black=sheet.minus, state="fast", value=12.9)
    found = Case(Ensemble(sheet, work=Scope.CHARGING)).posterior([low, *readings])
    assert (found.found, found.suspects[0].mode) == ("stator", "phase_3_open")


def test_a_meters_rms_is_brought_to_peak_to_peak() -> None:
    wave = np.interp(np.linspace(0, 1, 1001), [0, 0.5, 1], [0, 0.4, 0])
    assert peak_to_peak_v(float(np.std(wave))) == pytest.approx(0.4, rel=0.01)
    assert "nearer to one diode shorted" in judge_ripple(0.9, 12, 0.5).text
    assert "nearer to one diode open" in judge_ripple(0.9, 12, 0.75).text


VAN_LINE = [("ecu.bus", 12.4, 0.9), ("plug.bus", 12.1, 1.0)]


def test_the_bus_fault_lies_where_the_swing_is_lost() -> None:
    line = bus_line(load_sheet("parcel-van"))
    assert line is not None
    levels = [judge_level(*at, 12.6) for at in (*VAN_LINE, ("alt.bus", 11.2, 5.0))]
    assert [v.judged.verdict for v in levels] == [Verdict.GOOD, Verdict.GOOD, Verdict.BAD]
    assert levels[2].missing_v == pytest.approx(6.4)
    assert [s.elements for s in suspect_stretches(line, levels, [])] == [("bus-splice",)]
    assert [s.elements for s in suspect_stretches(line, [], ["alternator", "fan-module"])] == [("bus-wire",)]
    answering = [judge_level(*at, 12.6) for at in (*VAN_LINE, ("alt.bus", 12.0, 1.1))]
    assert [s.elements for s in suspect_stretches(line, answering, ["alternator"])] == [("alternator",)]
    with pytest.raises(ReadingError, match="swap the two"):
        judge_level("alt.bus", 2.0, 9.0, 12.6)
