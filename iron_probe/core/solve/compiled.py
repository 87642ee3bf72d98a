"""Functions over arrays as machine code: made when first called, kept on disk beside the module for every later process.

What a compiled function calls must stand in its own module: one that is kept is made anew when its module changes, and no other.
"""

from collections.abc import Callable
from typing import Any, TypeVar, cast

from numba import njit

Function = TypeVar("Function", bound=Callable[..., Any])


def compiled(function: Function) -> Function:
    """The function compiled; other threads run while it works, and a division by nothing gives what NumPy makes of it. Where nothing can be kept on disk, every process compiles it for itself."""
    try:
        return cast(Function, njit(cache=True, nogil=True, error_model="numpy")(function))
    except RuntimeError:  # no folder to keep it in
        return cast(Function, njit(nogil=True, error_model="numpy")(function))
