"""The battery card's forms: the same question, correction and time as any field, and what is really fitted."""

import re

from sqlmodel import Session

from iron_probe.work.machines import fit_battery
from tests.conftest import Visitor

CARD = "/jobs/102/battery"


def rest(visitor: Visitor, **said: str) -> str:
    return visitor.submit(CARD, test="rest", battery="battery", at="rest", **said)


def test_volts_no_battery_has_are_asked_about_and_stay_in_the_form(visitor: Visitor) -> None:
    page = rest(visitor, volts="24.1", hours_since="9")
    assert (
        visitor.last.status_code == 422 and "is no rest voltage of a 12 V block" in page and 'value="24.1"' in page and 'value="9"' in page
    )
    load = {"test": "load", "battery": "battery", "at": "load", "load": "300", "points": "5 21\n15 20"}
    page = visitor.submit(CARD, **load)
    assert "20.00 V on a 12 V machine: log it anyway?" in page and "5 21\n15 20" in page and 'name="sure"' in page
    visitor.submit(CARD, **load, sure="1")
    assert visitor.last.status_code == 200


def test_a_test_is_corrected_in_its_place(visitor: Visitor) -> None:
    page = rest(visitor, volts="12.1", hours_since="9")
    entry = re.search(r"corrects=([0-9a-f-]+)", page)
    assert entry
    page = visitor.get(f"{CARD}?b=battery&corrects={entry[1]}").text
    assert 'value="12.1"' in page and f'name="corrects" value="{entry[1]}"' in page
    page = rest(visitor, volts="12.6", hours_since="9", corrects=entry[1])
    assert "12.60 V" in page and "before:" not in page
    assert "no longer counts" in rest(visitor, volts="12.7", corrects=entry[1])


def test_a_test_noted_on_paper_keeps_its_time(visitor: Visitor) -> None:
    page = rest(visitor, volts="12.4", hours_since="9", read_at="yesterday 07:15")
    assert re.search(r"\d\d \w\w\w 07:15", page)


def test_what_is_fitted_is_said_here_and_used(visitor: Visitor) -> None:
    assert "What is fitted?" in visitor.get(CARD).text
    page = visitor.submit(CARD + "/fitted", battery="battery", battery_ah="44", battery_cca="lots")
    assert visitor.last.status_code == 422 and "Battery CCA is a number" in page and 'value="44"' in page and 'value="lots"' in page
    page = visitor.submit(
        CARD + "/fitted", battery="battery", battery_ah="44", battery_cca="390", battery_chemistry="agm", battery_fitted="2018-03-12"
    )
    assert "agm · 44 Ah · 390 A CCA" in page
    assert "years old and its capacity not measured" in page
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        fit_battery(session, visitor.job(102).pinned.machine_id, {"fitted_on": "last spring"})  # as older yards kept it
    assert "years old" not in visitor.get(CARD).text and visitor.get(CARD).status_code == 200
    page = visitor.submit(CARD + "/fitted", battery="battery", battery_fitted="last spring")
    assert "Fitted on is a day" in page
