"""Practice cases, and which jobs and machines are the bay's."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0016"
down_revision = "0015"


def upgrade() -> None:
    """The table of cases; all jobs and machines of before are real."""
    for table in ("job", "machine"):
        op.add_column(table, sa.Column("practice", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.create_table(
        "practice",
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id"), primary_key=True),
        sa.Column("level", sa.String(), nullable=False),
        sa.Column("sheet_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("faults", postgresql.JSONB(), nullable=False),
        sa.Column("by", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("replay", postgresql.JSONB(), nullable=True),
    )


def downgrade() -> None:
    """Without it; practice jobs then stand among the others."""
    op.drop_table("practice")
    for table in ("job", "machine"):
        op.drop_column(table, "practice")
