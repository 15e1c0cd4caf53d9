"""What a drawing in hand depends on beside its own cut: read once, and kept for as long as nothing of its project
changes. A hand asks twenty times a second, and nearly always nobody edits meanwhile."""

from __future__ import annotations

import weakref
from collections.abc import Callable, Hashable, Iterator, Sequence
from contextlib import contextmanager
from typing import Any, TypeVar

from sqlmodel import Session

from edge_slice.app.models.in_memory import load_model
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.views.keys import ViewKeys
from edge_slice.core.cut.shown import ShownRule
from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.model import Model
from edge_slice.core.project.source import TouchUps
from edge_slice.core.recent import Recent
from edge_slice.store.marks import mark_of
from edge_slice.store.tables import Annotation, Drawing

T = TypeVar("T")
AT_ONCE = 4  # transactions of one project that find all read
OF_A_PROJECT = 4 << 20  # bytes: about what the rows of some hundred drawings take, for so many transactions
_kept: Recent[list[KeysInHand]] = Recent("rows that drawings in hand depend on", 8, lambda _: OF_A_PROJECT)


class SourceInHand(ProjectSource):
    """For one transaction after the other, of one state of the project: what was read is not read again. The model is
    not held: it is kept elsewhere, for as long as there is room."""

    def __init__(self, session: Session, project_id: int) -> None:
        super().__init__(session, project_id)
        self._read: dict[Hashable, Any] = {}
        self._model: weakref.ref[Model] | None = None

    def in_session(self, session: Session) -> None:
        """Read what was not read yet in this session."""
        for source in (self, *(held for held, _ in self._held.values())):
            source._session = session
            source.__dict__.pop("model", None)  # of those that hold theirs

    @property
    def model(self) -> Model:
        found = None if self._model is None else self._model()
        if found is None:
            found = load_model(self._session, self.revision)
            self._model = weakref.ref(found)
        return found

    def standard(self, key: str) -> DrawingStandard:
        return self._once(("standard", key), lambda: super(SourceInHand, self).standard(key))

    def rule(self, key: str) -> ShownRule | None:
        return self._once(("rule", key), lambda: super(SourceInHand, self).rule(key))

    def drawing(self, number: int | None) -> Drawing | None:
        return self._once(("drawing", number), lambda: super(SourceInHand, self).drawing(number))

    def touch_ups(self, drawing: int | None) -> TouchUps:
        return self._once(("touch-ups", drawing), lambda: super(SourceInHand, self).touch_ups(drawing))

    def annotations(self, drawing: int) -> Sequence[Annotation]:
        return self._once(("annotations", drawing), lambda: super(SourceInHand, self).annotations(drawing))

    def _once(self, what: Hashable, read: Callable[[], T]) -> T:
        if what not in self._read:
            self._read[what] = read()
        found: T = self._read[what]
        return found


class KeysInHand(ViewKeys):
    """For one transaction after the other, of one state of the project."""

    def __init__(self, session: Session, project_id: int) -> None:
        self._rows = SourceInHand(session, project_id)
        super().__init__(session, project_id, source=self._rows)

    def in_session(self, session: Session) -> None:
        """Read what was not read yet in this session."""
        self._session = session
        self._rows.in_session(session)


@contextmanager
def keys_in_hand(session: Session, project_id: int) -> Iterator[ViewKeys]:
    """What the views of a project depend on, for this transaction alone, which must see one state of the database."""
    mark = mark_of(session, project_id)
    free = _kept.get(f"{project_id} {mark}", list)
    try:
        keys = free.pop()
    except IndexError:  # no other has been there, or all are in use
        keys = KeysInHand(session, project_id)
    keys.in_session(session)
    yield keys
    session.expunge_all()  # what was read belongs to no transaction when the next one takes it up
    if mark is not None and len(free) < AT_ONCE:
        free.append(keys)
