"""Bringing a database to the newest schema."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, text

MIGRATIONS = Path(__file__).parent / "migrations"
_LOCK = 4_190_211
"""Advisory lock number, so that two processes starting at once do not migrate together."""


OLDEST = "0005"
"""The oldest schema that a yard can be taken back to: before it, machines had no books of their own."""


def migrate(engine: Engine, to: str = "head", *, back: bool = False) -> None:
    """Run the outstanding migrations up to a revision, or `back` down to one, one process at a time. What only the newer schema holds is
    lost on the way back; logs are not."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    with engine.begin() as connection:
        connection.execute(text("select pg_advisory_xact_lock(:lock)"), {"lock": _LOCK})
        config.attributes["connection"] = connection
        (command.downgrade if back else command.upgrade)(config, to)
