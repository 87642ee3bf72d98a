"""Speed of the engine: an ensemble made ready, and the answer after a reading on the largest sheet."""

import subprocess
import time
from functools import partial

import numpy as np

from bench.timing import median_s, percentiles_ms
from iron_probe.core.circuit.spice import netlist
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.next_test import next_tests
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.diagnose.trial import complaint_of, hide_one
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import load_sheet, sheet_ids

FAULTS = 40


def table() -> str:
    """Measure and word it."""
    lines = [
        "## Engine",
        "",
        "| sheet | points | hypotheses | variants solved, all states | ready in | ngspice for the same | ratio |",
        "| --- | ---: | ---: | ---: | ---: | ---: | ---: |",
    ]
    books = {}
    TestBook(Ensemble(load_sheet("training-kart")))  # the solver is compiled when first used
    for sheet_id in sorted(sheet_ids(), key=lambda i: len(load_sheet(i).points)):
        start = time.perf_counter()
        ensemble = Ensemble(load_sheet(sheet_id))
        books[sheet_id] = TestBook(ensemble)
        took = time.perf_counter() - start
        network = ensemble.network
        one = network.nominal[:, None]
        text = netlist(solve_state(network, "rest", one), one)
        run = partial(subprocess.run, ["ngspice", "-n", "-b"], input=text, text=True, capture_output=True, check=False)
        spice = median_s(run, 5)
        solves = ensemble.solved_variants * len(ensemble.states)
        lines.append(
            f"| {sheet_id} | {len(network.points)} | {len(ensemble.hypotheses)} | {solves:,} | {took:.1f} s | {spice * solves:,.0f} s | {spice * solves / took:,.0f} |"
        )
    posterior_s, next_s = [], []
    book = books["quay-digger"]
    case = Case(book.ensemble, unseen=book.unseen)
    rng = np.random.default_rng(12)
    for _ in range(FAULTS):
        hidden = hide_one(book.ensemble.network, book.ensemble.modes, rng)
        readings = complaint_of(hidden)
        for _ in range(8):
            start = time.perf_counter()
            left = case.posterior(readings)
            middle = time.perf_counter()
            tests = next_tests(case, book, left, readings)
            posterior_s.append(middle - start)
            next_s.append(time.perf_counter() - middle)
            if left.found or not tests:
                break
            readings = [*readings, hidden.take(tests[0].reading)]
    both = [a + b for a, b in zip(posterior_s, next_s, strict=True)]
    lines += [
        "",
        f"After a reading on the quay digger, the largest sheet, {len(both)} readings of {FAULTS} hidden faults:",
        "",
        "| what | p50 | p95 |",
        "| --- | ---: | ---: |",
    ]
    for name, times in (("posterior", posterior_s), ("ranked next tests", next_s), ("both", both)):
        p50, p95 = percentiles_ms(times)
        lines.append(f"| {name} | {p50:.0f} ms | {p95:.0f} ms |")
    return "\n".join([*lines, ""])
