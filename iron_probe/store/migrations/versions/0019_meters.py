"""Meters that send what they show, what each is used for, and where the leads of a practice job are."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0019"
down_revision = "0018"


def upgrade() -> None:
    """Three tables."""
    op.create_table(
        "meter",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("agent", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("address", sa.String(), nullable=False),
        sa.Column("identity", sa.String(), nullable=False),
        sa.Column("measures", postgresql.JSONB(), nullable=False),
        sa.Column("channel", sa.Integer(), nullable=False),
        sa.Column("four_wire", sa.Boolean(), nullable=False),
        sa.Column("factor", sa.Float(), nullable=False),
        sa.Column("stand_in", sa.Boolean(), nullable=False),
        sa.Column("joined", sa.Boolean(), nullable=False),
        sa.Column("seen_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "meter_use",
        sa.Column("meter_id", sa.Uuid(), sa.ForeignKey("meter.id"), primary_key=True),
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id"), primary_key=True),
        sa.Column("measured", sa.String(), nullable=False),
        sa.Column("factor", sa.Float(), nullable=False),
        sa.Column("zero", sa.Float(), nullable=False),
        sa.Column("reset", sa.Integer(), nullable=False),
        sa.Column("watches", sa.Boolean(), nullable=False),
        sa.Column("capture_id", sa.Uuid(), nullable=True),
        sa.Column("recorded_from", sa.DateTime(timezone=True), nullable=True),
        sa.Column("by", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_meter_use_job_id", "meter_use", ["job_id"])
    op.create_table(
        "placing",
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id"), primary_key=True),
        sa.Column("instrument", sa.String(), nullable=False),
        sa.Column("red", sa.String(), nullable=False),
        sa.Column("black", sa.String(), nullable=False),
        sa.Column("branch", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    """Without them."""
    for table in ("placing", "meter_use", "meter"):
        op.drop_table(table)
