"""The register of machines: notes, retired ones, doubles that were merged, and the figures each job leaves."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    """Machines get their columns; every summary is worked out anew, for it now holds the figures of its job."""
    op.add_column("machine", sa.Column("notes", sa.Text(), nullable=False, server_default=""))
    op.add_column("machine", sa.Column("retired_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("machine", sa.Column("merged_into", sa.Uuid(), nullable=True))
    op.create_foreign_key("machine_merged_into_fkey", "machine", "machine", ["merged_into"], ["id"])
    op.execute("update job_summary set facts = '{}'")


def downgrade() -> None:
    """Without them; merged and retired machines stand in the list again."""
    op.drop_constraint("machine_merged_into_fkey", "machine", type_="foreignkey")
    for column in ("merged_into", "retired_at", "notes"):
        op.drop_column("machine", column)
    op.execute("update job_summary set facts = '{}'")
