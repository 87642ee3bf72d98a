"""Compiled functions: the same as they stand, and never older than what they call."""

import sys

import numpy as np
import pytest
from numba.core.dispatcher import Dispatcher

from iron_probe.core.solve import columns, compiled, nodal


def test_what_a_compiled_function_calls_stands_in_its_own_module() -> None:
    """Numba looks at the file of the function that is kept alone: a step mended in another file would not be made anew."""
    modules = [m for name, m in sys.modules.items() if name.startswith("iron_probe.") and m is not None]
    found = [f for m in modules for f in vars(m).values() if isinstance(f, Dispatcher)]
    assert {nodal.solve_all, columns.columns} <= set(found)
    for function in found:
        called = [function.py_func.__globals__.get(name) for name in function.py_func.__code__.co_names]
        assert all(c.__module__ == function.__module__ for c in called if isinstance(c, Dispatcher)), function


def test_it_does_what_the_function_does() -> None:
    table = np.arange(12.0).reshape(3, 4)
    which = np.array([3, 0])
    plain = columns.columns.py_func  # type: ignore[attr-defined]
    assert columns.columns(table, which).tolist() == plain(table, which).tolist() == table[:, which].tolist()


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
