"""How a project writes lengths."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("project", sa.Column("lengths", sa.String(), nullable=False, server_default="mm"))


def downgrade() -> None:
    op.drop_column("project", "lengths")
