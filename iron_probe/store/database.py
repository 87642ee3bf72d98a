"""The engine and its sessions."""

from sqlalchemy import Engine
from sqlmodel import create_engine

STATEMENT_TIMEOUT_MS = 5000


def connect(url: str, timeout_ms: int = STATEMENT_TIMEOUT_MS) -> Engine:
    """An engine on `url`; reads and writes give up after `timeout_ms` [ms], lost connections are replaced."""
    return create_engine(url, pool_pre_ping=True, pool_size=10, connect_args={"options": f"-c statement_timeout={timeout_ms}"})
