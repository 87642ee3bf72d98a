"""machines of the yard with versions of their circuit; jobs pinned to one; summaries, snapshots, instrument totals, uploads in blocks"""

import hashlib
import secrets
from importlib.resources import files
from uuid import NAMESPACE_URL, uuid5

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

JSONB = postgresql.JSONB(astext_type=sa.Text())
MOMENT = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "machine",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("number", sa.BigInteger(), sa.Identity(start=1), nullable=False, unique=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False, server_default=""),
        sa.Column("plate", sa.String(), nullable=False, server_default=""),
        sa.Column("hours", sa.Float()),
        sa.Column("km", sa.Float()),
        sa.Column("battery", JSONB, nullable=False, server_default=sa.text("'{}'")),
        sa.Column("created_at", MOMENT, nullable=False),
    )
    op.create_table(
        "sheet_version",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("machine_id", sa.Uuid(), sa.ForeignKey("machine.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("content_hash", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False, server_default=""),
        sa.Column("by", sa.String(), nullable=False, server_default=""),
        sa.Column("at", MOMENT, nullable=False),
        sa.UniqueConstraint("machine_id", "number", name="sheet_version_machine_number"),
    )
    op.create_index("sheet_version_content", "sheet_version", ["content_hash"])
    op.add_column("job", sa.Column("machine_id", sa.Uuid(), sa.ForeignKey("machine.id")))
    op.add_column("job", sa.Column("version_id", sa.Uuid(), sa.ForeignKey("sheet_version.id")))
    op.add_column("job", sa.Column("key", sa.String()))
    op.add_column("log_entry", sa.Column("by", sa.String(), nullable=False, server_default=""))
    op.add_column("log_entry", sa.Column("digest", sa.String(), nullable=False, server_default=""))
    _machines_from_jobs()
    _marks_into_the_log()
    for column in ("machine_id", "version_id", "key"):
        op.alter_column("job", column, nullable=False)
    op.create_index("ix_job_machine_id", "job", ["machine_id"])
    op.create_index("ix_job_version_id", "job", ["version_id"])
    for column in ("sheet_id", "machine", "marks", "absent"):
        op.drop_column("job", column)
    _summaries()
    _captures()
    op.create_table("secret", sa.Column("name", sa.String(), primary_key=True), sa.Column("value", sa.String(), nullable=False))
    op.get_bind().connection.driver_connection.execute(SchemaManager.get_schema())  # as it is: its percent signs are no placeholders


def _machines_from_jobs() -> None:
    """A machine for every name and sheet that jobs were taken in with, its first version the shipped sheet."""
    bind = op.get_bind()
    shipped = files("iron_probe.machines")
    for name, sheet_id, first in bind.execute(
        sa.text("select machine, sheet_id, min(created_at) from job group by machine, sheet_id order by min(number)")
    ).all():
        text = (shipped / f"{sheet_id}.yaml").read_text(encoding="utf-8")
        machine, version = uuid5(NAMESPACE_URL, f"machine/{sheet_id}/{name}"), uuid5(NAMESPACE_URL, f"version/{sheet_id}/{name}")
        bind.execute(sa.text("insert into machine (id, name, created_at) values (:i, :n, :a)"), {"i": machine, "n": name, "a": first})
        bind.execute(
            sa.text(
                "insert into sheet_version (id, machine_id, number, content_hash, text, note, at) values (:i, :m, 1, :h, :t, :n, :a)"
            ),
            {
                "i": version, "m": machine, "h": hashlib.sha256(text.encode()).hexdigest(), "t": text, "a": first,
                "n": f"copied from {sheet_id} when machines were introduced",
            },
        )  # fmt: skip
        bind.execute(
            sa.text("update job set machine_id = :m, version_id = :v where machine = :n and sheet_id = :s"),
            {"m": machine, "v": version, "n": name, "s": sheet_id},
        )
    for (job,) in bind.execute(sa.text("select id from job")).all():
        bind.execute(sa.text("update job set key = :k where id = :i"), {"k": secrets.token_urlsafe(18), "i": job})


def _marks_into_the_log() -> None:
    """What was known of elements stood on the job; now it is a line like any other."""
    op.execute(
        "insert into log_entry (id, job_id, at, kind, payload) "
        "select gen_random_uuid(), id, created_at, 'known', jsonb_build_object('element', m.key, 'mark', m.value) from job, jsonb_each_text(marks) m"
    )
    op.execute(
        "insert into log_entry (id, job_id, at, kind, payload) "
        "select gen_random_uuid(), id, created_at, 'known', jsonb_build_object('element', a.value, 'mark', 'absent') "
        "from job, jsonb_array_elements_text(absent) a"
    )


def _summaries() -> None:
    op.create_table(
        "job_summary",
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id"), primary_key=True),
        sa.Column("number", sa.BigInteger(), nullable=False, unique=True),
        sa.Column("machine", sa.String(), nullable=False),
        sa.Column("closed", sa.Boolean(), nullable=False),
        sa.Column("deleted", sa.Boolean(), nullable=False),
        sa.Column("last_at", MOMENT, nullable=False),
        sa.Column("facts", JSONB, nullable=False),
    )
    standing = sa.text("not deleted")
    op.create_index("job_summary_in_hand", "job_summary", ["closed", sa.text("number desc")], postgresql_where=standing)
    op.create_index("job_summary_machine", "job_summary", [sa.text("lower(machine)"), "number"], postgresql_where=standing)
    op.create_index("job_summary_touched", "job_summary", [sa.text("last_at desc"), sa.text("number desc")], postgresql_where=standing)
    op.execute("create extension if not exists pg_trgm")
    op.execute("create index job_summary_search on job_summary using gin (lower(machine) gin_trgm_ops)")
    op.execute(
        "insert into job_summary (job_id, number, machine, closed, deleted, last_at, facts) "
        "select j.id, j.number, m.name, j.closed_at is not null, j.deleted_at is not null, j.created_at, '{}' "
        "from job j join machine m on m.id = j.machine_id"
    )
    op.create_table(
        "job_snapshot",
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id"), primary_key=True),
        sa.Column("seq", sa.BigInteger(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
    )
    op.create_table(
        "instrument_total",
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id"), primary_key=True),
        sa.Column("at", MOMENT, primary_key=True),
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("amps", sa.Float(), nullable=False),
        sa.Column("resolution_a", sa.Float(), nullable=False),
        sa.Column("series", sa.Boolean(), nullable=False),
        sa.Column("tells", sa.Boolean(), nullable=False),
    )
    op.create_index("instrument_total_telling", "instrument_total", ["job_id", "at"], postgresql_where=sa.text("tells"))
    op.create_index("instrument_total_id", "instrument_total", ["id"])


def _captures() -> None:
    op.add_column("capture", sa.Column("digest", sa.String(), nullable=False, server_default=""))
    op.create_index(
        "capture_once", "capture", ["job_id", "digest"], unique=True, postgresql_where=sa.text("deleted_at is null and digest <> ''")
    )
    op.create_table(
        "upload_block",
        sa.Column("capture_id", sa.Uuid(), sa.ForeignKey("capture.id"), primary_key=True),
        sa.Column("number", sa.Integer(), primary_key=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
    )
    op.execute("alter table upload_block alter column data set storage external")


def downgrade() -> None:
    raise NotImplementedError("machines cannot be folded back into names: restore the backup made before the upgrade")
