"""What a test would show: good machines, and each leading suspect."""

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.diagnose.told_test import predicted_by, told_test
from iron_probe.core.solve.solution import Symptom
from iron_probe.core.solve.symptom import SYMPTOMS
from tests.core.diagnose.mower import Hidden, heard


def test_a_test_comes_with_what_a_sound_machine_and_a_faulty_one_show(ensemble: Ensemble, case: Case, bolt: Hidden) -> None:
    book, left = TestBook(ensemble), case.posterior([heard("slow"), bolt.volts("block", "frame.eye")])
    reading = Reading(red="frame", black="frame.eye", state="crank", value=0.0)
    number = book.number_of(reading)
    assert number is not None
    told = told_test(case, left, book, number, book.candidates[number].reading, 0.5, 1.0, "why not")
    assert abs(told.expected_good) < 0.05
    by = dict(told.by_suspect)
    assert abs(by["frame-bolt"]) > 1 and (told.bits, told.minutes, told.why, told.closing) == (0.5, 1.0, "why not", None)


def test_words_are_told_by_their_commonest_code(ensemble: Ensemble, case: Case) -> None:
    left = case.posterior([heard("nothing")])
    listen = Reading(instrument=Instrument.EYES, state="crank", word="nothing")
    first = left.suspects[0].element
    assert [SYMPTOMS[int(code)] for _, code in predicted_by(ensemble, left, listen, [first])] == [Symptom.NOTHING]
