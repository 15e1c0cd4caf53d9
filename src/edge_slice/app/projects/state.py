"""A name for the state of a project: lists that many windows ask for after one change are then made once."""

from __future__ import annotations

from sqlalchemy import TextClause, text
from sqlmodel import Session

from edge_slice.store.tables import EDITED

# annotations are asked for apart, a project is one row, and what was left of findings is in no list
_TABLES = tuple(table for table in EDITED if table not in ("project", "annotation", "left_finding"))


def _said(tables: tuple[str, ...]) -> TextClause:
    """Every row with its version, which only ever grows."""
    rows = " UNION ALL ".join(
        f"SELECT '{t}', md5(string_agg(id || ' ' || version, ',' ORDER BY id)) FROM {t} WHERE project_id = :project"
        for t in tables
    )
    return text(
        f"{rows} UNION ALL SELECT 'annotated', md5(string_agg(d::text, ',' ORDER BY d)) FROM"
        " (SELECT DISTINCT drawing_id AS d FROM annotation WHERE project_id = :project) AS annotated"
        " UNION ALL SELECT 'revision', max(id)::text FROM revision WHERE project_id = :project"
        " UNION ALL SELECT 'issue', max(id)::text FROM issue WHERE project_id = :project"
        " UNION ALL SELECT 'project', version::text FROM project WHERE id = :project"
    )


_STATE, _STATE_OF_ALL = _said(_TABLES), _said((*_TABLES, "annotation"))


def state_of(session: Session, project_id: int, annotations: bool = False) -> str:
    """Another text after every change of anything in a project; of annotations only where they are asked for."""
    said = _STATE_OF_ALL if annotations else _STATE
    rows = session.connection().execute(said, {"project": project_id}).all()
    return repr((project_id, sorted((str(table), str(state)) for table, state in rows)))
