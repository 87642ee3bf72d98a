"""Hidden charging faults worked to the end on every sheet that charges; how often an alternator is wrongly condemned."""

import os
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from bench.trials import SURE, chooser
from iron_probe.core.bench.charging import has_charging
from iron_probe.core.circuit.elements import Alternator, Rectifier
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.diagnose.trial import TrialEnd, hide_one, work
from iron_probe.machines import load_sheet, sheet_ids

FAULTS = 504
SEED = 71_777


def run_sheet(job: tuple[str, int]) -> dict[str, list[tuple[TrialEnd, bool]]]:
    """All trials of one sheet; with each outcome, whether the machine that makes the current was named and is sound."""
    sheet_id, faults = job
    ensemble = Ensemble(load_sheet(sheet_id), work=Scope.CHARGING)
    book = TestBook(ensemble)
    case = Case(ensemble, unseen=book.unseen)
    makers = {e.id for e in ensemble.sheet.elements if isinstance(e, Alternator | Rectifier)}
    found: dict[str, list[tuple[TrialEnd, bool]]] = {"best value": [], "output, drops, small wires": []}
    for k in range(faults):
        for name, order in (("best value", Order.BEST), ("output, drops, small wires", Order.SOURCE)):
            rng = np.random.default_rng((SEED, sheet_ids().index(sheet_id), k))
            hidden = hide_one(ensemble.network, ensemble.modes, rng, work=Scope.CHARGING)
            outcome = work(case, hidden, chooser(book, order, rng))
            condemned = outcome.named in makers and outcome.found and outcome.named not in outcome.hidden
            found[name].append((outcome, condemned))
    return found


def table() -> str:
    """Run all and word the result."""
    ids = [i for i in sheet_ids() if has_charging(load_sheet(i))]
    part = float(os.environ.get("IRON_PROBE_TRIALS", "1"))
    each = max(1, round(FAULTS * part / len(ids)))
    with ProcessPoolExecutor(2) as pool:
        batches = list(pool.map(run_sheet, [(i, each) for i in ids]))
    lines = [
        f"## Charging trials: {each * len(ids)} hidden single faults over {len(ids)} sheets",
        "",
        "Generator with its own seed, tolerances 1.5 times wider than the engine assumes, meter noise. Known at first: volts at the posts and the charge lamp, running.",
        "",
        "| order of work | right element | wrong and 90 % sure | alternator or rectifier wrongly condemned | own test made | mean tests | mean minutes |",
        "| --- | ---: | ---: | ---: | ---: | ---: | ---: |",
    ]
    for name in batches[0]:
        rows = [o for b in batches for o in b[name]]
        right = np.mean([o.named in o.hidden for o, _ in rows])
        wrong = np.mean([o.named not in o.hidden and o.share >= SURE for o, _ in rows])
        condemned = np.mean([c for _, c in rows])
        own, tests, minutes = (np.mean([getattr(o, f) for o, _ in rows]) for f in ("found", "tests", "minutes"))
        lines.append(f"| {name} | {right:.1%} | {wrong:.1%} | {condemned:.1%} | {own:.1%} | {tests:.1f} | {minutes:.1f} |")
    return "\n".join([*lines, ""])
