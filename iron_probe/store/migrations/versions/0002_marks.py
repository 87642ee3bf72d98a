"""what is known of single elements: replaced, aftermarket, exposed, weak"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("job", sa.Column("marks", postgresql.JSONB(astext_type=sa.Text()), nullable=False, server_default=sa.text("'{}'")))


def downgrade() -> None:
    op.drop_column("job", "marks")
