"""Waits that come due, told to every screen that is open."""

from datetime import datetime, timedelta

from sqlmodel import Session

from iron_probe.store import queries
from iron_probe.work.history import summary_kept

EVERY_S, REACH = 10, timedelta(seconds=25)
"""How often waits are looked at [s], and how long one that came due is told: a look that came late misses none, and a screen tells each once."""


def tell_due(session: Session, at: datetime) -> int:
    """Tell of every wait that came due just now; how many."""
    found = [
        (row, wait) for row in queries.in_hand(session, waiting=True) for wait in summary_kept(row).waits if at - REACH < wait.until <= at
    ]
    for row, wait in found:
        queries.tell_due(session, row.number, wait.until, f"{row.machine}: {wait.text}")
    session.commit()
    return len(found)
