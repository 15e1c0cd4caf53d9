"""Projects may say what ground they have."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "ground",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("document", JSONB(), nullable=False),
        sa.Column("digest", sa.String(), nullable=False),
        sa.Column("version", sa.BigInteger(), server_default=sa.text("nextval('row_version')"), nullable=False),
        sa.UniqueConstraint("project_id"),
    )


def downgrade() -> None:
    op.drop_table("ground")
