"""Pages in another language: worded from the catalogue, figures with its comma, English where it has nothing; and the catalogue fits the code."""

import re
from pathlib import Path

import pytest
from babel.messages.pofile import read_po

from iron_probe.core.bench.battery.rest import RestCheck, judge_parallel, judge_rest
from iron_probe.core.bench.drain.feed_tree import Draws
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.phrase import Phrase
from iron_probe.core.solve.solution import Symptom
from iron_probe.web import language, words
from iron_probe.web.language import COOKIE, N_, Worded, _, speak, worded
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
                assert sorted(re.findall(r"\{[^{}]*\}", one)) == sorted(re.findall(r"\{[^{}]*\}", other)), one
                assert (one != one.rstrip(), one != one.lstrip()) == (other != other.rstrip(), other != other.lstrip()), one


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


def test_a_sentence_of_the_core_is_worded_with_all_that_was_put_into_it() -> None:
    flat = judge_rest(RestCheck(chemistry="flooded", rest_v=11.9, temp_degc=20.0, hours_since=30.0)).judged
    after = Phrase("{said} {why}", said=flat.text, why=Draws.NO_SLEEP)
    assert worded(flat.text) == flat.text and worded("as it is") == "as it is" and worded(11.9) == 11.9
    speak("de")
    assert "geladen" in worded(flat.text) and "charged" not in worded(flat.text) and "Low charge" not in worded(flat.text)
    assert worded(after) == f"{worded(flat.text)} schläft nicht"
    assert worded(judge_parallel(12.6, 12.95, joined=True).text).startswith("0,35 V auseinander")


def test_a_judged_figure_stands_on_the_page_in_its_language(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/battery", test="rest", battery="battery", volts="11.7", bled="1")
    assert "Low charge condemns nothing" in visitor.get("/jobs/102/battery").text
    visitor.cookies.set(COOKIE, "de")
    page = visitor.get("/jobs/102/battery").text
    assert "Wenig Ladung verurteilt nichts" in page and "Low charge condemns nothing" not in page
    page = visitor.get("/jobs/102/control").text  # as a title, within a text of the page, and within another sentence
    assert "Spannungsfall darüber, isolator switch on" in page and "Beweist: Strom erreicht ihn. Sonst: tot: was davor liegt." in page


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
