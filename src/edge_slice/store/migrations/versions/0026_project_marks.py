"""Projects have a mark that is another one after each change."""

import sqlalchemy as sa
from alembic import op

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None

OF_A_PROJECT = (
    "revision", "drawing", "drawing_rule", "project_table", "callout_reference", "annotation", "touch_up", "standard",
    "shown_set", "shared_extents", "sheet_design", "sheet", "placement", "ground", "left_finding",
)  # fmt: skip

# once in a transaction, however many rows it writes; where a project goes, its mark goes before its other rows do
MARK = """
CREATE FUNCTION mark_project() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  written integer;
BEGIN
  IF TG_TABLE_NAME = 'project' THEN
    written := NEW.id;
  ELSIF TG_OP = 'DELETE' THEN
    written := OLD.project_id;
  ELSE
    written := NEW.project_id;
  END IF;
  UPDATE project_mark SET act = txid_current(), mark = gen_random_uuid()
    WHERE project_id = written AND act <> txid_current();
  RETURN NULL;
END $$
"""
BEGIN_MARK = """
CREATE FUNCTION begin_project_mark() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO project_mark (project_id, act, mark) VALUES (NEW.id, txid_current(), gen_random_uuid());
  RETURN NULL;
END $$
"""


def upgrade() -> None:
    op.create_table(
        "project_mark",
        sa.Column(
            "project_id", sa.Integer(), sa.ForeignKey("project.id", ondelete="CASCADE"), primary_key=True,
            autoincrement=False,
        ),
        sa.Column("act", sa.BigInteger(), nullable=False),
        sa.Column("mark", sa.Uuid(), nullable=False),
    )  # fmt: skip
    op.execute(
        "INSERT INTO project_mark (project_id, act, mark) SELECT id, txid_current(), gen_random_uuid() FROM project"
    )
    op.execute(MARK)
    op.execute(BEGIN_MARK)
    op.execute("CREATE TRIGGER marked AFTER UPDATE ON project FOR EACH ROW EXECUTE FUNCTION mark_project()")
    op.execute("CREATE TRIGGER mark_begun AFTER INSERT ON project FOR EACH ROW EXECUTE FUNCTION begin_project_mark()")
    for table in OF_A_PROJECT:
        op.execute(
            f"CREATE TRIGGER marked AFTER INSERT OR UPDATE OR DELETE ON {table}"
            " FOR EACH ROW EXECUTE FUNCTION mark_project()"
        )


def downgrade() -> None:
    for table in ("project", *OF_A_PROJECT):
        op.execute(f"DROP TRIGGER marked ON {table}")
    op.execute("DROP TRIGGER mark_begun ON project")
    op.execute("DROP FUNCTION mark_project")
    op.execute("DROP FUNCTION begin_project_mark")
    op.drop_table("project_mark")
