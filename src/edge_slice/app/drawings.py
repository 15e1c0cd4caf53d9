"""Drawings: what is cut from what, their letters and names."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

import shapely
from sqlmodel import Session, col, select

from edge_slice.app.bench_documents import (
    DrawingCopies,
    GridLineOut,
    LineActRequest,
    LineThrough,
    MoveBeside,
    PlacesOut,
    ThingOut,
    TurnLine,
    WallSectionRequest,
)
from edge_slice.app.documents import DrawingEdit, DrawingNew, DrawingOut, DrawingSet, PlacementRef, Point
from edge_slice.app.errors import NotFound, Refused, Stale, first_words
from edge_slice.app.models import load_model, newest_revision
from edge_slice.app.naming import automatic_name, has_letter, kind_of
from edge_slice.app.project_state import state_of
from edge_slice.app.recent import Recent
from edge_slice.app.rows import held_row
from edge_slice.app.shared_extents import Followed
from edge_slice.app.standards import standard_for
from edge_slice.app.view_keys import ViewKeys
from edge_slice.core.cut import AnyCut, ImpossibleCut, PlanCut, SectionCut, leaves_of
from edge_slice.core.cut.planes.line_acts import Target, aligned, beside, through_all, turned
from edge_slice.core.cut.planes.sets import elevations_of, interior_elevations_of, plans_of
from edge_slice.core.cut.report import things
from edge_slice.core.cut.wall_section import wall_section
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.core.model import Model
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Change, Drawing, Placement, Sheet

WITHOUT = ("planting",)  # what new drawings leave out
NEW_SECTION = SectionCut(line=((0.0, 0.0), (1.0, 0.0)), depth=5.0, without=WITHOUT)  # of which a new one has its line


def new_plan() -> PlanCut:
    """What a new plan is, of which it has its storey."""
    below, overhead = default_standard().conventions.reach
    height = PlanCut.model_fields["height"].default
    return PlanCut(storey="", depth=round(height + below, 3), overhead=overhead, without=WITHOUT)


def drawing_row(session: Session, drawing_id: int) -> Drawing:
    row = session.get(Drawing, drawing_id)
    if row is None:
        raise NotFound("This drawing is not there any more.")
    return row


_lists: Recent[list[DrawingOut]] = Recent(8)  # by the state of their project


def list_drawings(project_id: int) -> list[DrawingOut]:
    with transaction() as session:
        return _lists.get(state_of(session, project_id), lambda: _listed(session, project_id))


def _listed(session: Session, project_id: int) -> list[DrawingOut]:
    rows = project_drawings(session, project_id)
    keys = ViewKeys(session, project_id)
    placed = placements_of(session, project_id)
    return [_as_out(d, keys, placed.get(d.id or 0)) for d in rows]


def project_drawings(session: Session, project_id: int) -> list[Drawing]:
    newest_revision(session, project_id)
    return list(
        session.exec(select(Drawing).where(col(Drawing.project_id) == project_id).order_by(col(Drawing.id))).all()
    )


def get_drawing(drawing_id: int) -> DrawingOut:
    with transaction() as session:
        return drawing_out(session, drawing_row(session, drawing_id))


def existing_drawings(numbers: Sequence[int]) -> list[DrawingOut]:
    """Drawings by number, without those that are not there."""
    with transaction() as session:
        rows = session.exec(select(Drawing).where(col(Drawing.id).in_(numbers))).all()
        return [drawing_out(session, row) for row in rows]


def add_drawing(project_id: int, new: DrawingNew, author: str) -> DrawingOut:
    with transaction() as session:
        revision = newest_revision(session, project_id)
        if new.parent_id is not None and drawing_row(session, new.parent_id).project_id != project_id:
            raise Refused("The source drawing belongs to another project.", "parent_id")
        _check(load_model(session, revision), new.cut)
        standard_for(session, project_id, new.style.standard)
        hold(session, project_id)
        row = Drawing(
            project_id=project_id,
            parent_id=new.parent_id,
            name=new.name.strip(),
            letter=next_letter(session, project_id) if has_letter(new.cut) else "",
            cut=new.cut.model_dump(mode="json"),
            style=new.style.model_dump(mode="json"),
        )
        with recorded(session, project_id, "new drawing", author) as act:
            act.adds(row)
        return drawing_out(session, row)


def add_drawing_set(project_id: int, wanted: DrawingSet, author: str) -> list[DrawingOut]:
    """Several drawings in one act, which is undone as one."""
    with transaction() as session:
        model = load_model(session, newest_revision(session, project_id))
        cuts = _set_cuts(model, wanted)
        style = DrawingSpec(scale=wanted.scale).model_dump(mode="json")
        with recorded(session, project_id, f"new {wanted.kind}", author) as act:
            rows = [Drawing(project_id=project_id, cut=c.model_dump(mode="json"), style=style) for c in cuts]
            for row in rows:
                act.adds(row)
        return [drawing_out(session, row) for row in rows]


def copy_section(drawing_id: int, wanted: DrawingCopies, author: str) -> list[DrawingOut]:
    """Copies of a section with all its settings, each with a letter of its own, in one act."""
    with transaction() as session:
        row = drawing_row(session, drawing_id)
        cut = Followed(session, row.project_id).cut_of(row)
        if not isinstance(cut, SectionCut):
            raise Refused("Only a section has a cutting line that can be copied beside itself.")
        try:
            lines = [turned(beside(cut, by), wanted.turned) for by in wanted.by]
        except ImpossibleCut as error:
            raise Refused(str(error), "by") from error
        hold(session, row.project_id)
        with recorded(session, row.project_id, "copy section", author) as act:
            made = []
            for moved in lines:
                letter = next_letter(session, row.project_id)
                copy = Drawing(project_id=row.project_id, parent_id=row.parent_id, letter=letter,
                               cut=moved.model_dump(mode="json"), style=row.style)  # fmt: skip
                act.adds(copy)
                made.append(copy)
        return [drawing_out(session, copy) for copy in made]


def act_on_line(wanted: LineActRequest) -> SectionCut:
    """The cut after an act on its line."""
    act = wanted.act
    try:
        if isinstance(act, MoveBeside):
            return beside(wanted.cut, act.by)
        if isinstance(act, TurnLine):
            return turned(wanted.cut, act.degrees)
        return aligned(wanted.cut, act.direction)
    except ImpossibleCut as error:
        raise Refused(str(error), "act") from error


def wall_section_of(project_id: int, wanted: WallSectionRequest) -> SectionCut:
    """The cut of a wall section along a line that was drawn across the wall."""
    with transaction() as session:
        model = load_model(session, newest_revision(session, project_id))
    try:
        return wall_section(model, wanted.line, wanted.look, WITHOUT)
    except (ImpossibleCut, ValueError) as error:
        raise Refused(first_words(error), "line") from error


def places_of(project_id: int) -> PlacesOut:
    """What cuts of a project are placed by: openings, stairs, columns, rooms, and the grid."""
    with transaction() as session:
        model = load_model(session, newest_revision(session, project_id))
    found = [
        ThingOut(guid=guid, kind=kind, name=name, outline=_ring(outline), base=round(base, 4), top=round(top, 4))
        for guid, kind, name, outline, base, top in things(model)
    ]
    return PlacesOut(things=found, grid=[GridLineOut(name=a.name, start=a.start, end=a.end) for a in model.grid])


def _ring(outline: shapely.Geometry) -> list[Point]:
    return [(round(x, 4), round(y, 4)) for x, y in shapely.get_coordinates(outline).tolist()]


def line_through(project_id: int, wanted: LineThrough) -> SectionCut:
    """The cut with its line laid through the middle of the things named, with the fewest steps."""
    with transaction() as session:
        model = load_model(session, newest_revision(session, project_id))
    known = {guid: Target(f"{name or kind}", outline) for guid, kind, name, outline, _, _ in things(model)}
    lost = [guid for guid in wanted.things if guid not in known]
    if lost:
        raise Refused(f"{lost[0]} is no opening, stair, column or room of this model.", "things")
    try:
        return through_all(wanted.cut, [known[guid] for guid in dict.fromkeys(wanted.things)])
    except ImpossibleCut as error:
        raise Refused(str(error), "things") from error


def _set_cuts(model: Model, wanted: DrawingSet) -> Sequence[AnyCut]:
    try:
        if wanted.kind == "elevations":
            return elevations_of(model, WITHOUT)
        if wanted.kind == "interior elevations":
            return interior_elevations_of(model, wanted.space, WITHOUT)
        look = "up" if wanted.kind == "ceiling plans" else "down"
        return plans_of(model, default_standard().conventions.reach, look, wanted.heights, WITHOUT)
    except ImpossibleCut as error:
        raise Refused(str(error), "space" if wanted.kind == "interior elevations" else "heights") from error


def edit_drawing(drawing_id: int, edit: DrawingEdit, author: str) -> DrawingOut:
    with transaction() as session:
        row = held_row(session, Drawing, drawing_id)
        if row.version != edit.version:
            raise Stale(
                "This drawing was changed in another window; its newer state is shown.", drawing_out(session, row)
            )
        if edit.cut is not None:
            if edit.cut.kind != row.cut["kind"]:
                raise Refused("A drawing can't change its kind; make a new one.", "cut")
            _check(load_model(session, newest_revision(session, row.project_id)), edit.cut)
        if edit.style is not None:
            standard_for(session, row.project_id, edit.style.standard)
        if edit.letter is not None and edit.letter != row.letter:
            _check_letter(session, row, edit.letter)
        with recorded(session, row.project_id, _edit_label(edit), author) as act:
            act.edits(row)
            if edit.name is not None:
                row.name = edit.name.strip()
            if edit.letter is not None:
                row.letter = edit.letter
            if edit.cut is not None:
                row.cut = edit.cut.model_dump(mode="json")
            if edit.style is not None:
                row.style = edit.style.model_dump(mode="json")
            session.add(row)
        return drawing_out(session, row)


def delete_drawing(drawing_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, Drawing, drawing_id)
        _delete(session, [row], "delete drawing", author)


def delete_drawings(project_id: int, numbers: Sequence[int], author: str) -> None:
    """Delete several drawings in one act; drawings that are not there any more do not matter."""
    with transaction() as session:
        newest_revision(session, project_id)
        hold(session, project_id)
        wanted = select(Drawing).where(col(Drawing.project_id) == project_id, col(Drawing.id).in_(numbers))
        rows = list(session.exec(wanted).all())
        if rows:
            _delete(session, rows, f"delete {len(rows)} drawings", author)


def _delete(session: Session, rows: list[Drawing], label: str, author: str) -> None:
    numbers = {row.id for row in rows}
    children = session.exec(select(Drawing).where(col(Drawing.parent_id).in_(numbers))).all()
    others = [c for c in children if c.id not in numbers]
    if others:
        these = "this one" if len(rows) == 1 else "these"
        raise Refused(f"{len(others)} drawings were cut from {these}; delete them first.")
    with recorded(session, rows[0].project_id, label, author) as act:
        for placed in session.exec(select(Placement).where(col(Placement.drawing_id).in_(numbers))).all():
            act.removes(placed)
        left = list(rows)
        while left:  # what was cut from another one goes before it
            parents = {row.parent_id for row in left}
            for row in [r for r in left if r.id not in parents]:
                act.removes(row)
                left.remove(row)


def add_starting_drawings(session: Session, project_id: int, model: Model) -> None:
    """A plan of each storey."""
    for cut in plans_of(model, default_standard().conventions.reach, without=WITHOUT):
        session.add(
            Drawing(project_id=project_id, cut=cut.model_dump(mode="json"), style=DrawingSpec(scale=100).model_dump())
        )
    session.flush()


def placement_of(session: Session, drawing_id: int) -> tuple[Placement, Sheet] | None:
    """Where a drawing stands: its placement and the sheet."""
    found = session.exec(
        select(Placement, Sheet).where(
            col(Placement.drawing_id) == drawing_id, col(Sheet.id) == col(Placement.sheet_id)
        )
    ).first()
    return (found[0], found[1]) if found is not None else None


def placements_of(session: Session, project_id: int) -> dict[int, tuple[Placement, Sheet]]:
    """Where the drawings of a project stand, by drawing."""
    found = session.exec(
        select(Placement, Sheet).where(
            col(Placement.project_id) == project_id, col(Sheet.id) == col(Placement.sheet_id)
        )
    )
    return {p.drawing_id: (p, s) for p, s in found.all()}


def drawing_out(session: Session, row: Drawing) -> DrawingOut:
    assert row.id is not None
    return _as_out(row, ViewKeys(session, row.project_id), placement_of(session, row.id))


def _as_out(row: Drawing, keys: ViewKeys, placed: tuple[Placement, Sheet] | None) -> DrawingOut:
    assert row.id is not None
    cut, style = keys.followed.cut_of(row), DrawingSpec.model_validate(row.style)
    ref = None
    if placed is not None:
        placement, sheet = placed
        assert placement.id is not None
        ref = PlacementRef(
            id=placement.id, sheet_id=placement.sheet_id, sheet_number=sheet.number, number=placement.number
        )
    return DrawingOut(
        id=row.id,
        project_id=row.project_id,
        parent_id=row.parent_id,
        kind=kind_of(cut),
        letter=row.letter,
        name=row.name,
        title=row.name or automatic_name(keys.revision.facts, row.letter, cut, keys.names),
        cut=cut,
        style=style,
        version=row.version,
        placement=ref,
        view=keys.of(cut, style, row.id),
    )


def _check(model: Model, cut: AnyCut) -> None:
    try:
        leaves_of(model, cut)
    except ImpossibleCut as error:
        raise Refused(str(error), "cut") from error


def _check_letter(session: Session, row: Drawing, letter: str) -> None:
    if not row.letter:
        raise Refused("Only sections have letters.", "letter")
    others = select(Drawing).where(col(Drawing.project_id) == row.project_id, col(Drawing.letter) == letter)
    if session.exec(others).first() is not None:
        raise Refused(f"Another section of this project has the letter {letter}; choose one that is free.", "letter")


def _edit_label(edit: DrawingEdit) -> str:
    said = (("name", edit.name), ("letter", edit.letter), ("cut", edit.cut), ("graphics", edit.style))
    parts = [word for word, value in said if value is not None]
    return f"edit {' and '.join(parts) or 'drawing'}"


def next_letter(session: Session, project_id: int) -> str:
    """A to Z without I and O (easily misread beside numbers), then AA, AB …; not one that a deleted drawing had, of
    which somebody may still speak."""
    used = set(session.exec(select(Drawing.letter).where(col(Drawing.project_id) == project_id)).all())
    deleted = select(Change.before["letter"].astext).where(  # type: ignore[index]
        col(Change.project_id) == project_id,
        col(Change.table_name) == "drawing",
        col(Change.state) == "done",
        col(Change.after).is_(None),
    )
    used |= set(session.exec(deleted).all())
    return next(name for name in _letters() if name not in used)


def _letters() -> Iterator[str]:
    for length in itertools.count(1):
        for letters in itertools.product("ABCDEFGHJKLMNPQRSTUVWXYZ", repeat=length):
            yield "".join(letters)
