"""Titles on a map: each once, whole, beside its own line, and over as little as there is room for."""

import pytest

from iron_probe.core.circuit.network import network_of
from iron_probe.core.draw.feed_map import FeedMap, lay_out
from iron_probe.core.draw.labels import LETTER, LINE, MapLabel, place_labels
from iron_probe.core.draw.starting_side import starting_side
from iron_probe.machines import load_sheet, sheet_ids

COLUMN, ROW = 98.0, 86.0


def placed(sheet_id: str) -> tuple[FeedMap, dict[str, MapLabel], dict[str, str]]:
    sheet = load_sheet(sheet_id)
    drawing = lay_out(network_of(starting_side(sheet)))
    titles = {b.id: sheet.element(b.element).title for b in drawing.branches}
    ways = {name: [(title,), tuple(title.split())] for name, title in titles.items()}
    return drawing, place_labels(drawing, ways, COLUMN, ROW, (40.0, 10.0)), titles


def box(label: MapLabel) -> tuple[float, float, float, float]:
    width, top = LETTER * max(len(t) for t in label.lines), label.y - LINE + 2
    left = {"start": label.x, "middle": label.x - width / 2, "end": label.x - width}[label.anchor]
    return left, top, left + width, top + LINE * len(label.lines)


def over(a: tuple[float, float, float, float], b: tuple[float, float, float, float]) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_branch_has_its_whole_title_and_few_lie_over_each_other(sheet_id: str) -> None:
    drawing, labels, titles = placed(sheet_id)
    assert set(labels) == {b.id for b in drawing.branches}
    assert all(" ".join(label.lines) == titles[name] for name, label in labels.items())
    boxes = [box(label) for label in labels.values()]
    covered = sum(any(over(a, b) for b in boxes[:k]) for k, a in enumerate(boxes))
    assert covered <= 0.04 * len(boxes)
    top, bottom = min(b[1] for b in boxes), max(b[3] for b in boxes)
    assert top >= -10.0 - 1e-9 or covered == 0
    assert bottom <= drawing.rows * ROW + 40


@pytest.mark.parametrize("sheet_id", ["crew-minibus", "quay-digger"])
def test_a_label_stands_beside_its_own_line(sheet_id: str) -> None:
    drawing, labels, _ = placed(sheet_id)
    for branch in drawing.branches:
        left, top, right, bottom = box(labels[branch.id])
        xs, ys = [x * COLUMN for x, _ in branch.line], [y * ROW for _, y in branch.line]
        assert left - 30 <= max(xs) and right + 30 >= min(xs)
        assert top - 30 <= max(ys) and bottom + 30 >= min(ys)


def test_labels_are_the_same_every_time() -> None:
    assert placed("pool-car")[1] == placed("pool-car")[1]
