"""Answers about a machine: what was said, what goes together, and the kind's usual answer wherever nothing was said."""

from collections.abc import Mapping
from dataclasses import dataclass

from iron_probe.core.compose.pattern_book import Choice, Condition, Kind, PatternBook, Question
from iron_probe.core.errors import Mistake, SheetError, unknown_name

NOT_KNOWN = "not-known"
"""The answer that is always allowed: the kind's usual one stands, assumed."""

Said = Mapping[str, str | list[str]]
Answer = str | tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Settled:
    """One answer to every question that this machine is asked, in their order; `said` are those that were given and not assumed, and
    `mistakes` what could not be taken, by question: there the kind's usual answer stands."""

    kind: Kind
    kind_name: str
    answers: Mapping[str, Answer]
    said: frozenset[str]
    mistakes: tuple[Mistake, ...]

    def chosen(self, book: PatternBook) -> list[tuple[str, Choice]]:
        """Every choice that was made, with its question, in the order of the questions."""
        return [
            (name, book.questions[name].choices[one])
            for name, answer in self.answers.items()
            if not book.questions[name].text
            for one in ((answer,) if isinstance(answer, str) else answer)
        ]


def holds(only: Condition, unless: Condition, answers: Mapping[str, Answer]) -> bool:
    """Whether earlier answers allow something: every one of `only` was given, none of `unless`."""

    def given(question: str, wanted: list[str]) -> bool:
        answer = answers.get(question, ())
        return bool(set((answer,) if isinstance(answer, str) else answer) & set(wanted))

    return all(given(q, w) for q, w in only.items()) and not any(given(q, w) for q, w in unless.items())


def open_choices(question: Question, answers: Mapping[str, Answer]) -> list[str]:
    """The choices of a question that go with the answers before it."""
    return [name for name, choice in question.choices.items() if holds(choice.only, choice.unless, answers)]


def settle(book: PatternBook, said: Said) -> Settled:
    """Settle all questions from what was said; SheetError when the kind is unknown or missing."""
    kind_name = said.get("kind", "")
    if not isinstance(kind_name, str) or not kind_name:
        raise SheetError([Mistake(line=0, where="kind", text=f"say which kind of machine it is: {', '.join(book.kinds)}")])
    kind = book.kind(kind_name)
    answers: dict[str, Answer] = {}
    given: set[str] = set()
    mistakes = [
        Mistake(line=0, where=name, text=unknown_name("question", name, list(book.questions)))
        for name in said
        if name not in book.questions and name != "kind"
    ]
    for name, question in book.questions.items():
        usual = kind.usual.get(name, [] if question.many else "")
        told = said.get(name, NOT_KNOWN)
        if question.text:
            known = isinstance(told, str) and told != NOT_KNOWN
            answers[name] = str(told if known else usual)
            given |= {name} if known else set()
            continue
        choices = open_choices(question, answers)
        if not choices:
            continue
        known = told not in (NOT_KNOWN, "", [NOT_KNOWN])
        picked, wrong = _picked(name, question, told if known else usual, choices)
        if known and not wrong:
            given.add(name)
        if known and wrong:
            mistakes.append(wrong)
            picked, _ = _picked(name, question, usual, choices)
        answers[name] = picked
    return Settled(kind, kind_name, answers, frozenset(given), tuple(mistakes))


def _picked(name: str, question: Question, told: str | list[str], choices: list[str]) -> tuple[Answer, Mistake | None]:
    """What of an answer can be taken, and what is wrong with it."""
    asked = [told] if isinstance(told, str) else list(told)
    wrong = None
    for one in asked:
        if one and one not in question.choices:
            wrong = Mistake(line=0, where=name, text=unknown_name("answer", one, list(question.choices)))
        elif one and one not in choices:
            wrong = Mistake(
                line=0,
                where=name,
                text=f"“{question.choices[one].title}” does not go with what was said before; left are: {', '.join(choices)}",
            )
    left = [one for one in question.choices if one in asked and one in choices]
    if question.many:
        return tuple(left), wrong
    if len(asked) > 1:
        wrong = Mistake(line=0, where=name, text=f"one answer, not {len(asked)}: {', '.join(choices)}")
    return (left[0] if left else choices[0]), wrong
