"""The append-only log: undo, redo, correction and epochs, folded back exactly."""

from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

import numpy as np

from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.job.fold import Fold, JobLog, read_log
from iron_probe.core.job.lines import Line, ReadingLine, RepairLine, TestLine, WithdrawLine

START = datetime(2026, 1, 5, 8, tzinfo=UTC)


class Book:
    def __init__(self) -> None:
        self.rows: list[tuple[UUID, int, datetime, str, dict[str, object]]] = []

    def write(self, line: Line) -> UUID:
        self.rows.append(
            (
                uuid4(),
                len(self.rows) + 1,
                START + timedelta(minutes=len(self.rows)),
                line.kind,
                line.model_dump(mode="json", exclude={"kind"}),
            )
        )
        return self.rows[-1][0]

    def reading(self, volts: float, corrects: UUID | None = None) -> UUID:
        taken = Reading(red="bat.plus", black="bat.minus", state="rest", value=volts)
        return self.write(ReadingLine(reading=taken, typed=str(volts), corrects=corrects))

    def fold(self) -> JobLog:
        return read_log(self.rows)

    def counting(self) -> list[float | None]:
        log = self.fold()
        return [r.reading.value for r in log.counting(log.epoch)]


def test_undo_and_redo_restore_exactly() -> None:
    book = Book()
    book.reading(12.6)
    before = book.counting()
    taken = book.reading(9.9)
    undo = book.write(WithdrawLine(entry=taken))
    assert book.counting() == before
    assert book.fold().redo == undo
    book.write(WithdrawLine(entry=undo))
    assert book.counting() == [12.6, 9.9]
    assert book.fold().redo is None
    assert book.fold().last == taken


def test_a_correction_supersedes_and_withdrawing_it_brings_the_first_back() -> None:
    book = Book()
    first = book.reading(1.44)
    second = book.reading(0.144, corrects=first)
    log = book.fold()
    assert book.counting() == [0.144]
    assert (log.readings[0].corrected_by, log.readings[1].corrects) == (2, 1)
    book.write(WithdrawLine(entry=second))
    assert book.counting() == [1.44]


def test_a_repair_closes_an_epoch_and_undo_opens_it_again() -> None:
    book = Book()
    book.reading(1.4)
    repair = book.write(RepairLine(text="cleaned", elements=["clamp"]))
    book.reading(0.05)
    assert book.counting() == [0.05]
    book.write(WithdrawLine(entry=repair))
    assert book.counting() == [1.4, 0.05]
    assert book.fold().repairs == ()


def test_line_by_line_and_all_at_once_fold_the_same() -> None:
    book, fold = Book(), Fold()
    rng = np.random.default_rng(7)
    ids: list[UUID] = []
    for _ in range(300):
        kind = rng.integers(0, 10)
        if kind < 6 or not ids:
            ids.append(book.reading(float(rng.integers(0, 140)) / 10, corrects=ids[-1] if ids and kind == 5 else None))
        elif kind < 7:
            ids.append(book.write(RepairLine(text="mended")))
        else:
            ids.append(book.write(WithdrawLine(entry=ids[int(rng.integers(0, len(ids)))])))
        fold.take(book.rows[-1:])
    assert fold.log == book.fold()


def test_of_many_looks_at_one_place_the_newest_stand() -> None:
    book = Book()
    for k in range(20):
        book.reading(10 + k / 10)
    assert book.counting() == [10 + k / 10 for k in range(16, 20)]
    assert len(book.fold().readings) == 20


def test_a_test_is_corrected_by_another_and_given_back_with_its_withdrawal() -> None:
    book = Book()
    taken = Reading(red="bat.plus", black="bat.minus", state="rest", value=21.4)
    rest = TestLine(screen="battery", subject="battery", test="rest", typed={"volts": "21.4"}, readings=[taken])
    first = book.write(rest)
    second = book.write(rest.model_copy(update={"typed": {"volts": "12.4"}, "corrects": first}))
    log = book.fold()
    assert [line.typed["volts"] for _, line in log.tests("battery")] == ["12.4"]
    assert [(r.number, r.corrected_by) for r in log.readings] == [(1, 2), (2, None)]
    book.write(WithdrawLine(entry=second))
    log = book.fold()
    assert [line.typed["volts"] for _, line in log.tests("battery")] == ["21.4"]
    assert [r.counts for r in log.readings] == [True, False]


def test_what_may_be_withdrawn_is_found_by_its_name_and_the_newest_test_is_of_this_epoch() -> None:
    book = Book()
    taken = book.reading(12.4)
    assert book.fold().newest_test("bus") is None
    levels = book.write(TestLine(screen="bus", subject="engine-module", test="levels", typed={"supply": "12"}))
    log = book.fold()
    assert (log.standing(str(taken)), log.standing(str(levels)), log.standing("x")) == (taken, levels, None)
    newest = log.newest_test("bus")
    assert newest is not None and (newest[0].id, newest[0].seq) == (levels, log.seq)
    book.write(WithdrawLine(entry=levels))
    assert book.fold().standing(str(levels)) is None
    book.write(RepairLine(text="wire mended"))
    assert book.fold().newest_test("bus") is None


def test_a_reading_noted_on_paper_stands_at_the_time_it_was_read() -> None:
    book = Book()
    early = START - timedelta(hours=3)
    taken = Reading(red="bat.plus", black="bat.minus", state="rest", value=12.4)
    book.write(ReadingLine(reading=taken, typed="12.4", read_at=early))
    log = book.fold()
    assert log.readings[0].at == early
    assert log.last_at == START
