"""Annotations of drawings: made, changed, copied, in sets, looked for."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from pydantic import ValidationError
from sqlmodel import Session, col, select

from edge_slice.app.annotating.boards import board_of, checked, document_of, out
from edge_slice.app.annotating.documents import (
    AnnotationEdit,
    AnnotationNew,
    AnnotationOut,
    AnnotationsAct,
    CrossedLine,
    FoundText,
    GridSnap,
    LevelSnap,
    SetOut,
    SetWanted,
    SnapsOut,
)
from edge_slice.app.annotating.pictures import check_kept
from edge_slice.app.drawings.drawing_rows import annotations_of, drawing_of, drawing_row
from edge_slice.app.errors import NotFound, Refused, first_words
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import current_row, held_row
from edge_slice.core.annotating.compose import text_box
from edge_slice.core.annotating.crossing import Crossed
from edge_slice.core.annotating.documents import ANNOTATION, AnyAnnotation, LabelNote, words_of
from edge_slice.core.annotating.notes import label_lines
from edge_slice.core.annotating.sets import LABELS, proposed, renewed, said_by, unsaid
from edge_slice.core.annotating.spots import NothingThere, Spot, annotation_at, tied
from edge_slice.core.cut import PlanCut
from edge_slice.core.cut.anchors.anchor import Anchor, held, on_grid
from edge_slice.core.cut.anchors.anchoring import point_anchor
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.rules.recognition import findable
from edge_slice.core.project.boards import Stood, shape_of
from edge_slice.core.project.called_out import title_of
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.known_names import check_names, in_annotation, known_to_standard
from edge_slice.store.changes import Act, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Annotation, Drawing

MOST = 5000  # annotations of one drawing
MOST_FOUND = 200
OF_SETS = ("rule", "subject", "by_hand")


def list_annotations(drawing_id: int) -> list[AnnotationOut]:
    with reading() as session:
        row = drawing_row(session, drawing_id)
        rows = annotations_of(session, drawing_id)
        if not rows:
            return []
        placed = board_of(session, row)
        return [out(placed, annotation) for annotation in rows]


def add_annotation(drawing_id: int, new: AnnotationNew, author: str) -> AnnotationOut:
    with transaction() as session:
        drawing = held_row(session, Drawing, drawing_id)
        placed = board_of(session, drawing)
        document = _tied(placed, new)
        _check(session, placed, document)
        return _added(session, drawing, placed, document, author)


def _added(session: Session, drawing: Drawing, placed: Stood, document: AnyAnnotation, author: str) -> AnnotationOut:
    if len(annotations_of(session, drawing.id or 0)) >= MOST:
        raise Refused(f"A drawing holds {MOST} annotations at most.", "document")
    row = annotation_row(drawing, document)
    with recorded(session, drawing.project_id, f"new {document.kind}", author) as act:
        act.adds(row)
    return out(placed, row)


def add_crossed(drawing_id: int, wanted: CrossedLine, author: str) -> AnnotationOut:
    """A chain of everything that a line crosses, written at the line."""
    with transaction() as session:
        drawing = held_row(session, Drawing, drawing_id)
        placed = board_of(session, drawing)
        a, b = (np.array(end) for end in wanted.line)
        document = Crossed(placed.board).chain(a, b)
        if document is None:
            raise Refused("This line crosses no two sides of anything that is cut; draw it across walls.", "line")
        return _added(session, drawing, placed, document, author)


def edit_annotation(annotation_id: int, edit: AnnotationEdit, author: str) -> AnnotationOut:
    with transaction() as session:

        def as_out(newer: Annotation) -> AnnotationOut:
            return out(board_of(session, drawing_row(session, newer.drawing_id)), newer)

        row = current_row(session, Annotation, annotation_id, edit.version, as_out)
        placed = board_of(session, drawing_row(session, row.drawing_id))
        document = _changed(placed, document_of(row), edit)
        _check(session, placed, document, document_of(row))
        with recorded(session, row.project_id, f"edit {document.kind}", author) as act:
            act.edits(row)
            row.document = _json(document)
            session.add(row)
        return out(placed, row)


def act_on(drawing_id: int, wanted: AnnotationsAct, author: str) -> list[AnnotationOut]:
    """Several annotations in one act; those that are not there any more do not matter."""
    with transaction() as session:
        drawing = held_row(session, Drawing, drawing_id)
        rows = [row for row in annotations_of(session, drawing_id) if row.id in set(wanted.ids)]
        if not rows:
            raise NotFound("These annotations are not there any more.")
        placed = board_of(session, drawing)
        count = f"{len(rows)} annotations" if len(rows) > 1 else "annotation"
        target = _target(session, drawing, wanted) if wanted.act == "copy" else None
        shifts = _shifts(placed, rows, wanted) if wanted.act in ("move", "align", "spread") else {}
        styled = {row.id: _styled(document_of(row), wanted.change) for row in rows} if wanted.act == "style" else {}
        for row in rows if styled else ():
            _check(session, placed, styled[row.id], document_of(row))
        with recorded(session, drawing.project_id, f"{wanted.act} {count}", author) as act:
            if target is not None:
                rows = _copied(session, act, placed, rows, target)
                placed = board_of(session, target)
            for row in rows if target is None else []:
                if wanted.act == "delete":
                    act.removes(row)
                    continue
                act.edits(row)
                document = styled[row.id] if wanted.act == "style" else _moved(document_of(row), *shifts[row.id or 0])
                row.document = _json(document)
                session.add(row)
        return [] if wanted.act == "delete" else [out(placed, row) for row in rows]


def place_set(drawing_id: int, wanted: SetWanted, author: str) -> SetOut:
    """Place an automatic set, or bring it up to date; what somebody changed of it stays."""
    with transaction() as session:
        drawing = held_row(session, Drawing, drawing_id)
        with recorded(session, drawing.project_id, f"{wanted.rule}, automatic", author) as act:
            return renew_set(session, act, drawing, wanted)


def renew_set(
    session: Session, act: Act, drawing: Drawing, wanted: SetWanted, around: Drawings | None = None
) -> SetOut:
    """The same within another act. `around`: what its drawings share, where several sets are placed in one act that
    changes nothing else."""
    around = around or Drawings(ProjectSource(session, drawing.project_id))
    style = DrawingSpec.model_validate(drawing.style)
    if wanted.rule == "rooms" and style.rooms:  # else each room would be named twice
        act.edits(drawing)
        drawing.style = style.model_copy(update={"rooms": False}).model_dump(mode="json")
        session.add(drawing)
        session.flush()
    placed = around.board(drawing)
    every = annotations_of(session, drawing.id or 0)
    subject = wanted.subject if wanted.rule == "openings" else ""
    mine = [row for row in every if row.document["rule"] == wanted.rule and subject in ("", row.document["subject"])]
    numbers = {row.id for row in mine}
    others = [item for row in every if row.id not in numbers for item in shape_of(placed, row).items]
    display = around.plain(drawing)
    if wanted.says and wanted.rule not in LABELS:
        raise Refused("Only labels of rooms, doors and windows say what is told; other sets measure.", "says")
    unknown = unsaid(placed.board, wanted.rule, wanted.says)
    if unknown is not None:
        raise Refused(f"None of the {wanted.rule} has a property “{unknown}” in the model.", "says")
    says = wanted.says or said_by([document_of(row) for row in mine])
    found = proposed(placed.board, wanted.rule, [*display.items, *others], wanted.subject, says)
    if wanted.rule == "openings" and not found.annotations:
        raise Refused("There is no wall with openings here; click on one that is cut.", "subject")
    renewal = renewed([(row.id or 0, document_of(row)) for row in mine], found.annotations)
    for row in mine:
        if row.id in renewal.removed:
            act.removes(row)
        elif row.id in renewal.changed:
            act.edits(row)
            row.document = _json(renewal.changed[row.id])
            session.add(row)
    for document in renewal.added:
        act.adds(annotation_row(drawing, document))
    kept = len(mine) - len(renewal.removed) - len(renewal.changed)
    return SetOut(
        added=len(renewal.added), changed=len(renewal.changed), removed=len(renewal.removed), kept=kept,
        findings=list(found.findings),
    )  # fmt: skip


def snaps_of(drawing_id: int) -> SnapsOut:
    """What annotations of a drawing can be tied to."""
    with reading() as session:
        board = board_of(session, drawing_row(session, drawing_id)).board
    features, model = board.features, board.model
    corners = [features.corners(k).at for k in features.cut_elements]
    sides = [features.sides(k).ends for k in features.cut_elements]
    levels = [LevelSnap(guid=s.guid, name=s.name, v=s.elevation * 1000.0) for s in model.storeys if board.upright]
    grid: list[GridSnap] = []
    if isinstance(board.cut, PlanCut):
        for axis in model.grid:
            ends = board.result.axes.to_drawing(np.array([(*axis.start, 0.0), (*axis.end, 0.0)]))[:, :2]
            u0, v0, u1, v1 = ends.round(2).reshape(-1).tolist()
            grid.append(GridSnap(name=axis.name, start=(u0, v0), end=(u1, v1)))
    elif board.upright:
        for axis in model.grid:
            spot = on_grid(features, axis.name, 0.0, 0.0)
            if spot is not None:
                _, base, _, top = (float(x) for x in board.result.extents)
                grid.append(GridSnap(name=axis.name, start=(spot[0], base), end=(spot[0], top)))
    return SnapsOut(
        corners=_flat(corners), vertices=_flat([features.lit[0]]), sides=_flat(sides), levels=levels, grid=grid
    )


def find_text(project_id: int, words: str) -> list[FoundText]:
    """Annotations that hold all these words, over all drawings of a project."""
    asked = findable(words).split()
    if not asked:
        return []
    found: list[FoundText] = []
    titles: dict[int, str] = {}
    with reading() as session:
        source = ProjectSource(session, project_id)
        followed = Followed(source)
        rows = select(Annotation).where(col(Annotation.project_id) == project_id).order_by(col(Annotation.id))
        for row in session.exec(rows).all():
            document = document_of(row)
            lines = label_lines(source.model, source.lengths, document) if isinstance(document, LabelNote) else None
            said = " ".join([words_of(document), *(lines or ())]).strip()
            if not all(word in findable(said) for word in asked):
                continue
            if row.drawing_id not in titles:
                titles[row.drawing_id] = title_of(source, followed, drawing_row(session, row.drawing_id))
            found.append(
                FoundText(id=row.id or 0, drawing_id=row.drawing_id, drawing=titles[row.drawing_id],
                          kind=document.kind, text=said[:200])
            )  # fmt: skip
            if len(found) == MOST_FOUND:
                break
    return found


# --- parts ------------------------------------------------------------------------------------------------------------


def _flat(parts: Sequence[np.ndarray[Any, Any]]) -> list[float]:
    kept = [p.reshape(-1) for p in parts if len(p)]
    found: list[float] = np.round(np.concatenate(kept), 2).tolist() if kept else []
    return found


def annotation_row(drawing: Drawing, document: AnyAnnotation) -> Annotation:
    """The row of an annotation on a drawing."""
    return Annotation(project_id=drawing.project_id, drawing_id=drawing.id or 0, document=_json(document))


def _json(document: AnyAnnotation) -> dict[str, Any]:
    return document.model_dump(mode="json", by_alias=True)


def _validated(document: dict[str, Any]) -> AnyAnnotation:
    try:
        return ANNOTATION.validate_python(document)
    except ValidationError as error:
        raise Refused(first_words(error), "document") from error


def _tied(placed: Stood, new: AnnotationNew) -> AnyAnnotation:
    board = placed.board
    try:
        return annotation_at(board.features, board.cut, new.spots, new.document)
    except NothingThere as error:
        raise Refused(str(error), "spots") from error
    except ValidationError as error:
        raise Refused(first_words(error), "document") from error


def _check(session: Session, placed: Stood, document: AnyAnnotation, before: AnyAnnotation | None = None) -> None:
    """Names and pictures that an annotation shows are there. Raises `Refused`."""
    was = in_annotation(before) if before is not None else ()
    check_names(in_annotation(document), known_to_standard(placed.board.standard), was)
    if document.kind == "picture":
        check_kept(session, document.image, "document.image")


def _anchor(features: Features, spot: Spot) -> Anchor:
    try:
        return tied(features, spot)
    except NothingThere as error:
        raise Refused(str(error), "spots") from error


def _changed(placed: Stood, before: AnyAnnotation, edit: AnnotationEdit) -> AnyAnnotation:
    """A document after an edit. Its points were given where they stand now; what it is tied to may have moved."""
    features = placed.board.features
    document = before.model_dump(by_alias=True)
    anchors = [] if edit.replace else list(before.anchors)
    for index, spot in sorted(edit.spots.items()):
        anchor = _anchor(features, spot)
        if index < len(anchors):
            anchors[index] = anchor
        elif index == len(anchors):
            anchors.append(anchor)
        else:
            raise Refused("This reference is not there any more.", "spots")
    change = {k: v for k, v in edit.change.items() if k not in ("anchors", "kind", *OF_SETS)}
    if "points" in change or edit.spots:
        # all points where they stand now, and the anchors' places with them
        shift = _shift(features, before)
        now = [(u + shift[0], v + shift[1]) for u, v in before.points]
        given = change.pop("points", None)
        kept = [a.model_copy(update={"at": held(features, a).at}) if k not in edit.spots else a
                for k, a in enumerate(anchors)]  # fmt: skip
        document |= {"points": now if given is None else given, "anchors": kept}
    document |= change
    if before.rule:
        document["by_hand"] = True
    return _validated(document)


def _shift(features: Features, document: AnyAnnotation) -> tuple[float, float]:
    now, was = held(features, document.anchors[0]).at, document.anchors[0].at
    return now[0] - was[0], now[1] - was[1]


def _moved(document: AnyAnnotation, du: float, dv: float) -> AnyAnnotation:
    points = tuple((round(u + du, 4), round(v + dv, 4)) for u, v in document.points)
    change: dict[str, Any] = {"points": points}
    if document.rule:
        change["by_hand"] = True
    return document.model_copy(update=change)


def _styled(document: AnyAnnotation, change: dict[str, Any]) -> AnyAnnotation:
    """A document with those of the changed settings that it has."""
    fields = type(document).model_fields
    names = {info.alias or name for name, info in fields.items()}
    own = {k: v for k, v in change.items() if k in names and k not in ("anchors", "points", "kind", *OF_SETS)}
    return _validated({**document.model_dump(by_alias=True), **own})


def _shifts(placed: Stood, rows: Sequence[Annotation], wanted: AnnotationsAct) -> dict[int, tuple[float, float]]:
    """By how much each annotation is moved, mm in the drawing."""
    if wanted.act == "move":
        return {row.id or 0: wanted.by for row in rows}
    boxes = {row.id or 0: text_box(shape_of(placed, row)) for row in rows}
    axis = 0 if wanted.to in ("left", "right", "upright") else 1
    low = {k: b[axis] for k, b in boxes.items()}
    high = {k: b[axis + 2] for k, b in boxes.items()}
    scale = placed.board.scale
    if wanted.act == "spread":
        middles = {k: (low[k] + high[k]) / 2 for k in boxes}
        order = sorted(middles, key=lambda k: middles[k])
        first, last = middles[order[0]], middles[order[-1]]
        step = (last - first) / max(len(order) - 1, 1)
        moved = {k: (first + n * step - middles[k]) * scale for n, k in enumerate(order)}
    elif wanted.to in ("left", "base"):
        moved = {k: (min(low.values()) - low[k]) * scale for k in boxes}
    elif wanted.to in ("right", "top"):
        moved = {k: (max(high.values()) - high[k]) * scale for k in boxes}
    else:
        middle = sum(low[k] + high[k] for k in boxes) / len(boxes) / 2
        moved = {k: (middle - (low[k] + high[k]) / 2) * scale for k in boxes}
    return {k: (by, 0.0) if axis == 0 else (0.0, by) for k, by in moved.items()}


def _target(session: Session, drawing: Drawing, wanted: AnnotationsAct) -> Drawing:
    if wanted.drawing is None:
        raise Refused("Say to which drawing they shall be copied.", "drawing")
    return drawing_of(session, drawing.project_id, wanted.drawing)


def _copied(session: Session, act: Act, placed: Stood, rows: Sequence[Annotation], target: Drawing) -> list[Annotation]:
    """Copies in another drawing, tied there to the same things of the model where it shows them."""
    there = board_of(session, target)
    found = []
    for row in rows:
        copy = annotation_row(target, checked(carried(placed, there, document_of(row)), "drawing"))
        act.adds(copy)
        found.append(copy)
    return found


def carried(here: Stood, there: Stood, document: AnyAnnotation) -> AnyAnnotation:
    """An annotation as it stands in another drawing: its anchors on the same features, its points beside them as they
    are, sized by the scales of both, as texts on paper are."""
    anchors = []
    for anchor in document.anchors:
        now = held(there.board.features, anchor)
        if now.state == "lost":
            anchors.append(point_anchor(there.board.features, *now.at))
        else:
            anchors.append(anchor.model_copy(update={"at": now.at}))
    shift = _shift(here.board.features, document)
    start = np.array(document.anchors[0].at) + shift
    share = 1.0 if document.kind in ("line", "area") else there.board.scale / here.board.scale
    away = (np.array(document.points) + shift - start) * share
    points = tuple((round(u, 4), round(v, 4)) for u, v in (np.array(anchors[0].at) + away).tolist())
    return document.model_copy(
        update={"anchors": tuple(anchors), "points": points, "rule": "", "subject": document.subject}
    )
