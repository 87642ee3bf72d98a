"""Practice cases worked without the guide, their marks, and what hands did in them."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0020"
down_revision = "0019"


def upgrade() -> None:
    """All jobs of before are guided; marks of before are worked out when they are looked at."""
    op.add_column("job", sa.Column("unguided", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.add_column("practice", sa.Column("marks", sa.Integer(), nullable=True))
    op.add_column("practice", sa.Column("handled", postgresql.JSONB(), nullable=False, server_default=sa.text("'[]'")))


def downgrade() -> None:
    """Without them."""
    op.drop_column("practice", "handled")
    op.drop_column("practice", "marks")
    op.drop_column("job", "unguided")
