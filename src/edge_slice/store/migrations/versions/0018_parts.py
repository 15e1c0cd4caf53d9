"""Revisions that are put together from several files; what a project says of materials."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("project", sa.Column("materials", JSONB(), server_default="{}", nullable=False))
    op.create_table(
        "revision_part",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("revision_id", sa.Integer(), sa.ForeignKey("revision.id", ondelete="CASCADE"), nullable=False),
        sa.Column("place_in_order", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("discipline", sa.String(), nullable=False),
        sa.Column("file_name", sa.String(), nullable=False),
        sa.Column("file_hash", sa.String(), sa.ForeignKey("blob.hash"), nullable=False),
        sa.Column("geometry_hash", sa.String(), sa.ForeignKey("blob.hash"), nullable=False),
        sa.Column("place", JSONB(), nullable=False),
        sa.Column("read_as", JSONB(), nullable=False),
        sa.UniqueConstraint("revision_id", "key"),
        sa.UniqueConstraint("revision_id", "place_in_order"),
    )
    for column in ("revision_id", "file_hash", "geometry_hash"):
        op.create_index(op.f(f"ix_revision_part_{column}"), "revision_part", [column])
    for column in ("read_hash", "part_hash"):
        op.add_column("model_import", sa.Column(column, sa.String(), sa.ForeignKey("blob.hash"), nullable=True))
        op.create_index(op.f(f"ix_model_import_{column}"), "model_import", [column])
    op.add_column("model_import", sa.Column("part", JSONB(), server_default="{}", nullable=False))
    op.add_column(
        "model_import",
        sa.Column("beside_id", sa.Integer(), sa.ForeignKey("model_import.id", ondelete="SET NULL"), nullable=True),
    )
    op.add_column("model_import", sa.Column("parts", JSONB(), server_default="[]", nullable=False))


def downgrade() -> None:
    for column in ("parts", "beside_id", "part", "part_hash", "read_hash"):
        op.drop_column("model_import", column)
    op.drop_table("revision_part")
    op.drop_column("project", "materials")
