"""What the yard had found on a kind of machine when a job was taken in; whether jobs go by it; which came as a file from elsewhere."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    """Jobs of before go by none; a yard says that new ones do."""
    op.add_column("job", sa.Column("experience", postgresql.JSONB(), nullable=False, server_default="{}"))
    op.add_column("job", sa.Column("brought_in", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.add_column("yard", sa.Column("experience", sa.Boolean(), nullable=False, server_default=sa.false()))


def downgrade() -> None:
    """Without it."""
    op.drop_column("yard", "experience")
    op.drop_column("job", "brought_in")
    op.drop_column("job", "experience")
