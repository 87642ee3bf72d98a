"""Readings from a file, with every mistake by its line."""

import pytest

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.evidence import Aid
from iron_probe.core.diagnose.read_readings import read_readings
from iron_probe.core.errors import SheetError
from iron_probe.machines import load_sheet

MOWER = network_of(load_sheet("green-mower"))


def test_values_come_as_they_are_typed() -> None:
    text = """
- {red: bat.plus, black: bat.minus, state: crank, value: "9.4"}
- {red: frame, black: frame.eye, state: crank, value: "120 mV"}
- {red: block, black: frame, state: crank, value: "OL"}
- {instrument: eyes, state: crank, value: slow}
"""
    first, second, third, fourth = read_readings(text, MOWER)
    assert (first.value, second.value) == (9.4, pytest.approx(0.12))
    assert third.bound is Bound.AT_LEAST and fourth.word == "slow"


def test_ranges_and_other_words_are_understood() -> None:
    text = """
- {red: bat.plus, black: bat.minus, state: crank, value: "9.2 to 9.6 V"}
- {red: bat.plus, black: bat.minus, state: crank, value: about 9}
- {instrument: function, branch: fuel-solenoid, state: run, value: pass}
- {instrument: looks, branch: plus-cable, state: rest, value: corroded}
- {instrument: lamp_1a, red: sol.coil, black: frame, state: crank, value: lit}
"""
    between, about, works, green, bright = read_readings(text, MOWER)
    assert (between.value, between.resolution) == (pytest.approx(9.4), pytest.approx(0.4))
    assert about.resolution == 2.0
    assert (works.word, green.word, bright.word) == ("works", "green", "bright")


def test_what_was_not_as_drawn_and_answers_of_modules_and_forced_fields_are_read() -> None:
    tender, van = (network_of(load_sheet(s)) for s in ("fire-tender", "parcel-van"))
    text = """
- {red: bat.plus, black: bat.minus, state: rest, value: "13.1", aided: charger}
- {instrument: eyes, state: crank, value: cranks, aided: booster, jumpered: [relay.in, relay.out]}
- {red: bat.plus, black: relay.coil, state: run, value: "0.1", parted: starter-relay}
- {instrument: full_field, branch: alternator, state: fast, value: "15.4 V"}
- {instrument: field_off, branch: alternator, state: fast, value: stops}
- {instrument: new_fuse, branch: main-fuse, state: run, value: holds}
"""
    charged, boosted, out, forced, off, new = read_readings(text, tender)
    assert (charged.aided, boosted.aided, out.parted) == (Aid.CHARGER, Aid.BOOSTER, "starter-relay")
    assert boosted.jumpered == ("relay.in", "relay.out")
    assert (forced.value, off.word, new.word) == (15.4, "stops", "holds")
    (silent,) = read_readings("- {instrument: answers, branch: engine-module, state: run, value: no answer}", van)
    assert silent.word == "silent"
    with pytest.raises(SheetError) as refused:
        read_readings(
            "- {instrument: ohmmeter, red: bat.plus, black: bat.minus, state: rest, value: 1, aided: charger}\n- {instrument: answers, branch: battery, state: run, value: ok}\n- {instrument: eyes, state: crank, value: slow, parted: nobody}",
            tender,
        )
    assert [m.line for m in refused.value.mistakes] == [1, 2, 3]


def test_every_mistake_is_told_at_once() -> None:
    text = """
- {red: bat.plus, black: nowhere, state: crank, value: "9.4"}
- {red: bat.plus, black: bat.minus, state: crank, value: "nine"}
"""
    with pytest.raises(SheetError) as refused:
        read_readings(text, MOWER)
    assert [m.line for m in refused.value.mistakes] == [2, 3]


@pytest.mark.parametrize("text", ["", "a: 1", "- 5", "- {state: crank", "[" * 60])
def test_what_is_no_list_of_readings_is_refused_in_words(text: str) -> None:
    try:
        assert read_readings(text, MOWER) == []
    except SheetError as refused:
        assert str(refused)
