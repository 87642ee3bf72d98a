"""The engine's word on a job, and how the app processes of a host share it: worked out by one, read by the others."""

import contextlib
import io
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from uuid import uuid4
from zipfile import BadZipFile

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter, ValidationError

from iron_probe.core.diagnose.apart import Access
from iron_probe.core.diagnose.next_test import NextTest, Order
from iron_probe.core.diagnose.posterior import Posterior, Struck, Suspect

MOST_WORDS, PRUNED_EVERY = 512, 64
"""Words kept on disk, the oldest going first, and how many are written between two prunings."""
LEAST_WEIGHT = 1e-9
"""A variant that weighs less is written as gone."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdicts:
    """The engine's word on a job: posterior with readings numbered as in the log (0 is the intake's symptom), and the next tests;
    the suspects `tied` when no test is left, and the `access` that would tell them apart."""

    posterior: Posterior
    tests: tuple[NextTest, ...]
    numbers: tuple[int, ...]
    order: Order
    refused: str = ""
    tied: tuple[str, ...] = ()
    access: Access | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Said:
    """A word without the weights of its variants."""

    suspects: tuple[Suspect, ...]
    eliminated: tuple[Struck, ...]
    no_fault: float
    off_sheet: float
    unexplained: tuple[int, ...]
    contradictory: tuple[int, ...]
    found: str | None
    pair: tuple[str, str] | None
    beside: tuple[tuple[str, float], ...]
    tests: tuple[NextTest, ...]
    numbers: tuple[int, ...]
    order: Order
    refused: str
    tied: tuple[str, ...]
    access: Access | None


_SAID = TypeAdapter(_Said)
_OF_POSTERIOR = ("suspects", "eliminated", "no_fault", "off_sheet", "unexplained", "contradictory", "found", "pair", "beside")
_OF_WORD = ("tests", "numbers", "order", "refused", "tied", "access")


def packed(word: Verdicts) -> bytes:
    """A word as bytes: its text, and the variants that are left with their weights."""
    said = {name: getattr(word.posterior, name) for name in _OF_POSTERIOR} | {name: getattr(word, name) for name in _OF_WORD}
    left = np.flatnonzero(word.posterior.weights > LEAST_WEIGHT)
    text = np.frombuffer(_SAID.dump_json(_Said(**said)), dtype=np.uint8)
    out = io.BytesIO()
    np.savez(out, text=text, left=left.astype(np.int32), weights=word.posterior.weights[left], count=len(word.posterior.weights))
    return out.getvalue()


def unpacked(data: bytes) -> Verdicts:
    """The word again; ValueError for what is none."""
    try:
        with np.load(io.BytesIO(data), allow_pickle=False) as held:
            arrays: dict[str, NDArray[Any]] = {name: held[name] for name in ("text", "left", "weights", "count")}
        said = _SAID.validate_json(arrays["text"].tobytes())
    except (KeyError, OSError, EOFError, BadZipFile, ValidationError) as error:
        raise ValueError("not a word of the engine") from error
    weights = np.zeros(int(arrays["count"]))
    weights[arrays["left"]] = arrays["weights"]
    posterior = Posterior(weights=weights, **{name: getattr(said, name) for name in _OF_POSTERIOR})
    return Verdicts(posterior=posterior, **{name: getattr(said, name) for name in _OF_WORD})


class SharedWords:
    """Words in a folder, one a file under the hash of all it hangs on. What cannot be read or written is no loss: it is worked out again."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._written = 0

    def find(self, digest: str) -> Verdicts | None:
        """The word that another process worked out, if it is there and whole."""
        try:
            return unpacked((self.folder / digest).read_bytes())
        except (OSError, ValueError):
            return None

    def keep(self, digest: str, word: Verdicts) -> None:
        """Write a word, whole or not at all."""
        passing = self.folder / f"{digest}.{uuid4().hex[:8]}.passing"
        try:
            self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            passing.write_bytes(packed(word))
            passing.rename(self.folder / digest)
        except OSError:
            with contextlib.suppress(OSError):
                passing.unlink(missing_ok=True)
            return
        self._written += 1
        if self._written % PRUNED_EVERY == 0:
            self._prune()

    def _prune(self) -> None:
        with contextlib.suppress(OSError), os.scandir(self.folder) as entries:
            aged = sorted((e.stat().st_mtime, e.path) for e in entries)
            for _, path in aged[:-MOST_WORDS]:
                Path(path).unlink(missing_ok=True)
