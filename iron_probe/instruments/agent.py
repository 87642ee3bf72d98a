"""The agent on the machine that meters hang on: joins the yard by a key, streams what it is asked to stream, and says at once what it lost."""

import contextlib
import logging
import ssl
import threading
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol
from urllib.parse import urlsplit
from uuid import UUID

from pydantic import ValidationError
from websockets.exceptions import InvalidStatus, WebSocketException
from websockets.sync.client import ClientConnection, connect

from iron_probe.core.errors import IronProbeError
from iron_probe.core.meters.following import Following
from iron_probe.core.meters.measured import FOUR_WIRE_OHM, Measured, last_digit
from iron_probe.core.meters.surge import Surge
from iron_probe.instruments.messages import KEY_HEADER, LONGEST, PATH, Caught, Hello, Offered, Shown, Use, Uses
from iron_probe.instruments.meter import Meter
from iron_probe.instruments.scpi import InstrumentError

EVERY_S = 0.1
"""A meter is read so often [s] where nothing else is said; one that is slower is read as fast as it answers."""
AGAIN_S = 2.0
"""How long after a lost link, to a meter or to the yard, it is tried again [s]."""
STAND_IN_WITHIN_MS = 15_000
"""A stand-in first solves its machine [ms]."""
SCPI_PORTS = (5025, 5555)
"""Where meters listen (source: IANA's port 5025, scpi-raw; common practice for the other)."""

OF_A_VOLTS_INPUT_V = 1e-4
"""One step of the volts input that a clamp hangs on [V]."""

log = logging.getLogger(__name__)


class NotJoinedError(IronProbeError):
    """The yard does not take this agent: the text says why."""


class Readable(Protocol):
    """What can be read as a meter is."""

    def read(self, measured: Measured, *, channel: int = 0, four_wire: bool = False) -> float | None:
        """What it shows, in V, A or Ω; None over range. SilentError, GarbledError."""

    def close(self) -> None:
        """Let it go."""


def over_visa(offered: Offered, use: Use) -> Readable:
    """A meter at its VISA address; a stand-in is told which job it reads. SilentError where none answers."""
    if not offered.stand_in:
        return Meter(offered.address)
    return Meter(offered.address, str(use.job), STAND_IN_WITHIN_MS)


