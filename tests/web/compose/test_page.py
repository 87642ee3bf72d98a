"""What forms and addresses say of a machine."""

from urllib.parse import parse_qsl

from starlette.datastructures import FormData, QueryParams

from iron_probe.web.compose.page import LONGEST_ADDRESS, address_of, compose_page, kinds, read_said


def test_what_was_left_as_shown_is_still_assumed() -> None:
    shown = [
        ("kind", "mower"),
        ("was-agree", "blades,brake,seat"),
        ("agree", "seat"),
        ("agree", "brake"),
        ("agree", "blades"),
        ("was-feeds", "F1, Horn\r\nF2, Lamp"),
        ("feeds", "F1, Horn\r\nF2, Lamp"),
        ("start", "not-known"),
    ]
    assert read_said(FormData(shown)) == {"kind": "mower"}
    assert read_said(FormData([*shown, ("sure", "agree"), ("sure", "feeds")])) == {
        "kind": "mower",
        "agree": ["seat", "brake", "blades"],
        "feeds": "F1, Horn\nF2, Lamp",
    }


def test_what_was_changed_is_said() -> None:
    assert read_said(FormData([("kind", "mower"), ("was-agree", "seat"), ("start", "key-relay")])) == {
        "kind": "mower",
        "start": "key-relay",
        "agree": [],
    }


def test_an_address_tells_it_again() -> None:
    said = {"kind": "car", "volts": "12", "agree": ["neutral", "brake"], "extras": [], "feeds": "F1, Horn & bell\nF2, Ü"}
    assert read_said(QueryParams(address_of(said).partition("?")[2])) == said
    long = {**said, "feeds": "F1, Horn\n" * 1000}
    assert len(address_of(long)) < LONGEST_ADDRESS and "feeds" not in dict(parse_qsl(address_of(long)))


def test_only_questions_with_a_choice_are_asked() -> None:
    asked = {a.name for a in compose_page({"kind": "truck"}).asked}
    assert "batteries" not in asked and "house_join" not in asked and {"start", "feeds"} <= asked


def test_every_variant_has_its_address() -> None:
    listed = kinds()
    assert sum(len(variants) for _, _, variants in listed) >= 40
    assert all(compose_page(read_said(QueryParams(a.partition("?")[2]))).composed.mistakes == () for _, _, vs in listed[:3] for _, a in vs)
