"""Settings of drain work, and fuses corrected, on the job."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """Add the settings, empty for every job there is."""
    op.add_column("job", sa.Column("drain", JSONB, nullable=False, server_default=sa.text("'{}'")))


def downgrade() -> None:
    """Drop them."""
    op.drop_column("job", "drain")
