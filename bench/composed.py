"""Machines composed from legal answers drawn at random: how many are sound, and what the rig makes of them."""

import json
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from bench.composed_sheets import said_at_random, unsound
from iron_probe.blocks import pattern_book
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.compose.compose import compose
from iron_probe.core.errors import IronProbeError
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes
from iron_probe.rig.build import machine_of
from iron_probe.rig.errors import RigError
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

DRAWN, ON_RIG = 3000, 300
SEED = 40_000
FAR_V = 0.15
"""Volts of 12 by which a joined point of a still state may differ between solver and rig before it counts."""
KEPT = Path(__file__).parent.parent / ".bench" / "composed.jsonl"


def table() -> str:
    """Compose, try, and word it; a run that was stopped goes on where it was."""
    KEPT.parent.mkdir(exist_ok=True)
    rows = [json.loads(line) for line in KEPT.read_text().splitlines()] if KEPT.exists() else []
    done = {(row["what"], row["seed"]) for row in rows}
    with Spice() as spice, KEPT.open("a") as kept:
        for row in _tries(done, spice):
            kept.write(json.dumps(row) + "\n")
            kept.flush()
            rows.append(row)
    return worded(rows)


def worded(rows: list[dict[str, Any]]) -> str:
    """The table of what was tried so far."""
    tried, rig = [r for r in rows if r["what"] == "composed"], [r for r in rows if r["what"] == "rig"]
    wrong = Counter(w.partition(":")[0] for row in tried for w in row["unsound"][:1])
    points, far, states, alike, refused = (sum(row[k] for row in rig) for k in ("points", "far", "states", "alike", "refused"))
    lines = [
        "## Composed machines",
        "",
        f"{len(tried):,} machines composed from legal answers drawn at random (every choice as likely as the others, seed {SEED:,}): each read and checked as a sheet, every state solved on 200 sound variants, cranked, charged, laid to sleep, its interlocks opened, drawn, and its cables and fuses held against what they carry.",
        "",
        "| machines | sound | not sound | parts, median and most | composed in, median |",
        "| ---: | ---: | ---: | ---: | ---: |",
        f"| {len(tried):,} | {sum(not row['unsound'] for row in tried):,} | {sum(bool(row['unsound']) for row in tried)} | {int(np.median([row['parts'] for row in tried]))}, {max(row['parts'] for row in tried)} | {np.median([row['ms'] for row in tried]):.0f} ms |",
        "",
        *(
            [f"Not sound, by what is told first: {', '.join(f'{what} ({count})' for what, count in wrong.most_common(8))}.", ""]
            if wrong
            else []
        ),
        f"On the rig (ngspice, its own device models), {len(rig)} of them in all their states: {states:,} states, heard alike in {alike / max(states, 1):.1%}; {points:,} points, {far} more than {FAR_V:g} V of 12 apart ({far / max(points, 1):.2%}); refused by the rig: {refused}.",
    ]
    return "\n".join(lines)


def _tries(done: set[tuple[str, int]], spice: Spice) -> Iterator[dict[str, Any]]:
    book = pattern_book()
    for seed in range(SEED, SEED + DRAWN):
        if seed % (DRAWN // ON_RIG) == 0 and ("rig", seed) not in done:  # a run that was stopped has some of both
            yield {"what": "rig", "seed": seed, **_on_rig(compose(book, said_at_random(book, seed)).sheet, spice)}
        if ("composed", seed) in done:
            continue
        said, start = said_at_random(book, seed), time.perf_counter()
        composed = compose(book, said)
        ms = 1000 * (time.perf_counter() - start)
        try:
            found = unsound(composed)
        except IronProbeError as error:
            found = [str(error)]
        yield {"what": "composed", "seed": seed, "unsound": found[:3], "parts": len(composed.sheet.elements), "ms": round(ms, 1)}


def _on_rig(sheet: Sheet, spice: Spice) -> dict[str, int]:
    """One machine in all its states on the rig and by the solver."""
    count = Counter({"points": 0, "far": 0, "states": 0, "alike": 0, "refused": 0})
    for state in sheet.states:
        plant = Plant(machine_of(sheet), spice)
        solved = good_machine(sheet, state, Conditions()).solution
        try:
            plant.go(state)
            heard = plant.heard().value
            volts = {p: plant.between(p, sheet.minus).value for p in sheet.points if not solved.floating(p)[0]}
        except RigError:
            count["refused"] += 1
            continue
        count["states"] += 1
        count["alike"] += heard == SYMPTOMS[int(symptom_codes(solved)[0])].value
        count["points"] += len(volts)
        count["far"] += sum(abs(v - float(solved.between(p, sheet.minus)[0])) > FAR_V * sheet.system_v / 12 for p, v in volts.items())
    return dict(count)
