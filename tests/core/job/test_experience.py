"""A yard's own findings move priors by the beta-binomial mean, within bounds."""

import pytest

from iron_probe.core.job.experience import CEILING, FLOOR, STRENGTH, Experience, moved

PRIORS = {"stud": 0.1, "clamp": 0.3, "coil": 0.6}
TITLES = {"stud": "Ground stud", "clamp": "Minus clamp", "coil": "Coil"}


def test_without_jobs_nothing_moves() -> None:
    assert set(moved(PRIORS, TITLES, Experience()).values()) == {1.0} and Experience.of({}) == Experience()


def test_the_factor_is_the_mean_after_over_the_mean_before() -> None:
    factors = moved(PRIORS, TITLES, Experience(10, {"ground STUD": 4, "Minus clamp": 3, "Gone from the drawing": 3}))
    assert factors["stud"] == pytest.approx((STRENGTH * 0.1 + 4) / (STRENGTH + 10) / 0.1)
    assert factors["clamp"] == pytest.approx(1.0) and factors["coil"] == pytest.approx(STRENGTH / (STRENGTH + 10))
    assert sum(PRIORS[e] * f for e, f in factors.items()) <= 1.0


def test_what_was_never_found_stays_possible_and_what_is_always_found_does_not_decide() -> None:
    factors = moved({"stud": 0.01, "coil": 0.99}, TITLES, Experience(5000, {"Ground stud": 5000}))
    assert factors == {"stud": CEILING, "coil": FLOOR}


def test_it_is_kept_on_a_job_and_read_back() -> None:
    assert Experience.of({"confirmed": 3, "found": {"Coil": 2}}) == Experience(3, {"Coil": 2})
