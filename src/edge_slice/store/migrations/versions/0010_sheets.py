"""Sheet designs, the register, placements on several sheets, issues."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def _owned(table: str) -> sa.Column[int]:
    key = sa.ForeignKey(f"{table}.id", ondelete="CASCADE")
    return sa.Column(f"{table}_id", sa.Integer(), key, nullable=False, index=True)


def _bytes(name: str) -> sa.Column[str]:
    return sa.Column(name, sa.String(), sa.ForeignKey("blob.hash"), nullable=False)


def upgrade() -> None:
    json, nothing = postgresql.JSONB(astext_type=sa.Text()), sa.text("'{}'")
    op.create_table(
        "sheet_design",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owned("project"),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("document", json, nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
    )
    op.add_column("project", sa.Column("sheet_register", json, nullable=False, server_default=nothing))
    op.add_column("project", sa.Column("templates", json, nullable=False, server_default=nothing))
    op.add_column("sheet", sa.Column("design", sa.String(), nullable=False, server_default="corner-block"))
    op.add_column("sheet", sa.Column("folder", sa.String(), nullable=False, server_default=""))
    op.add_column("sheet", sa.Column("place", sa.Float(), nullable=False, server_default="0"))
    op.drop_constraint("placement_drawing_id_key", "placement", type_="unique")
    op.create_index("ix_placement_drawing_id", "placement", ["drawing_id"])
    op.add_column("placement", sa.Column("home", sa.Boolean(), nullable=False, server_default=sa.true()))
    op.add_column("placement", sa.Column("trim", json, nullable=False, server_default=nothing))
    op.add_column("placement", sa.Column("title", json, nullable=False, server_default=nothing))
    op.add_column("placement", sa.Column("stack", sa.Integer(), nullable=False, server_default="0"))
    op.create_table(
        "issue",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owned("project"),
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("date", sa.String(), nullable=False),
        sa.Column("purpose", sa.String(), nullable=False),
        sa.Column("issued_by", sa.String(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        _bytes("pdf_hash"),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("project_id", "code"),
    )
    op.create_table(
        "issued_sheet",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owned("issue"),
        sa.Column("sheet_id", sa.Integer(), nullable=False, index=True),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("number", sa.String(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        _bytes("screen_hash"),
        _bytes("pdf_hash"),
        sa.Column("content", json, nullable=False),
    )
    op.create_table(
        "left_finding",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owned("project"),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("author", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
    )
    op.create_table(
        "publication",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owned("project"),
        sa.Column("wanted", json, nullable=False),
        sa.Column("author", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("of", sa.Integer(), nullable=False),
        sa.Column("message", sa.String(), nullable=False),
        sa.Column("file_name", sa.String(), nullable=False),
        sa.Column("file_hash", sa.String(), sa.ForeignKey("blob.hash"), nullable=True),
        sa.Column("issue_id", sa.Integer(), nullable=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("publication")
    op.drop_table("left_finding")
    op.drop_table("issued_sheet")
    op.drop_table("issue")
    for column in ("stack", "title", "trim", "home"):
        op.drop_column("placement", column)
    op.drop_index("ix_placement_drawing_id", "placement")
    op.execute("DELETE FROM placement a USING placement b WHERE a.drawing_id = b.drawing_id AND a.id > b.id")
    op.create_unique_constraint("placement_drawing_id_key", "placement", ["drawing_id"])
    for column in ("place", "folder", "design"):
        op.drop_column("sheet", column)
    op.drop_column("project", "templates")
    op.drop_column("project", "sheet_register")
    op.drop_table("sheet_design")
