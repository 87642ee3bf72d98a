"""The engine and its sessions, and what a failure of the database means."""

import time
from typing import Any

from sqlalchemy import Engine, event
from sqlalchemy.exc import DBAPIError, DisconnectionError
from sqlmodel import create_engine

STATEMENT_TIMEOUT_MS = 5000
TRUSTED_S = 1.0
"""A connection given back so recently [s] is not asked whether it still stands: under load that would be every second question."""


def connect(url: str, timeout_ms: int = STATEMENT_TIMEOUT_MS) -> Engine:
    """An engine on `url`; opening, reading and writing give up after `timeout_ms` [ms], lost connections are replaced."""
    engine = create_engine(
        url, pool_size=16, max_overflow=24, pool_timeout=8,
        connect_args={"options": f"-c statement_timeout={timeout_ms} -c lock_timeout={timeout_ms} -c jit=off", "connect_timeout": timeout_ms // 1000},
    )  # fmt: skip

    @event.listens_for(engine, "checkin")
    def given_back(connection: Any, record: Any) -> None:
        record.info["given_back"] = time.monotonic()

    @event.listens_for(engine, "checkout")
    def taken(connection: Any, record: Any, fairy: Any) -> None:
        given = record.info.get("given_back")
        if given is not None and time.monotonic() - given > TRUSTED_S and not _stands(engine, connection):
            raise DisconnectionError  # the pool puts a fresh one in its place

    return engine


def looking(engine: Engine) -> Engine:
    """The same connections for a request that only reads: each question stands for itself, without a transaction around it."""
    return engine.execution_options(isolation_level="AUTOCOMMIT")


def _stands(engine: Engine, connection: Any) -> bool:
    try:
        return bool(engine.dialect.do_ping(connection))
    except engine.dialect.loaded_dbapi.Error:
        return False


DISK_FULL = "53100"
"""PostgreSQL's code for it."""


def is_disk_full(error: DBAPIError) -> bool:
    """Whether the database could not write for want of space."""
    told = getattr(error.orig, "sqlstate", None)
    return told == DISK_FULL or "No space left on device" in str(error.orig)
