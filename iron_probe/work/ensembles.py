"""Ensembles ready when asked: worked out beside the requests, kept on disk as arrays that every process of this host maps."""

import hashlib
import json
import logging
import os
import shutil
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter, ValidationError

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.fits import HeldFits
from iron_probe.core.diagnose.prediction import Prediction
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.errors import IronProbeError
from iron_probe.core.kept import Kept

STEP_DEGC = 5.0
"""Jobs within this step of temperature share an ensemble: it moves figures by less than parts spread."""
STRATA_BYTES = 24_000_000
"""What the strata drawn anew may hold for one ensemble in one process."""
MOST_DISK_BYTES = 4_000_000_000
"""What all kept ensembles may take on disk; the least used go first."""
ASK_AGAIN_S = 60.0
"""An ensemble that has not come after so long [s] is asked for once more."""
MOST_LOCAL = 12
"""Ensembles a process without a worker holds at once."""
MODES = "modes.json"
FIELDS = ("volts", "own_ohm", "amps", "heard", "chatter", "away_v")


_MODES = TypeAdapter(tuple[FaultMode, ...])


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which ensemble: the circuit, the temperature [°C] rounded to the step, the kind of work."""

    sheet: Sheet
    temp_degc: float
    work: Scope

    @property
    def key(self) -> str:
        """What it is kept under: all it hangs on, the code that makes it included."""
        said = f"{self.sheet.fingerprint} {self.temp_degc:g} {self.work.value} {code_hash()}"
        return hashlib.sha256(said.encode()).hexdigest()[:40]

    def conditions(self) -> Conditions:
        """The conditions it is worked out under."""
        return Conditions(temp_degc=self.temp_degc)


def wanted(sheet: Sheet, temp_degc: float, work: Scope) -> Wanted:
    """The ensemble for a circuit at a temperature."""
    return Wanted(sheet, round(temp_degc / STEP_DEGC) * STEP_DEGC, work)


@cache
def code_hash() -> str:
    """Hash of the code that ensembles come from: arrays of other code are never mapped."""
    core = Path(__file__).parent.parent / "core"
    found = hashlib.sha256()
    for folder in ("circuit", "solve", "diagnose"):
        for file in sorted((core / folder).glob("*.py")):
            found.update(file.read_bytes())
    return found.hexdigest()


@dataclass(frozen=True, slots=True)
class Ready:
    """An ensemble with every state solved, its tests, and a lock: its caches are worked on by one request at a time."""

    ensemble: Ensemble
    book: TestBook
    fits: HeldFits = field(default_factory=HeldFits)
    lock: threading.Lock = field(default_factory=threading.Lock)


class EnsembleError(IronProbeError):
    """An ensemble could not be worked out; the text says why and what to do."""


def make(asked: Wanted) -> Ready:
    """Work an ensemble out here and now: seconds."""
    ensemble = Ensemble(asked.sheet, asked.conditions(), asked.work, kept_bytes=STRATA_BYTES)
    return Ready(ensemble, TestBook(ensemble))


def write(ready: Ready, folder: Path) -> None:
    """Keep an ensemble in a folder that appears whole or not at all."""
    passing = folder.with_name(f"{folder.name}.{uuid4().hex[:8]}.passing")
    passing.mkdir(parents=True)
    try:
        for number, state in enumerate(ready.ensemble.states):
            prediction = ready.ensemble.first(state)
            for name in FIELDS:
                np.save(passing / f"{number}-{name}.npy", getattr(prediction, name))
        (passing / MODES).write_bytes(_MODES.dump_json(tuple(ready.ensemble.modes)))
        np.save(passing / "sound.npy", np.asarray(ready.book.sound, dtype=np.float32))
        np.save(passing / "rough.npy", ready.book.rough)
        passing.rename(folder)
    except OSError:
        shutil.rmtree(passing, ignore_errors=True)
        if not folder.exists():  # another process may have been first
            raise


def mapped(asked: Wanted, folder: Path) -> Ready:
    """An ensemble as kept in a folder, its arrays mapped and not copied; FileNotFoundError while it is not there."""
    modes = _MODES.validate_json((folder / MODES).read_bytes())
    ensemble = Ensemble(asked.sheet, asked.conditions(), asked.work, kept_bytes=STRATA_BYTES, modes=modes)
    for number, state in enumerate(ensemble.states):
        arrays = {name: _mapped_array(folder / f"{number}-{name}.npy") for name in FIELDS}
        ensemble.hold(state, Prediction(**arrays))
    os.utime(folder)
    return Ready(ensemble, TestBook(ensemble, _mapped_array(folder / "sound.npy"), _mapped_array(folder / "rough.npy")))


def mapped_or_made(folder: Path, asked: Wanted) -> Ready:
    """An ensemble as kept among others in a folder, or worked out here and now."""
    try:
        return mapped(asked, folder / asked.key)
    except FileNotFoundError:
        return make(asked)


def _mapped_array(file: Path) -> NDArray[Any]:
    """A kept array, mapped; as a plain array, for every slice of numpy's own mapped class costs microseconds."""
    return np.load(file, mmap_mode="r").view(np.ndarray)


