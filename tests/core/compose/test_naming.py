"""Ids and titles that are free."""

from iron_probe.core.compose.naming import LONGEST_TITLE, free_name, free_title, word_of


def test_a_free_name_is_told_apart_in_any_letters() -> None:
    assert free_name("Plug", {"plug", "plug-2"}) == "Plug-3" and free_name("Plug", set()) == "Plug"


def test_a_word_of_a_title_is_an_id_and_never_empty() -> None:
    assert word_of("Work lamp, left (55 W)") == "work-lamp-left-55-w" and word_of("Ω") == "part"


def test_a_title_that_was_made_unlike_still_fits() -> None:
    assert len(free_title("x" * 80, {"x" * (LONGEST_TITLE - 6)})) <= LONGEST_TITLE
