"""Drawn once, marked per page."""

from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import Scope
from iron_probe.web.bench.drawing import Folding, chosen, folding_of, ink_of, map_of, options_of, point_list, points_of, polyline


def test_one_option_is_chosen_and_titles_are_escaped(minibus: Sheet) -> None:
    options = options_of(minibus, "test", [("a", "A <b>"), ("ab", "AB")])
    assert "A &lt;b&gt;" in options
    assert chosen(options, "ab").count("selected") == 1 and '<option value="ab" selected' in chosen(options, "ab")
    assert "selected" not in chosen(options, "gone")


def test_a_line_lies_in_its_rectangle() -> None:
    assert polyline(((0.0, 0.0), (1.0, 1.0)), (10, 20, 100, 50)) == "10.0,20.0 110.0,70.0"


def test_ink_changes_with_the_state_and_points_do_not(minibus: Sheet) -> None:
    whole = Folding(SheetKey(minibus))
    assert ink_of(whole, "rest") != ink_of(whole, "crank") == ink_of(whole, "crank")
    drawn = points_of(whole)
    assert [p.id for p in map_of(whole).points if f'"{p.id}"' not in drawn] == []
    assert point_list(minibus).count("<option ") == len(minibus.points)


def test_a_map_is_folded_by_the_work_and_opens_for_a_hand_and_for_what_is_to_be_seen(minibus: Sheet) -> None:
    closed = folding_of(minibus, Scope.STARTING, (), ())
    folded, inside = next(
        (s, p)
        for s in map_of(closed).stubs
        for p in s.points
        if sum(p in t.points for t in map_of(closed).stubs) == 1 and map_of(closed).place_of(p) is None
    )
    assert map_of(closed).place_of(inside) is None
    seen = folding_of(minibus, Scope.STARTING, (), (inside,))
    assert seen == folding_of(minibus, Scope.STARTING, (folded.id, "no-such-track"), ())
    assert map_of(seen).place_of(inside) is not None
    before, after = ({b.id: b.middle for b in map_of(f).branches} for f in (closed, seen))
    stub_x = folded.line[-1][0]
    assert all(after[name] == middle for name, middle in before.items() if middle[0] < stub_x)  # what lies before it has not moved
    assert not map_of(folding_of(minibus, Scope.STARTING, ("all",), ())).stubs
