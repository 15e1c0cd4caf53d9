"""A name for the state of a project: lists that many windows ask for after one change are then made once."""

from __future__ import annotations

from sqlalchemy import text
from sqlmodel import Session

_TABLES = ("drawing", "sheet", "placement", "standard", "shown_set", "shared_extents", "callout_reference")
# every row with its version, which only ever grows
_ROWS = " UNION ALL ".join(
    f"SELECT '{t}', md5(string_agg(id || ' ' || version, ',' ORDER BY id)) FROM {t} WHERE project_id = :project"
    for t in _TABLES
)
_STATE = text(
    f"{_ROWS} UNION ALL SELECT 'revision', max(id)::text FROM revision WHERE project_id = :project"
    " UNION ALL SELECT 'project', version::text FROM project WHERE id = :project"
)


def state_of(session: Session, project_id: int) -> str:
    """Another text after every change of anything in a project."""
    rows = session.connection().execute(_STATE, {"project": project_id}).all()
    return repr((project_id, sorted((str(table), str(state)) for table, state in rows)))
