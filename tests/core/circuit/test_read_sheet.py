"""Reading sheets: every mistake at once, by line and element, in words."""

import re
from pathlib import Path

import pytest

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.errors import SheetError
from iron_probe.machines import load_sheet, sheet_ids

TEXT = (Path(__file__).parents[3] / "iron_probe/machines/crew-minibus.yaml").read_text()


def mistakes(text: str) -> list[str]:
    with pytest.raises(SheetError) as caught:
        read_sheet(text)
    return [str(m) for m in caught.value.mistakes]


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_shipped_sheets_are_sound(sheet_id: str) -> None:
    assert load_sheet(sheet_id).id == sheet_id


def test_words_like_off_and_on_stay_words() -> None:
    assert load_sheet("crew-minibus").controls["isolator"].positions == ["on", "off"]


def test_all_mistakes_come_at_once_with_their_lines() -> None:
    text = TEXT.replace("rating_a: 60", "rating_a: -60").replace("mm2: 120,", "mm2: big,").replace("chemistry", "x")
    text = text.replace("type: starter,", "type: starter, colour: blue,")
    found = mistakes(text)
    assert len(found) == 3
    assert any(re.match(r"line \d+, element f1, rating_a: input should be greater than 0", m) for m in found)
    assert any("element feed-cable, mm2: input should be a valid number" in m for m in found)
    assert any("element starter, colour: extra inputs are not permitted" in m for m in found)
    lines = text.splitlines()
    for m in found:
        number = int(re.match(r"line (\d+)", m)[1])  # type: ignore[index]
        assert re.search(r"element ([a-z0-9-]+)", m)[1] in lines[number - 1]  # type: ignore[index]


@pytest.mark.parametrize(
    ("old", "new", "word"),
    [
        ("to: clamp.plus,", "to: clamp.plsu,", "no point is called “clamp.plsu”; did you mean clamp.plus"),
        ("title: plus clamp,", "title: battery plus post,", "two names for one point"),
        ("from: relay.85, to: chassis.front", "from: relay.86, to: chassis.front", "only start-relay ends here: a dangling wire"),
        ("from: key.run, to: f7.out, rating_a", "from: lamps.ground, to: f7.out, rating_a", "a fuse with no feed"),
        ("set: {key: run}, minutes", "set: {key: running}, minutes", "no position of key is called “running”; did you mean run"),
        ("to: isolator.in, mm2: 70", "to: clamp.minus, mm2: 70", "a loop without a consumer"),
        ("id: f4-feed,", "id: f4,", "used by more than one element"),
        ("system_v: 12", "system_v: 12\nsystem_v: 24", "is named twice here"),
        ("mm2: 70, length_m: 0.5", "mm2: 70", "length_m is missing"),
    ],
)
def test_each_mistake_has_its_word(old: str, new: str, word: str) -> None:
    assert old in TEXT
    assert any(word in m for m in mistakes(TEXT.replace(old, new, 1)))


@pytest.mark.parametrize("text", ["", "- just\n- a list", "a: [1,", "\t", "a: &x [*x]", "[" * 5000])
def test_what_is_no_sheet_is_refused_in_words(text: str) -> None:
    assert mistakes(text)


def test_texts_that_are_no_sheet_are_refused_in_time() -> None:
    bomb = "a: &a [x, x]\nb: &b [*a, *a]\nc: [*b, *b]\n"
    assert "repeats something by an alias" in mistakes(bomb)[0]
    assert "nested too deep" in mistakes("a: " + "[" * 60 + "]" * 60)[0]
    assert "is 10.5 MB long" in mistakes("x" * 10_500_000)[0]
    assert "is not YAML" in mistakes("a: \x00")[0]


def test_references_to_what_is_not_there_and_dead_controls_are_told() -> None:
    mower = (Path(__file__).parents[3] / "iron_probe/machines/green-mower.yaml").read_text()
    assert "no stator is called “magneto”; known: stator" in mistakes(mower.replace("stator: stator,", "stator: magneto,"))[0]
    assert "battery is a battery, and a stator is needed here" in mistakes(mower.replace("stator: stator,", "stator: battery,"))[0]
    dead = mower.replace("closed_in: {seat: [taken]}", "closed_in: {brake: [down]}")
    assert "no switch, load or module listens to it: a dead control" in mistakes(dead)[0]
