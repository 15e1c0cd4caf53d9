"""The bytes that issues and publications of a project keep."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.store.tables import Issue, IssuedSheet, Publication


def issued_hashes(session: Session, project_id: int) -> list[str]:
    """The names of all of them."""
    issues = session.exec(select(Issue).where(col(Issue.project_id) == project_id)).all()
    sheets = session.exec(select(IssuedSheet).where(col(IssuedSheet.issue_id).in_([i.id for i in issues]))).all()
    files = session.exec(select(Publication.file_hash).where(col(Publication.project_id) == project_id)).all()
    found = [i.pdf_hash for i in issues] + [h for s in sheets for h in (s.screen_hash, s.pdf_hash)]
    return found + [f for f in files if f is not None]
