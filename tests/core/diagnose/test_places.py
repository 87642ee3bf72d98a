from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.places import places_of


def volts(value: float, **said: object) -> Reading:
    return Reading.model_validate({"red": "a", "black": "b", "state": "crank", "value": value} | said)


def test_the_same_place_is_one_whatever_the_order() -> None:
    first, second = places_of([volts(0.3), volts(0.1)]), places_of([volts(0.1), volts(0.3)])
    assert [p.values for p in first] == [p.values for p in second] == [(0.1, 0.3)]
    assert first[0].numbers == (1, 2)


def test_what_cannot_count_alike_stands_apart() -> None:
    readings = [volts(0.3), volts(0.3, told=True), volts(0.3, disturbed=True), volts(0.3, state="run")]
    words = [Reading(instrument=Instrument.EYES, state="crank", word=w) for w in ("nothing", "click")]
    assert len(places_of([*readings, *words])) == 6
