"""Bringing a database to the newest schema."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, text

MIGRATIONS = Path(__file__).parent / "migrations"
_LOCK = 4_190_211
"""Advisory lock number, so that two processes starting at once do not migrate together."""


def migrate(engine: Engine, to: str = "head") -> None:
    """Run the outstanding migrations up to a revision, one process at a time."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    with engine.begin() as connection:
        connection.execute(text("select pg_advisory_xact_lock(:lock)"), {"lock": _LOCK})
        config.attributes["connection"] = connection
        command.upgrade(config, to)
