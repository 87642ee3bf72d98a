"""Fixed orders of work on the rig, beside the engine's own choice on the same machines."""

import numpy as np

from bench.rig_trials import FAULTS, RigEnd, code_hash, outcomes
from iron_probe.core.diagnose.next_test import Order

EVERY = 7
"""Every so manieth of the single faults is worked in each order: all sheets and classes take their turn."""
WORDS = {Order.BEST: "best value", Order.SOURCE: "source first, then halve", Order.DEAD_PART: "at the dead part, then halve"}


def table() -> str:
    """Work the faults in every order, those of the engine's own choice as `rig` made them."""
    numbers = range(0, FAULTS, EVERY)
    found = {order: {o.number: o for o in outcomes(numbers, order)} for order in WORDS}
    same = sorted(set.intersection(*(set(ends) for ends in found.values())) & set(numbers))
    rows = {order: [ends[n] for n in same] for order, ends in found.items()}
    fixed = min(_minutes(mine) for order, mine in rows.items() if order is not Order.BEST)
    lines = [
        f"## Orders of work on the rig: {len(same)} single faults, on code {code_hash()}",
        "",
        "| order of work | right | wrong and sure | not ended | mean tests | mean minutes |",
        "| --- | ---: | ---: | ---: | ---: | ---: |",
    ]
    for order, mine in rows.items():
        share = {end: np.mean([o.end == end for o in mine]) for end in ("right", "wrong and sure", "not ended")}
        tests = np.mean([o.tests for o in mine])
        shown = " | ".join(f"{s:.0%}" for s in share.values())
        lines.append(f"| {WORDS[order]} | {shown} | {tests:.1f} | {_minutes(mine):.1f} |")
    return "\n".join(
        [*lines, "", f"Best value takes {_minutes(rows[Order.BEST]) / fixed:.0%} of the minutes of the better fixed order.", ""]
    )


def _minutes(ends: list[RigEnd]) -> float:
    return float(np.mean([o.minutes for o in ends]))
