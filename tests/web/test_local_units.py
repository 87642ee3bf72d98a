"""Temperatures and sizes in the units of the device, from the core to the page and back."""

from collections.abc import Iterator

import pytest

from iron_probe.core.circuit.elements import Conductor
from iron_probe.web import local_units as units
from tests.conftest import Visitor


@pytest.fixture(autouse=True)
def metric_again() -> Iterator[None]:
    yield
    units.show_in(None)


def test_degrees_are_worded_and_read_in_both_units() -> None:
    assert (units.degrees(-10.0), units.degrees_typed(20)) == ("−10 °C", "20")
    assert units.read_degrees("−10,5 °C") == -10.5 and units.read_degrees("68 F") == pytest.approx(20)
    units.show_in("american")
    assert (units.degrees(-10.0), units.degrees_typed(20), units.degrees_typed("warm")) == ("14 °F", "68", "warm")
    assert units.read_degrees("14") == pytest.approx(-10) and units.read_degrees("20 c") == 20
    for text in ("warm", "", "12 K", "nan"):
        with pytest.raises(ValueError):
            units.read_degrees(text)


def test_sizes_of_cables_in_both_units() -> None:
    cable = Conductor.model_validate({"id": "c", "title": "c", "type": "cable", "from": "a", "to": "b", "mm2": 53.5, "length_m": 1.5})
    frame = Conductor.model_validate({"id": "f", "title": "f", "type": "frame", "from": "a", "to": "b", "r_mohm": 0.1})
    assert (units.size_of(cable), units.size_of(frame)) == ("53.5 mm², 1.5 m", "")
    units.show_in("american")
    assert units.size_of(cable) == "1/0 AWG, 4.9 ft"
    assert units.size_of(cable.model_copy(update={"mm2": 2.1})) == "14 AWG, 4.9 ft"


def test_a_device_that_asks_for_fahrenheit_is_taken_at_its_word(visitor: Visitor) -> None:
    visitor.cookies.set(units.COOKIE, "american")
    page = visitor.get("/jobs/new").text
    assert "Temperature now, °F" in page and 'name="temp_degc" inputmode="text" value="68"' in page
    taken = visitor.submit(
        "/jobs", sheet_id="estate-car", machine="Units 1", symptom="slow", school="common", temp_degc="41", cold_degc="-4 F"
    )
    number = int(taken.split('data-job="', 1)[1].split('"')[0])
    assert (visitor.job(number).temp_degc, visitor.job(number).cold_degc) == (pytest.approx(5), pytest.approx(-20))
    refused = visitor.submit("/jobs", sheet_id="estate-car", machine="x", temp_degc="hot")
    assert "from −40 °F to 140 °F" in refused and 'value="hot"' in refused
    visitor.cookies.delete(units.COOKIE)
    assert "5 °C" in visitor.get(f"/jobs/{number}/battery").text
