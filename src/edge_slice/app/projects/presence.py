"""Who is in a project at the moment. Windows tell one another; nothing is kept."""

from __future__ import annotations

import json

from edge_slice.app.projects.documents import PresenceIn
from edge_slice.app.row_lookup import project_row
from edge_slice.store.changes import tell
from edge_slice.store.database import transaction


def announce(project_id: int, said: PresenceIn) -> None:
    """Tell every window of a project who is where."""
    with transaction() as session:
        project_row(session, project_id)
        tell(session, json.dumps({"project": project_id, "what": "presence", "who": said.model_dump()}))
