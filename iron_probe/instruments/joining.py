"""Meters named on a command line, looked for and joined to a yard."""

import contextlib
from collections.abc import Callable, Sequence

from iron_probe.core.errors import ReadingError, unknown_name
from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.agent import SCPI_PORTS, Agent, found_at
from iron_probe.instruments.messages import Offered
from iron_probe.instruments.meter import ADDRESS, Meter


def join_meters(
    yard: str, key: str, name: str, named: Sequence[str], look: str, measures: str, rate: int, say: Callable[[str], None]
) -> None:
    """Identify every meter, then stream `rate` figures a second of each until stopped. ReadingError where none was named or found, InstrumentError where one does not
    answer, NotJoinedError where the key is not the yard's."""
    offered = offered_of([*named, *(f"{look} {k}={address}" for k, address in enumerate(found_at(look) if look else (), 1))], measures)
    if not offered:
        looked = f"Nothing that speaks SCPI answers at {look} on port {' or '.join(map(str, SCPI_PORTS))}. " if look else ""
        raise ReadingError(f'{looked}Name a meter: --meter "bench={ADDRESS}"')
    if not key:
        raise ReadingError("The yard's key is missing: whoever leads the yard finds it under Meters; give it as IRON_PROBE_METER_KEY")
    for one in offered:
        say(f"{one.name}: {one.identity}")
    agent = Agent(yard, key, name[:60], offered, 1 / rate)
    with contextlib.suppress(KeyboardInterrupt):
        agent.run()
    agent.stop()


def offered_of(named: Sequence[str], measures: str) -> list[Offered]:
    """Meters as a yard is told of them, each asked what it is. ReadingError for one that is not named as NAME=ADDRESS."""
    known = [m.value for m in Measured]
    wanted = [w.strip() for w in measures.split(",") if w.strip()]
    for word in wanted:
        if word not in known:
            raise ReadingError(unknown_name("quantity", word, known))
    found = []
    for text in named:
        title, _, address = text.partition("=")
        if not title.strip() or not address.strip():
            raise ReadingError(f'“{text[:60]}” names no meter: write NAME=ADDRESS, such as "bench={ADDRESS}"')
        meter = Meter(address.strip())
        meter.close()
        found.append(
            Offered(name=title.strip()[:60], address=address.strip(), identity=meter.identity, measures=tuple(Measured(w) for w in wanted))
        )
    return found
