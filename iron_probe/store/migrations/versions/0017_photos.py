"""Photos at readings and of machines; the yard's mark."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"


def upgrade() -> None:
    """A photo may hang on a line of its job's log, or on a machine and no job."""
    op.alter_column("photo", "job_id", nullable=True)
    op.add_column("photo", sa.Column("machine_id", sa.Uuid(), sa.ForeignKey("machine.id", name="photo_machine_id_fkey"), nullable=True))
    op.add_column("photo", sa.Column("line", sa.Uuid(), nullable=True))
    op.create_index("ix_photo_machine_id", "photo", ["machine_id"])
    op.add_column("yard", sa.Column("mark", sa.LargeBinary(), nullable=True))


def downgrade() -> None:
    """Without them: photos of no job are lost."""
    op.drop_column("yard", "mark")
    op.execute("delete from photo where job_id is null")
    for column in ("line", "machine_id"):
        op.drop_column("photo", column)
    op.alter_column("photo", "job_id", nullable=False)
