"""Annotations, touch-ups, and revisions of the model."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    json = postgresql.JSONB(astext_type=sa.Text())
    nothing = sa.text("'{}'")
    for table in ("annotation", "touch_up"):
        op.create_table(
            table,
            sa.Column("id", sa.Integer(), primary_key=True),
            sa.Column(
                "project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False, index=True
            ),
            sa.Column(
                "drawing_id", sa.Integer(), sa.ForeignKey("drawing.id", ondelete="CASCADE"), nullable=False, index=True
            ),
            sa.Column("document", json, nullable=False),
            sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
        )
    op.add_column("revision", sa.Column("changes", json, nullable=False, server_default=nothing))
    op.add_column(
        "model_import",
        sa.Column("into_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=True),
    )
    op.add_column("model_import", sa.Column("geometry_hash", sa.String(), sa.ForeignKey("blob.hash"), nullable=True))
    op.add_column("model_import", sa.Column("facts", json, nullable=False, server_default=nothing))
    op.add_column("model_import", sa.Column("changes", json, nullable=False, server_default=nothing))


def downgrade() -> None:
    for column in ("changes", "facts", "geometry_hash", "into_id"):
        op.drop_column("model_import", column)
    op.drop_column("revision", "changes")
    op.drop_table("touch_up")
    op.drop_table("annotation")
