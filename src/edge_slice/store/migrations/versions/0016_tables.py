"""Tables of the building, of a project."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "project_table",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("document", JSONB(), nullable=False),
        sa.Column("version", sa.BigInteger(), server_default=sa.text("nextval('row_version')"), nullable=False),
    )
    op.create_index("ix_project_table_project_id", "project_table", ["project_id"])


def downgrade() -> None:
    op.drop_table("project_table")
