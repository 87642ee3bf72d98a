"""Ensembles kept as arrays: what is mapped is what was worked out."""

from pathlib import Path

import numpy as np
import pytest

from iron_probe.core.diagnose.scope import Scope
from iron_probe.machines import load_sheet
from iron_probe.work import ensembles
from iron_probe.work.ensembles import Home, make, mapped, wanted, write


def test_a_kept_ensemble_is_mapped_and_equal(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    asked = wanted(load_sheet("green-mower"), 21.0, Scope.STARTING)
    made = make(asked)
    write(made, tmp_path / asked.key)
    with monkeypatch.context() as unsolved:
        unsolved.setattr("iron_probe.core.diagnose.ensemble.fault_modes", None)  # what was worked out before is not again
        again = mapped(asked, tmp_path / asked.key)
    assert again.ensemble.modes == made.ensemble.modes
    state = made.ensemble.states[-1]
    held = again.ensemble.first(state)
    assert type(held.volts) is np.ndarray and not held.volts.flags.writeable
    assert np.array_equal(held.volts, made.ensemble.first(state).volts)
    assert np.array_equal(again.book.sound, made.book.sound)


def test_temperatures_near_each_other_share_one_and_other_code_does_not(monkeypatch: pytest.MonkeyPatch) -> None:
    sheet = load_sheet("green-mower")
    near = [wanted(sheet, t, Scope.STARTING).key for t in (19.0, 21.0)]
    assert near[0] == near[1] != wanted(sheet, 28.0, Scope.STARTING).key
    monkeypatch.setattr(ensembles, "code_hash", lambda: "other code")
    assert wanted(sheet, 19.0, Scope.STARTING).key != near[0]


def test_what_is_not_there_is_asked_for_once_and_found_when_it_came(tmp_path: Path) -> None:
    asked_for: list[str] = []
    home = Home(tmp_path, asked_for.append)
    asked = wanted(load_sheet("green-mower"), 20.0, Scope.STARTING)
    assert home.find(asked) is None and home.find(asked) is None
    assert len(asked_for) == 1
    write(make(asked), tmp_path / asked.key)
    assert home.find(asked) is not None


def test_of_too_many_made_here_the_least_used_goes(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(ensembles, "MOST_LOCAL", 2)
    monkeypatch.setattr(ensembles, "make", lambda asked: asked)
    home, sheet = Home(None), load_sheet("green-mower")
    cold, mild, warm = (wanted(sheet, t, Scope.STARTING) for t in (0.0, 20.0, 40.0))
    assert home.wait_for(cold, 30.0) and home.wait_for(mild, 30.0) and home.find(cold)
    assert home.wait_for(warm, 30.0)
    assert home.find(cold) is not None and home.find(warm) is not None and home.find(mild) is None
