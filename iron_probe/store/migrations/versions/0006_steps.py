"""What the Yard keeps of a job says the guide's step: kept summaries are worked out anew."""

from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    """Empty them; the queue fills them again."""
    op.execute("update job_summary set facts = '{}'")


def downgrade() -> None:
    """The same: the code before kept other values."""
    op.execute("update job_summary set facts = '{}'")
