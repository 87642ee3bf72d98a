"""A sheet's text checked and compared."""

from iron_probe.machines import sheet_text
from iron_probe.web.machines.page import checked, difference


def test_a_sound_text_has_no_mistakes_and_a_broken_one_has_them_by_line() -> None:
    text = sheet_text("green-mower")
    sheet, mistakes = checked(text)
    assert sheet is not None and not mistakes
    sheet, mistakes = checked(text.replace("system_v: 12", "system_v: 13", 1))
    assert sheet is None and mistakes and all(m.line >= 0 and m.text for m in mistakes)


def test_a_difference_is_the_lines_that_changed_with_their_neighbours() -> None:
    before = "\n".join(f"line {k}" for k in range(40))
    lines = difference(before, before.replace("line 20", "line twenty"))
    said = " ".join(repr(x) for x in lines)
    assert "line twenty" in said and "line 20" in said and "line 39" not in said
    assert difference(before, before) == []
