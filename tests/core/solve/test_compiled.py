"""Compiled functions: the same as they stand, and never older than what they call."""

import sys
from pathlib import Path

import numpy as np
import pytest
from numba.core.dispatcher import Dispatcher

from iron_probe.core.solve import compiled, operate, rattle


def test_machine_code_is_kept_apart_for_every_state_of_the_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Numba looks at the file of the function that is kept alone: a step mended in another file would not be made anew."""
    monkeypatch.setattr(compiled, "HERE", tmp_path)
    (tmp_path / "one.py").write_text("LIMIT = 1")
    before = compiled.kept_in(Path("kept"))
    assert before == compiled.kept_in(Path("kept")) and before.parent == Path("kept")
    (tmp_path / "one.py").write_text("LIMIT = 2")
    assert compiled.kept_in(Path("kept")) != before


def test_what_a_compiled_function_calls_and_takes_stands_in_this_folder() -> None:
    modules = [m for name, m in sys.modules.items() if name.startswith("iron_probe.") and m is not None]
    found = {f for m in modules for f in vars(m).values() if isinstance(f, Dispatcher)}
    assert {operate.solve_all, rattle.over_time} <= found
    for function in found:
        named = function.py_func.__code__.co_names
        here = vars(sys.modules[function.__module__])
        assert function.__module__.startswith("iron_probe.core.solve."), function
        taken = [here[name] for name in named if name in here and not isinstance(here[name], type(np))]
        assert all(getattr(t, "__module__", "").startswith("iron_probe.core.solve.") for t in taken if callable(t)), function


def test_it_does_what_the_function_does() -> None:
    plain = rattle.remember.py_func  # type: ignore[attr-defined]
    kept = [rattle.Rattle(np.zeros((2, 3, 2)), np.zeros((2, 3, 2)), np.zeros((2, 3, 2))) for _ in range(2)]
    now = np.arange(6.0).reshape(3, 2)
    for into, function in zip(kept, (plain, rattle.remember), strict=True):
        function(into, np.array([1]), now, -now)
    assert kept[0].volts.tolist() == kept[1].volts.tolist() and kept[1].amps[0, :, 1].tolist() == [-1, -3, -5]


def test_without_a_folder_to_keep_it_in_it_is_compiled_all_the_same(monkeypatch: pytest.MonkeyPatch) -> None:
    real = compiled.njit

    def njit(**options: bool) -> object:
        if options.get("cache"):
            raise RuntimeError("no locator available")
        return real(**options)

    monkeypatch.setattr(compiled, "njit", njit)

    def twice(values: np.ndarray) -> np.ndarray:
        return values * 2

    assert compiled.compiled(twice)(np.array([1.5])).tolist() == [3.0]
