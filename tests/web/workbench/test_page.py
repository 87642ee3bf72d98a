"""What the workbench shows of a draft."""

import pytest
from starlette.datastructures import FormData

from iron_probe.core.errors import SheetError
from iron_probe.machines import sheet_text
from iron_probe.web.workbench.page import edited, workbench

MOWER = sheet_text("green-mower")


def test_each_part_with_its_fields_and_the_draft_drawn() -> None:
    page = workbench(MOWER)
    row = next(r for r in page.rows if r.id == "plus-cable")
    assert (row.type, row.start, row.end, row.figures) == ("cable", "plus.eye", "sol.in", (("mm2", 16), ("length_m", 0.5)))
    assert page.drawing is not None and page.mistakes == () and page.points["sol.in"] == "solenoid battery stud"


def test_a_mistake_stands_beside_its_part() -> None:
    page = workbench(MOWER.replace("to: sol.in, mm2: 16", "to: sol.inn, mm2: 16"))
    assert "no point is called “sol.inn”" in next(r for r in page.rows if r.id == "plus-cable").wrong[0]
    assert page.drawing is None and page.sheet is None


def test_what_concerns_no_part_stands_above() -> None:
    page = workbench(MOWER.replace("plus: bat.plus", "plus: nowhere"))
    assert [m.where for m in page.mistakes] == ["plus"]


@pytest.mark.parametrize(
    ("fields", "there"),
    [
        ({"do": "plug", "part": "coil-wire", "title": "Plug A"}, "id: plug-a, type: plug"),
        ({"do": "joint", "part": "coil-wire", "title": "Joint B"}, "id: joint-b, type: joint"),
        ({"do": "split", "part": "coil-wire"}, "id: coil-wire-far"),
        ({"do": "tap", "at": "sol.in", "what": "Lamp, 5 A"}, "id: lamp-fuse"),
        ({"do": "join", "at": "sol.in", "to": "sol.coil"}, "id: wire-to-solenoid-coil-tab"),
        ({"do": "set", "part": "run", "field": "seat", "value": "empty"}, "run: {title: Key on, set: {key: run, seat: empty}"),
        ({"do": "state", "added": "Lamp lit", "like": "run"}, "lamp-lit: {title: Lamp lit"),
        ({"do": "control", "added": "Lamp switch"}, "lamp-switch: {title: Lamp switch"),
        ({"do": "change", "part": "f1", "field": "rating_a", "value": "15"}, "rating_a: 15, box: seat"),
    ],
)
def test_edits_as_a_form_asks_for_them(fields: dict[str, str], there: str) -> None:
    assert there not in MOWER and there in edited(FormData(fields), MOWER)


def test_a_struck_out_part_is_gone_and_nothing_asked_changes_nothing() -> None:
    assert "hour-meter" not in edited(FormData({"do": "strike", "part": "hour-meter"}), MOWER)
    assert edited(FormData({"do": "show"}), MOWER) == MOWER
    with pytest.raises(SheetError, match="says no consumer"):
        edited(FormData({"do": "tap", "at": "sol.in", "what": "5 A"}), MOWER)
