"""When a reading was taken that was noted on paper first: what a technician types for it, turned into a moment."""

import re
from datetime import datetime, timedelta

from iron_probe.core.bench.typed_value import parse_hours
from iron_probe.core.errors import ReadingError

OLDEST = timedelta(days=366)
"""A note older than this belongs to another visit of the machine."""
EARLY = timedelta(minutes=2)
"""So far ahead of this clock a watch on a wrist may be."""

_CLOCK = re.compile(r"^(?:(yesterday|today) ?(?:at )?)?(\d{1,2})[:.h](\d{2})$")
_AGO = re.compile(r"^(.+?) ago$")
_DATED = ("%d %b %H:%M", "%d %b %Y %H:%M", "%Y-%m-%d %H:%M", "%Y-%m-%dT%H:%M")


def parse_moment(text: str, now: datetime) -> datetime | None:
    """The moment of `14:20`, `yesterday 16:30`, `20 min ago`, `2 h ago`, `28 Nov 16:30` or `2026-11-28 16:30`, on the clock and in the zone of `now`;
    None for an empty text. A time of day still ahead is yesterday's. ReadingError for what is no moment, lies ahead, or is over a year old.
    """
    said = " ".join(text.split()).casefold()
    if not said or said == "now":
        return None
    if ago := _AGO.match(said):
        return _checked(now - timedelta(hours=parse_hours(ago[1])), now, text)
    if clock := _CLOCK.match(said):
        day, hour, minute = clock[1], int(clock[2]), int(clock[3])
        if hour > 23 or minute > 59:
            raise _unread(text)
        moment = now.replace(hour=hour, minute=minute, second=0, microsecond=0)
        if day == "yesterday" or (day is None and moment > now + EARLY):
            moment -= timedelta(days=1)
        return _checked(moment, now, text)
    for form in _DATED:
        try:
            dated = datetime.strptime(f"{said} {now.year}", f"{form} %Y") if "%Y" not in form else datetime.strptime(said, form)
        except ValueError:
            continue
        moment = dated.replace(tzinfo=now.tzinfo)
        if "%Y" not in form and moment > now + EARLY:  # a day of the year still ahead is last year's
            moment = moment.replace(year=now.year - 1)
        return _checked(moment, now, text)
    raise _unread(text)


def _checked(moment: datetime, now: datetime, text: str) -> datetime:
    if moment > now + EARLY:
        raise ReadingError(
            f"“{text.strip()[:30]}” lies ahead: give the time it was read, such as 14:20 or 20 min ago, or leave it empty for now."
        )
    if moment < now - OLDEST:
        raise ReadingError(f"“{text.strip()[:30]}” is over a year ago: a reading of another visit belongs to a job of its own.")
    return min(moment, now)


def _unread(text: str) -> ReadingError:
    return ReadingError(
        f"“{text.strip()[:30]}” is no time: type 14:20, yesterday 16:30, 20 min ago or 28 Nov 16:30, or leave it empty for now."
    )