@dataclass(slots=True)
class Stream:
    """One meter read for one job, on a thread of its own; `tell` takes what it showed, `reach` gets hold of the meter."""

    offered: Offered
    use: Use
    tell: Callable[[Shown], None]
    reach: Callable[[Offered, Use], Readable] = over_visa
    every_s: float = EVERY_S
    _stop: threading.Event = field(default_factory=threading.Event)
    _thread: threading.Thread | None = None

    def start(self) -> None:
        """Begin to read."""
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Read no more."""
        self._stop.set()
        if self._thread is not None and self._thread is not threading.current_thread():
            self._thread.join(timeout=3)

    def _run(self) -> None:
        count = 0
        while not self._stop.is_set():
            try:
                meter = self.reach(self.offered, self.use)
                try:
                    for shown in self._read(meter, count):
                        count = shown.first + len(shown.values)
                        self.tell(shown)
                finally:
                    meter.close()
            except InstrumentError as error:
                self.tell(Shown(meter=self.use.meter, job=self.use.job, first=count, lost=str(error)[:300]))
                self._stop.wait(AGAIN_S)

    def _read(self, meter: Readable, count: int) -> Iterator[Shown]:
        use, offered = self.use, self.offered
        following, surge, due = Following(use.factor, use.zero), Surge(use.measured), time.monotonic()
        while not self._stop.is_set():
            if self.use is not use:
                if self.use.reset != use.reset or self.use.measured is not use.measured:
                    following.reset()
                    surge = Surge(self.use.measured)
                use = self.use
                following.factor, following.zero = use.factor, use.zero
            sent, at = meter.read(use.measured, channel=offered.channel, four_wire=offered.four_wire), time.time()
            value = following.take(at, sent)
            step = self._step(use.measured, value)
            held = following.held(step)
            surge.take(at, value, held)
            yield Shown(
                meter=use.meter, job=use.job, first=count, at=(round(at, 3),), values=(_short(value),), least=_short(following.least),
                greatest=_short(following.greatest), mean=_short(following.mean), held=_short(held), caught=_caught(surge), step=step,
            )  # fmt: skip
            count += 1
            due = max(due + self.every_s, time.monotonic())
            self._stop.wait(due - time.monotonic())

    def _step(self, measured: Measured, value: float | None) -> float:
        if self.offered.four_wire and measured is Measured.OHMS:
            return FOUR_WIRE_OHM
        clamped = OF_A_VOLTS_INPUT_V * self.use.factor if self.use.factor != 1 else 0.0
        return max(last_digit(measured, value or 0.0), clamped)


def _caught(surge: Surge) -> Caught | None:
    if surge.far is None:
        return None
    return Caught(
        mean=_short(surge.mean), far=_short(surge.far), lasted_s=round(surge.lasted_s, 1), runs=surge.runs, ago_s=round(surge.ago_s, 1)
    )


def _short(value: float | None) -> float | None:
    return None if value is None else float(f"{value:.6g}")


class Readers:
    """The streams of some meters: those in use are read, and no others."""

    def __init__(
        self,
        meters: Mapping[UUID, Offered],
        tell: Callable[[Shown], None],
        reach: Callable[[Offered, Use], Readable] = over_visa,
        every_s: float = EVERY_S,
    ) -> None:
        self.meters, self._tell, self._reach, self._every_s = meters, tell, reach, every_s
        self.streams: dict[tuple[UUID, int], Stream] = {}

    def read(self, uses: Sequence[Use]) -> None:
        """Read what is in use now, and stop reading what is not."""
        wanted = {(u.meter, u.job): u for u in uses if u.meter in self.meters}
        for key in set(self.streams) - set(wanted):
            self.streams.pop(key).stop()
        for key, use in wanted.items():
            if key in self.streams:
                self.streams[key].use = use
            else:
                self.streams[key] = Stream(self.meters[use.meter], use, self._tell, self._reach, self._every_s)
                self.streams[key].start()


class Agent:
    """Meters joined to a yard at `url` by its `key`, read every `every_s` [s]; `name` tells this agent from others."""

    def __init__(self, url: str, key: str, name: str, meters: Sequence[Offered], every_s: float = EVERY_S) -> None:
        self.url, self.key, self.name = url.rstrip("/"), key, name
        self.meters: dict[UUID, Offered] = {m.id_of(name): m for m in meters}
        self.readers = Readers(self.meters, self._tell, every_s=every_s)
        self._link: ClientConnection | None = None
        self._stopped = threading.Event()

    def run(self) -> None:
        """Join, stream what is asked for, join again when the yard was away, until stopped. NotJoinedError where the key is not the yard's."""
        while not self._stopped.is_set():
            try:
                with self._joined() as link:
                    self._link = link
                    link.send(Hello(agent=self.name, meters=tuple(self.meters.values())).model_dump_json())
                    for words in link:
                        self._obey(str(words))
            except InvalidStatus as error:
                if error.response.status_code in (401, 403):
                    raise NotJoinedError(
                        f"{self.url} does not take this key: whoever leads the yard finds it under Meters. Give it as IRON_PROBE_METER_KEY"
                    ) from error
                log.warning("the yard answers %d; it is asked again", error.response.status_code)
            except (OSError, WebSocketException) as error:
                log.warning("the yard is away (%s); it is asked again", error)
            finally:
                self._link = None
                self.readers.read(())
            self._stopped.wait(AGAIN_S)

    def stop(self) -> None:
        """Leave the yard."""
        self._stopped.set()
        if self._link is not None:
            self._link.close()

    def _joined(self) -> contextlib.AbstractContextManager[ClientConnection]:
        at = urlsplit(self.url)
        secure = at.scheme == "https"
        context = ssl.create_default_context() if secure else None
        if context is not None and at.hostname in ("127.0.0.1", "localhost"):
            context.check_hostname, context.verify_mode = False, ssl.CERT_NONE  # this very machine: the certificate names another
        address = f"{'wss' if secure else 'ws'}://{at.netloc}{at.path}{PATH}"
        return connect(
            address, additional_headers={KEY_HEADER: self.key}, ssl=context, max_size=LONGEST * 8, compression=None, proxy=None,
            open_timeout=10, close_timeout=1,
        )  # fmt: skip

    def _obey(self, words: str) -> None:
        try:
            self.readers.read(Uses.model_validate_json(words).uses)
        except ValidationError:
            log.warning("the yard said something that is not understood: is it newer than this agent?")

    def _tell(self, shown: Shown) -> None:
        if (link := self._link) is not None:
            with contextlib.suppress(OSError, WebSocketException):  # what cannot be told now would be stale later
                link.send(shown.model_dump_json(exclude_defaults=True))


def found_at(host: str) -> Iterator[str]:
    """VISA addresses of a host at which something says what it is. Nothing is broadcast: the host is named."""
    for port in SCPI_PORTS:
        address = f"TCPIP::{host}::{port}::SOCKET"
        with contextlib.suppress(InstrumentError):
            Meter(address).close()
            yield address
