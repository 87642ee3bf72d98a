"""What the composer shows: the questions that this machine is asked, what was said, what is usual, and the machine drawn."""

from dataclasses import dataclass
from functools import cache
from urllib.parse import urlencode

from markupsafe import Markup
from starlette.datastructures import FormData, QueryParams

from iron_probe.blocks import pattern_book
from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.compose.answers_file import write_answers
from iron_probe.core.compose.compose import Composed, compose
from iron_probe.core.compose.pattern_book import Choice, Kind, Question, Variant
from iron_probe.core.compose.settle import NOT_KNOWN, open_choices
from iron_probe.core.draw.feed_map import FeedMap
from iron_probe.core.kept import Kept
from iron_probe.web.bench.drawing import Folding, ink_of, map_of

LONGEST_ADDRESS = 7000
"""An address that would be longer leaves the pasted tables out: they stand in the form."""

Answers = dict[str, str | list[str]]


@dataclass(frozen=True, slots=True)
class Asked:
    """A question as it is asked: the choices that go with what was said before, which of them stand, and whether somebody said so."""

    name: str
    question: Question
    choices: tuple[tuple[str, Choice], ...]
    standing: frozenset[str]
    said: bool
    text: str
    wrong: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ComposePage:
    """The machine as far as it has been answered."""

    kind_name: str
    kind: Kind
    asked: tuple[Asked, ...]
    composed: Composed
    drawing: FeedMap
    ink: Markup
    address: str


_composed: Kept[tuple[str, str], Composed] = Kept("composed", 64)


def read_said(form: FormData | QueryParams) -> Answers:
    """What a form or an address says about a machine; what it leaves open is not there.

    A form shows a table, or several choices, as they are assumed (`was-NAME`): left as they were they are still assumed, unless it is
    ticked that so it is (`sure`).
    """
    said: Answers = {}
    sure = form.getlist("sure")
    for name, question in pattern_book().questions.items():
        values = [v.replace("\r\n", "\n").replace("\x00", "").strip() for v in form.getlist(name) if isinstance(v, str)]
        shown = form.get(f"was-{name}")
        told: str | list[str] = [v for v in values if v] if question.many else (values or [""])[0]
        if shown is not None and name not in sure and _same(told, str(shown)):
            continue
        if (values or (shown is not None and question.many)) and NOT_KNOWN not in values:
            said[name] = told
    kind = form.get("kind")
    return {"kind": kind, **said} if isinstance(kind, str) and kind else said


def _same(told: str | list[str], shown: str) -> bool:
    """Whether what a form sends is what it showed."""
    return told == shown.replace("\r\n", "\n").strip() if isinstance(told, str) else set(told) == set(filter(None, shown.split(",")))


def composed_of(said: Answers, title: str = "") -> Composed:
    """The machine put together from what was said, kept; SheetError where the kind is unknown."""
    return _composed.get((write_answers(said), title), lambda: compose(pattern_book(), said, title=title))


def compose_page(said: Answers) -> ComposePage:
    """All that the composer shows of a machine."""
    book, composed = pattern_book(), composed_of(said)
    settled = composed.settled
    asked = []
    for name, answer in settled.answers.items():
        question = book.questions[name]
        choices = tuple((c, question.choices[c]) for c in open_choices(question, settled.answers))
        wrong = tuple(str(m).removeprefix(f"{name}: ") for m in composed.mistakes if m.where == name)
        if question.text or len(choices) > 1 or wrong:
            standing = frozenset() if question.text else frozenset((answer,) if isinstance(answer, str) else answer)
            asked.append(Asked(name, question, choices, standing, name in settled.said, str(answer) if question.text else "", wrong))
    whole = Folding(SheetKey(composed.sheet))
    return ComposePage(
        settled.kind_name, settled.kind, tuple(asked), composed, map_of(whole), ink_of(whole, next(iter(composed.sheet.states))), address_of(said),
    )  # fmt: skip


def address_of(said: Answers) -> str:
    """The address that shows a machine as it was answered."""
    questions = pattern_book().questions
    pairs = [(name, v) for name, value in said.items() for v in (value if isinstance(value, list) else [value])]
    pairs += [(name, "") for name, value in said.items() if value == []]  # none of several was said too
    address = "/compose?" + urlencode(pairs)
    if len(address) <= LONGEST_ADDRESS:
        return address
    return "/compose?" + urlencode([(n, v) for n, v in pairs if n == "kind" or not questions[n].text])


@cache
def kinds() -> tuple[tuple[str, Kind, tuple[tuple[Variant, str], ...]], ...]:
    """The kinds of machine there are, in the order of the book, with their variants and where those are composed."""
    book = pattern_book()
    return tuple(
        (name, kind, tuple((v, address_of(v.answers)) for v in book.library if v.answers["kind"] == name))
        for name, kind in book.kinds.items()
    )
