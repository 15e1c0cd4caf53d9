"""Imports as they go out."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from edge_slice.app.models.part_documents import PartProposal
from edge_slice.app.models.revision_documents import ModelChangesOut


class ImportOut(BaseModel):
    """`into_id`: the project that it is a newer revision for; read, it is proposed there with what changed, as which
    `part` of its model. `beside_id`: the import whose project it goes into once that is there."""

    id: int
    file_name: str
    state: Literal["waiting", "reading", "proposed", "ready", "failed", "cancelled"]
    progress: float
    message: str
    project_id: int | None
    into_id: int | None = None
    beside_id: int | None = None
    changes: ModelChangesOut | None = None
    part: PartProposal | None = None
    can_retry: bool = False
