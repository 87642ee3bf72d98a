"""The engine's word on a job, and how the app processes of a host share it: worked out by one, read by the others."""

import contextlib
import os
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

from pydantic import TypeAdapter, ValidationError

from iron_probe.core.diagnose.apart import Access, FoundWay
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.told_test import NextTest

MOST_WORDS, PRUNED_EVERY = 512, 64
"""Words kept on disk, the oldest going first, and how many are written between two prunings."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdicts:
    """The engine's word on a job: posterior with readings numbered as in the log (0 is the intake's symptom), and the next tests;
    the suspects `tied` when no test is left, the `way` they make up if one, and the `access` that would tell them apart."""

    posterior: Posterior
    tests: tuple[NextTest, ...]
    numbers: tuple[int, ...]
    order: Order
    refused: str = ""
    tied: tuple[str, ...] = ()
    access: Access | None = None
    way: FoundWay | None = None

    @property
    def at_fault(self) -> tuple[str, ...]:
        """What was found, as the parts to repair: one part, what it lies beside, or all of a way; nothing while it is open."""
        left = self.posterior
        one = left.found or left.found_beside
        return (one,) if one else self.way.elements if self.way else ()


_WORD = TypeAdapter(Verdicts)


class SharedWords:
    """Words in a folder, one a file under the hash of all it hangs on. What cannot be read or written is no loss: it is worked out again."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._written = 0

    def find(self, digest: str) -> Verdicts | None:
        """The word that another process worked out, if it is there and whole."""
        try:
            return _WORD.validate_json((self.folder / digest).read_bytes())
        except (OSError, ValidationError):
            return None

    def keep(self, digest: str, word: Verdicts) -> None:
        """Write a word, whole or not at all."""
        passing = self.folder / f"{digest}.{uuid4().hex[:8]}.passing"
        try:
            self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            passing.write_bytes(_WORD.dump_json(word))
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
