"""Starter sets: what a project begins with, proposed with reasons and made in one act."""

from __future__ import annotations

from sqlmodel import Session

from edge_slice.app.bench_documents import ProposedOut, StarterChoice
from edge_slice.app.documents import DrawingOut
from edge_slice.app.drawings import WITHOUT, drawing_out, next_letter, project_drawings
from edge_slice.app.errors import Refused
from edge_slice.app.models import load_model, newest_revision
from edge_slice.app.naming import automatic_name, has_letter
from edge_slice.app.shared_extents import CUT
from edge_slice.core.cut import AnyCut, PlanCut, SectionCut
from edge_slice.core.cut.starter import Proposed, starter_set
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing

SHOWN_SET = "no-loose-things"  # what elevations and sections of a starter set follow


def proposals(project_id: int) -> list[ProposedOut]:
    with transaction() as session:
        facts = newest_revision(session, project_id).facts
        known = [CUT.validate_python(d.cut) for d in project_drawings(session, project_id)]
        return [
            ProposedOut(
                key=p.key,
                title=p.name or automatic_name(facts, "", p.cut),
                scale=p.scale,
                why=p.why,
                cut=p.cut,
                there=any(_alike(p.cut, cut) for cut in known),
            )
            for p in _proposed(session, project_id)
        ]


def make(project_id: int, choice: StarterChoice, author: str) -> list[DrawingOut]:
    """Make the chosen drawings in one act, which is undone as one. Raises `Refused` for a key that is not proposed."""
    with transaction() as session:
        by_key = {p.key: p for p in _proposed(session, project_id)}
        strange = [key for key in choice.keys if key not in by_key]
        if strange:
            raise Refused(f"{strange[0]!r} is not in this starter set; read it again.", "keys")
        hold(session, project_id)
        made = []
        with recorded(session, project_id, "starter set", author) as act:
            for proposed in (by_key[key] for key in dict.fromkeys(choice.keys)):
                letter = next_letter(session, project_id) if has_letter(proposed.cut) else ""
                row = Drawing(
                    project_id=project_id,
                    letter=letter,
                    name=f"{proposed.name} {letter}".strip() if proposed.name else "",
                    cut=proposed.cut.model_dump(mode="json"),
                    style=DrawingSpec(scale=proposed.scale).model_dump(mode="json"),
                )
                act.adds(row)
                made.append(row)
        return [drawing_out(session, row) for row in made]


def _proposed(session: Session, project_id: int) -> list[Proposed]:
    model = load_model(session, newest_revision(session, project_id))
    found = starter_set(model, default_standard().conventions.reach, WITHOUT)
    return [p if isinstance(p.cut, PlanCut) else _following(p) for p in found]


def _following(proposed: Proposed) -> Proposed:
    cut = proposed.cut.model_copy(update={"shown_set": SHOWN_SET})
    return Proposed(proposed.key, proposed.name, cut, proposed.scale, proposed.why)


def _alike(one: AnyCut, other: AnyCut) -> bool:
    """Whether two cuts are of the same kind in the same place."""
    if isinstance(one, PlanCut) and isinstance(other, PlanCut):
        return (one.storey, one.look) == (other.storey, other.look)
    if one.kind != other.kind or isinstance(one, PlanCut):
        return False
    if isinstance(one, SectionCut) and isinstance(other, SectionCut):
        return one.line == other.line
    return getattr(one, "line", None) == getattr(other, "line", ()) and getattr(one, "look", 0) == getattr(
        other, "look", 1
    )
