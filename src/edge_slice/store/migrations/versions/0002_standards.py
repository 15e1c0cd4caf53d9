"""Drawing standards that an office makes for a project."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "standard",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_standard_project_id"), "standard", ["project_id"], unique=False)
    op.add_column("model_import", sa.Column("unit", sa.String(), nullable=False, server_default=""))
    op.add_column("model_import", sa.Column("up", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("model_import", "up")
    op.drop_column("model_import", "unit")
    op.drop_table("standard")
