"""Drawing standards: those that come with the application, and a project's own."""

from __future__ import annotations

import json
from difflib import get_close_matches

from sqlmodel import Session, col, select

from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import model_in_ground, newest_revision
from edge_slice.app.projects.documents import HatchRequest, StandardEdit, StandardNew, StandardOut
from edge_slice.app.row_lookup import current_row, held_row, own_key, own_row, project_row
from edge_slice.app.rules.followed import refuse_if_ruled
from edge_slice.core.drawing import SHIPPED, DrawingStandard, default_standard, shipped_standard
from edge_slice.core.drawing.sampler import hatch_page, hatch_sample
from edge_slice.core.drawing.seen_sampler import seen_sample
from edge_slice.core.model.said import MaterialHere, is_there
from edge_slice.core.project.known_names import check_names, in_materials_here, known_of_materials
from edge_slice.core.recent import Recent
from edge_slice.core.render.screen import to_screen
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing, Project, Standard

_own: Recent[DrawingStandard] = Recent("standards", 16)
_settled: Recent[DrawingStandard] = Recent("standards with what projects say of materials", 12)
SAMPLE = "the hatch being drawn"


def standard_for(session: Session, project_id: int, key: str) -> DrawingStandard:
    """The standard that a drawing names. Raises `Refused` for one that the project does not have."""
    project = session.get(Project, project_id)
    settled = project.materials if project is not None else {}
    if key in SHIPPED:
        name, standard = key, shipped_standard(key)
    else:
        row = own_row(session, Standard, project_id, key)
        if row is None:
            raise Refused("The drawing standard of this drawing is not in the project; choose another one.", "standard")
        name, document = f"{row.id} {row.version}", row.document
        standard = _own.get(name, lambda: DrawingStandard.model_validate(document))
    if not settled:
        return standard
    said = json.dumps(settled, sort_keys=True)
    return _settled.get(f"{name} {said}", lambda: standard.model_copy(update={"settled": settled}))


def check_settled(session: Session, project_id: int, settled: dict[str, str], before: dict[str, str]) -> None:
    """Raise `Refused` for a class of material that no standard of a project has; what was said before may stay."""
    own = session.exec(select(Standard).where(col(Standard.project_id) == project_id)).all()
    known = {key for shipped in SHIPPED for key in shipped_standard(shipped).materials}
    known |= {key for row in own for key in row.document["materials"]}
    for name, said in settled.items():
        if said not in known and before.get(name) != said:
            near = get_close_matches(said, known, 1) or ["other"]
            raise Refused(f"There is no class of material “{said}”; there is {near[0]}.", f"materials.{name}")


def check_materials_here(
    session: Session, project_id: int, said: list[MaterialHere], before: list[MaterialHere]
) -> None:
    """Raise `Refused` for what is said of materials in places that the model does not have, and for names that no
    standard has; what was said before may stay."""
    new = [one for one in said if one not in before]
    if not new:
        return
    own = session.exec(select(Standard).where(col(Standard.project_id) == project_id)).all()
    standards = [standard_for(session, project_id, key) for key in (*SHIPPED, *map(own_key, own))]
    model = model_in_ground(session, newest_revision(session, project_id))
    check_names(in_materials_here(new, "materials_here"), known_of_materials(model, standards))
    for one in new:
        if not is_there(model, one):
            where = f"The build-up “{one.build_up}”" if one.build_up else "This element"
            raise Refused(f"{where} has no material “{one.material}”.", "materials_here")


def list_standards(project_id: int) -> list[StandardOut]:
    with reading() as session:
        project_row(session, project_id)
        rows = session.exec(select(Standard).where(col(Standard.project_id) == project_id).order_by(col(Standard.id)))
        return [_shipped(key) for key in SHIPPED] + [_out(row) for row in rows.all()]


def add_standard(project_id: int, new: StandardNew, author: str) -> StandardOut:
    with transaction() as session:
        project_row(session, project_id)
        source = new.document or standard_for(session, project_id, new.copy_of)
        source = source.model_copy(update={"settled": {}})  # that is the project's, above its standards
        name = (new.name or (source.name if new.document else f"{source.name}, own")).strip()
        document = source.model_copy(update={"name": name})
        row = Standard(project_id=project_id, name=name, document=document.model_dump(mode="json"))
        with recorded(session, project_id, "new drawing standard", author) as act:
            act.adds(row)
        return _out(row)


def edit_standard(standard_id: int, edit: StandardEdit, author: str) -> StandardOut:
    with transaction() as session:
        row = current_row(session, Standard, standard_id, edit.version, _out)
        with recorded(session, row.project_id, "edit drawing standard", author) as act:
            act.edits(row)
            row.name = edit.document.name
            row.document = edit.document.model_copy(update={"settled": {}}).model_dump(mode="json")
            session.add(row)
        return _out(row)


def delete_standard(standard_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, Standard, standard_id)
        drawings = session.exec(select(Drawing).where(col(Drawing.project_id) == row.project_id)).all()
        users = sum(d.style.get("standard") == own_key(row) for d in drawings)
        if users:
            raise Refused(f"{users} drawings use this standard; give them another one first.")
        refuse_if_ruled(session, row.project_id, "standard", own_key(row))
        with recorded(session, row.project_id, "delete drawing standard", author) as act:
            act.removes(row)


def standard_view(project_id: int, key: str) -> bytes:
    """All hatches of a standard, for the screen."""
    with reading() as session:
        standard = standard_for(session, project_id, key)
    return to_screen(hatch_page(standard), {"scale": 1})


def hatch_view(request: HatchRequest) -> bytes:
    """One hatch that is not saved (yet), for the screen."""
    plain = default_standard()
    change = {"hatch": SAMPLE, "tint": request.tint, "seen_tint": request.tint}
    rule = plain.materials["other"].model_copy(update=change)
    standard = plain.model_copy(
        update={"hatches": {SAMPLE: request.hatch}, "materials": {"other": rule, "earth": rule}}
    )
    if request.seen:
        return to_screen(seen_sample(standard, SAMPLE, request.scale), {"scale": request.scale})
    return to_screen(hatch_sample(standard, SAMPLE, request.scale, request.thickness), {"scale": request.scale})


def _shipped(key: str) -> StandardOut:
    standard = shipped_standard(key)
    return StandardOut(key=key, id=None, name=standard.name, version=1, document=standard)


def _out(row: Standard) -> StandardOut:
    return StandardOut(
        key=own_key(row),
        id=row.id,
        name=row.name,
        version=row.version,
        document=DrawingStandard.model_validate(row.document),
    )
