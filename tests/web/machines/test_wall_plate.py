"""The plate for the wall."""

import itertools
from uuid import uuid4

import pytest
from PIL import ImageFile

from iron_probe.core.circuit.network import SheetKey
from iron_probe.machines import load_sheet
from iron_probe.store.tables import MachineRow, SheetVersion
from iron_probe.web.bench.drawing import Folding, map_of
from iron_probe.web.machines.wall_plate import OVERLAP_PX, STRIP_PX, piece, strips, wall_plate


@pytest.mark.parametrize("width", [400.0, STRIP_PX, 2500.0, 9000.0])
def test_strips_cover_the_map_and_show_where_they_join(width: float) -> None:
    cut = strips(width)
    assert cut[0][0] == 0 and cut[-1][0] + cut[-1][1] == pytest.approx(width) and all(w <= STRIP_PX for _, w in cut)
    assert all(a + w - b == pytest.approx(OVERLAP_PX) for (a, w), (b, _) in itertools.pairwise(cut))


def test_its_pieces_hold_every_part_of_the_map() -> None:
    drawing = map_of(Folding(SheetKey(load_sheet("quay-digger"))))
    pieces = [piece(drawing, left, left + wide) for left, wide in strips(drawing.width)]
    assert len(pieces) > 1 and {b.id for p in pieces for b in p.branches} == {b.id for b in drawing.branches}
    assert all(len(p.branches) < len(drawing.branches) for p in pieces)


def test_photos_that_were_cut_off_are_refused_after_it_as_before() -> None:
    version = SheetVersion(id=uuid4(), machine_id=uuid4(), number=1, content_hash="0" * 64, text="")
    plate = wall_plate(MachineRow(id=uuid4(), number=3, name="Mower & <3>"), version, load_sheet("green-mower"))
    assert plate.startswith(b"%PDF") and not ImageFile.LOAD_TRUNCATED_IMAGES
