"""Fuse boxes as the sheet lists them and as the technician corrects them."""

from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.fuse_boxes import FuseEdit, boxes_of, edited
from iron_probe.core.circuit.sheet import Sheet


def test_every_fuse_stands_in_one_box(minibus: Sheet) -> None:
    boxes = boxes_of(minibus)
    listed = [slot.element.id for box in boxes for slot in box.fuses]
    fuses = [e.id for e in minibus.elements if isinstance(e, Fuse)]
    assert sorted(listed) == sorted(fuses)


def test_a_correction_changes_the_copy_and_not_the_sheet(minibus: Sheet) -> None:
    fuse = next(e for e in minibus.elements if e.type == "fuse")
    edit = FuseEdit.model_validate({"id": fuse.id, "title": fuse.title, "rating_a": fuse.rating_a * 2})  # type: ignore[attr-defined]
    changed = edited(minibus, [edit])
    assert changed.element(fuse.id).rating_a == fuse.rating_a * 2  # type: ignore[attr-defined]
    assert minibus.element(fuse.id).rating_a == fuse.rating_a  # type: ignore[attr-defined]
