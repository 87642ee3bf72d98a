"""What came from a double when it was merged, so that it can be taken apart again."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0021"
down_revision = "0020"


def upgrade() -> None:
    """Of doubles merged before nothing is known."""
    op.add_column("machine", sa.Column("moved", postgresql.JSONB(), nullable=False, server_default=sa.text("'{}'")))


def downgrade() -> None:
    """Without it."""
    op.drop_column("machine", "moved")
