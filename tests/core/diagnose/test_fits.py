"""Kept fits: made once, let go in time."""

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose import fits
from iron_probe.core.diagnose.fits import HeldFit, HeldFits, log_sum
from iron_probe.core.diagnose.likelihood import Fit


def held(size: int) -> HeldFit:
    return HeldFit(Fit(np.zeros(size), np.zeros(size)), np.array([-1.5]))


def test_the_log_of_a_sum_holds_where_numbers_underflow() -> None:
    values = np.array([[-1000.0, -1000.0], [0.0, -np.inf]])
    assert log_sum(values, axis=1) == pytest.approx([-1000 + np.log(2), 0.0])
    assert float(log_sum(np.array([-np.inf, -np.inf]))) == -np.inf


def test_a_place_is_worked_out_once_and_the_oldest_goes_for_want_of_room() -> None:
    kept, made = HeldFits(most_bytes=3 * 16 * 10), []

    def make(name: str) -> HeldFit:
        made.append(name)
        return held(10)

    for name in ("a", "b", "a", "c", "a", "d", "b"):
        kept.first(name, lambda n=name: make(n))  # type: ignore[misc]
    assert made == ["a", "b", "c", "d", "b"]  # a was asked for in between and stayed
    assert kept.first("a", lambda: held(1)).sound == -1.5


def test_only_strata_that_are_missing_are_made() -> None:
    kept, asked = HeldFits(), []

    def make(missing: list[int]) -> Floats:
        asked.append(missing)
        return np.array([[float(k)] for k in missing])

    one, two, three = (kept.number_of(name) for name in ("one", "two", "three"))
    assert kept.number_of("one") == one
    kept.strata("place", [one, two], make)
    rows = kept.strata("place", [two, three, one], make)
    assert asked == [[0, 1], [1]]
    assert [float(r[0]) for r in rows] == [1.0, 1.0, 0.0]


def test_a_number_is_never_given_twice(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fits, "MOST_NUMBERS", 3)
    kept = HeldFits()
    numbers = [kept.number_of(k) for k in (*range(8), 0)]
    assert len(set(numbers)) == 9  # the first was forgotten meanwhile


def test_of_too_many_strata_those_of_the_least_used_place_go() -> None:
    kept = HeldFits(most_strata=5)
    asked: list[str] = []

    def read(place: str, numbers: list[int]) -> None:
        def make(missing: list[int]) -> Floats:
            asked.append(f"{place}{len(missing)}")
            return np.zeros((len(missing), 1))

        assert len(kept.strata(place, numbers, make)) == len(numbers)

    for place, numbers in (("a", [1, 2]), ("b", [1, 2]), ("a", [1, 2]), ("c", [1, 2]), ("a", [1, 2, 3]), ("b", [1])):
        read(place, numbers)
    assert asked == ["a2", "b2", "c2", "a1", "b1"]
    read("d", [1, 2, 3, 4, 5, 6])  # more than all that is kept: answered, and not held
    read("d", [1])
    assert asked[-2:] == ["d6", "d1"]


def test_what_an_attempt_says_is_worked_out_once_and_counts_for_the_room() -> None:
    kept, made = HeldFits(most_bytes=3 * 8 * 10), []

    def make(name: str) -> Floats:
        made.append(name)
        return np.zeros(10)

    for name in ("a", "b", "a", "c", "d", "b"):
        kept.attempt((name,), lambda n=name: make(n))  # type: ignore[misc]
    assert made == ["a", "b", "c", "d", "b"]
