"""The engine and its sessions, and what a failure of the database means."""

from sqlalchemy import Engine
from sqlalchemy.exc import DBAPIError
from sqlmodel import create_engine

STATEMENT_TIMEOUT_MS = 5000


def connect(url: str, timeout_ms: int = STATEMENT_TIMEOUT_MS) -> Engine:
    """An engine on `url`; reads and writes give up after `timeout_ms` [ms], lost connections are replaced."""
    return create_engine(
        url, pool_pre_ping=True, pool_size=16, max_overflow=24, pool_timeout=8,
        connect_args={"options": f"-c statement_timeout={timeout_ms} -c lock_timeout={timeout_ms} -c jit=off", "connect_timeout": 4},
    )  # fmt: skip


DISK_FULL = "53100"
"""PostgreSQL's code for it."""


def is_disk_full(error: DBAPIError) -> bool:
    """Whether the database could not write for want of space."""
    told = getattr(error.orig, "sqlstate", None)
    return told == DISK_FULL or "No space left on device" in str(error.orig)
