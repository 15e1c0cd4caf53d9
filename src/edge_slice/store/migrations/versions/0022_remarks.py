"""Remarks."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "remark",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False, index=True
        ),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column(
            "account_id", sa.Integer(), sa.ForeignKey("account.id", ondelete="SET NULL"), nullable=True, index=True
        ),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("author", "text", "to", "due", "state")),
        sa.Column("place", JSONB(), nullable=False),
        sa.Column("answers", JSONB(), nullable=False),
        sa.Column("version", sa.BigInteger(), server_default=sa.text("nextval('row_version')"), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("state IN ('open', 'answered', 'done')", name="remark_state_known"),
    )


def downgrade() -> None:
    op.drop_table("remark")
