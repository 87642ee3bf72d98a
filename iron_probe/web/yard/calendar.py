"""Waits as a calendar file (iCalendar, RFC 5545)."""

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime, timedelta
from hashlib import sha256

from iron_probe.core.job.day import InHand

LASTS = timedelta(minutes=15)
LONGEST_LINE = 73
"""Bytes of a line before it is folded."""


def calendar_of(jobs: Sequence[InHand], host: str, at: datetime) -> str:
    """A calendar with an event a wait, at the moment it is due."""
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Iron Probe//Waits//EN"]
    for job in jobs:
        for wait in job.waits:
            name = sha256(f"{job.number} {wait.text}".encode()).hexdigest()[:20]
            lines += [
                "BEGIN:VEVENT", f"UID:{name}@{host}", f"DTSTAMP:{_moment(at)}", f"DTSTART:{_moment(wait.until)}", f"DTEND:{_moment(wait.until + LASTS)}",
                f"SUMMARY:{_plain(f'{job.machine}: {wait.text}')}", f"DESCRIPTION:{_plain(f'Job {job.number}')}", "END:VEVENT",
            ]  # fmt: skip
    return "\r\n".join(part for line in [*lines, "END:VCALENDAR"] for part in _folded(line)) + "\r\n"


def _moment(at: datetime) -> str:
    return f"{at.astimezone(UTC):%Y%m%dT%H%M%SZ}"


def _plain(said: str) -> str:
    """A text with what has a meaning in a calendar escaped."""
    for old, new in (("\\", "\\\\"), (";", "\\;"), (",", "\\,"), ("\r", ""), ("\n", "\\n")):
        said = said.replace(old, new)
    return said


def _folded(line: str) -> Iterator[str]:
    """A line in pieces short enough, the later ones begun with a space, no letter cut in two."""
    piece = ""
    for letter in line:
        if len((piece + letter).encode()) > LONGEST_LINE:
            yield piece
            piece = " "
        piece += letter
    yield piece
