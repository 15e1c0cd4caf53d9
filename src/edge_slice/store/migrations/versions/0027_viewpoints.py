"""Viewpoints of a project."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None


def upgrade() -> None:
    key = sa.ForeignKey("project.id", ondelete="CASCADE")
    op.create_table(
        "viewpoint",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("project_id", sa.Integer(), key, nullable=False, index=True),
        sa.Column("place", sa.Float(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("document", postgresql.JSONB(), nullable=False),
        sa.Column("version", sa.BigInteger(), server_default=sa.text("nextval('row_version')"), nullable=False),
    )
    op.execute(
        "CREATE TRIGGER marked AFTER INSERT OR UPDATE OR DELETE ON viewpoint"
        " FOR EACH ROW EXECUTE FUNCTION mark_project()"
    )


def downgrade() -> None:
    op.drop_table("viewpoint")
