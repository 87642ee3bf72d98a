"""The book of kinds, questions and blocks: whole, and each mistake in a file told."""

import pytest

from iron_probe.blocks import pattern_book
from iron_probe.core.compose.pattern_book import STAGES, BlockChoice, read_block, read_kinds, read_questions
from iron_probe.core.compose.settle import settle
from iron_probe.core.errors import SheetError

BOOK = pattern_book()


def test_every_block_is_used_and_every_one_named_is_there() -> None:
    named = {b.block if isinstance(b, BlockChoice) else b for q in BOOK.questions.values() for c in q.choices.values() for b in c.blocks}
    assert named == set(BOOK.blocks)
    assert {name.partition("/")[0] for name in named} <= set(STAGES)


def test_every_kind_answers_with_choices_that_are_there() -> None:
    for name, kind in BOOK.kinds.items():
        settled = settle(BOOK, {"kind": name})
        for question, usual in kind.usual.items():
            if not BOOK.questions[question].text and question in settled.answers:
                answer = settled.answers[question]
                assert ({answer} if isinstance(answer, str) else set(answer)) == ({usual} if isinstance(usual, str) else set(usual)), (
                    name,
                    question,
                )
        assert kind.says.rstrip().endswith(".") and len(kind.says) > 40


def test_conditions_name_earlier_questions_and_their_choices() -> None:
    earlier: list[str] = []
    for name, question in BOOK.questions.items():
        for choice in question.choices.values():
            for asked, wanted in [*choice.only.items(), *choice.unless.items()]:
                assert asked in earlier, (name, asked)
                assert set(wanted) <= set(BOOK.questions[asked].choices), (name, asked)
        earlier.append(name)


def test_mistakes_of_a_file_are_told_by_line() -> None:
    with pytest.raises(SheetError, match=r"line 2, elemnts: extra inputs"):
        read_block("title: A block\nelemnts: []\n")
    with pytest.raises(SheetError, match="line 1, questions: field required"):
        read_questions("question: {}\n")
    with pytest.raises(SheetError, match="usual"):
        read_kinds("kinds:\n  van: {title: Van, says: One.}\n")
