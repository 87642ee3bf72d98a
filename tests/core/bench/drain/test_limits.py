"""What a sleeping machine may draw, and ways into its wiring."""

from iron_probe.core.bench.drain.limits import LimitSchool, judge_total, limit_for, ways_in
from iron_probe.core.bench.judged import Verdict
from iron_probe.machines import load_sheet
from tests.core.bench.drain.nights import SHUTTLE


def test_limits_by_machine_and_school() -> None:
    assert limit_for(SHUTTLE).limit_a == 0.05
    assert limit_for(load_sheet("quay-digger"), LimitSchool.OLDER).limit_a == 0.1
    assert limit_for(load_sheet("piste-sled")).limit_a < 0.005
    limit = limit_for(SHUTTLE)
    assert judge_total(0.03, limit, 5, 25).verdict is Verdict.GOOD
    assert judge_total(0.4, limit, 5, 25).verdict is Verdict.OPEN
    assert judge_total(0.4, limit, 40, 25).verdict is Verdict.BAD


def test_ways_in_work_out_the_draw_before_the_meter_is_connected() -> None:
    small, big = (next(w for w in ways_in(SHUTTLE, a, 2) if w.id == "series") for a in (0.5, 6.0))
    assert "under the meter's 10 A fuse" in small.risk
    assert "over the meter's 10 A fuse" in big.risk
    assert "each ground cable in turn" in ways_in(SHUTTLE, 0.5, 2)[0].steps[1]
