"""Between a field and the bay's meter."""

from iron_probe.bay.as_typed import asked_by, typed
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.diagnose.evidence import Instrument, Reading


def test_a_field_says_what_is_to_be_read() -> None:
    volts = asked_by({"instrument": "voltmeter", "state": "crank", "red": "a", "black": "b", "itself": ""})
    assert (volts.instrument, volts.red, volts.black, volts.branch) == (Instrument.VOLTMETER, "a", "b", None)
    clamp = asked_by({"instrument": "clamp", "state": "run", "branch": "coil", "red": "", "black": ""})
    assert (clamp.branch, clamp.red) == ("coil", None)
    assert asked_by({"instrument": "eyes", "state": "crank"}).word is not None


def test_a_reading_is_typed_as_a_hand_would() -> None:
    assert typed(Reading(red="a", black="b", state="s", value=0.0123)) == {"value": "0.012"}
    assert typed(Reading(red="a", black="b", state="s", value=12.3, unsteady=True)) == {"value": "12.30", "unsteady": "1"}
    over = Reading(instrument=Instrument.PART_OHM, branch="x", state="s", value=2e7, bound=Bound.AT_LEAST)
    assert typed(over) == {"value": "OL"}
    assert typed(Reading(instrument=Instrument.EYES, state="s", word="click")) == {"word": "click"}
