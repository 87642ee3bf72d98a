"""What the customer pays: hours and parts by the list, and that the list knows every kind of part a sheet may have."""

from iron_probe.bay.cost import cost, prices
from iron_probe.machines import load_sheet, sheet_ids


def test_every_part_of_every_shipped_sheet_has_a_price() -> None:
    assert {e.type for i in sheet_ids() for e in load_sheet(i).elements} <= set(prices().parts)


def test_an_hour_and_its_parts() -> None:
    sheet = load_sheet("green-mower")
    starter = next(e for e in sheet.elements if e.type == "starter")
    assert cost(sheet, 60, ()) == prices().hour
    assert (
        cost(sheet, 30, [starter.id, starter.id], fuses=2)
        == round(prices().hour / 2) + 2 * prices().parts["starter"] + 2 * prices().parts["fuse"]
    )
