"""The practice bay's stand-in meters at work: each listens on loopback, and an agent joins them to the yard like any other's."""

import contextlib
import signal

from sqlmodel import Session

from iron_probe.instruments.agent import Agent
from iron_probe.instruments.messages import Offered
from iron_probe.instruments.stand_in import KINDS, StandIn, plugged_in
from iron_probe.store.database import connect
from iron_probe.work.meters import yard_key
from iron_probe.work.stand_in_leads import Leads

AGENT = "practice bay"


def run_stand_ins(yard: str, database_url: str) -> None:
    """Stand in until stopped."""
    engine = connect(database_url)
    with Session(engine) as session:
        key = yard_key(session)
    leads = Leads(engine)
    with contextlib.ExitStack() as plugs:
        agent = Agent(yard, key, AGENT, offered_by(plugs, leads))
        signal.signal(signal.SIGTERM, lambda number, frame: agent.stop())
        with contextlib.suppress(KeyboardInterrupt):
            agent.run()
    engine.dispose()


def offered_by(plugs: contextlib.ExitStack, leads: Leads) -> list[Offered]:
    """Every stand-in plugged in, as the yard is told of it: a recorder by its two channels."""
    offered = []
    for seed, kind in enumerate(KINDS, 1):
        address = plugs.enter_context(plugged_in(StandIn(kind, leads.shows, seed=seed)))
        offered += [
            Offered(
                name=kind.name, address=address, identity=f"{kind.name} stand-in", measures=quantities, channel=channel,
                four_wire=kind.four_wire, factor=kind.clamp_factor if channel == 2 else 1.0, stand_in=True,
            )
            for channel, quantities in kind.channels.items()
        ]  # fmt: skip
    return offered
