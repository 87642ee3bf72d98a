"""People with roles, where they are signed in, links to join by, and what was done to accounts."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"

WORDS = sa.String()
MOMENT = sa.DateTime(timezone=True)


def upgrade() -> None:
    """The four tables of accounts."""
    op.create_table(
        "person",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("number", sa.BigInteger(), sa.Identity(start=1), nullable=False, unique=True),
        sa.Column("name", WORDS, nullable=False, unique=True),
        sa.Column("role", sa.String(20), nullable=False),
        sa.Column("password", WORDS, nullable=False),
        sa.Column("sample", sa.Boolean(), nullable=False),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("ended_at", MOMENT, nullable=True),
    )
    op.create_table(
        "sign_in",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("token_hash", WORDS, nullable=False, unique=True),
        sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("browser", WORDS, nullable=False),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("used_at", MOMENT, nullable=False),
        sa.Column("ended_at", MOMENT, nullable=True),
    )
    op.create_index("ix_sign_in_person_id", "sign_in", ["person_id"])
    op.create_table(
        "join_link",
        sa.Column("key_hash", WORDS, primary_key=True),
        sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("until", MOMENT, nullable=False),
        sa.Column("used_at", MOMENT, nullable=True),
    )
    op.create_table(
        "account_event",
        sa.Column("seq", sa.BigInteger(), sa.Identity(), primary_key=True),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("what", WORDS, nullable=False),
        sa.Column("name", WORDS, nullable=False),
        sa.Column("address", WORDS, nullable=False),
        sa.Column("by", WORDS, nullable=False, server_default=""),
    )
    op.create_index("account_event_name", "account_event", ["what", "name", "at"])
    op.create_index("account_event_address", "account_event", ["what", "address", "at"])


def downgrade() -> None:
    """Without accounts; what they logged keeps their names."""
    for table in ("account_event", "join_link", "sign_in", "person"):
        op.drop_table(table)
