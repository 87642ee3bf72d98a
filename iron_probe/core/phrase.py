"""A sentence of the core that can be said in another language: English as it stands, with the pattern it was made of and what was put into it."""

from collections.abc import Sequence
from enum import StrEnum
from typing import Any

from pydantic import GetCoreSchemaHandler
from pydantic_core import CoreSchema, core_schema


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

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        """Kept as its pattern and its values, so that another process has both."""
        kept = core_schema.plain_serializer_function_ser_schema(_kept)
        return core_schema.no_info_plain_validator_function(_read, serialization=kept)

    def __add__(self, more: str) -> "Phrase":
        return Phrase("{a}{b}", a=self, b=more)

    def __radd__(self, before: str) -> "Phrase":
        return Phrase("{a}{b}", a=before, b=self)


def _kept(said: str) -> object:
    return (
        [said.pattern, {name: _kept(v) if isinstance(v, str) else v for name, v in said.values.items()}]
        if isinstance(said, Phrase)
        else str(said)
    )


def _read(kept: object) -> Phrase:
    if isinstance(kept, Phrase):
        return kept
    if not isinstance(kept, list):
        raise ValueError("a phrase is kept as its pattern and its values")  # noqa: TRY004 - what pydantic tells as a mistake of the input
    pattern, values = kept
    return Phrase(pattern, **{name: _read(v) if isinstance(v, list) else v for name, v in values.items()})


class Sentences(StrEnum):
    """Decisions whose values are what people read of them; each is written as a `Phrase` without values, as any text to be said in another language is."""


def together(texts: Sequence[str], between: str = ", ") -> Phrase:
    """Several texts as one, in their order."""
    named = {f"t{n}": text for n, text in enumerate(texts)}
    return Phrase(between.join(f"{{{name}}}" for name in named), **named)
