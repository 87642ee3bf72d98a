"""Functions over arrays as machine code: made when first called, and kept on disk for every later process until a file of this folder changes.

What a compiled function calls, and the constants it takes, must stand in this folder: they are made into the code.
"""

from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any, TypeVar, cast

from numba import config, njit

Function = TypeVar("Function", bound=Callable[..., Any])

HERE = Path(__file__).parent


def kept_in(folder: Path) -> Path:
    """Where machine code of the files of this folder as they stand is kept, inside a folder."""
    digest = sha256(b"".join(f.read_bytes() for f in sorted(HERE.glob("*.py"))))
    return folder / f"solve-{digest.hexdigest()[:16]}"


config.CACHE_DIR = str(kept_in(Path(config.CACHE_DIR or HERE / "__pycache__")))  # type: ignore[attr-defined]


def compiled(function: Function) -> Function:
    """The function compiled; other threads run while it works, and a division by nothing gives what NumPy makes of it. Where nothing can be kept on disk, every process compiles it for itself."""
    try:
        return cast(Function, njit(cache=True, nogil=True, error_model="numpy")(function))
    except RuntimeError:  # no folder to keep it in
        return cast(Function, njit(nogil=True, error_model="numpy")(function))
