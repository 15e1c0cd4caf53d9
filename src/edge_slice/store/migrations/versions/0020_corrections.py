"""Corrections of a project to its model."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("project", sa.Column("corrections", JSONB(), server_default="[]", nullable=False))


def downgrade() -> None:
    op.drop_column("project", "corrections")
