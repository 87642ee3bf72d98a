"""One ngspice process that is kept and asked again and again: a millisecond an operating point in place of fourteen."""

import contextlib
import os
import re
import shutil
import subprocess
import tempfile
import threading
from pathlib import Path
from types import TracebackType

import numpy as np
from numpy.typing import NDArray

from iron_probe.rig.errors import RigError

PROGRAM = "ngspice"
MEMORY = Path("/dev/shm")
"""Where netlists are handed over: written thousands of times a minute, they would wait for a disk."""
ANSWERS_WITHIN_S = 60.0
"""What has not answered after so long [s] never will, and is ended: an operating point takes milliseconds, a crank a second (chosen here)."""
_DONE = "rig-answer-ends"
_FIGURE = re.compile(r"^(\S+) = (\S+)$", re.M)
PRECISE = ".options gmin=1e-14 reltol=1e-6 abstol=1e-10 vntol=1e-8 itl1=300 rshunt=1e13"
"""Tight enough that a drop of a tenth of a millivolt over a cable is a figure, and that a floating wire has one."""
IN_MOTION = ".options method=gear reltol=1e-3 abstol=1e-6 vntol=1e-5 itl4=60 rshunt=1e12"


class Spice:
    """ngspice in its pipe mode. Netlists are made by the rig alone: their text never holds anything a user typed.

    Raises RigError where the program is missing, ends, does not answer or finds no solution.
    """

    def __init__(self) -> None:
        if shutil.which(PROGRAM) is None:
            raise RigError("ngspice is missing: apt-get install ngspice")
        self._folder = tempfile.TemporaryDirectory(prefix="iron-probe-rig-", dir=MEMORY if MEMORY.is_dir() else None)
        self._file = Path(self._folder.name) / "circuit.cir"
        self._table = Path(self._folder.name) / "table"
        self._process = subprocess.Popen(
            [PROGRAM, "-n", "-p"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, bufsize=1,
            env={**os.environ, "TERM": "dumb"},
        )  # fmt: skip
        self._ask(["set numdgt=12"])

    def __enter__(self) -> "Spice":
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        self.close()

    def close(self) -> None:
        """End the program."""
        if self._process.poll() is None:
            self._process.kill()
        self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe is not None:
                with contextlib.suppress(BrokenPipeError):  # what was still to be written to a dead program
                    pipe.close()
        self._folder.cleanup()

    def operating_point(self, lines: list[str]) -> dict[str, float]:
        """Node volts and source currents of a netlist at rest, by ngspice's names."""
        self._file.write_text("\n".join(["rig", *lines, PRECISE, ".end", ""]))
        said = self._ask([f"source {self._file}", "op", "print all", "destroy all", "remcirc"])
        found = {m[1]: float(m[2]) for m in _FIGURE.finditer(said)}
        if "n1" not in found and "n2" not in found:  # a failed run leaves only constants to print, and no exit code
            raise RigError(f"ngspice found no operating point: {said[-300:]}")
        return found

    def trace(self, lines: list[str], names: list[str], step_s: float, until_s: float) -> NDArray[np.float64]:
        """A transient from the given starting values: rows of time [s] and the named vectors."""
        self._file.write_text("\n".join(["rig", *lines, IN_MOTION, ".end", ""]))
        self._table.unlink(missing_ok=True)
        tran = f"tran {step_s:g} {until_s:g} 0 {2 * step_s:g} uic"
        said = self._ask(
            [f"source {self._file}", "set wr_singlescale", tran, f"wrdata {self._table} {' '.join(names)}", "destroy all", "remcirc"]
        )
        if not self._table.exists():
            raise RigError(f"ngspice gave no trace: {said[-300:]}")
        rows = np.loadtxt(self._table, ndmin=2)
        if rows[-1, 0] < 0.99 * until_s:
            raise RigError(f"ngspice stopped at {rows[-1, 0]:.3f} s of {until_s:g} s")
        return rows

    def _ask(self, commands: list[str]) -> str:
        assert self._process.stdin is not None and self._process.stdout is not None
        limit = threading.Timer(ANSWERS_WITHIN_S, self._process.kill)
        limit.daemon = True
        limit.start()
        try:
            self._process.stdin.write("\n".join([*commands, f"echo {_DONE}", ""]))
            self._process.stdin.flush()
            heard: list[str] = []
            for line in self._process.stdout:
                if line.strip().endswith(_DONE):
                    return "".join(heard)
                heard.append(line)
        except BrokenPipeError as error:
            raise RigError("ngspice ended: start the rig again") from error
        finally:
            limit.cancel()
        raise RigError(f"ngspice ended, by itself or as it did not answer in {ANSWERS_WITHIN_S:g} s: {''.join(heard)[-300:]}")
