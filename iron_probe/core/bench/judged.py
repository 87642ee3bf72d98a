"""What a test with a limit answers with: a verdict, in words, with its limit and where the limit comes from."""

from dataclasses import dataclass
from enum import StrEnum

from iron_probe.core.phrase import Phrase

NO_SOURCE = Phrase("common practice, no source")
"""Said of a limit that many hold and nobody published."""


class Verdict(StrEnum):
    """`OPEN` proves nothing yet: something must be done first."""

    GOOD = "good"
    WEAK = "weak"
    BAD = "bad"
    OPEN = "not judged yet"


@dataclass(frozen=True, slots=True, kw_only=True)
class Judged:
    """A verdict with the sentence that explains it, the limit it was held against, the limit's source, and what to do next."""

    verdict: Verdict
    text: str
    limit: str
    source: str
    next_step: str = ""
