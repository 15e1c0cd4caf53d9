"""Rules for new drawings, and which one a drawing follows."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "drawing_rule",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("document", JSONB(), nullable=False),
        sa.Column("version", sa.BigInteger(), server_default=sa.text("nextval('row_version')"), nullable=False),
    )
    op.create_index("ix_drawing_rule_project_id", "drawing_rule", ["project_id"])
    op.add_column("drawing", sa.Column("rule", sa.String(), server_default="", nullable=False))


def downgrade() -> None:
    op.drop_column("drawing", "rule")
    op.drop_table("drawing_rule")
