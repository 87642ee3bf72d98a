from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.places import places_of


def volts(value: float, **said: object) -> Reading:
    return Reading.model_validate({"red": "a", "black": "b", "state": "crank", "value": value} | said)


def test_the_same_place_is_one_whatever_the_order() -> None:
    first, second = places_of([volts(0.3), volts(0.1)]), places_of([volts(0.1), volts(0.3)])
    assert [p.values for p in first] == [p.values for p in second] == [(0.1, 0.3)]
    assert first[0].numbers == (1, 2)


def test_what_was_read_at_another_crank_stands_apart_when_asked() -> None:
    readings = [volts(0.3, crank=1), volts(0.1, crank=2), volts(0.2, crank=2)]
    assert [p.numbers for p in places_of(readings)] == [(1, 2, 3)]
    assert [p.numbers for p in places_of(readings, by_attempt=True)] == [(1,), (2, 3)]


def test_what_was_heard_beside_a_reading_is_a_reading_of_the_same_attempt() -> None:
    listen = [p for p in places_of([volts(0.3, crank=4, heard="cranks")]) if p.reading.instrument is Instrument.EYES]
    assert [(p.reading.word, p.reading.crank, p.numbers) for p in listen] == [("cranks", 4, (1,))]


def test_what_cannot_count_alike_stands_apart() -> None:
    readings = [volts(0.3), volts(0.3, told=True), volts(0.3, disturbed=True), volts(0.3, state="run")]
    words = [Reading(instrument=Instrument.EYES, state="crank", word=w) for w in ("nothing", "click")]
    assert len(places_of([*readings, *words])) == 6


def test_a_word_said_at_two_looks_is_known_to_be_one_that_was_said_again() -> None:
    once = Reading(instrument=Instrument.EYES, state="crank", word="nothing")
    (place,), (said,) = places_of([once, once.model_copy(update={"crank": 2})]), places_of([once])
    assert place.again and not said.again and place.key != said.key


def test_a_crank_of_which_nothing_is_said_did_what_it_did_before() -> None:
    intake = Reading(instrument=Instrument.EYES, state="crank", word="slow")
    readings = [
        volts(11.0, crank=1),
        intake,
        volts(0.3, crank=2),
        volts(0.1, crank=2),
        volts(0.2, crank=3, heard="cranks"),
        volts(0.4, crank=4),
    ]
    told = [(p.reading.word, p.reading.crank, p.numbers, p.assumed) for p in places_of(readings, by_attempt=True) if p.reading.word]
    assert told == [("slow", None, (2,), False), ("slow", 2, (3,), True), ("cranks", 3, (5,), False), ("cranks", 4, (6,), True)]
    assert [p.reading.word for p in places_of(readings) if p.reading.word] == ["cranks", "slow"]
