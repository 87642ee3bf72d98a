"""The kind of machine beside each summary, and what was repaired found by an index: history of many years."""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"


def upgrade() -> None:
    """Every summary gets the kind of its machine."""
    op.add_column("job_summary", sa.Column("kind", sa.String(), nullable=False, server_default=""))
    op.execute("update job_summary s set kind = lower(m.kind) from job j join machine m on m.id = j.machine_id where j.id = s.job_id")
    op.create_index("job_summary_kind", "job_summary", ["kind", sa.text("number desc")], postgresql_where=sa.text("not deleted"))
    op.execute("create index job_summary_parts on job_summary using gin ((facts -> 'parts'))")


def downgrade() -> None:
    """Without them."""
    op.drop_index("job_summary_parts", table_name="job_summary")
    op.drop_index("job_summary_kind", table_name="job_summary")
    op.drop_column("job_summary", "kind")
