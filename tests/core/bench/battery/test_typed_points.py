"""Points typed line by line."""

import pytest

from iron_probe.core.bench.battery.typed_points import MOST_LINES, parse_points
from iron_probe.core.errors import ReadingError, SheetError


def test_comma_point_tab_and_blank_lines_are_all_taken() -> None:
    assert parse_points("0 12,6\n\n5;11.9\n 10\t11.4 ", ("s", "V")) == [(0.0, 12.6), (5.0, 11.9), (10.0, 11.4)]
    assert parse_points("0 12.6 5\n5 12.0", ("h", "V", "A"), optional=1) == [(0.0, 12.6, 5.0), (5.0, 12.0)]


def test_every_bad_line_is_named() -> None:
    with pytest.raises(SheetError) as refused:
        parse_points("0 12.6\nfive 12\n5\n6 999999", ("s", "V"))
    assert [m.line for m in refused.value.mistakes] == [2, 3, 4]
    with pytest.raises(ReadingError):
        parse_points("  \n", ("s", "V"))
    with pytest.raises(SheetError, match="at most"):
        parse_points("1 12\n" * (MOST_LINES + 1), ("s", "V"))
