"""Alembic's entry: runs migrations on the engine handed over, or on IRON_PROBE_DATABASE_URL."""

import os

from alembic import context

from iron_probe.store import meters, people, practice, prints, tables
from iron_probe.store.database import connect

METADATA = tables.JobRow.metadata
assert people.Person.metadata is prints.ReportPrint.metadata is practice.PracticeRow.metadata is meters.MeterRow.metadata is METADATA


def ours(thing: object, name: str | None, kind: str, reflected: bool, compared: object) -> bool:
    """The task queue's own tables are its business; what a search goes by is in no table's model, so that no row brings it."""
    return (
        not (name or "").startswith("procrastinate_")
        and name not in ("job_summary_search", "job_summary_words", "job_summary_parts")
        and (kind, name) != ("column", "words")
    )


connection = context.config.attributes.get("connection")
if connection is not None:
    context.configure(connection=connection, target_metadata=METADATA, include_object=ours)
    with context.begin_transaction():
        context.run_migrations()
else:
    with connect(os.environ["IRON_PROBE_DATABASE_URL"]).connect() as own:
        context.configure(connection=own, target_metadata=METADATA, include_object=ours)
        with context.begin_transaction():
            context.run_migrations()
