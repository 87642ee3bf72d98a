"""The house: app processes and a worker beside the database, each started again when it ends, none outliving this process."""

import contextlib
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from iron_probe.store.cluster import ClusterError

LOOK_S = 0.25
"""How often the children are looked at [s]."""
QUICK_END_S, LATER_S = 3.0, 2.0
"""A child that ends within the first time [s] of its start is started again only after the second [s]."""
STOP_S = 8.0


@dataclass(slots=True)
class Child:
    """A process of the house: its name, its command, what it finds in its environment, and the signal it gets when this process is gone."""

    name: str
    command: Sequence[str]
    environment: dict[str, str]
    dies_by: str = "KILL"
    process: subprocess.Popen[bytes] | None = None
    started: float = 0.0

    def start(self) -> None:
        """Start it; it ends when this process does, however that ends."""
        command = ["/usr/bin/setpriv", "--pdeathsig", self.dies_by, sys.executable, "-m", "iron_probe.cli", *self.command]
        self.process = subprocess.Popen(command, env={**os.environ, **self.environment}, stdin=subprocess.DEVNULL)
        self.started = time.monotonic()

    def look_after(self) -> str:
        """Start it again where it has ended; a word about it if so."""
        assert self.process is not None
        code = self.process.poll()
        if code is None or (time.monotonic() - self.started < QUICK_END_S and time.monotonic() - self.started < LATER_S):
            return ""
        self.start()
        return f"{self.name} ended ({code}) and was started again"


@dataclass(slots=True)
class House:
    """All children together; `bring_back` starts the database again where it was killed and says whether it had to."""

    children: list[Child]
    bring_back: Callable[[], bool]
    say: Callable[[str], None]
    _stopping: bool = field(default=False)

    def start(self) -> None:
        """Start every child."""
        for child in self.children:
            child.start()

    def add(self, child: Child) -> None:
        """Start one more child and look after it with the others."""
        child.start()
        self.children.append(child)

    def wait_until(self, ready: Callable[[], bool], most_s: float) -> bool:
        """Look after the children until something is so; whether it came to be in time."""
        end = time.monotonic() + most_s
        while not ready():
            if time.monotonic() > end:
                return False
            self._look()
        return True

    def run(self) -> None:
        """Look after all until a signal to end."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, self._end)
        while not self._stopping:
            self._look()

    def _end(self, number: int, frame: object) -> None:
        self._stopping = True

    def _look(self) -> None:
        time.sleep(LOOK_S)
        if self._stopping:
            return
        try:
            if self.bring_back():
                self.say("the database had ended and was started again")
        except ClusterError as error:  # a full disk, say: whoever frees it finds the yard at work again
            self.say(f"{error} It is tried again until it starts.")
        for child in self.children:
            if told := child.look_after():
                self.say(told)

    def stop(self) -> None:
        """End every child, by force where it does not go by itself."""
        running = [c.process for c in self.children if c.process is not None and c.process.poll() is None]
        for process in running:
            process.terminate()
        end = time.monotonic() + STOP_S
        for process in running:
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(max(end - time.monotonic(), 0.1))
            if process.poll() is None:
                process.kill()
                process.wait()
