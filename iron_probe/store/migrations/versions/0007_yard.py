"""The yard's own name and address, for its reports; kept summaries say the guide's new steps, and are worked out anew."""

import sqlalchemy as sa
import sqlmodel
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    """One row at most: the yard itself."""
    op.create_table(
        "yard",
        sa.Column("id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("name", sqlmodel.sql.sqltypes.AutoString(), nullable=False),
        sa.Column("address", sqlmodel.sql.sqltypes.AutoString(), nullable=False),
        sa.CheckConstraint("id = 1", name="yard_is_one"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.execute("update job_summary set facts = '{}'")


def downgrade() -> None:
    """Without it; the code before kept other steps."""
    op.drop_table("yard")
    op.execute("update job_summary set facts = '{}'")
