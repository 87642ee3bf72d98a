"""Ids and titles of what is put on a sheet: short enough, and unlike those that are there."""

import re
from collections.abc import Collection

LONGEST_TITLE = 60
"""Letters a sheet allows a title."""


def word_of(title: str) -> str:
    """A title as the beginning of an id."""
    return re.sub(r"[^a-z0-9]+", "-", title.casefold()).strip("-")[:28] or "part"


def free_name(wished: str, taken: Collection[str], most: int = 34) -> str:
    """A name nobody has yet, the wished one if it is free, of so many letters at most before its number."""
    name, count, known = wished[:most], 1, {t.casefold() for t in taken}
    while name.casefold() in known:
        count += 1
        name = f"{wished[:most]}-{count}"
    return name


def free_title(wished: str, taken: Collection[str]) -> str:
    """A title no point has yet, the wished one if it is free."""
    return free_name(wished, taken, LONGEST_TITLE - 6)
