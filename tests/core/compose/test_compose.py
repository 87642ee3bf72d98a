"""Machines from answers: sound whatever legal answers are given, what was not said is assumed, the usual stands where an answer cannot."""

import pytest

from bench.composed_sheets import said_at_random, unsound
from bench.plate_boxes import clashes
from iron_probe.blocks import pattern_book
from iron_probe.core.circuit.elements import Battery, Relay, Starter
from iron_probe.core.circuit.network import build_network
from iron_probe.core.compose.compose import compose
from iron_probe.core.compose.pattern_book import Variant
from iron_probe.core.draw.feed_map import lay_out
from iron_probe.core.errors import SheetError

BOOK = pattern_book()


@pytest.mark.parametrize("kind", list(BOOK.kinds))
def test_what_is_usual_of_a_kind_reads_as_a_sheet_and_is_drawn_without_a_clash(kind: str) -> None:
    composed = compose(BOOK, {"kind": kind})
    assert composed.mistakes == ()
    assert clashes(lay_out(build_network(composed.sheet))) == []
    assert composed.assumed == {e.id for e in composed.sheet.elements}


@pytest.mark.parametrize("variant", BOOK.library, ids=lambda v: v.title)
def test_a_variant_of_the_library_is_what_it_says(variant: Variant) -> None:
    composed = compose(BOOK, variant.answers)
    assert composed.mistakes == ()
    assert clashes(lay_out(build_network(composed.sheet))) == []
    assert composed.text != compose(BOOK, {"kind": variant.answers["kind"]}).text


def test_the_library_covers_every_kind() -> None:
    assert len(BOOK.kinds) + len(BOOK.library) >= 60
    assert len({v.title for v in BOOK.library}) == len(BOOK.library)


@pytest.mark.parametrize("kind", ["mower", "twin-battery-boat", "excavator", "hybrid"])
def test_a_machine_as_usual_cranks_charges_and_sleeps(kind: str) -> None:
    assert unsound(compose(BOOK, {"kind": kind})) == []


@pytest.mark.parametrize("seed", range(9000, 9008))
def test_legal_answers_make_a_sound_machine(seed: int) -> None:
    assert unsound(compose(BOOK, said_at_random(BOOK, seed))) == []


def test_what_was_said_is_no_longer_assumed() -> None:
    usual = compose(BOOK, {"kind": "car"})
    said = compose(BOOK, {"kind": "car", "batteries": "one", "start": "not-known"})
    assert usual.text.replace(", assumed: true", "") == said.text.replace(", assumed: true", "")
    assert {e.id for e in said.sheet.elements if e.id not in said.assumed} == {"battery", "plus-clamp", "minus-clamp"}


def test_sizes_follow_engine_volts_and_length() -> None:
    car, van = compose(BOOK, {"kind": "car"}).sheet, compose(BOOK, {"kind": "car", "engine": "diesel", "place": "far"}).sheet
    assert van.element("main-cable").mm2 > car.element("main-cable").mm2  # type: ignore[union-attr]
    assert van.batteries[0].cca_a > car.batteries[0].cca_a
    bus = compose(BOOK, {"kind": "bus"}).sheet
    assert [b.volts for b in bus.batteries] == [12, 12] and bus.system_v == 24
    relay = next(e for e in compose(BOOK, {"kind": "truck", "start": "key-relay"}).sheet.elements if isinstance(e, Relay) and not e.heavy)
    assert relay.pull_in_v == 15 and relay.coil_ohm == 340


def test_interlocks_lie_in_the_way_of_the_crank_in_the_order_asked() -> None:
    sheet = compose(BOOK, {"kind": "mower", "agree": ["seat", "blades"]}).sheet
    assert sheet.element("seat-switch").start == "key.crank"  # type: ignore[union-attr]
    assert sheet.element("blade-switch").start == sheet.element("seat-switch").end  # type: ignore[union-attr]
    assert {"seatempty", "bladeson"} <= set(sheet.states)
    assert compose(BOOK, {"kind": "car", "agree": ["clutch"]}).sheet.states["crank"].set["clutch"] == "pressed"


def test_a_module_reads_the_gear_where_it_cranks() -> None:
    module = compose(BOOK, {"kind": "car", "start": "module", "agree": ["neutral"]}).sheet.element("engine-module")
    assert [n.point for n in module.outputs[0].needs] == ["ecu.crank", "ecu.gear"]  # type: ignore[union-attr]


def test_a_table_of_fuses_becomes_consumers_and_their_states() -> None:
    table = "F7\t15 A\tHorn\tswitch\t60 W\nbox 2\nF20; 5 A; Clock; 3 mA\nF21; 10 A; Wipers; key"
    composed = compose(BOOK, {"kind": "car", "feeds": table, "sleeps": ""})
    assert composed.mistakes == ()
    fuses = {e.slot: (e.box, e.rating_a, e.start) for e in composed.sheet.elements if e.type == "fuse" and e.id.startswith("c")}
    assert fuses == {"F7": ("box 1", 15, "box.in"), "F20": ("box 2", 5, "box2.in"), "F21": ("box 2", 10, "key.run")}
    assert composed.sheet.states["on-horn-switch"].set == {"key": "run", "horn-switch": "on"}
    assert "c1-load" not in composed.assumed


def test_what_cannot_be_taken_is_told_and_the_usual_stands() -> None:
    composed = compose(BOOK, {"kind": "car", "volts": "48", "start": "foot", "agree": ["neutral", "nod"], "feeds": "F1, =A1, Horn"})
    told = {m.where: m.text for m in composed.mistakes}
    assert "no answer is called “48”" in told["volts"]
    assert "nod" in told["agree"]
    assert "formula" in told["feeds"]
    assert composed.sheet.system_v == 12
    assert any(isinstance(e, Starter) for e in composed.sheet.elements)
    assert "does not go with" in str(compose(BOOK, {"kind": "kart", "charging": "converter"}).mistakes[0])


def test_the_kind_is_needed() -> None:
    with pytest.raises(SheetError, match="which kind of machine"):
        compose(BOOK, {})
    with pytest.raises(SheetError, match="did you mean mower"):
        compose(BOOK, {"kind": "mowr"})


def test_two_batteries_side_by_side_share_their_posts() -> None:
    sheet = compose(BOOK, {"kind": "van", "batteries": "parallel"}).sheet
    assert len([e for e in sheet.elements if isinstance(e, Battery)]) == 2
    assert {sheet.element("plus-bridge").start, sheet.element("plus-bridge").end} == {"clamp.plus", "clamp2.plus"}  # type: ignore[union-attr]
