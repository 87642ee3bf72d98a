"""The text of a sheet, edited part by part."""

import pytest

from iron_probe.core.compose.sheet_text import SheetText, point_fields, renamed
from iron_probe.core.errors import SheetError
from iron_probe.machines import load_sheet, sheet_ids, sheet_text

TEXT = """# ours
points:
  a: {title: one}
  b: {title: two}

elements:
  - {id: first, from: a, to: b}
  # feeds
  - id: second
    from: b
    to: a

states: {}
"""


def test_an_element_over_several_lines_is_replaced_whole() -> None:
    after = SheetText(TEXT).replaced("second", {"id": "third", "from": "a"}).text
    assert after == TEXT.replace("  - id: second\n    from: b\n    to: a\n", "  - {id: third, from: a}\n")


def test_a_heading_stays_when_the_element_before_it_goes() -> None:
    assert "# feeds" in SheetText(TEXT).replaced("first").text


def test_more_elements_stand_before_what_follows_them() -> None:
    after = SheetText(TEXT).added({"id": "third"}).text
    assert after.index("third") < after.index("states") and after.index("third") > after.index("to: a")


def test_points_come_and_go() -> None:
    after = SheetText(TEXT).with_point("c", "three", 2.0).without_points({"a"}).text
    assert "  c: {title: three, minutes: 2}\n" in after and "a: {title" not in after


def test_points_are_renamed_wherever_an_element_names_them() -> None:
    module = {"id": "b", "supply": "b", "coil": ["a", "b"], "outputs": [{"point": "b", "needs": [{"point": "b"}], "on_in": {"b": ["b"]}}]}
    assert [p for _, p in point_fields(module)] == ["b", "a", "b", "b", "b"]
    made = renamed(module, "b", "z")
    assert made == {
        "id": "b",
        "supply": "z",
        "coil": ["a", "z"],
        "outputs": [{"point": "z", "needs": [{"point": "z"}], "on_in": {"b": ["b"]}}],
    }


def test_what_is_no_sheet_is_told() -> None:
    with pytest.raises(SheetError, match="no points and elements"):
        SheetText("a: 1\n").elements  # noqa: B018


def test_a_part_without_an_id_is_told_by_its_line() -> None:
    with pytest.raises(SheetError, match="line 8, element number 2: has no id"):
        SheetText("points:\n  a: {title: one}\n  b: {title: two}\n# x\nelements:\n  - {id: one, from: a}\n\n  - {from: b}\n").elements  # noqa: B018


def test_figures_that_are_none_are_taken_as_usual() -> None:
    odd = SheetText(TEXT.replace("# ours", "system_v: many").replace("title: two", "title: two, minutes: soon"))
    assert odd.system_v == 12 and odd.minutes_to("b") == 1 and odd.minutes_to("nowhere") == 1


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_point_an_element_has_is_found_in_what_is_written_of_it(sheet_id: str) -> None:
    text = SheetText(sheet_text(sheet_id))
    for element in load_sheet(sheet_id).elements:
        assert {p for _, p in point_fields(text.element(element.id))} == {*element.points(), *element.senses()}, element.id
