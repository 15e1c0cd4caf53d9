"""Callouts, and callouts to drawings that are there already."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    json = postgresql.JSONB(astext_type=sa.Text())
    op.add_column("drawing", sa.Column("callout", json, nullable=True))
    op.create_table(
        "callout_reference",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False, index=True
        ),
        sa.Column(
            "drawing_id", sa.Integer(), sa.ForeignKey("drawing.id", ondelete="CASCADE"), nullable=False, index=True
        ),
        sa.Column(
            "target_id", sa.Integer(), sa.ForeignKey("drawing.id", ondelete="CASCADE"), nullable=False, index=True
        ),
        sa.Column("region", json, nullable=False),
        sa.Column("marker", json, nullable=False, server_default=sa.text("'{}'")),
        sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
    )


def downgrade() -> None:
    op.drop_table("callout_reference")
    op.drop_column("drawing", "callout")
