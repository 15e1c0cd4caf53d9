"""Which checks a project has switched off."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("project", sa.Column("checks", JSONB(), server_default="{}", nullable=False))


def downgrade() -> None:
    op.drop_column("project", "checks")
