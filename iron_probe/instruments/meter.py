"""A real meter, read over SCPI by PyVISA and its pure Python backend: network first; serial and USB by the same library."""

import contextlib
from typing import Any

import pyvisa
from pyvisa.errors import VisaIOError

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.scpi import SilentError, figure, question

ANSWERS_WITHIN_MS = 1500
"""A meter that takes longer [ms] is silent: the slowest range of a bench meter takes about a second (common practice)."""
ADDRESS = "TCPIP::127.0.0.1::5025::SOCKET"
"""How a meter is named, as an example; a serial one is ASRL/dev/ttyUSB0::INSTR, one on USB USB0::1234::5678::SERIAL::INSTR."""


class Meter:
    """A meter by its VISA address, identified when it is made. SilentError where none answers there."""

    def __init__(self, address: str, selects: str = "", within_ms: int = ANSWERS_WITHIN_MS) -> None:
        self.address = address
        self._manager = pyvisa.ResourceManager("@py")
        try:
            self._link: Any = self._manager.open_resource(address, read_termination="\n", write_termination="\n", timeout=within_ms)
        except (VisaIOError, OSError, ValueError) as error:
            raise self._silent(error) from error
        try:  # a closed port shows only when it is asked something
            self.identity = self.ask("*IDN?").strip()[:120]
            if selects:
                self.say(f'INST:SEL "{selects}"')
        except SilentError:
            self.close()
            raise

    def _silent(self, error: Exception) -> SilentError:
        told = f"Nothing answers at {self.address}: check that it is on, its cable, and that its address is like {ADDRESS} ({str(error)[:120]})"
        return SilentError(told)

    def ask(self, words: str) -> str:
        """Ask and hear. SilentError where no whole line comes in time."""
        try:
            return str(self._link.query(words))
        except UnicodeDecodeError:
            return "�"  # it did answer: whoever looks for a figure will find none
        except (VisaIOError, OSError) as error:
            raise self._silent(error) from error

    def say(self, words: str) -> None:
        """Say something that is not answered."""
        try:
            self._link.write(words)
        except (VisaIOError, OSError) as error:
            raise self._silent(error) from error

    def read(self, measured: Measured, *, channel: int = 0, four_wire: bool = False) -> float | None:
        """What it shows, in V, A or Ω; None over range. SilentError, GarbledError."""
        return figure(self.ask(question(measured, channel=channel, four_wire=four_wire)))

    def close(self) -> None:
        """Let it go."""
        with contextlib.suppress(VisaIOError, OSError):
            self._link.close()
