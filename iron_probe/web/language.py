"""The language a page is worded in: English as the code has it, or one of the catalogues beside this module; figures with a comma where it writes them so.

A text that is worded where it stands is given to `_`; one that stands in a table is marked by `N_` and worded where the table is looked into (`Worded`);
a sentence of the core comes as a `Phrase`, which every page words as it shows it (`worded`).
"""

import gettext
import io
import re
from collections.abc import ItemsView, ValuesView
from contextvars import ContextVar
from functools import cache
from pathlib import Path
from typing import TypeVar

from babel import Locale
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po
from markupsafe import Markup

from iron_probe.core.phrase import Phrase, Sentences

COOKIE = "iron_probe_language"
CATALOGUES = Path(__file__).parent / "locale"
ENGLISH = "en"
K = TypeVar("K")
V = TypeVar("V")

_spoken: ContextVar[str] = ContextVar("language", default=ENGLISH)


@cache
def languages() -> dict[str, str]:
    """Languages there are, each by its own name."""
    known = [ENGLISH, *sorted(f.stem for f in CATALOGUES.glob("*.po"))]
    return {code: (Locale.parse(code).display_name or code).capitalize() for code in known}


def speak(asked: str | None) -> None:
    """Word this request in the language its device asks for; in English where it asks for none that is known."""
    _spoken.set(asked if asked in languages() else ENGLISH)


def spoken() -> str:
    """The language of this request."""
    return _spoken.get()


@cache
def _catalogue(language: str) -> gettext.NullTranslations:
    if language == ENGLISH:
        return gettext.NullTranslations()
    with (CATALOGUES / f"{language}.po").open("rb") as file:
        read = read_po(file, locale=language)
    compiled = io.BytesIO()
    write_mo(compiled, read)
    compiled.seek(0)
    return gettext.GNUTranslations(compiled)


def _(text: str) -> str:
    """A text of the code in the language of this request; as it is where the catalogue has none."""
    language = _spoken.get()
    return text if language == ENGLISH else _catalogue(language).gettext(text)


def _n(one: str, many: str, count: int) -> str:
    """A text of the code by how many it speaks of."""
    language = _spoken.get()
    found = gettext.NullTranslations() if language == ENGLISH else _catalogue(language)
    return found.ngettext(one, many, count)


def N_(text: str) -> str:  # noqa: N802 - as every tool that reads catalogues knows it
    """A text that the catalogue is to have, worded elsewhere."""
    return text


@cache
def _in_page(language: str, text: str) -> Markup:
    return Markup(text if language == ENGLISH else _catalogue(language).gettext(text))


def in_page(text: str) -> Markup:
    """A template's own text in the language of this request, with the signs that stand in it."""
    return _in_page(_spoken.get(), text)


def in_page_by_count(one: str, many: str, count: int) -> Markup:
    """The same by how many it speaks of."""
    return Markup(_n(one, many, count))


def worded(said: V) -> V | str:
    """A sentence of the core in the language of this request, all that was put into it too; anything else as it is."""
    if _spoken.get() == ENGLISH or not isinstance(said, Phrase | Sentences):
        return said
    if isinstance(said, Sentences):
        return _(said.value)
    return figures(_(said.pattern).format(**{name: worded(value) for name, value in said.values.items()}))


def put_in(text: str, *values: object, **named: object) -> str:
    """A page's text with what belongs into it, sentences of the core worded: the `format` of its templates."""
    return text % ({name: worded(v) for name, v in named.items()} or tuple(worded(v) for v in values))


def begun(said: str) -> str:
    """A text of the core in the language of this request, as a sentence begins."""
    text = worded(said)
    return text[:1].upper() + text[1:]


class Worded(dict[K, str]):
    """A table of texts, each worded when it is looked up."""

    def __getitem__(self, key: K) -> str:
        return _(super().__getitem__(key))

    def get(self, key: K, default: str = "") -> str:  # type: ignore[override]
        """The text of a key; `default` where there is none."""
        return _(found) if (found := super().get(key)) is not None else default

    def items(self) -> ItemsView[K, str]:  # type: ignore[override]
        """Keys with their texts."""
        return {key: self[key] for key in self}.items()

    def values(self) -> ValuesView[str]:  # type: ignore[override]
        """All texts."""
        return dict(self.items()).values()


@cache
def _comma(language: str) -> bool:
    return bool(Locale.parse(language).number_symbols["latn"]["decimal"] == ",")


def figures(text: str) -> str:
    """A text with its figures as this language writes them: with a comma where it has one."""
    return re.sub(r"(?<=\d)\.(?=\d)", ",", text) if _comma(_spoken.get()) else text
