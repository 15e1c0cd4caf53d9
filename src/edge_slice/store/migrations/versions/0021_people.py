"""Accounts, where they are signed in, roles in projects, invitations, links, and the audit list."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None

NEVER = """
CREATE FUNCTION audit_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN RAISE EXCEPTION 'the audit list is only added to'; END $$;
CREATE TRIGGER audit_stays BEFORE UPDATE OR DELETE OR TRUNCATE ON audit_entry
FOR EACH STATEMENT EXECUTE FUNCTION audit_stays();
"""


def _moment(name: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.DateTime(timezone=True), nullable=nullable)


def _of(table: str, name: str = "", nullable: bool = False, **options: Any) -> sa.Column[Any]:
    key = sa.ForeignKey(f"{table}.id", ondelete="SET NULL" if name else "CASCADE")
    return sa.Column(name or f"{table}_id", sa.Integer(), key, nullable=nullable, **options)


def upgrade() -> None:
    op.create_table(
        "account",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("mail", sa.String(), nullable=False, unique=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("password", sa.String(), nullable=False),
        sa.Column("second_secret", sa.String(), nullable=False),
        sa.Column("second_step", sa.Integer(), nullable=False),
        sa.Column("recovery", JSONB(), nullable=False),
        *(sa.Column(name, sa.Boolean(), nullable=False) for name in ("runs", "may_make", "may_keep")),
        _moment("closed_at", nullable=True),
        _moment("created_at"),
    )
    op.create_table(
        "member",
        _of("project", primary_key=True),
        _of("account", primary_key=True, index=True),
        sa.Column("role", sa.String(), nullable=False),
        _moment("since"),
        sa.CheckConstraint("role IN ('owner', 'editor', 'reviewer')", name="member_role_known"),
    )
    op.create_table(
        "invitation",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("token_hash", sa.LargeBinary(), nullable=False, unique=True),
        sa.Column("mail", sa.String(), nullable=False),
        _of("project", nullable=True, index=True),
        sa.Column("role", sa.String(), nullable=False),
        _of("account", nullable=True, index=True),
        _of("account", "by_id", nullable=True),
        _moment("created_at"),
        _moment("ends_at"),
        _moment("used_at", nullable=True),
        sa.CheckConstraint("role = '' OR project_id IS NOT NULL", name="invitation_role_of_project"),
    )
    op.create_table(
        "shared_link",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("token_hash", sa.LargeBinary(), nullable=False),
        _of("project", index=True),
        _of("issue", nullable=True, index=True),
        sa.Column("sheets", JSONB(), nullable=False),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("name", "word", "by_name")),
        _moment("created_at"),
        _moment("ends_at"),
        _moment("withdrawn_at", nullable=True),
        sa.UniqueConstraint("token_hash"),
    )
    op.create_table(
        "signed_in",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("token_hash", sa.LargeBinary(), nullable=False, unique=True),
        _of("account", nullable=True, index=True),
        sa.Column("link_id", sa.Integer(), sa.ForeignKey("shared_link.id", ondelete="CASCADE"), index=True),
        sa.Column("program", sa.Boolean(), nullable=False),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("device", "address")),
        _moment("created_at"),
        _moment("seen_at"),
        _moment("ends_at"),
        sa.CheckConstraint("(account_id IS NULL) <> (link_id IS NULL)", name="signed_in_of_one"),
    )
    op.create_table(
        "audit_entry",
        sa.Column("id", sa.Integer(), primary_key=True),
        _moment("at"),
        sa.Column("account_id", sa.Integer(), nullable=True, index=True),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("act", sa.String(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=True, index=True),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("of", "address")),
    )
    op.create_table(
        "project_picture",
        _of("project", primary_key=True),
        sa.Column("hash", sa.String(), sa.ForeignKey("blob.hash", ondelete="CASCADE"), primary_key=True),
    )
    op.create_table(
        "tries",
        sa.Column("key", sa.String(), primary_key=True),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.Column("ends_at", sa.Double(), nullable=False),
    )
    op.add_column(
        "model_import",
        sa.Column("sender_id", sa.Integer(), sa.ForeignKey("account.id", ondelete="SET NULL"), nullable=True),
    )
    op.execute(NEVER)


def downgrade() -> None:
    op.drop_column("model_import", "sender_id")
    op.execute("DROP TRIGGER audit_stays ON audit_entry; DROP FUNCTION audit_stays()")
    mine = "tries project_picture audit_entry signed_in shared_link invitation member account"
    for table in mine.split():
        op.drop_table(table)
