"""Steps, currents and fuses of a drain against what is not ours.

source: ruptures 1.1.10 (KernelCPD, linear), scipy.optimize (lsq_linear, linprog), ngspice 39 through our export;
from memory: blade fuse data sheets and ISO 8820-3; records with known steps made here.
"""

import numpy as np
import pytest
import ruptures
from scipy.optimize import linprog, lsq_linear

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drain.amps_read import Interval, amps_of_drop
from iron_probe.core.bench.drain.currents import SIGMAS, TOTAL, Taken, Way, least_squares, row_of, solve_currents
from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.bench.fuse_trip.time_current import band_at
from iron_probe.core.circuit.fuses import BLADE_FUSE_MOHM, KINDS, fuse_ohm, warm_factor
from iron_probe.core.circuit.network import network_of
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.trace.steps import find_steps
from iron_probe.machines import load_sheet
from tests.outside.test_ngspice import agree

HOUR = 36_000
"""Samples of an hour at 10 Hz."""


def day(rng: np.random.Generator, hours: int = 24) -> tuple[Floats, list[tuple[int, float]]]:
    """A record at 10 Hz with 1 mA noise, steps of 5 to 800 mA, wakes of 3 s to 2 min, and a clamp zero that creeps and wanders."""
    count = hours * HOUR
    amps, truth = np.full(count, 0.022), []
    for at in np.sort(rng.integers(600, count - 600, hours)):
        if truth and at - truth[-1][0] < 300:
            continue
        size = float(rng.choice([-1, 1]) * np.exp(rng.uniform(np.log(0.005), np.log(0.8))))
        amps[at:] += size
        truth.append((int(at), size))
    for _ in range(hours // 3):
        start, lasts, size = int(rng.integers(600, count - 2000)), int(rng.uniform(30, 1200)), float(rng.uniform(0.05, 0.8))
        amps[start : start + lasts] += size
        truth += [(start, size), (start + lasts, -size)]
    creep = 0.004 * np.sin(np.arange(count) / count * 7) + np.cumsum(rng.standard_normal(count)) * 2e-6
    return amps + creep + 0.001 * rng.standard_normal(count), truth


def test_known_steps_are_found_and_hardly_any_others() -> None:
    """common practice, no source: the noise of a good clamp; the bound on misses and false steps is the aim set for us."""
    known = hit = 0
    for seed in range(5):
        amps, truth = day(np.random.default_rng(seed))
        at = [s.at for s in find_steps(amps, 0.1).steps]
        matched = {min(at, key=lambda a: abs(a - t)) for t, _ in truth}
        hit += sum(min(abs(a - t) for a in at) <= 5 for t, _ in truth)
        known += len(truth)
        assert len(at) - len(matched) <= 1
    assert hit / known >= 0.95
    quiet = 0.03 + 0.001 * np.random.default_rng(9).standard_normal(24 * HOUR)
    assert len(find_steps(quiet, 0.1).steps) == 0


def test_steps_lie_where_ruptures_puts_them() -> None:
    rng = np.random.default_rng(12)
    for _ in range(4):
        edges = np.cumsum(rng.integers(80, 300, 6))
        levels = rng.uniform(0.02, 0.9, 7)
        while np.abs(np.diff(levels)).min() < 0.02:
            levels = rng.uniform(0.02, 0.9, 7)
        amps = np.repeat(levels, np.diff([0, *edges, edges[-1] + 200])) + 0.001 * rng.standard_normal(edges[-1] + 200)
        theirs = ruptures.KernelCPD(kernel="linear", min_size=8).fit(amps).predict(pen=60 * 0.001**2)[:-1]
        ours = [s.at for s in find_steps(amps, 0.1).steps]
        assert len(ours) == len(theirs)
        assert max(abs(a - b) for a, b in zip(ours, theirs, strict=True)) <= 1


def readings_on(tree_of: str, rng: np.random.Generator) -> list[Taken]:
    """Readings of half the places of a random set of currents, as wide as real ones."""
    tree = feed_tree(network_of(load_sheet(tree_of)))
    x = rng.exponential(0.05, len(tree.consumers)) * (rng.random(len(tree.consumers)) < 0.3)
    places = [TOTAL, *rng.permutation([*tree.behind, *(c.branch for c in tree.consumers)])[:9]]
    found = []
    for number, where in enumerate(places, start=1):
        amps = float(row_of(tree, str(where)) @ x)
        low, high = max(0.9 * amps - 0.004, 0.0), 1.1 * amps + 0.004
        found.append(Taken(number=number, where=str(where), way=Way.CLAMP, amps=Interval(low=low, best=amps, high=high)))
    return found


@pytest.mark.parametrize("sheet_id", ["lift-shuttle", "quay-digger", "pool-car"])
def test_least_squares_against_scipys_other_solver(sheet_id: str) -> None:
    """The same weighted problem by lsq_linear's trust region: same figures, and nothing below zero."""
    tree = feed_tree(network_of(load_sheet(sheet_id)))
    for seed in range(4):
        taken = readings_on(sheet_id, np.random.default_rng(seed))
        ours = least_squares(tree, taken)
        usual, weight = (np.array([getattr(c, name) for c in tree.consumers]) for name in ("usual_a", "weight"))
        excess = max(max(t.amps.best for t in taken if t.where == TOTAL) - usual.sum(), 0.0005)
        stray = np.hypot(np.hypot(0.0005, 0.4 * usual), excess * np.sqrt(weight / weight.sum()))
        errors = np.array([t.amps.width / (2 * SIGMAS) for t in taken])
        rows = np.concatenate([np.diag(1 / stray), np.array([row_of(tree, t.where) for t in taken]) / errors[:, None]])
        wanted = np.concatenate([usual / stray, [t.amps.best for t in taken] / errors])
        theirs = lsq_linear(rows, wanted, bounds=(0, np.inf), tol=1e-14, max_iter=500).x
        assert (ours >= 0).all()
        assert np.linalg.norm(rows @ ours - wanted) <= np.linalg.norm(rows @ theirs - wanted) * (1 + 1e-6)
        assert ours == pytest.approx(theirs, abs=2e-5)


def test_bounds_against_linear_programming() -> None:
    tree = feed_tree(network_of(load_sheet("lift-shuttle")))
    taken = readings_on("lift-shuttle", np.random.default_rng(7))
    ours = solve_currents(tree, taken)
    rows = np.array([row_of(tree, t.where) for t in taken])
    above, below = np.array([t.amps.high for t in taken]), -np.array([t.amps.low for t in taken])
    for where in [*list(tree.behind)[::4], *(c.branch for c in tree.consumers[::5])]:
        aim, got = row_of(tree, where), ours.of(where, tree)
        low = linprog(aim, A_ub=np.concatenate([rows, -rows]), b_ub=np.concatenate([above, below]), bounds=(0, None))
        high = linprog(-aim, A_ub=np.concatenate([rows, -rows]), b_ub=np.concatenate([above, below]), bounds=(0, None))
        assert got.low == pytest.approx(low.fun, abs=1e-7)
        assert got.high == pytest.approx(-high.fun, abs=1e-7)


@pytest.mark.parametrize("sheet_id", ["lift-shuttle", "quay-digger", "pool-car", "standby-generator"])
def test_fuse_drops_of_the_sleeping_circuit_give_its_currents_back(sheet_id: str) -> None:
    """ngspice agrees with our volts to a millivolt, and from them the tree's fuses give the current that flows in them."""
    network = network_of(load_sheet(sheet_id))
    values = network.nominal[:, None].copy()
    awake = next(e.id for e in network.sheet.elements if e.type == "module")
    values[network.row[awake, "wakeful"]] = 1.0
    state = next(iter(network.sheet.states))
    solved = solve_state(network, state, values)
    agree(network, solved, values)
    tree = feed_tree(network)
    carried = 0
    for stretch, fuse in tree.fuses():
        amps = abs(float(solved.current(stretch.branch)[0]))
        if fuse.r_mohm is None and amps > 0.05:
            drop_v = float(solved.drop(stretch.branch)[0]) * warm_factor(amps / fuse.rating_a)  # the netlist's fuses are cold
            assert amps_of_drop(drop_v, 0.0, fuse.rating_a, fuse.make).best == pytest.approx(amps, rel=1e-3)
            carried += 1
    assert carried


def test_published_fuse_figures() -> None:
    """from memory: blade data sheets (mΩ by rating) and ISO 8820-3 opening times."""
    assert {a: fuse_ohm(a) * 1000 for a in BLADE_FUSE_MOHM} == pytest.approx(BLADE_FUSE_MOHM)
    assert all(share >= 0.15 for _, share in KINDS.values())
    for multiple, least, most in ((1.35, 0.75, 600), (1.6, 0.25, 50), (2, 0.15, 5), (3.5, 0.04, 0.5), (6, 0.02, 0.1)):
        assert band_at(multiple) == pytest.approx((least, most))
