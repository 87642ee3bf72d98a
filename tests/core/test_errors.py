"""Refusals say what is allowed."""

from iron_probe.core.errors import IronProbeError, Mistake, SheetError, unknown_name


def test_a_name_nearly_right_is_suggested_and_a_strange_one_lists_what_there_is() -> None:
    assert "starter" in unknown_name("element", "startr", ["starter", "battery"])
    told = unknown_name("element", "zzz", ["starter", "battery"])
    assert "zzz" in told and "battery" in told


def test_a_sheet_is_refused_with_every_mistake_and_its_line() -> None:
    error = SheetError([Mistake(line=9, where="fuse", text="two"), Mistake(line=3, where="file", text="one")])
    assert isinstance(error, IronProbeError)
    assert str(error) == "line 3, file: one\nline 9, fuse: two"
