"""Blocks joined at their open ends."""

import pytest

from iron_probe.core.compose.pattern_book import read_block
from iron_probe.core.compose.plan import Plan
from iron_probe.core.errors import SheetError

FIRST = "title: First\npoints: {a: {title: a}}\nelements: [{id: one, from: a, to: b, mm2: $size}]\ngives: {plus: b}\nstates: {run: {title: Run, set: {key: run}}}\n"
SECOND = "title: Second\nelements: [{id: two, from: <plus>, to: c}]\ngives: {plus: c, old: <plus>}\nstates: {more: {title: More, like: run, set: {lamps: on}}, odd: {title: Odd, like: crank}}\n"


def test_a_block_joins_the_end_the_last_one_gave() -> None:
    plan = Plan({"size": 25.0})
    plan.add(read_block(FIRST), "way/first", "way")
    plan.add(read_block(SECOND), "way/second", "more")
    assert plan.elements == [{"id": "one", "from": "a", "to": "b", "mm2": 25.0}, {"id": "two", "from": "b", "to": "c"}]
    assert plan.ends == {"plus": "c", "old": "b"}
    assert plan.came_from == {"one": "way", "two": "more"}


def test_a_state_is_like_another_or_left_out() -> None:
    plan = Plan({"size": 25.0})
    plan.add(read_block(FIRST), "way/first", "way")
    plan.add(read_block(SECOND), "way/second", "more")
    assert plan.states["more"]["set"] == {"key": "run", "lamps": "on"}
    assert "odd" not in plan.states


def test_what_a_block_lacks_is_told() -> None:
    with pytest.raises(SheetError, match="block way/second: asks for the open end “plus”; there are none"):
        Plan({}).add(read_block(SECOND), "way/second", "more")
    with pytest.raises(SheetError, match="asks for the figure “size”"):
        Plan({}).add(read_block(FIRST), "way/first", "way")
    with pytest.raises(SheetError, match="adds to module, which no block"):
        Plan({}).add(read_block("title: T\nalso: [{element: module, output: start}]\n"), "reads/t", "agree")


def test_a_block_may_add_to_a_module() -> None:
    plan = Plan({})
    plan.put({"id": "module", "outputs": [{"name": "start"}, {"name": "fuel"}]}, "start")
    plan.add(
        read_block(
            "title: T\nalso: [{element: module, output: start, needs: [{point: p, above_v: 5}], pulls: [{point: p, to: ground}]}]\n"
        ),
        "reads/t",
        "agree",
    )
    assert plan.elements[0] == {
        "id": "module",
        "outputs": [{"name": "start", "needs": [{"point": "p", "above_v": 5}]}, {"name": "fuel"}],
        "pulls": [{"point": "p", "to": "ground"}],
    }
