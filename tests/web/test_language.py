"""Pages in another language: worded from the catalogue, figures with its comma, English where it has nothing; and the catalogue fits the code."""

import re
from pathlib import Path

import pytest
from babel.messages.pofile import read_po

from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.solve.solution import Symptom
from iron_probe.web import language, words
from iron_probe.web.language import COOKIE, N_, Worded, _, speak
from tests.conftest import Visitor
from tools.catalogues import TEMPLATE, strays, texts

TRANSLATED = sorted(TEMPLATE.parent.glob("*.po"))


@pytest.fixture(autouse=True)
def _english_after() -> object:
    yield
    speak(None)


def test_the_catalogues_are_of_todays_code() -> None:
    assert list(strays()) == [] and TRANSLATED


@pytest.mark.parametrize("file", TRANSLATED, ids=lambda f: f.stem)
def test_a_translation_keeps_the_places_of_what_is_put_in(file: Path) -> None:
    with file.open("rb") as kept:
        read = texts(read_po(kept))
    for text, said in read.items():
        for one, other in zip(
            [text] if isinstance(text, str) else list(text), [said] if isinstance(said, str) else list(said), strict=True
        ):  # type: ignore[call-overload]
            if other:
                assert sorted(re.findall(r"\{\w*\}", one)) == sorted(re.findall(r"\{\w*\}", other)), one
                assert (one != one.rstrip()) == (other != other.rstrip()), one


@pytest.mark.parametrize("file", TRANSLATED, ids=lambda f: f.stem)
def test_a_translation_has_every_text(file: Path) -> None:
    with file.open("rb") as kept:
        assert [text for text, said in texts(read_po(kept)).items() if not all([said] if isinstance(said, str) else said)] == []


def test_texts_and_tables_are_worded_in_the_language_asked_for() -> None:
    assert words.SYMPTOM[Symptom.SLOW] == "slow crank"
    speak("de")
    assert words.SYMPTOM[Symptom.SLOW] == "dreht zäh" == words.SYMPTOM.get(Symptom.SLOW) and "dreht zäh" in words.SYMPTOM.values()
    assert _("In hand") == "In Arbeit" and _("no such text anywhere") == "no such text anywhere"
    assert words.volts(12.34) == "12,34 V" and words.quantity(0.5, Instrument.CLAMP) == "500 mA"
    speak("xx; evil")
    assert _("In hand") == "In hand" and words.volts(12.34) == "12.34 V"


def test_a_table_has_its_default_where_it_has_no_text() -> None:
    table = Worded({"a": N_("In hand")})
    assert table.get("b") == "" and table.get("b", "x") == "x" and dict(table.items()) == {"a": "In hand"}


def test_a_page_is_worded_for_the_device_that_asks_and_for_no_other(visitor: Visitor) -> None:
    english = visitor.get("/jobs/101").text
    visitor.cookies.set(COOKIE, "de")
    german = visitor.get("/jobs/101").text
    visitor.cookies.delete(COOKIE)
    assert '<html lang="de">' in german and "Messungen" in german and "Verdächtige" in german and ">Bericht<" in german
    assert re.search(r"\d,\d\d V", german) and not re.search(r'class="ev-value">[^<]*\d\.\d', german)
    again = visitor.get("/jobs/101").text
    assert (
        '<html lang="en">' in again
        and "Verdächtige" not in again
        and re.findall(r"\d\.\d\d V", again) == re.findall(r"\d\.\d\d V", english)
    )


def test_a_comma_is_read_as_it_is_written(visitor: Visitor) -> None:
    visitor.cookies.set(COOKIE, "de")
    page = visitor.submit(
        "/jobs/102/readings", instrument="voltmeter", state="crank", red="bat.plus", black="clamp.plus", value="0,12", sure="1"
    )
    assert "120 mV" in page or "0,12 V" in page
    assert set(language.languages()) >= {"en", "de"}
