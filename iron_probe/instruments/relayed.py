"""A meter that somebody else holds, asked by question and answer: one on a serial port of a browser."""

import queue
import threading
from collections.abc import Callable

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.meter import ANSWERS_WITHIN_MS
from iron_probe.instruments.scpi import SilentError, figure, question

ROUND_TRIP_S = 1.0
"""What the way to the holder and back may take beside the meter's own time [s]."""


class RelayedMeter:
    """`send` takes a question with its number to whoever holds the meter; what comes back is `heard`. One question at a time."""

    def __init__(self, send: Callable[[int, str], None]) -> None:
        self._send, self._asked, self._lock = send, 0, threading.Lock()
        self._answers: queue.Queue[tuple[int, str]] = queue.Queue()
        self._left = False

    def heard(self, number: int, answer: str) -> None:
        """Take the answer to a question; one that comes too late is nobody's."""
        self._answers.put((number, answer))

    def leave(self) -> None:
        """Whoever holds it has gone: nobody waits any more."""
        self._left = True
        self._answers.put((0, ""))

    def ask(self, words: str) -> str:
        """Ask and wait. SilentError where no answer comes in time, or its holder has gone."""
        with self._lock:
            self._asked += 1
            if not self._left:
                self._send(self._asked, words)
            while True:
                if self._left:
                    raise SilentError("The browser that the meter hangs on has left: it joins again with its next page")
                try:
                    number, answer = self._answers.get(timeout=ANSWERS_WITHIN_MS / 1000 + ROUND_TRIP_S)
                except queue.Empty:
                    told = "The meter on the browser's serial port does not answer: check that it is on, its cable, and its speed in bauds"
                    raise SilentError(told) from None
                if number == self._asked:
                    return answer

    def read(self, measured: Measured, *, channel: int = 0, four_wire: bool = False) -> float | None:
        """What it shows, in V, A or Ω; None over range. SilentError, GarbledError."""
        return figure(self.ask(question(measured, channel=channel, four_wire=four_wire)))

    def close(self) -> None:
        """Whoever holds it keeps it."""
