"""The models in use, kept in memory by content hash."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.projects.documents import ModelFacts, PartFacts, SpaceOut, StoreyOut
from edge_slice.app.row_lookup import project_row
from edge_slice.core.drawing import default_standard
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import LISTED, Correction
from edge_slice.core.model.corrections.documents import digest_of as corrections_digest
from edge_slice.core.model.digests import digest_of_said
from edge_slice.core.model.ground.documents import NONE, Grounds
from edge_slice.core.model.ground.standing_in import Reliefs, reliefs_of, with_ground
from edge_slice.core.model.merging import with_elements
from edge_slice.core.model.said import MaterialHere, with_said
from edge_slice.core.model.storage import model_from_bytes
from edge_slice.core.recent import Recent
from edge_slice.store.blobs import read_chunks
from edge_slice.store.database import reading
from edge_slice.store.tables import GroundRow, Project, Revision

MOST_UNCLEAR = 200
IN_THE_FILE = 0  # the number by which the newest revision is asked for as its file has it, without corrections
_models: Recent[Model] = Recent("models", 3)  # by content hash
_reliefs: Recent[Reliefs] = Recent("reliefs of grounds", 6)  # by content hash and ground
_held: Recent[Model] = Recent("models of held drawings", 3)  # by content hash and what is taken of others
_corrected: Recent[Model] = Recent("corrected models", 3)  # by content and corrections
_said: Recent[Model] = Recent("models of the materials that their project says", 3)  # by name of what is cut
_grounded: Recent[Model] = Recent("models in the ground of their project", 3)  # by content hash and ground


def newest_revision(session: Session, project_id: int) -> Revision:
    found = session.exec(
        select(Revision).where(col(Revision.project_id) == project_id).order_by(col(Revision.number).desc()).limit(1)
    ).first()
    if found is None:
        raise NotFound("This project has no model.")
    return found


def numbered_revision(session: Session, project_id: int, number: int) -> Revision:
    """A revision of a project's model by its number, the newest one for `IN_THE_FILE`. Raises `Refused` for that where
    nothing is corrected."""
    if number == IN_THE_FILE:
        if not session.get_one(Project, project_id).corrections:
            raise Refused("Nothing of this model is corrected; compare with an earlier revision.", "with")
        return newest_revision(session, project_id)
    found = session.exec(
        select(Revision).where(col(Revision.project_id) == project_id, col(Revision.number) == number)
    ).first()
    if found is None:
        raise NotFound(f"This project's model has no revision {number}.")
    return found


_LENGTHS: TypeAdapter[Lengths] = TypeAdapter(Lengths)


def written(project: Project) -> Lengths:
    """How a project writes lengths."""
    return _LENGTHS.validate_python(project.lengths)


def said_here(project: Project) -> list[MaterialHere]:
    """What a project says of materials in single places."""
    return [MaterialHere.model_validate(one) for one in project.materials_here]


def corrections_of(project: Project) -> list[Correction]:
    """How a project corrects its model."""
    return LISTED.validate_python(project.corrections)


def kept_corrections(corrections: Sequence[Correction]) -> list[dict[str, Any]]:
    """Corrections as a project keeps them; `corrections_of` is the way back."""
    return [one.model_dump(mode="json", exclude_none=True) for one in corrections]


@dataclass(frozen=True)
class Names:
    """Of a revision under which name its model is kept: as it is corrected, that in the ground of its project, and that
    of the materials that the project says, which is what is cut. Where nothing is said, it is the name before."""

    corrected: str
    standing: str
    drawn: str


def names_of(session: Session, revision: Revision, corrections: Sequence[Correction] | None = None) -> Names:
    """`corrections`: others than those of the project."""
    project = session.get_one(Project, revision.project_id)
    wanted = select(GroundRow.digest).where(col(GroundRow.project_id) == revision.project_id)
    digest = corrections_digest(corrections_of(project) if corrections is None else corrections)
    body = _name(revision.geometry_hash, digest and f"corrected {digest}")
    standing = _name(body, session.exec(wanted).first())
    return Names(body, standing, _name(standing, digest_of_said(said_here(project))))


def _name(before: str, digest: str | None) -> str:
    return hashlib.sha256(f"{before} {digest}".encode()).hexdigest() if digest else before


def geometry_of(session: Session, revision: Revision, corrections: Sequence[Correction] | None = None) -> str:
    """The name of what is cut: another text for another model, other corrections, another ground of its project, and
    for what that says of materials in single places."""
    return names_of(session, revision, corrections).drawn


def grounds_of(session: Session, project_id: int) -> Grounds:
    """What ground a project says it has."""
    row = session.exec(select(GroundRow).where(col(GroundRow.project_id) == project_id)).first()
    return NONE if row is None else Grounds.model_validate(row.document)


def bare_model(session: Session, revision: Revision) -> Model:
    """The model of a revision as its file has it; the few used last stay in memory. While one is read, others can be
    used."""
    name = revision.geometry_hash
    return _models.get(name, lambda: model_from_bytes(b"".join(read_chunks(session, name))))


def model_in_file(project_id: int) -> Model:
    """The newest model of a project as its file has it. Raises `NotFound`."""
    with reading() as session:
        project_row(session, project_id)
        return bare_model(session, newest_revision(session, project_id))


def corrected_model(session: Session, revision: Revision, corrections: Sequence[Correction] | None = None) -> Model:
    """The model of a revision as its project corrects it, or as other `corrections` do."""
    name = names_of(session, revision, corrections).corrected
    if name == revision.geometry_hash:
        return bare_model(session, revision)
    said = corrections_of(session.get_one(Project, revision.project_id)) if corrections is None else corrections
    return _corrected.get(name, lambda: corrected(bare_model(session, revision), said)[0])


def model_in_ground(
    session: Session, revision: Revision, corrections: Sequence[Correction] | None = None, names: Names | None = None
) -> Model:
    """The model of a revision as it is corrected, in the ground of its project, of the materials that its file says;
    `names`: its, where somebody has them already."""
    names = names or names_of(session, revision, corrections)
    if names.standing == names.corrected:
        return corrected_model(session, revision, corrections)

    def make() -> Model:
        grounds = grounds_of(session, revision.project_id)
        model = corrected_model(session, revision, corrections)
        return with_ground(model, grounds, lambda *_: reliefs_in(session, revision, grounds))

    return _grounded.get(names.standing, make)


def load_model(session: Session, revision: Revision, corrections: Sequence[Correction] | None = None) -> Model:
    """The model of a revision as it is drawn: in the ground of its project, of the materials that the project says,
    with its corrections or others."""
    names = names_of(session, revision, corrections)
    if names.drawn == names.standing:
        return model_in_ground(session, revision, corrections, names)

    def make() -> Model:
        said = said_here(session.get_one(Project, revision.project_id))
        return with_said(model_in_ground(session, revision, corrections, names), said)

    return _said.get(names.drawn, make)


@dataclass(frozen=True)
class Other:
    """A model under the name of what is cut, and elements (GlobalIds) that are taken of it."""

    name: str
    load: Callable[[], Model]
    elements: tuple[str, ...]


def held_name(own: str, others: Sequence[Other]) -> str:
    """The name of a model of which some elements are as others have them."""
    return hashlib.sha256(repr((own, [(o.name, o.elements) for o in others])).encode()).hexdigest()


def held_model(name: str, model: Model, others: Sequence[Other]) -> Model:
    """A model of which some elements are as others have them, under its name."""

    def make() -> Model:
        found = model
        for other in others:
            found = with_elements(found, other.load(), other.elements)
        return found

    return _held.get(name, make)


def reliefs_in(session: Session, revision: Revision, grounds: Grounds) -> Reliefs:
    """The reliefs of grounds with a revision. Raises `GroundProblem`."""
    name = f"{revision.geometry_hash} {grounds.digest}"
    return _reliefs.get(name, lambda: reliefs_of(bare_model(session, revision), grounds))


def _unclear(model: Model) -> list[str]:
    """Names of materials that something is of, and of which neither name nor category says what they are."""
    layers = {layer.material for e in model.elements if e.build_up >= 0 for layer in model.build_ups[e.build_up].layers}
    used = layers | {e.material for e in model.elements} | set(np.unique(model.mesh.triangle_material).tolist())
    standard = default_standard()
    names = [model.materials[k].name for k in sorted(used - {-1}) if not standard.clear(model.materials[k])]
    return list(dict.fromkeys(names))[:MOST_UNCLEAR]


def facts_of(model: Model, unit: str | None, up: str | None) -> ModelFacts:
    """`unit`, `up`: what was said of a file that does not say it itself."""
    low, high = model.bounds
    return ModelFacts(
        name=model.name,
        model_schema=model.schema,
        unit=model.unit,
        north=model.north,
        origin=model.origin,
        low=(float(low[0]), float(low[1]), float(low[2])),
        high=(float(high[0]), float(high[1]), float(high[2])),
        elements=len(model.elements),
        triangles=len(model.mesh.triangles),
        kinds=model.kinds,
        storeys=[StoreyOut(guid=s.guid, name=s.name, elevation=s.elevation) for s in model.storeys],
        spaces=[SpaceOut(guid=s.guid, number=s.number, name=s.name, storey=s.storey) for s in model.spaces],
        leaking=[e.name or e.guid for e in model.unclosed],
        problems=list(model.problems),
        parts=[
            PartFacts(key=part.key, name=part.name, discipline=part.discipline, elements=count)
            for part, count in zip(
                model.parts,
                np.bincount([e.part for e in model.elements], minlength=len(model.parts)).tolist(),
                strict=False,
            )
        ],
        unclear=_unclear(model),
        read_as={key: value for key, value in (("unit", unit), ("up", up)) if value},
    )
