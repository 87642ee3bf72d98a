"""The engine's word as one process leaves it for another."""

from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.work import ensembles, word
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.verdicts import ready, verdicts
from iron_probe.work.word import SharedWords, Verdicts


@pytest.fixture
def said(yard: Engine) -> Verdicts:
    ensembles.settle(None, None)
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        engine = ready(job, 60.0)
        assert engine is not None
        return verdicts(job, job_log(session, job), engine)


def test_a_word_is_the_same_after_it_was_written_and_read(said: Verdicts, tmp_path: Path) -> None:
    shared = SharedWords(tmp_path)
    shared.keep("a", said)
    again = shared.find("a")
    assert again is not None
    assert (again.tests, again.numbers, again.order, again.tied) == (said.tests, said.numbers, said.order, said.tied)
    assert (again.posterior.suspects, again.posterior.eliminated) == (said.posterior.suspects, said.posterior.eliminated)
    assert np.allclose(again.posterior.weights, said.posterior.weights, rtol=1e-6)


@pytest.mark.parametrize("damage", [lambda b: b"", lambda b: b[: len(b) // 2], lambda b: b"x" * len(b)])
def test_a_damaged_word_is_worked_out_again(said: Verdicts, tmp_path: Path, damage: object) -> None:
    shared = SharedWords(tmp_path)
    shared.keep("a", said)
    assert shared.find("a") is not None and shared.find("b") is None
    file = tmp_path / "a"
    file.write_bytes(damage(file.read_bytes()))  # type: ignore[operator]
    assert shared.find("a") is None


def test_of_many_words_the_newest_are_kept_and_a_folder_that_cannot_be_written_is_no_loss(
    said: Verdicts, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(word, "MOST_WORDS", 3)
    monkeypatch.setattr(word, "PRUNED_EVERY", 5)
    shared = SharedWords(tmp_path / "words")
    for k in range(5):
        shared.keep(f"w{k}", said)
    assert len(list((tmp_path / "words").iterdir())) == 3
    (tmp_path / "file").write_text("in the way")
    SharedWords(tmp_path / "file").keep("a", said)
