"""Hidden drains worked to the end on every sheet; steps of a three-day record against a plain moving window."""

import os
import time
from concurrent.futures import ProcessPoolExecutor

import numpy as np
from scipy.ndimage import uniform_filter1d

from iron_probe.core.bench.drain.explain import judge_together
from iron_probe.core.bench.drain.feed_tree import usual_total_a
from iron_probe.core.bench.drain.trial import DrainOutcome, HiddenDrain, best_value, hide_drain, pull_in_order, splits_first, work_drain
from iron_probe.core.circuit.network import network_of
from iron_probe.core.errors import SolveError
from iron_probe.core.trace.steps import find_steps
from iron_probe.machines import load_sheet, sheet_ids

DRAINS = 544
SEED = 90_113
HZ, DAYS = 10.0, 3
COMPLAINT_H = 36
WAYS = {"splits first": splits_first, "best value": best_value, "fuses pulled in box order": pull_in_order}


def causes(hidden: HiddenDrain, total_a: float, share_left: float) -> tuple[str, ...]:
    """What drain and battery together are judged to need, the machine dead after a night and a half."""
    sheet = hidden.network.sheet
    return judge_together(sheet, total_a, usual_total_a(hidden.tree), 1.0, share_left, COMPLAINT_H, 20.0).repair


def run_sheet(job: tuple[str, int]) -> dict[str, list[tuple[DrainOutcome, bool, bool]]]:
    """All trials of one sheet, with whether a culprit lay outside every box, and whether drain and battery were told apart as with exact
    figures (the capacity found within a tenth); a sheet that cannot drain gives none."""
    sheet_id, count = job
    network = network_of(load_sheet(sheet_id))
    found: dict[str, list[tuple[DrainOutcome, bool, bool]]] = {name: [] for name in WAYS}
    for k in range(count):
        for name, choose in WAYS.items():
            rng = np.random.default_rng((SEED, sheet_ids().index(sheet_id), k))
            try:
                hidden = hide_drain(network, rng, faults=1 + (k % 4 == 3), intermittent=k % 3 == 2, worn=k % 3 == 1)
            except SolveError:
                continue
            outside = any(not hidden.tree.consumers[t].boxed for t in hidden.truth)
            ended = work_drain(hidden, choose, max(0.05, 1.5 * usual_total_a(hidden.tree)))
            tested = hidden.share_left * float(rng.uniform(0.9, 1.1))
            told = causes(hidden, ended.total_a, tested) == causes(hidden, float(hidden.with_drain[-1]), hidden.share_left)
            found[name].append((ended, outside, told))
    return found


def table() -> str:
    """Run all and word the result."""
    part = float(os.environ.get("IRON_PROBE_TRIALS", "1"))
    each = max(1, round(DRAINS * part / len(sheet_ids())))
    with ProcessPoolExecutor(2) as pool:
        batches = list(pool.map(run_sheet, [(i, each) for i in sheet_ids()]))
    rows = {name: [o for b in batches for o in b[name]] for name in WAYS}
    count = len(rows["splits first"])
    lines = [
        f"## Drain trials: {count} hidden drains over {sum(bool(b['splits first']) for b in batches)} sheets",
        "",
        "Modules awake, contacts welded, switches stuck, leaks, diodes; two culprits in a quarter, away for a while in a third, a worn battery in a third. "
        "Parts spread 1.5 times wider than assumed; fuses by 12 %, the clamp's zero by 1.5 mA, millivolts to 0.1. The total is read before and after every probe.",
        "",
        "| way of sweeping | culprits named | one too many named | sum closes | mean probes | mean minutes | intermittent: named | zeros used that were read while it was away |",
        "| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |",
    ]
    for name, found in rows.items():
        ended = [o for o, *_ in found]
        away = [o for o in ended if o.intermittent]
        lines.append(
            f"| {name} | {np.mean([o.named for o in ended]):.1%} | {np.mean([o.false_names > 0 for o in ended]):.1%} | {np.mean([o.closes for o in ended]):.1%} "
            f"| {np.mean([o.probes for o in ended]):.1f} | {np.mean([o.minutes for o in ended]):.1f} | {np.mean([o.named for o in away]):.1%} | {sum(o.stale_zeros for o in ended)} |"
        )
    outside = [o.named for o, out, _ in rows["splits first"] if out]
    told = np.mean([t for _, _, t in rows["splits first"]])
    lines += [
        "",
        f"Drain and battery told apart as with exact figures (capacity found within a tenth, dead after {COMPLAINT_H} h): {told:.1%}.",
    ]
    lines += ["", f"Outside every box: {len(outside)}, named {np.mean(outside):.1%}." if outside else "", "", _steps()]
    return "\n".join([*lines, ""])


def _steps() -> str:
    """A three-day record at 10 Hz: seconds of ours, and of the referee, the difference of two means by scipy's uniform filter at one width."""
    rng = np.random.default_rng(SEED)
    count = round(DAYS * 86_400 * HZ)
    amps = np.full(count, 0.03)
    for at in rng.integers(1000, count - 4000, 120):
        amps[at : at + int(rng.uniform(30, 3000))] += rng.uniform(0.01, 0.8)
    amps += 0.001 * rng.standard_normal(count)
    began = time.perf_counter()
    found = find_steps(amps, 1 / HZ)
    ours = time.perf_counter() - began
    began = time.perf_counter()
    means = uniform_filter1d(amps, 50)
    np.flatnonzero(np.abs(means[50:] - means[:-50]) > 0.003)
    referee = time.perf_counter() - began
    return f"Steps of a {DAYS}-day record at {HZ:g} Hz ({count:,} samples): {ours:.2f} s, {len(found.steps)} steps; one pass of scipy's uniform filter {referee:.2f} s, ratio {ours / referee:.1f}."
