"""Signing in by the office's own service; notices."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def _of(table: str, nullable: bool = False) -> sa.Column[Any]:
    key = sa.ForeignKey(f"{table}.id", ondelete="CASCADE")
    return sa.Column(f"{table}_id", sa.Integer(), key, nullable=nullable, index=True)


def _moment(name: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.DateTime(timezone=True), nullable=nullable)


def upgrade() -> None:
    op.add_column("account", sa.Column("office_name", sa.String(), nullable=True, unique=True))
    op.add_column("account", sa.Column("mails", sa.Boolean(), server_default=sa.true(), nullable=False))
    op.add_column(
        "remark", sa.Column("topic", sa.String(), server_default=sa.text("(gen_random_uuid())::text"), nullable=False)
    )
    op.create_table(
        "office_way",
        sa.Column("token_hash", sa.LargeBinary(), primary_key=True),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("state", "nonce", "verifier", "to")),
        _moment("ends_at"),
    )
    op.create_table(
        "notice",
        sa.Column("id", sa.Integer(), primary_key=True),
        _of("account"),
        _of("project"),
        _of("remark", nullable=True),
        _of("issue", nullable=True),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("what", "by", "text")),
        _moment("at"),
        _moment("seen_at", nullable=True),
        _moment("mailed_at", nullable=True),
    )


def downgrade() -> None:
    op.drop_table("notice")
    op.drop_table("office_way")
    op.drop_column("remark", "topic")
    op.drop_column("account", "mails")
    op.drop_column("account", "office_name")
