"""Remarks with a sketch and a picture."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("remark", sa.Column("sketch", JSONB(), server_default=sa.text("'[]'::jsonb"), nullable=False))
    op.add_column("remark", sa.Column("picture", sa.String(), server_default="", nullable=False))


def downgrade() -> None:
    op.drop_column("remark", "picture")
    op.drop_column("remark", "sketch")
