"""Shipped captures are what their simulators make."""

from functools import partial

import numpy as np

from iron_probe.demo.crank_captures import STORIES, csv_of, shipped
from iron_probe.demo.drain_captures import RECORDS
from iron_probe.web.captures.routes import SAMPLES, STATIC_CAPTURES


def test_shipped_captures_are_those_of_the_simulator() -> None:
    made_here = {s.name: partial(csv_of, s) for s in STORIES} | {name: record.make for name, record in RECORDS.items()}
    assert sorted(made_here) == SAMPLES
    for name in RECORDS:
        kept, fresh = (STATIC_CAPTURES / name).read_text().splitlines(), made_here[name]().splitlines()
        assert len(kept) == len(fresh)
        assert sum(a != b for a, b in zip(kept, fresh, strict=True)) < 10  # a last digit may differ between machines


def numbers(text: str) -> np.ndarray:
    comma = ";" in text
    rows = text.replace(",", ".").replace(";", ",") if comma else text
    return np.loadtxt(rows.splitlines()[2:], delimiter=",")


def test_crank_captures_are_cranks_of_today_s_rig() -> None:
    """ngspice chooses its own steps, so figures are held within a hundredth and not digit by digit."""
    for story in STORIES:
        kept, fresh = numbers(shipped(story.name).decode()), numbers(csv_of(story))
        assert kept.shape == fresh.shape
        off = np.abs(kept - fresh) > 0.01 * np.abs(kept).max(axis=0)
        assert off.mean() < 0.002, story.name
