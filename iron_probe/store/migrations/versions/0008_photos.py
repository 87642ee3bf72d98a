"""Photos of a job."""

import sqlalchemy as sa
import sqlmodel
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    """A photo is a row of its own: the log says figures and words."""
    op.create_table(
        "photo",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("job_id", sa.Uuid(), nullable=False),
        sa.Column("epoch", sa.Integer(), nullable=False),
        sa.Column("caption", sqlmodel.sql.sqltypes.AutoString(), nullable=False),
        sa.Column("by", sqlmodel.sql.sqltypes.AutoString(), nullable=False),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_photo_job_id"), "photo", ["job_id"])


def downgrade() -> None:
    """Without them."""
    op.drop_table("photo")
