"""Whose limits count."""

from iron_probe.core.bench.allowance import School, limits_for
from iron_probe.core.circuit.sheet import Sheet


def test_schools_differ_and_24_v_doubles(minibus: Sheet) -> None:
    common, tight = (limits_for(s, minibus) for s in (School.COMMON, School.TIGHT))
    assert tight.side_v < common.side_v
    assert limits_for(School.COMMON, minibus.model_copy(update={"system_v": 24})).side_v == 2 * common.side_v
