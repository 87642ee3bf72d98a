"""Jobs found by their words: a text vector beside each summary."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    """The vector with its index; every summary is worked out anew, for it now holds what was repaired."""
    op.add_column("job_summary", sa.Column("words", postgresql.TSVECTOR(), nullable=False, server_default=""))
    op.create_index("job_summary_words", "job_summary", ["words"], postgresql_using="gin")
    op.execute("update job_summary set facts = '{}'")


def downgrade() -> None:
    """Without it."""
    op.drop_index("job_summary_words", table_name="job_summary")
    op.drop_column("job_summary", "words")
    op.execute("update job_summary set facts = '{}'")
