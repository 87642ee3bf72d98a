"""What a sleeping machine may draw, and ways into its wiring."""

from iron_probe.core.bench.battery.endurance import rated_ah
from iron_probe.core.bench.drain.limits import LimitSchool, judge_total, latches_of, limit_for, ways_in
from iron_probe.core.bench.judged import Verdict
from iron_probe.machines import load_sheet
from tests.core.bench.drain.nights import SHUTTLE


def test_limits_by_machine_and_school() -> None:
    assert limit_for(SHUTTLE, 0.03).limit_a == 0.05
    assert limit_for(load_sheet("quay-digger"), 0.01, LimitSchool.OLDER).limit_a == 0.1
    sled = load_sheet("piste-sled")
    assert limit_for(sled, 0.0).limit_a == 0.004
    assert limit_for(sled, 0.002).limit_a == 0.006  # what its module takes asleep comes on top
    limit = limit_for(SHUTTLE, 0.03)
    assert judge_total(0.03, limit, 5, SHUTTLE).verdict is Verdict.GOOD
    assert judge_total(0.4, limit, 5, SHUTTLE).verdict is Verdict.OPEN
    assert judge_total(0.4, limit, 40, SHUTTLE).verdict is Verdict.BAD


def test_eighteen_amperes_are_no_sleeper_and_minus_flows_into_the_battery() -> None:
    limit = limit_for(SHUTTLE, 0.03)
    hot = judge_total(18.0, limit, None, SHUTTLE)
    assert hot.verdict is Verdict.BAD  # without any wait
    assert "216 W" in hot.text
    assert f"{rated_ah(SHUTTLE) / 18:.1f} h" in hot.text
    assert "now" in hot.next_step
    charging = judge_total(-0.3, limit, 60, SHUTTLE)
    assert charging.verdict is Verdict.OPEN
    assert charging.text.startswith("−300 mA: it flows into the battery")


def test_ways_in_work_out_the_draw_before_the_meter_is_connected() -> None:
    small, big = (next(w for w in ways_in(SHUTTLE, a, 2) if w.id == "series") for a in (0.5, 6.0))
    assert "under the meter's 10 A fuse" in small.risk
    assert "over the meter's 10 A fuse" in big.risk
    assert "each ground cable in turn" in ways_in(SHUTTLE, 0.5, 2)[0].steps[1]


def test_a_small_machine_has_no_hood_and_no_doors_to_latch() -> None:
    mower, bus = ({key for key, _ in latches_of(load_sheet(s))} for s in ("green-mower", "crew-minibus"))
    assert "seat" in mower and not mower & {"hood", "doors", "boot"}
    assert {"hood", "doors", "boot"} <= bus and "seat" not in bus
    assert {"key", "scan", "acc"} <= mower & bus
