"""What stands in a field unlogged, the question that is asked once, and when it was read."""

from uuid import uuid4

import pytest
from starlette.datastructures import FormData

from iron_probe.core.bench.plausible import Doubt
from iron_probe.core.errors import LogError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.web.entry import (
    NOTHING,
    DoubtedError,
    Entered,
    ask_first,
    corrected,
    correcting,
    correcting_drain,
    correcting_test,
    read_at,
)


def test_a_question_is_asked_once() -> None:
    with pytest.raises(DoubtedError, match="50 V on a 12 V machine: log it anyway"):
        ask_first(FormData(), Doubt.OVER_SUPPLY, "50 V", system="12 V")
    ask_first(FormData({"sure": "1"}), Doubt.OVER_SUPPLY, "50 V", system="12 V")
    ask_first(FormData(), None, "50 V")


def test_what_was_typed_stays_with_what_is_wrong() -> None:
    form = FormData({"at": "posts:fast", "form_token": "t", "value": "lots", "read_at": "14:20", "low_line": "1.5"})
    kept = Entered.refused(form, ReadingError("no voltage"))
    assert (kept.at, kept.wrong, kept.asks) == ("posts:fast", "no voltage", False)
    assert kept.said == {"value": "lots", "read_at": "14:20", "low_line": "1.5"}
    assert Entered.refused(form, DoubtedError("sure?"), "total").asks


def test_a_moment_that_is_none_is_refused() -> None:
    assert read_at(FormData()) is None
    with pytest.raises(ReadingError, match="is no time"):
        read_at(FormData({"read_at": "noonish"}))


def test_what_is_corrected_must_still_count() -> None:
    line = uuid4()
    assert corrected(FormData()) is None
    assert corrected(FormData({"corrects": str(line)})) == line
    with pytest.raises(ReadingError, match="not one of this job"):
        corrected(FormData({"corrects": "x"}))
    with pytest.raises(LogError, match="no longer counts"):
        corrected(FormData({"corrects": str(line)}), JobLog())


def test_a_reading_that_there_is_not_is_not_corrected() -> None:
    assert (
        correcting(JobLog(), str(uuid4()), "a:1") is correcting_drain(JobLog(), "x") is correcting_test(JobLog(), "battery", "") is NOTHING
    )
