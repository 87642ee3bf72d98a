"""Where to probe next."""

from iron_probe.core.bench.drain.amps_read import hidden_a
from iron_probe.core.bench.drain.currents import TOTAL, Way, solve_currents
from iron_probe.core.bench.drain.suspects import find_drains, next_probes, probes, within_named
from iron_probe.core.limits import FUSE_HOLDS
from tests.core.bench.drain.taken import SHUTTLE, taken


def test_splits_go_by_cable_and_box_before_fuse_and_plug() -> None:
    readings = [taken(1, TOTAL, 412, Way.CLAMP)]
    order = []
    for number in range(2, 30):
        currents = solve_currents(SHUTTLE, readings)
        offered = next_probes(SHUTTLE, currents, find_drains(SHUTTLE, currents), readings)
        if not offered:
            break
        where = offered[0].where
        order.append(where)
        behind = SHUTTLE.behind.get(where, frozenset()) if where in SHUTTLE.behind else frozenset({SHUTTLE.consumer_at(where)})
        carries = SHUTTLE.consumer_at("gate-controller.supply") in behind
        readings.append(taken(number, where, 385 if carries else 0.0, offered[0].way))
    assert min(order.index(box) for box in ("b1", "b2") if box in order) < min(order.index(f) for f in ("l1", "l2", "l3") if f in order)
    assert order[-1] in ("gate-plug", "gate-controller.supply")
    assert "c2" not in order


def test_no_sum_closes_without_a_total_and_a_small_fuse_hides_no_great_draw() -> None:
    plug = taken(2, "gate-plug", 385, Way.PART)
    without, total = [plug], [taken(1, TOTAL, 412, Way.CLAMP), plug]
    assert [find_drains(SHUTTLE, solve_currents(SHUTTLE, t)).closes for t in (without, total)] == [False, True]
    hot = solve_currents(SHUTTLE, [taken(1, TOTAL, 18_000, Way.CLAMP)])
    smallest = min(SHUTTLE.fuses(), key=lambda f: f[1].rating_a)
    assert hot.stretches[smallest[0].branch].high < 18
    assert hot.stretches[smallest[0].branch].high == FUSE_HOLDS * smallest[1].rating_a


def test_a_fuse_whose_millivolts_would_hide_the_drain_is_pulled() -> None:
    """A digit of 0.1 mV hides 13 mA behind a 10 A blade and far more behind a big one: a small drain is not swept by drops there."""
    big = max(SHUTTLE.fuses(), key=lambda f: f[1].rating_a)

    def way(excess_a: float, step_v: float = 1e-4) -> Way:
        return next(p.way for p in probes(SHUTTLE, excess_a=excess_a, meter_step_v=step_v) if p.where == big[0].branch)

    hidden = hidden_a(1e-4, big[1].rating_a, big[1].make)
    assert (way(10 * hidden), way(hidden), way(hidden, 1e-6)) == (Way.DROP, Way.PULL, Way.DROP)
    readings = [taken(1, TOTAL, 75, Way.CLAMP)]
    currents = solve_currents(SHUTTLE, readings)
    offered = next_probes(SHUTTLE, currents, find_drains(SHUTTLE, currents), readings, most=40)
    assert all(
        hidden_a(1e-4, f.rating_a, f.make) < 0.075
        for s, f in SHUTTLE.fuses()
        if (s.branch, Way.DROP) in {(p.where, p.way) for p in offered}
    )


def test_behind_a_fuse_that_is_named_its_plugs_are_parted_before_anything_is_called_found() -> None:
    readings = [taken(1, TOTAL, 412, Way.CLAMP), taken(2, "l2", 385, Way.DROP)]
    currents = solve_currents(SHUTTLE, readings)
    finding = find_drains(SHUTTLE, currents)
    assert [n.where for n in finding.named] == ["l2"]
    offered = next_probes(SHUTTLE, currents, finding, readings)
    inner = within_named(SHUTTLE, finding, offered)
    assert inner and all(p.where not in {s.branch for s, _ in SHUTTLE.fuses()} for p in inner)
    told = find_drains(SHUTTLE, solve_currents(SHUTTLE, [*readings, taken(3, "gate-controller.supply", 385, Way.PART)]))
    assert within_named(SHUTTLE, told, offered) == []


def test_what_a_fuse_shows_over_the_plug_parted_behind_it_is_its_error_and_no_second_drain() -> None:
    """Fuses spread by a tenth and more: where the sum closes without it, nothing further is named."""
    readings = [taken(1, TOTAL, 412, Way.CLAMP), taken(2, "l2", 470, Way.DROP), taken(3, "gate-controller.supply", 385, Way.PART)]
    found = find_drains(SHUTTLE, solve_currents(SHUTTLE, readings))
    assert [n.where for n in found.named] == ["gate-controller.supply"] and found.closes
