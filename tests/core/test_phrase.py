"""Tests of sentences that can be said in another language."""

import copy
import pickle

import pytest
from pydantic import TypeAdapter, ValidationError

from iron_probe.core.phrase import Phrase, together


def test_a_phrase_is_its_english_text_and_keeps_what_it_was_made_of() -> None:
    lost = Phrase("{drop_v:.2f} V lost of {allowed_v:.2f} V allowed.", drop_v=0.4, allowed_v=0.25)
    assert lost == "0.40 V lost of 0.25 V allowed." and f"{lost} Next." == "0.40 V lost of 0.25 V allowed. Next."
    assert lost.pattern.format(**lost.values) == lost


def test_added_or_put_together_they_keep_their_parts() -> None:
    first, then = Phrase("{n:g} V.", n=12), Phrase("It {what}.", what="holds")
    for whole in (first + " " + then, first + (" " + then)):
        assert isinstance(whole, Phrase) and whole == "12 V. It holds."
    assert together([first, then], " ") == "12 V. It holds." and together([first, then]).values["t1"] is then
    assert together(["a {brace}", then]) == "a {brace}, It holds."


def test_it_comes_through_a_copy_and_another_process() -> None:
    said = Phrase("{part}: {n:.1f} Ω", part="a {odd} title", n=2)
    for again in (copy.deepcopy(said), pickle.loads(pickle.dumps(said))):
        assert again == said and (again.pattern, again.values) == (said.pattern, said.values)


def test_it_is_kept_as_what_it_was_made_of() -> None:
    kind = TypeAdapter(Phrase)
    said = Phrase("{title} leads: {why}", title="Fuse", why=Phrase("{n:.1f} bit", n=0.5))
    again = kind.validate_json(kind.dump_json(said))
    assert again == said == kind.validate_python(said) and isinstance(again.values["why"], Phrase)
    with pytest.raises(ValidationError):
        kind.validate_json('"bare text"')


def test_a_pattern_whose_value_is_not_given_is_a_mistake() -> None:
    with pytest.raises(KeyError):
        Phrase("{drop_v:.2f} V lost.")
