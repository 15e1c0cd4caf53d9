"""Versions that never come twice, states and references that are checked, indexes for what is looked up, what is kept
with its size and last use, and the form of kept documents."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

VERSIONED = (
    "project", "drawing", "callout_reference", "annotation", "touch_up", "standard", "shown_set", "shared_extents",
    "sheet_design", "sheet", "placement", "left_finding",
)  # fmt: skip
STATES = {
    "model_import": ("waiting", "reading", "proposed", "ready", "failed", "cancelled"),
    "publication": ("waiting", "working", "ready", "failed", "cancelled"),
    "change": ("done", "undone", "dropped"),
}
NAMED_BYTES = (
    ("revision", "file_hash"), ("revision", "geometry_hash"), ("model_import", "file_hash"),
    ("model_import", "geometry_hash"), ("issue", "pdf_hash"), ("issued_sheet", "screen_hash"),
    ("issued_sheet", "pdf_hash"), ("publication", "file_hash"),
)  # fmt: skip
# what was given while these columns were added to rows that were there already
DEFAULTS = (
    ("project", "lengths"), ("project", "names"), ("project", "sheet_register"), ("project", "templates"),
    ("revision", "changes"), ("model_import", "unit"), ("model_import", "up"), ("model_import", "facts"),
    ("model_import", "changes"), ("callout_reference", "marker"), ("sheet", "design"), ("sheet", "folder"),
    ("sheet", "place"), ("placement", "home"), ("placement", "trim"), ("placement", "title"), ("placement", "stack"),
)  # fmt: skip


def upgrade() -> None:
    _versions()
    for table, names in STATES.items():
        said = ", ".join(repr(n) for n in names)
        op.create_check_constraint(f"{table}_state_known", table, f"state IN ({said})")
    op.create_unique_constraint("revision_project_id_number_key", "revision", ["project_id", "number"])
    # of several homes that a drawing may have got, the first one stays
    op.execute(
        "UPDATE placement SET home = false FROM placement AS first WHERE first.drawing_id = placement.drawing_id"
        " AND first.home AND placement.home AND first.id < placement.id"
    )
    op.execute("SET CONSTRAINTS ALL IMMEDIATE")  # else the table can't be altered while they wait
    op.execute(
        "ALTER TABLE placement ADD CONSTRAINT placement_one_home EXCLUDE USING btree (drawing_id WITH =) WHERE (home)"
        " DEFERRABLE INITIALLY DEFERRED"
    )
    op.execute("UPDATE publication SET issue_id = NULL WHERE issue_id NOT IN (SELECT id FROM issue)")
    op.create_foreign_key(
        "publication_issue_id_fkey", "publication", "issue", ["issue_id"], ["id"], ondelete="SET NULL"
    )
    op.add_column("publication", sa.Column("attempts", sa.Integer(), nullable=False, server_default="0"))
    op.alter_column("publication", "attempts", server_default=None)
    for table, column in (*NAMED_BYTES, ("drawing", "parent_id")):
        op.create_index(f"ix_{table}_{column}", table, [column])
    op.create_index("ix_change_undone", "change", ["project_id", "id"], postgresql_where=sa.text("state = 'undone'"))
    for table in ("change", "starter_set"):
        op.add_column(table, sa.Column("form", sa.Integer(), nullable=False, server_default="1"))
        op.alter_column(table, "form", server_default=None)
    now = sa.text("now()")
    op.add_column("blob", sa.Column("stored_at", sa.DateTime(timezone=True), nullable=False, server_default=now))
    op.alter_column("blob", "stored_at", server_default=None)
    for table, column in DEFAULTS:
        op.alter_column(table, column, server_default=None)
    op.drop_table("view_cache")
    op.create_table(
        "kept_view",
        sa.Column("key", sa.String(), primary_key=True),
        sa.Column("project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("size", sa.BigInteger(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("used_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_kept_view_used", "kept_view", ["project_id", "used_at"])


def _versions() -> None:
    """All versions come from one sequence, which begins far above all that were ever given: of rows that were deleted
    and brought back by undo, nobody wrote down how high theirs were."""
    op.execute("CREATE SEQUENCE row_version AS bigint")
    highest = " UNION ALL ".join(f"SELECT max(version) AS n FROM {table}" for table in VERSIONED)
    most = f"SELECT coalesce(max(n), 0) FROM ({highest}) AS given"
    op.execute(f"SELECT setval('row_version', 1000000 + ({most}))")
    for table in VERSIONED:
        op.alter_column(
            table, "version", type_=sa.BigInteger(), server_default=sa.text("nextval('row_version'::regclass)")
        )


def downgrade() -> None:
    op.drop_table("kept_view")
    op.create_table(
        "view_cache",
        sa.Column("key", sa.String(), primary_key=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )
    for table in ("change", "starter_set"):
        op.drop_column(table, "form")
    op.drop_column("blob", "stored_at")
    op.drop_index("ix_change_undone", "change")
    for table, column in (*NAMED_BYTES, ("drawing", "parent_id")):
        op.drop_index(f"ix_{table}_{column}", table)
    op.drop_column("publication", "attempts")
    op.drop_constraint("publication_issue_id_fkey", "publication")
    op.drop_constraint("placement_one_home", "placement")
    op.drop_constraint("revision_project_id_number_key", "revision")
    for table in STATES:
        op.drop_constraint(f"{table}_state_known", table)
    for table in VERSIONED:
        op.alter_column(table, "version", type_=sa.Integer(), server_default=None)
    op.execute("DROP SEQUENCE row_version")
