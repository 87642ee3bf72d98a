"""What comes and goes, against every way it could have been there or away."""

from itertools import product

import numpy as np
import pytest

from iron_probe.core.diagnose.coming import attempts_of, coming, there_or_away
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.diagnose.places import places_of


def at(red: str, state: str = "crank", crank: int | None = None) -> Reading:
    return Reading(red=red, black="m", state=state, value=1.0, crank=crank)


def test_readings_of_one_crank_are_one_attempt_and_those_of_none_each_their_own() -> None:
    seen = places_of([at("a", crank=1), at("b", crank=1), at("c", crank=2), at("d"), at("e", "run", 1)], by_attempt=True)
    attempts = {frozenset(n for k in one for n in seen[k].numbers) for one in attempts_of(seen)}
    assert attempts == {frozenset({1, 2}), frozenset({3}), frozenset({4}), frozenset({5})}


def test_likelihood_is_the_mean_over_every_history() -> None:
    rng = np.random.default_rng(3)
    faulty, sound = rng.normal(size=(3, 2, 5)), rng.normal(size=(3, 5))
    comes = np.array([0.1, 1.0])
    either = [there_or_away(f, s) for f, s in zip(faulty, sound, strict=True)]
    found = coming(faulty.sum(axis=0), comes, list(faulty), either)
    histories = list(product([True, False], repeat=3))
    each = np.array([sum(faulty[a] if there else sound[a] + np.zeros((2, 1)) for a, there in enumerate(h)) for h in histories])
    fleeting = comes[:, None] * np.exp(each).mean(axis=0)
    assert found.log == pytest.approx(np.log(fleeting + (1 - comes[:, None]) * np.exp(faulty.sum(axis=0))))
    assert found.fleeting == pytest.approx(fleeting / np.exp(found.log))
    there = np.exp(each)[[h[1] for h in histories]].sum(axis=0) / np.exp(each).sum(axis=0)
    assert found.there(1, np.array([1])) == pytest.approx(there[[1]])


def test_what_never_comes_and_goes_is_as_it_was() -> None:
    steady = np.array([[-3.0, -1.0]])
    found = coming(steady, np.zeros(1), [steady], [there_or_away(steady, np.zeros(2))])
    assert found.log == pytest.approx(steady) and not found.fleeting.any()
