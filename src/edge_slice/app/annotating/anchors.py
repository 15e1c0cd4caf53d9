"""What is not where it was: near and lost annotations, touch-ups and callouts of a project, and settling them."""

from __future__ import annotations

from typing import Any

from sqlmodel import Session

from edge_slice.app.annotating.boards import board_of, checked, document_of
from edge_slice.app.annotating.documents import AnchorOut, Settling
from edge_slice.app.annotating.touch_ups import said_of
from edge_slice.app.drawings.drawing_rows import annotations_of, project_drawings
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.project_source import ProjectSource, followed_in
from edge_slice.app.row_lookup import project_row
from edge_slice.app.views.keys import ViewKeys
from edge_slice.core.annotating.documents import AnyAnnotation, LabelNote, words_of
from edge_slice.core.cut import ImpossibleCut, PlanCut
from edge_slice.core.cut.anchors.anchor import Anchor, Held, State, held, moved_alike
from edge_slice.core.cut.anchors.anchoring import point_anchor, settled
from edge_slice.core.cut.following.callouts import Callout, anchored
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.display import Label
from edge_slice.core.drawing.touching.touch_ups import Touched, TouchUp
from edge_slice.core.project.boards import Stood, shape_of
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.shown import key_of
from edge_slice.core.recent import Recent
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Annotation, Drawing, TouchUpRow

_known: Recent[list[AnchorOut]] = Recent("states of anchors", 2000)  # by all that they depend on
MOVED = 0.001  # metres; a region that moved by less has not


def unsettled(project_id: int) -> list[AnchorOut]:
    """All that is near or lost in a project, drawing by drawing; lost ones first in each."""
    found: list[AnchorOut] = []
    with reading() as session:
        project_row(session, project_id)
        keys = ViewKeys(session, project_id)
        for drawing in project_drawings(session, project_id):
            own = _of_drawing(keys.followed, drawing)
            style = DrawingSpec.model_validate(drawing.style)
            number = drawing.id or 0
            if not own and number not in keys.annotated and number not in keys.touched:
                continue
            view = keys.of(keys.followed.found(drawing), style, drawing.id)
            title = keys.drawings.title(drawing)
            key = key_of("unsettled", view, keys.annotated.get(number, ""), repr(own), title, str(drawing.version))
            found += _known.get(key, lambda d=drawing, t=title, o=own: _in_drawing(session, d, t, o))  # type: ignore[misc]
    return found


def _in_drawing(session: Session, drawing: Drawing, title: str, own: tuple[State, str] | None) -> list[AnchorOut]:
    """What is near or lost in one drawing; `own`: what is wrong with its cut."""
    here: list[AnchorOut] = []
    number = drawing.id or 0
    if own is not None:
        here.append(
            AnchorOut(
                what="callout" if drawing.callout is not None else "drawing", id=number, drawing_id=number,
                drawing=title, said=title, state=own[0], reason=own[1], version=drawing.version,
            )
        )  # fmt: skip
    try:
        placed = board_of(session, drawing)
    except Refused as error:
        if own is None:
            here.append(
                AnchorOut(
                    what="drawing", id=number, drawing_id=number, drawing=title, said=title, state="lost",
                    reason=str(error), version=0,
                )
            )  # fmt: skip
        return here
    for row in annotations_of(session, drawing.id or 0):
        found = _of_annotation(placed, drawing, title, row)
        here += [] if found is None else [found]
    touch_ups = ProjectSource(session, drawing.project_id).touch_ups(drawing.id)
    here += _of_touch_ups(session, placed, drawing, title, touch_ups)
    return sorted(here, key=lambda a: a.state != "lost")


def settle(project_id: int, wanted: Settling, author: str) -> list[AnchorOut]:
    """Settle near and lost ones; what is still unsettled of the project."""
    with transaction() as session:
        project_row(session, project_id)
        with recorded(session, project_id, _act(wanted), author) as act:
            rows = _wanted(session, project_id, wanted)
            for row in rows:
                act.edits(row)
                _settle(session, row, wanted.how)
                session.add(row)
    return unsettled(project_id)


def _act(wanted: Settling) -> str:
    """What it is called in the history."""
    numbers = {"annotation": wanted.annotations, "touch-up": wanted.touch_ups, "callout": wanted.callouts}
    said = [f"{len(ids)} {what}{'s' if len(ids) > 1 else ''}" for what, ids in numbers.items() if ids]
    return f"settle {', '.join(said)}"


def _wanted(session: Session, project_id: int, wanted: Settling) -> list[Annotation | TouchUpRow | Drawing]:
    rows: list[Annotation | TouchUpRow | Drawing | None] = [
        *(session.get(Annotation, number) for number in wanted.annotations),
        *(session.get(TouchUpRow, number) for number in wanted.touch_ups),
        *(session.get(Drawing, number) for number in wanted.callouts),
    ]
    found = [row for row in rows if row is not None and row.project_id == project_id]
    if not found:
        raise NotFound("These are not there any more.")
    return found


def _settle(session: Session, row: Annotation | TouchUpRow | Drawing, how: str) -> None:
    if isinstance(row, Drawing):
        _settle_callout(session, row)
        return
    placed = board_of(session, session.get_one(Drawing, row.drawing_id))
    if isinstance(row, Annotation):
        document = checked(settled_annotation(placed, document_of(row), how), "annotations")
        row.document = document.model_dump(mode="json", by_alias=True)
    else:
        row.document = _settled_touch_up(placed, TouchUp.model_validate(row.document)).model_dump(mode="json")


