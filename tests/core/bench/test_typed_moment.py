"""Moments as they are noted on paper."""

from datetime import UTC, datetime, timedelta

import pytest

from iron_probe.core.bench.typed_moment import parse_moment
from iron_probe.core.errors import ReadingError

NOW = datetime(2026, 11, 30, 14, 20, 30, tzinfo=UTC)


@pytest.mark.parametrize(
    ("typed", "moment"),
    [
        ("14:05", datetime(2026, 11, 30, 14, 5, tzinfo=UTC)),
        ("9.40", datetime(2026, 11, 30, 9, 40, tzinfo=UTC)),
        ("14h05", datetime(2026, 11, 30, 14, 5, tzinfo=UTC)),
        ("23:10", datetime(2026, 11, 29, 23, 10, tzinfo=UTC)),  # still ahead today: yesterday's
        ("yesterday 16:30", datetime(2026, 11, 29, 16, 30, tzinfo=UTC)),
        ("Yesterday at 16:30", datetime(2026, 11, 29, 16, 30, tzinfo=UTC)),
        ("20 min ago", NOW - timedelta(minutes=20)),
        ("2 h ago", NOW - timedelta(hours=2)),
        ("28 Nov 16:30", datetime(2026, 11, 28, 16, 30, tzinfo=UTC)),
        ("12 dec 08:00", datetime(2025, 12, 12, 8, 0, tzinfo=UTC)),  # a day still ahead is last year's
        ("2026-11-28 16:30", datetime(2026, 11, 28, 16, 30, tzinfo=UTC)),
        ("14:21", NOW),  # a watch that is a little fast
    ],
)
def test_a_moment_is_read(typed: str, moment: datetime) -> None:
    assert parse_moment(typed, NOW) == moment


@pytest.mark.parametrize("typed", ["", "  ", "now"])
def test_nothing_is_now(typed: str) -> None:
    assert parse_moment(typed, NOW) is None


@pytest.mark.parametrize(
    ("typed", "why"),
    [
        ("25:00", "is no time"),
        ("soon", "is no time"),
        ("2026-12-24 10:00", "lies ahead"),
        ("today 18:00", "lies ahead"),
        ("2024-11-01 10:00", "over a year ago"),
        ("soon ago", "is no time"),
    ],
)
def test_what_is_no_moment_of_this_visit_is_refused(typed: str, why: str) -> None:
    with pytest.raises(ReadingError, match=why):
        parse_moment(typed, NOW)
