"""Letters of sections and marks of callouts: never the same one for two places of a project."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.app.errors import Refused
from edge_slice.core.cut import AnyCut
from edge_slice.core.cut.following.callouts import Form
from edge_slice.core.project import naming
from edge_slice.core.project.followed import CUT
from edge_slice.store.tables import Change, Drawing


def check_letter(session: Session, row: Drawing, letter: str) -> None:
    """Raises `Refused` for a letter that a drawing can't have. Drawings of one cut may have one."""
    if not row.letter:
        raise Refused("Only sections, elevations and callouts have letters.", "letter")
    others = select(Drawing).where(col(Drawing.project_id) == row.project_id, col(Drawing.letter) == letter)
    if any(not _of_one_cut(row, other) for other in session.exec(others)):
        raise Refused(f"Another drawing of this project has the letter {letter}; choose one that is free.", "letter")


def _of_one_cut(row: Drawing, other: Drawing) -> bool:
    cuts = [CUT.validate_python(one.cut) for one in (row, other)]
    return row.callout is None and other.callout is None and naming.place_of(cuts[0]) == naming.place_of(cuts[1])


def letter_for(session: Session, project_id: int, cut: AnyCut, series: str = "") -> str:
    """The next free letter of a drawing that is no callout (in a `series`, where one is named), if it has one; not one
    that a deleted drawing had, of which somebody may still speak."""
    return naming.letter_for(cut, _used(session, project_id), series)


def is_free(session: Session, project_id: int, letter: str) -> bool:
    """Whether no drawing of a project has a letter, nor had one that was deleted."""
    return letter not in _used(session, project_id)


def next_mark(session: Session, project_id: int, form: Form, series: str = "") -> str:
    """The next free mark of a callout, in its own series or another one."""
    return naming.next_mark(_used(session, project_id), form, series)


def _used(session: Session, project_id: int) -> set[str]:
    used = set(session.exec(select(Drawing.letter).where(col(Drawing.project_id) == project_id)).all())
    deleted = select(Change.before["letter"].astext).where(  # type: ignore[index]
        col(Change.project_id) == project_id,
        col(Change.table_name) == "drawing",
        col(Change.state) == "done",
        col(Change.after).is_(None),
    )
    return used | set(session.exec(deleted).all())
