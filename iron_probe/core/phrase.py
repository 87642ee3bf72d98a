"""A sentence of the core that can be said in another language: English as it stands, with the pattern it was made of and what was put into it."""

from collections.abc import Sequence
from enum import StrEnum


class Phrase(str):
    """A text by its pattern and values: `Phrase("{drop_v:.2f} V lost.", drop_v=0.4)` is “0.40 V lost.”, and whoever words a page may put the values into
    another pattern. Two added are one phrase of both; texts put into a pattern may be phrases themselves."""

    pattern: str
    values: dict[str, object]

    def __new__(cls, pattern: str, **values: object) -> "Phrase":
        """Raises KeyError where the pattern names a value that is not given."""
        made = super().__new__(cls, pattern.format(**values))
        made.pattern, made.values = pattern, values
        return made

    def __getnewargs_ex__(self) -> tuple[tuple[str], dict[str, object]]:
        """What it is made of, for a copy or another process."""
        return (self.pattern,), self.values

    def __add__(self, more: str) -> "Phrase":
        return Phrase("{a}{b}", a=self, b=more)

    def __radd__(self, before: str) -> "Phrase":
        return Phrase("{a}{b}", a=before, b=self)


class Sentences(StrEnum):
    """Decisions whose values are what people read of them; each is written as a `Phrase` without values, as any text to be said in another language is."""


def together(texts: Sequence[str], between: str = ", ") -> Phrase:
    """Several texts as one, in their order."""
    named = {f"t{n}": text for n, text in enumerate(texts)}
    return Phrase(between.join(f"{{{name}}}" for name in named), **named)
