"""Elevations have marks of series of their own: E1, E2 … outside, R1, R2 … in rooms."""

from collections import defaultdict
from itertools import count

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

SERIES = {"elevation": "E", "interior elevation": "R"}


def upgrade() -> None:
    bind = op.get_bind()
    rows = bind.execute(sa.text("SELECT id, project_id, letter, cut->>'kind', callout FROM drawing ORDER BY id")).all()
    used: dict[int, set[str]] = defaultdict(set)
    for _, project, letter, _, _ in rows:
        used[project].add(letter)
    for number, project, letter, kind, callout in rows:
        if letter or callout is not None or kind not in SERIES:
            continue
        mark = next(m for k in count(1) if (m := f"{SERIES[kind]}{k}") not in used[project])
        used[project].add(mark)
        bind.execute(
            sa.text("UPDATE drawing SET letter = :mark, version = nextval('row_version') WHERE id = :id"),
            {"mark": mark, "id": number},
        )


def downgrade() -> None:
    op.execute(
        "UPDATE drawing SET letter = '' WHERE callout IS NULL AND cut->>'kind' IN ('elevation', 'interior elevation')"
    )
