"""What a password must be, and how long a guesser waits."""

from datetime import timedelta

import pytest

from iron_probe.core.people.passwords import FREE_TRIES, LONGEST_WAIT, password_refused, wait_after


@pytest.mark.parametrize(
    ("password", "says"),
    [
        ("short", "at least 12"),
        ("x" * 129, "at most 128"),
        ("aaaaaaaaaaaab", "guessed"),
        ("Quay HandQuay HandQuay HandQuay Hand", "guessed"),
    ],
)
def test_what_is_guessed_at_once_is_refused_with_a_reason(password: str, says: str) -> None:
    assert says in password_refused(password, "Quay Hand")


def test_a_few_words_do() -> None:
    assert password_refused("four dry oak planks", "Quay Hand") == ""


def test_each_wrong_try_beyond_the_free_ones_doubles_the_wait_up_to_a_limit() -> None:
    waits = [wait_after(n) for n in range(FREE_TRIES - 1, FREE_TRIES + 3)]
    assert waits == [timedelta(0), timedelta(seconds=10), timedelta(seconds=20), timedelta(seconds=40)]
    assert wait_after(10_000) == LONGEST_WAIT
