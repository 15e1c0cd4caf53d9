"""What a project says of materials in single places."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("project", sa.Column("materials_here", JSONB(), server_default="[]", nullable=False))


def downgrade() -> None:
    op.drop_column("project", "materials_here")
