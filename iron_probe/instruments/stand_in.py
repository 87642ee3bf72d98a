"""Stand-ins for meters: each a small server that speaks SCPI and shows what is at its leads, with a real meter's ways of failing."""

import contextlib
import re
import socketserver
import threading
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from iron_probe.core.meters.measured import FOUR_WIRE_OHM, Measured, last_digit
from iron_probe.instruments.scpi import ASKED, FOUR_WIRE, OVERLOAD

_ASKS = re.compile(r"^(MEAS:[A-Z:]+\?)(?: *\(@(\d)\))?$")
_SELECTS = re.compile(r'^INST:SEL +"([^"]{1,40})"$')
UNKNOWN_WORDS = '-113,"Undefined header"'
"""What a meter puts down for words it does not know (source: SCPI-99, volume 2)."""
MOST_ERRORS = 20
GARBAGE = b"\x00\xff?%#\n"

Shows = Callable[[str, Measured], float | None]
"""What is at the leads of a stand-in, by what it was selected for and what it is set to, in V, A or Ω; None over range."""


class Manner(StrEnum):
    """How it answers."""

    WELL = "well"
    GARBAGE = "garbage"
    SILENT = "silent"
    HALF_LINE = "half a line"
    HANGS_UP = "hangs up"


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of stand-in: its name, what each of its channels measures, its gain error (one sigma) and what it creeps off zero by."""

    name: str
    channels: dict[int, tuple[Measured, ...]]
    share: float
    zero: float = 0.0
    clamp_factor: float = 1.0
    four_wire: bool = False


MULTIMETER = Kind("Multimeter", {0: (Measured.DC_VOLTS, Measured.AC_VOLTS, Measured.OHMS)}, 0.004)
CLAMP = Kind("Clamp", {0: (Measured.AMPS,)}, 0.01, zero=0.006)
RECORDER = Kind("Recorder", {1: (Measured.DC_VOLTS,), 2: (Measured.AMPS,)}, 0.004, clamp_factor=100.0)
BATTERY_TESTER = Kind("Battery tester", {0: (Measured.DC_VOLTS, Measured.OHMS)}, 0.003, four_wire=True)
KINDS = (MULTIMETER, CLAMP, RECORDER, BATTERY_TESTER)
"""What a bay has. Errors are those of hand meters (common practice). The recorder's second channel is fed by a clamp of 10 mV a unit: it shows its volts."""


@dataclass(slots=True)
class StandIn:
    """One stand-in: what it answers to each line, for any number of links at once."""

    kind: Kind
    shows: Shows
    seed: int = 1
    manner: Manner = Manner.WELL
    gain: float = field(init=False)
    _noise: np.random.Generator = field(init=False)

    def __post_init__(self) -> None:
        self._noise = np.random.default_rng(self.seed)
        self.gain = 1 + self.kind.share * float(self._noise.standard_normal())

    def answer(self, words: str, selected: str, errors: list[str]) -> str | None:
        """What it says to a line, in its own figures; None where it says nothing."""
        asked = _ASKS.match(words)
        if words == "*IDN?":
            return f"Cinder Quay,{self.kind.name} stand-in,{self.seed},1"
        if words == "SYST:ERR?":
            return errors.pop(0) if errors else '0,"No error"'
        if asked and (measured := self._measured(asked[1], int(asked[2] or 0))):
            return self._figure(measured, selected)
        errors.append(UNKNOWN_WORDS)
        del errors[:-MOST_ERRORS]
        return None

    def _measured(self, words: str, channel: int) -> Measured | None:
        named = {word: measured for measured, word in ASKED.items()} | ({FOUR_WIRE: Measured.OHMS} if self.kind.four_wire else {})
        wanted = named.get(words)
        return wanted if wanted in self.kind.channels.get(channel, ()) else None

    def _figure(self, measured: Measured, selected: str) -> str:
        true = self.shows(selected, measured)
        if true is None:
            return f"{OVERLOAD:.6E}"
        fine = FOUR_WIRE_OHM if self.kind.four_wire and measured is Measured.OHMS else last_digit(measured, true)
        shown = true * self.gain + self.kind.zero + 0.4 * fine * float(self._noise.standard_normal())
        factor = self.kind.clamp_factor if measured is Measured.AMPS else 1.0
        return f"{round(shown / fine) * fine / factor:.6E}"


class _Link(socketserver.StreamRequestHandler):
    """One link to a stand-in."""

    server: "_Server"

    def handle(self) -> None:
        stand_in, selected, errors = self.server.stand_in, "", list[str]()
        with contextlib.suppress(OSError):
            while line := self.rfile.readline(512):
                words = line.decode("ascii", "replace").strip()
                if choice := _SELECTS.match(words):
                    selected = choice[1]
                    continue
                if not self._say(stand_in, stand_in.answer(words, selected, errors)):
                    return

    def _say(self, stand_in: StandIn, answer: str | None) -> bool:
        """Whether the link goes on."""
        match stand_in.manner:
            case Manner.WELL:
                self.wfile.write(f"{answer}\n".encode() if answer is not None else b"")
            case Manner.GARBAGE:
                self.wfile.write(GARBAGE)
            case Manner.HALF_LINE:
                self.wfile.write((answer or "")[:4].encode())
            case Manner.HANGS_UP:
                return False
        return True


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address, daemon_threads = True, True

    def __init__(self, stand_in: StandIn, port: int) -> None:
        self.stand_in = stand_in
        super().__init__(("127.0.0.1", port), _Link)


@contextlib.contextmanager
def plugged_in(stand_in: StandIn, port: int = 0) -> Iterator[str]:
    """A stand-in that answers on loopback; gives its VISA address. OSError where the port is taken."""
    server = _Server(stand_in, port)
    thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.1}, daemon=True)
    thread.start()
    try:
        yield f"TCPIP::127.0.0.1::{server.server_address[1]}::SOCKET"
    finally:
        server.shutdown()
        server.server_close()
        thread.join()