def settled_annotation(placed: Stood, document: AnyAnnotation, how: str) -> AnyAnnotation:
    """An annotation with its anchors set anew where they are: accepted, a lost one at its likely new place; or free."""
    features = placed.board.features
    now = [held(features, anchor) for anchor in document.anchors]
    places = [h.guess if h.state == "lost" and h.guess is not None and how == "accept" else h.at for h in now]
    shift = (places[0][0] - document.anchors[0].at[0], places[0][1] - document.anchors[0].at[1])

    def anchor(before: Anchor, was: Held, at: tuple[float, float]) -> Anchor:
        if how == "free" and was.state != "exact":
            return point_anchor(features, *at)
        return before if was.state == "exact" and at == before.at else settled(features, before, at)

    anchors = tuple(anchor(*row) for row in zip(document.anchors, now, places, strict=True))
    points = tuple((round(u + shift[0], 4), round(v + shift[1], 4)) for u, v in document.points)
    return document.model_copy(update={"anchors": anchors, "points": points})


def _settled_touch_up(placed: Stood, document: TouchUp) -> TouchUp:
    """A touch-up with its near anchors set anew, and without what is lost. Raises `Refused` where nothing is left."""
    features = placed.board.features
    sides = []
    for side in document.sides:
        now = held(features, side.anchor)
        if now.state != "lost":
            sides.append(side.model_copy(update={"anchor": settled(features, side.anchor, now.at)}))
    faces = [(face, held(features, face)) for face in document.faces]
    kept = tuple(settled(features, face, now.at) for face, now in faces if now.state != "lost")
    lines = []
    for line in document.lines:
        told = Touched.on(features, [("one", TouchUp(act="hide", lines=(line,)))], placed.board.scale).told[0]
        if told.state != "lost":
            lines.append(line)
    if document.act != "mask" and not (sides or kept or lines):
        raise Refused("Nothing of what this touch-up changed is left; take it back instead.", "touch_ups")
    change: dict[str, Any] = {"sides": tuple(sides), "faces": kept, "lines": tuple(lines)}
    return document.model_copy(update=change)


def _of_drawing(followed: Followed, drawing: Drawing) -> tuple[State, str] | None:
    """What is wrong with the cut of a drawing, or that a callout's region moved with what it is tied to."""
    cut, finding = followed.found(drawing)
    if not finding and isinstance(cut, PlanCut) and not followed.has_storey(cut.storey):
        finding = "The storey of this plan is not in the model any more; choose another one for it."
    if finding:
        return "lost", finding
    region = followed.region_of(drawing)
    if region is None or drawing.callout is None:
        return None
    before = Callout.model_validate(drawing.callout).region
    moved = max(
        abs(a - b) for p, q in zip(region.points, before.points, strict=True) for a, b in zip(p, q, strict=True)
    )
    return ("near", f"Its region moved by {moved * 1000:.0f} mm with what it is tied to.") if moved > MOVED else None


def _settle_callout(session: Session, row: Drawing) -> None:
    """A callout tied anew where it is."""
    parent = session.get(Drawing, row.parent_id) if row.parent_id is not None else None
    if row.callout is None or parent is None:
        raise Refused("This drawing is no callout.", "callouts")
    followed = followed_in(session, row.project_id)
    callout = Callout.model_validate(row.callout)
    try:
        region = followed.region_of(row) or callout.region
        above = followed.cut_of(parent)
        region = anchored(followed.model_of(above), above, region.model_copy(update={"u": None, "v": None}))
    except ImpossibleCut as error:
        raise Refused(str(error), "callouts") from error
    row.callout = callout.model_copy(update={"region": region}).model_dump(mode="json")


def _of_annotation(placed: Stood, drawing: Drawing, title: str, row: Annotation) -> AnchorOut | None:
    shape, document = shape_of(placed, row), document_of(row)
    written = [item.text for item in shape.items if isinstance(item, Label)]
    said = " ".join(written) if isinstance(document, LabelNote) else words_of(document)
    words = f"{document.kind} {said[:80]}".strip()
    if shape.state == "exact" and not shape.findings:
        return None
    reason = "; ".join(shape.findings) or "It moved with what it is tied to."
    can_guess = any(h.guess is not None for h in shape.held)
    return AnchorOut(
        what="annotation", id=row.id or 0, drawing_id=drawing.id or 0, drawing=title, said=words, state=shape.state,
        reason=reason, version=row.version, box=shape.box, can_guess=can_guess,
        moved=moved_alike(placed.board.features, document.anchors, shape.held),
    )  # fmt: skip


def _of_touch_ups(
    session: Session, placed: Stood, drawing: Drawing, title: str, touches: tuple[tuple[str, TouchUp], ...]
) -> list[AnchorOut]:
    if not touches:
        return []
    told = Touched.on(placed.board.features, touches, placed.board.scale).told
    found = []
    for (source, document), one in zip(touches, told, strict=True):
        if one.state == "exact":
            continue
        row = session.get_one(TouchUpRow, int(source.removeprefix("touch-up:")))
        reason = one.finding or "It moved with what it changes."
        found.append(
            AnchorOut(
                what="touch-up", id=row.id or 0, drawing_id=drawing.id or 0, drawing=title, said=said_of(document),
                state=one.state, reason=reason, version=row.version, moved=_moved(placed, document),
            )
        )  # fmt: skip
    return found


def _moved(placed: Stood, document: TouchUp) -> tuple[float, float, float] | None:
    """By how much all that a touch-up changes moved; lines are found anew, not held."""
    anchors = [*(side.anchor for side in document.sides), *document.faces]
    features = placed.board.features
    return None if document.lines else moved_alike(features, anchors, [held(features, a) for a in anchors])
