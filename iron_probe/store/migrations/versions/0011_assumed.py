"""What of a circuit is only assumed stands in the sheet itself."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    """Machines forget which parts somebody saw: a version of the sheet says so now."""
    op.drop_column("machine", "seen")


def downgrade() -> None:
    """As before; nothing was seen yet."""
    op.add_column("machine", sa.Column("seen", postgresql.JSONB(), nullable=False, server_default="[]"))