class Home:
    """Where ensembles are found and how one that is not there is asked for."""

    def __init__(self, folder: Path | None, ask: Callable[[str], None] | None = None) -> None:
        self.folder, self._ask = folder, ask
        self.kept: Kept[str, Ready] = Kept("ensembles", 48)
        self._asked: dict[str, float] = {}
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="ensemble")
        self._made: dict[str, Ready | Exception] = {}
        self._guard = threading.Lock()

    def find(self, asked: Wanted) -> Ready | None:
        """The ensemble if it is there; else it is asked for and None. EnsembleError when it cannot be worked out."""
        key = asked.key
        if self.folder is None:
            return self._local(key, asked)
        path = self.folder / key
        try:
            return self.kept.get(key, lambda: mapped(asked, path))
        except FileNotFoundError:
            pass
        failed = path.with_suffix(".failed")
        if failed.exists():
            told = failed.read_text(encoding="utf-8")
            if time.time() - failed.stat().st_mtime > ASK_AGAIN_S:
                failed.unlink(missing_ok=True)
            raise EnsembleError(told)
        self._defer(key, asked)
        return None

    def _defer(self, key: str, asked: Wanted) -> None:
        assert self.folder is not None
        with self._guard:
            if time.monotonic() - self._asked.get(key, -1e9) < ASK_AGAIN_S:
                return
            self._asked[key] = time.monotonic()
        self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        note = self.folder / f"{key}.json"
        passing = self.folder / f"{key}.{uuid4().hex[:8]}.passing"
        passing.write_text(
            json.dumps(
                {"sheet": asked.sheet.model_dump(mode="json", by_alias=True), "temp_degc": asked.temp_degc, "work": asked.work.value}
            )
        )
        passing.rename(note)
        try:
            if self._ask is not None:
                self._ask(key)
        except Exception:  # the list cannot be reached: the page goes on without, and asks again
            logging.getLogger(__name__).warning("ensemble %s could not be asked for", key, exc_info=True)
            with self._guard:
                self._asked.pop(key, None)

    def _local(self, key: str, asked: Wanted) -> Ready | None:
        """Without a folder and a worker: made on a thread of this process."""
        with self._guard:
            if key not in self._made:
                if key not in self._asked:
                    self._asked[key] = time.monotonic()
                    self._pool.submit(self._make, key, asked)
                return None
            made = self._made[key] = self._made.pop(key)  # the least used goes first
        if isinstance(made, Exception):
            raise EnsembleError(f"This circuit's faults could not be worked out: {made}") from made
        return made

    def _make(self, key: str, asked: Wanted) -> None:
        try:
            made: Ready | Exception = make(asked)
        except Exception as error:  # noqa: BLE001 told on the page that asked
            made = error
        with self._guard:
            self._made[key] = made
            self._asked.pop(key, None)
            while len(self._made) > MOST_LOCAL:
                self._made.pop(next(iter(self._made)))

    def wait_for(self, asked: Wanted, wait_s: float) -> Ready | None:
        """The ensemble, waited for up to `wait_s` [s]."""
        end = time.monotonic() + wait_s
        while (found := self.find(asked)) is None and time.monotonic() < end:
            time.sleep(0.05)
        return found


def prepare(folder: Path, key: str) -> None:
    """What a worker does: work the ensemble of a note out and keep it; a note that cannot be used leaves a word why."""
    if (folder / key).exists():
        return
    note = folder / f"{key}.json"
    try:
        said = json.loads(note.read_text(encoding="utf-8"))
        asked = Wanted(Sheet.model_validate(said["sheet"]), said["temp_degc"], Scope(said["work"]))
        write(make(asked), folder / key)
    except (IronProbeError, ValidationError, FileNotFoundError) as error:
        word = (
            f"This circuit's faults could not be worked out: {error}. The readings are kept; mend the drawing, then open this page again."
        )
        (folder / f"{key}.failed").write_text(word, encoding="utf-8")
    except Exception:
        logging.getLogger(__name__).exception("ensemble %s", key)
        (folder / f"{key}.failed").write_text("Working out this circuit's faults failed; it is tried again in a minute.", encoding="utf-8")
        raise
    note.unlink(missing_ok=True)
    _make_room(folder)


def _make_room(folder: Path) -> None:
    kept = sorted((p for p in folder.iterdir() if p.is_dir() and "." not in p.name), key=lambda p: p.stat().st_mtime)
    sizes = {p: sum(f.stat().st_size for f in p.iterdir()) for p in kept}
    total = sum(sizes.values())
    for path in kept[:-1]:
        if total <= MOST_DISK_BYTES:
            break
        shutil.rmtree(path, ignore_errors=True)  # processes that map it keep their pages
        total -= sizes[path]


_home = Home(None)


def home() -> Home:
    """Where this process finds its ensembles."""
    return _home


def settle(folder: Path | None, ask: Callable[[str], None] | None) -> None:
    """Say where this process finds ensembles, and how it asks for one that is not there."""
    global _home
    if folder is not None or _home.folder is not None:
        _home = Home(folder, ask)


@contextmanager
def found_in(folder: Path, ask: Callable[[str], None]) -> Iterator[None]:
    """Have this process find ensembles there while a worker works, and as before when it ends."""
    global _home
    before, _home = _home, Home(folder, ask)
    try:
        yield
    finally:
        _home = before
