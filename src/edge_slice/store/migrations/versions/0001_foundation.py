"""Foundation: projects, models, drawings, sheets, change log, and the work queue's own schema."""

from pathlib import Path

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None

# the queue's schema as it was then, whatever newer releases of its library bring: those changes are migrations too
QUEUE = Path(__file__).parents[1] / "queue" / "schema-03.04.sql"


def upgrade() -> None:
    op.create_table(
        "blob",
        sa.Column("hash", sa.String(), nullable=False),
        sa.Column("size", sa.BigInteger(), nullable=False),
        sa.PrimaryKeyConstraint("hash"),
    )
    op.create_table(
        "project",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("client", sa.String(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "view_cache",
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("key"),
    )
    op.create_table(
        "blob_chunk",
        sa.Column("hash", sa.String(), nullable=False),
        sa.Column("part", sa.Integer(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["hash"], ["blob.hash"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("hash", "part"),
    )
    op.create_table(
        "change",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("act", sa.String(), nullable=False),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("author", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("table_name", sa.String(), nullable=False),
        sa.Column("row_id", sa.Integer(), nullable=False),
        sa.Column("before", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=True),
        sa.Column("after", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=True),
        sa.Column("state", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_change_act"), "change", ["act"], unique=False)
    op.create_index(op.f("ix_change_project_id"), "change", ["project_id"], unique=False)
    op.create_table(
        "drawing",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("parent_id", sa.Integer(), nullable=True),
        sa.Column("letter", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("cut", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("style", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["parent_id"],
            ["drawing.id"],
        ),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_drawing_project_id"), "drawing", ["project_id"], unique=False)
    op.create_table(
        "model_import",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("file_name", sa.String(), nullable=False),
        sa.Column("file_hash", sa.String(), nullable=True),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("message", sa.String(), nullable=False),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["file_hash"],
            ["blob.hash"],
        ),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="SET NULL"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("file_name", sa.String(), nullable=False),
        sa.Column("file_hash", sa.String(), nullable=False),
        sa.Column("geometry_hash", sa.String(), nullable=False),
        sa.Column("facts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["file_hash"],
            ["blob.hash"],
        ),
        sa.ForeignKeyConstraint(
            ["geometry_hash"],
            ["blob.hash"],
        ),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_revision_project_id"), "revision", ["project_id"], unique=False)
    op.create_table(
        "sheet",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.String(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("size", sa.String(), nullable=False),
        sa.Column("fields", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("project_id", "number", deferrable=True, initially="DEFERRED"),
    )
    op.create_index(op.f("ix_sheet_project_id"), "sheet", ["project_id"], unique=False)
    op.create_table(
        "placement",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.String(), nullable=False),
        sa.Column("x", sa.Float(), nullable=False),
        sa.Column("y", sa.Float(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["drawing_id"], ["drawing.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["sheet_id"], ["sheet.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("drawing_id"),
        sa.UniqueConstraint("sheet_id", "number", deferrable=True, initially="DEFERRED"),
    )
    op.create_index(op.f("ix_placement_project_id"), "placement", ["project_id"], unique=False)
    op.create_index(op.f("ix_placement_sheet_id"), "placement", ["sheet_id"], unique=False)
    # many statements with per cents in them: straight to the driver, which then parses nothing
    cursor = op.get_bind().connection.cursor()
    cursor.execute(QUEUE.read_text())
    cursor.close()


def downgrade() -> None:
    op.drop_index(op.f("ix_placement_sheet_id"), table_name="placement")
    op.drop_index(op.f("ix_placement_project_id"), table_name="placement")
    op.drop_table("placement")
    op.drop_index(op.f("ix_sheet_project_id"), table_name="sheet")
    op.drop_table("sheet")
    op.drop_index(op.f("ix_revision_project_id"), table_name="revision")
    op.drop_table("revision")
    op.drop_table("model_import")
    op.drop_index(op.f("ix_drawing_project_id"), table_name="drawing")
    op.drop_table("drawing")
    op.drop_index(op.f("ix_change_project_id"), table_name="change")
    op.drop_index(op.f("ix_change_act"), table_name="change")
    op.drop_table("change")
    op.drop_table("blob_chunk")
    op.drop_table("view_cache")
    op.drop_table("project")
    op.drop_table("blob")
