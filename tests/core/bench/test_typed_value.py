"""The reading field: what a cold finger types."""

import pytest

from iron_probe.core.bench.typed_value import LARGEST_AC_V, Bound, parse_bare, parse_hours, parse_quantity, said_loosely
from iron_probe.core.errors import ReadingError


@pytest.mark.parametrize(
    ("text", "value", "resolution"),
    [
        ("1.44", 1.44, 0.01), ("1.44 v", 1.44, 0.01), ("1440mv", 1.44, 0.001), ("0,3", 0.3, 0.1), (" -0.02 V ", -0.02, 0.01),
        (".5", 0.5, 0.1), ("12", 12.0, 1.0), ("−0,5", -0.5, 0.1), ("3µV", 3e-6, 1e-6),
    ],
)  # fmt: skip
def test_values(text: str, value: float, resolution: float) -> None:
    found = parse_quantity(text, "V")
    assert (found.value, found.resolution, found.bound) == (pytest.approx(value), pytest.approx(resolution), Bound.EXACT)


@pytest.mark.parametrize(
    ("text", "ohm"),
    [
        ("2 MΩ", 2e6),
        ("2 M\u2126", 2e6),
        ("2 Mohm", 2e6),
        ("2 mΩ", 2e-3),
        ("2 mohm", 2e-3),
        ("2 megohm", 2e6),
        ("4.7k", 4700),
        ("9 KOhm", 9000),
    ],
)
def test_the_case_of_a_prefix_decides(text: str, ohm: float) -> None:
    assert parse_quantity(text, "Ω").value == pytest.approx(ohm)


def test_blanks_within_are_one_and_very_long_texts_are_no_figure() -> None:
    assert parse_quantity("1" + 17 * " " + "megohm", "Ω").value == 1e6
    with pytest.raises(ReadingError, match="is not a resistance"):
        parse_quantity("1" * 80, "Ω")


def test_a_stator_may_give_more_than_the_system_has() -> None:
    assert parse_quantity("70", "V", LARGEST_AC_V).value == 70
    with pytest.raises(ReadingError, match="beyond 300 V"):
        parse_quantity("700", "V", LARGEST_AC_V)


@pytest.mark.parametrize(
    ("text", "value", "step"),
    [
        ("11.2-11.6", 11.4, 0.4), ("11.2 to 11.6 V", 11.4, 0.4), ("between 11,2 and 11,6", 11.4, 0.4), ("300 – 320 mV", 0.31, 0.02),
        ("-0.2 to 0.2", 0.0, 0.4), ("0.3..0.5", 0.4, 0.2), ("11.4-11.4", 11.4, 0.1), ("about 11.5", 11.5, 0.69), ("~0.3 V", 0.3, 0.2), ("ca. 12", 12.0, 2.0),
    ],
)  # fmt: skip
def test_ranges_and_about_are_read_as_finely_as_they_were_said(text: str, value: float, step: float) -> None:
    found = parse_quantity(text, "V")
    assert (found.value, found.resolution, found.bound) == (pytest.approx(value), pytest.approx(step), Bound.EXACT)


def test_what_was_said_loosely_is_told_as_it_was_typed() -> None:
    assert said_loosely("about 11") and said_loosely("11.2-11.6") and said_loosely("between 3 and 4 A")
    assert not said_loosely("-0.2") and not said_loosely("11.4 V") and not said_loosely("over 20")


def test_words_for_bounds_and_a_beep() -> None:
    assert (parse_quantity("over 20 A", "A").bound, parse_quantity("over 20 A", "A").value) == (Bound.AT_LEAST, 20)
    assert parse_quantity("less than 0.01", "V").bound is Bound.AT_MOST
    assert parse_quantity("beep", "Ω").bound is Bound.AT_MOST
    assert parse_quantity("no beep", "Ω").bound is Bound.AT_LEAST
    for odd in ("1-2-3", "about", "over over 3", "beep", "11 to", "> 2 to < 3", "> 2 to 3", "9-6", "3-abc"):
        with pytest.raises(ReadingError):
            parse_quantity(odd, "V")


def test_a_bare_range_is_in_the_small_unit_of_its_field() -> None:
    assert parse_bare("300-320", "mA", "A").value == pytest.approx(0.31)
    assert parse_bare("about 40", "mA", "A").value == pytest.approx(0.04)
    assert parse_bare("1.2 A", "mA", "A").value == pytest.approx(1.2)


def test_bounds() -> None:
    assert parse_quantity("OL", "Ω").bound is Bound.AT_LEAST
    assert parse_quantity(">20 A", "A").bound is Bound.AT_LEAST
    assert parse_quantity("<0.01", "V").bound is Bound.AT_MOST


@pytest.mark.parametrize(
    ("text", "unit", "word"),
    [
        ("", "V", "The field is empty"),
        ("abc", "V", "is not a voltage"),
        ("400", "V", "beyond 60 V"),
        ("1.4 A", "V", "is in A, but this field takes a voltage in V"),
        ("5 psi", "V", "“psi” is not a unit known here. Use V, mV"),
        ("1e3", "V", "is not a voltage"),
        ("nan", "A", "is not a current"),
        ("1.2.3", "V", "is not a voltage"),
    ],
)
def test_refusals_say_what_is_allowed(text: str, unit: str, word: str) -> None:
    with pytest.raises(ReadingError, match=word.replace(".", r"\.")):
        parse_quantity(text, unit)


@pytest.mark.parametrize(("text", "hours"), [("9", 9), ("9 h", 9), ("1,5h", 1.5), ("3 d", 72), ("2 days", 48)])
def test_hours(text: str, hours: float) -> None:
    assert parse_hours(text) == pytest.approx(hours)


@pytest.mark.parametrize(
    ("text", "hours"), [("overnight", 12), ("3 nights", 60), ("1 night", 12), ("a weekend", 60), ("2 weeks", 336), ("1,5 days", 36)]
)
def test_how_long_it_stood_in_words(text: str, hours: float) -> None:
    assert parse_hours(text) == hours


@pytest.mark.parametrize("text", ["", "soon", "0", "-3", "inf", "nan", "3 moons", "0.5 nights"])
def test_no_time_is_told(text: str) -> None:
    with pytest.raises(ReadingError, match="is no time"):
        parse_hours(text)


def test_a_bare_number_takes_the_small_unit() -> None:
    assert parse_bare("412", "mA", "A").value == pytest.approx(0.412)
    assert parse_bare("0,41 A", "mA", "A").value == pytest.approx(0.41)
