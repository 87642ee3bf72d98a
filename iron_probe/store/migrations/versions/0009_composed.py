"""Machines put together from answers."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    """A version keeps the answers it was composed from; a machine the parts of it that somebody has seen."""
    op.add_column("sheet_version", sa.Column("answers", sa.Text(), nullable=False, server_default=""))
    op.add_column("machine", sa.Column("seen", postgresql.JSONB(), nullable=False, server_default="[]"))


def downgrade() -> None:
    """Without them: every part counts as drawn."""
    op.drop_column("machine", "seen")
    op.drop_column("sheet_version", "answers")
