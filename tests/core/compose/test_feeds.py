"""Tables of fuses as people paste them."""

import pytest

from iron_probe.core.compose.feeds import MOST_LINES, Feed, read_feeds, sleepers

TABLE = """Slot\tRating\tFeeds
F1\t10 A\tHorn
F2\t7.5\tMirrors, heated
"""


def test_columns_are_told_by_what_they_hold() -> None:
    found, mistakes = read_feeds(TABLE)
    assert mistakes == []
    assert [(f.slot, f.rating_a, f.title, f.line) for f in found] == [("F1", 10, "Horn", 2), ("F2", 7.5, "Mirrors, heated", 3)]


def test_order_of_columns_is_free() -> None:
    (feed,), _ = read_feeds("Fuel pump; key; F31; 0.2 kW; 30 A; by pump switch")
    assert feed == Feed(line=1, box=1, slot="F31", title="Fuel pump", rating_a=30, watts=200, behind_key=True, by="pump switch")


def test_boxes_and_comments() -> None:
    found, mistakes = read_feeds("# bay\nF1, Horn, 10 A\n\nBox 2:\nF1, Radio, 5 A, 4 mA\n")
    assert mistakes == [] and [(f.box, f.slot, f.asleep_ma) for f in found] == [(1, "F1", 0), (2, "F1", 4)]


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("F1, =HYPERLINK(1), Horn", "formula of a spreadsheet"),
        ("F1, 10 A", "says no consumer"),
        ("F1, 900 A, Horn", "a fuse of 900 A: from 0.5 to 200"),
        ("F1, 1.2.3, Horn", "“1.2.3” is no number"),
        ("F1, 9000 W, Horn", "9000 W: from 0.1 to 5000"),
        ("F1, 15 A, Horn\nF1, 10 A, Bell", "slot F1 of box 1 is 15 A in line 2 and 10 A here"),
    ],
)
def test_what_cannot_be_taken_is_told_with_its_line(line: str, told: str) -> None:
    _, mistakes = read_feeds("F9, Lamps\n" + line)
    assert [told in m.text for m in mistakes] == [True] and mistakes[0].line == 1 + len(line.splitlines())


def test_ten_thousand_lines_are_refused_in_one_word() -> None:
    found, mistakes = read_feeds("F1, Horn\n" * 10_000)
    assert found == [] and len(mistakes) == 1 and f"the {MOST_LINES}" in mistakes[0].text


def test_what_draws_is_assumed_from_its_fuse() -> None:
    (feed,), _ = read_feeds("F1, 20 A, Something")
    assert feed.drawn_w(12) == pytest.approx(0.4 * 20 * 12)


def test_sleepers_say_what_they_draw() -> None:
    found, mistakes = sleepers("Alarm, 8 mA\nRadio")
    assert found == [("Alarm", 8)] and "say what it draws asleep" in mistakes[0].text and mistakes[0].where == "sleeps"


def test_a_slot_named_again_feeds_one_consumer_more() -> None:
    found, mistakes = read_feeds("F1, 15 A, Horn, key\nF1, Bell\nF1, 15 A, Chime, 5 W\n")
    assert not mistakes and [(f.title, f.shares, f.rating_a, f.behind_key) for f in found] == [
        ("Horn", False, 15, True),
        ("Bell", True, 15, True),
        ("Chime", True, 15, True),
    ]
    assert found[1].drawn_w(12) < found[0].drawn_w(12) and found[2].drawn_w(12) == 5
