"""Levels along the one-wire line."""

import pytest

from iron_probe.core.bench.bus import bus_line, judge_level, suspect_stretches
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet

VAN_LINE = [("ecu.bus", 12.4, 0.9), ("plug.bus", 12.1, 1.0)]


def test_the_bus_fault_lies_where_the_swing_is_lost() -> None:
    line = bus_line(load_sheet("parcel-van"))
    assert line is not None
    levels = [judge_level(*at, 12.6) for at in (*VAN_LINE, ("alt.bus", 11.2, 5.0))]
    assert [v.judged.verdict for v in levels] == [Verdict.GOOD, Verdict.GOOD, Verdict.BAD]
    assert levels[2].missing_v == pytest.approx(6.4)
    assert [s.elements for s in suspect_stretches(line, levels, [])] == [("bus-splice",)]
    assert [s.elements for s in suspect_stretches(line, [], ["alternator", "fan-module"])] == [("bus-wire",)]
    answering = [judge_level(*at, 12.6) for at in (*VAN_LINE, ("alt.bus", 12.0, 1.1))]
    assert [s.elements for s in suspect_stretches(line, answering, ["alternator"])] == [("alternator",)]
    with pytest.raises(ReadingError, match="swap the two"):
        judge_level("alt.bus", 2.0, 9.0, 12.6)
