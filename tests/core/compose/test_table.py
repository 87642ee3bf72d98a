"""Tables as they come: encodings, quotes, headings, columns."""

import pytest

from iron_probe.core.compose.feeds import read_feeds
from iron_probe.core.compose.table import COLUMNS, MOST_ROWS, TableKind, decode, guess_columns, read_table, written
from iron_probe.core.compose.wire_list import read_wires
from iron_probe.core.errors import SheetError

FUSES = 'Fuse;Rating;Protects;mA\r\n1;15;"Horn; left";\r\n2;7,5;Radio;4\r\n'


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_the_letters_of_every_office_are_read(encoding: str) -> None:
    assert decode("Größe;Länge µ\n".encode(encoding)) == "Größe;Länge µ\n"


def test_a_picture_is_no_table() -> None:
    with pytest.raises(SheetError, match="no text"):
        decode(b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR")


def test_headings_name_columns_and_quotes_hold_a_cell_together() -> None:
    table = read_table(FUSES, TableKind.FEEDS)
    assert table.headed and guess_columns(table, TableKind.FEEDS) == ("slot", "rating", "feeds", "asleep")
    ours = written(table, TableKind.FEEDS, guess_columns(table, TableKind.FEEDS))
    feeds, mistakes = read_feeds(ours)
    assert not mistakes
    assert [(f.line, f.slot, f.rating_a, f.title, f.asleep_ma) for f in feeds] == [
        (2, "F1", 15, "Horn, left", 0),
        (3, "F2", 7.5, "Radio", 4),
    ]


def test_columns_without_headings_are_told_by_what_they_hold() -> None:
    table = read_table("F1,15 A,Horn,key\nF2,10 A,Radio,always\nF3,5 A,Clock,always\n", TableKind.FEEDS)
    assert guess_columns(table, TableKind.FEEDS) == ("slot", "rating", "feeds", "live")


def test_columns_in_another_order_are_mapped() -> None:
    table = read_table("2.5\tstarter stud\tred\tmain post\n", TableKind.WIRES)
    wires, mistakes = read_wires(written(table, TableKind.WIRES, ("size", "to", "colour", "from")))
    assert not mistakes and (wires[0].start, wires[0].end, wires[0].mm2, wires[0].colour) == ("main post", "starter stud", 2.5, "red")


@pytest.mark.parametrize(
    ("columns", "told"),
    [(("from", "from"), "two columns for from"), (("from", ""), "no column for to"), (("from", "volts"), "could be “volts”")],
)
def test_columns_that_do_not_go_together_are_refused(columns: tuple[str, ...], told: str) -> None:
    with pytest.raises(SheetError, match=told):
        written(read_table("a;b\n", TableKind.WIRES), TableKind.WIRES, columns)


@pytest.mark.parametrize(
    ("text", "told"),
    [("\n ;;\n", "holds no rows"), ("a;b\n" * 10_000, "10,000 lines; at most"), (";".join("abcdefghij" * 4), "40 columns")],
)
def test_what_is_no_table_of_a_machine_is_refused(text: str, told: str) -> None:
    with pytest.raises(SheetError, match=told):
        read_table(text, TableKind.FEEDS)


def test_formulas_are_told_by_line_and_never_taken() -> None:
    table = read_table("from;to\nkey.run;=HYPERLINK(1)\n", TableKind.WIRES)
    wires, mistakes = read_wires(written(table, TableKind.WIRES, guess_columns(table, TableKind.WIRES)))
    assert not wires and [m.line for m in mistakes] == [2] and "formula" in mistakes[0].text


def test_every_column_has_its_word() -> None:
    assert all(len(set(names)) == len(names) for names in COLUMNS.values()) and MOST_ROWS >= 300
