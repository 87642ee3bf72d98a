"""A point is named as people write it."""

import pytest

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import ReadingError
from iron_probe.web.point_names import point_meant


def test_a_title_an_id_and_a_part_of_one_title_name_a_point(minibus: Sheet) -> None:
    assert point_meant(minibus, "") == ""
    assert point_meant(minibus, "relay.86") == point_meant(minibus, " Start  Relay 86 ") == "relay.86"
    assert point_meant(minibus, "relay 86") == "relay.86"


def test_what_names_none_or_several_is_refused_with_its_neighbours(minibus: Sheet) -> None:
    with pytest.raises(ReadingError, match=r"No point is called “clutch”.*clutch switch"):
        point_meant(minibus, "clutch")
    with pytest.raises(ReadingError, match="tap it on the map"):
        point_meant(minibus, "the moon")
