"""The materials of a project's model: what each is drawn as, by what that is known, how much there is, and where."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel
from sqlmodel import Session, col, select

from edge_slice.app.models.in_memory import model_in_ground, names_of, newest_revision, said_here
from edge_slice.app.people.rights import Person, projects_of
from edge_slice.app.projects.standards import standard_for
from edge_slice.app.row_lookup import project_row
from edge_slice.core.drawing import DrawingStandard, default_standard
from edge_slice.core.model import Material, Model
from edge_slice.core.model.said import MaterialHere, is_there
from edge_slice.core.recent import Recent
from edge_slice.core.tables.material_pictures import picture_of_material
from edge_slice.core.tables.pictures import svg_path
from edge_slice.core.tables.quantities import quantities_of
from edge_slice.store.database import reading
from edge_slice.store.tables import Project

MOST_SHOWN = 40  # elements of a material that are named
By = Literal["us", "name", "category", "guess", "nothing"]
Amounts = dict[int, tuple[float, list[int]]]
_amounts: Recent[Amounts] = Recent("amounts of materials", 6)  # by geometry


class MaterialOut(BaseModel):
    """A material of the model by its name: its class (`is_a`) by the project or by words in its name or category;
    `otherwise`: by words alone. `volume` m³ in closed bodies, in so many `elements`, the largest of which are named.
    `elsewhere`: what another project says of this name."""

    name: str
    category: str
    is_a: str
    by: By
    otherwise: str
    volume: float
    elements: int
    where: list[str]
    elsewhere: str


class TriedOut(BaseModel):
    """What a material is by a standard, and by which of its words; `clear`: not by weak words, nor by nothing."""

    name: str
    category: str
    is_a: str
    clear: bool
    words: list[str]


class MaterialPictureOut(BaseModel):
    """Lines of an element as an SVG path, mm from its upper left corner down, and what is of the material in it."""

    name: str
    wide: float
    high: float
    path: str
    filled: str


class SaidHereOut(BaseModel):
    """What is said of a material in one place, what the element is called, and whether the model has it."""

    said: MaterialHere
    name: str
    there: bool


class MaterialsOut(BaseModel):
    """Those that are not clear first, the most of them first; `classes`: what a material may be, `hatches` by what it
    may be cut. `here`: what is said in single places; `offered`: what other projects say of build-ups and hatches that
    this model has too."""

    materials: list[MaterialOut]
    classes: list[str]
    hatches: list[str]
    here: list[SaidHereOut]
    offered: list[MaterialHere]


def materials_of(project_id: int, person: Person) -> MaterialsOut:
    """The materials of a project, for somebody: what others say is offered of projects that they may see."""
    with reading() as session:
        project = project_row(session, project_id)
        model, amounts = _measured(session, project_id)
        standard = standard_for(session, project_id, "fine-line")
        bare, others = default_standard(), _others(session, project_id, person)
        elsewhere = _elsewhere(others)
        found: dict[str, MaterialOut] = {}
        for k, material in enumerate(model.materials):
            volume, elements = amounts.get(k, (0.0, []))
            if not elements or material.name in found:
                continue
            otherwise = bare.material_class(material)
            by: By = "us" if material.name in project.materials else _known_by(bare, material, otherwise)
            found[material.name] = MaterialOut(
                name=material.name, category=material.category, is_a=standard.material_class(material), by=by,
                otherwise=otherwise,
                volume=round(volume, 4), elements=len(elements),
                where=[model.elements[e].guid for e in elements[:MOST_SHOWN]],
                elsewhere="" if by == "us" else elsewhere.get(material.name, ""),
            )  # fmt: skip
        order = sorted(found.values(), key=lambda m: (m.by not in ("nothing", "guess"), -m.volume, -m.elements, m.name))
        said = said_here(project)
        return MaterialsOut(
            materials=order, classes=sorted(standard.materials), hatches=sorted(standard.hatches),
            here=[_here(model, one) for one in said], offered=_offered(others, model, said),
        )  # fmt: skip


def tried(project_id: int, standard: DrawingStandard) -> list[TriedOut]:
    """What the materials of a project would be by the words of a standard that is being edited; those of which no word
    says it first. What the project says of them does not count."""
    with reading() as session:
        model, used = _measured(session, project_id)
    bare = standard.model_copy(update={"settled": {}})
    found: dict[str, TriedOut] = {}
    for material in (m for k, m in enumerate(model.materials) if k in used and used[k][1]):
        is_a = bare.material_class(material)
        found[material.name] = TriedOut(
            name=material.name, category=material.category, is_a=is_a, clear=bare.clear(material),
            words=list(bare.words_for(material, is_a)),
        )  # fmt: skip
    return sorted(found.values(), key=lambda m: (m.clear, m.is_a, m.name))


def pictures_of(project_id: int) -> list[MaterialPictureOut]:
    """Of each material a picture, in the element that has most of it."""
    with reading() as session:
        model, amounts = _measured(session, project_id)
    found = {
        material.name: picture_of_material(model, amounts[k][1][0], k)
        for k, material in reversed(list(enumerate(model.materials)))
        if k in amounts
    }
    return [
        MaterialPictureOut(
            name=name, wide=p.picture.wide, high=p.picture.high,
            path=svg_path(p.picture.lines.reshape(-1, 2, 2), p.picture.high),
            filled=svg_path(p.filled, p.picture.high),
        )
        for name, p in found.items()
    ]  # fmt: skip


def _measured(session: Session, project_id: int) -> tuple[Model, Amounts]:
    """The model in use, and how much of each of its materials there is."""
    newest = newest_revision(session, project_id)
    names = names_of(session, newest)
    model = model_in_ground(session, newest, names=names)
    return model, _amounts.get(names.standing, lambda: _amounts_of(model))


def _here(model: Model, one: MaterialHere) -> SaidHereOut:
    k = model.element_by_guid.get(one.element)
    name = "" if k is None else model.elements[k].name or model.elements[k].kind
    return SaidHereOut(said=one, name=name, there=is_there(model, one))


def _offered(others: Sequence[Project], model: Model, said: list[MaterialHere]) -> list[MaterialHere]:
    """What other projects say, but not of single elements, that has its place in this model and is not said of it yet;
    of the same place what the newest one says."""
    found = {one.where: one for other in others for one in said_here(other) if not one.element}
    known = {one.where for one in said}
    return [one for where, one in found.items() if where not in known and is_there(model, one)]


def _known_by(standard: DrawingStandard, material: Material, found: str) -> By:
    """By what a material is `found` to be of a class, without the project's word."""
    if standard.clear(material):
        return "category" if material.category else "name"
    return "nothing" if found == "other" else "guess"


def _amounts_of(model: Model) -> Amounts:
    """Of each material the volume in closed bodies, and the elements that have it, those with most of it first."""
    volumes: dict[int, dict[int, float]] = {}
    for (k, material), volume in quantities_of(model).parts.items():
        of = volumes.setdefault(material, {})
        of[k] = of.get(k, 0.0) + abs(volume)
    for k, element in enumerate(model.elements):
        own = {element.material}
        if element.build_up >= 0:
            own |= {layer.material for layer in model.build_ups[element.build_up].layers}
        for material in own - {-1}:
            volumes.setdefault(material, {}).setdefault(k, 0.0)
    return {material: (sum(by.values()), sorted(by, key=lambda e: (-by[e], e))) for material, by in volumes.items()}


def _others(session: Session, project_id: int, person: Person) -> list[Project]:
    """The other projects that somebody may see, the newest last."""
    others = session.exec(select(Project).where(col(Project.id) != project_id).order_by(col(Project.id))).all()
    mine = None if person.sees_all else projects_of(session, person)
    return [one for one in others if mine is None or one.id in mine]


def _elsewhere(others: Sequence[Project]) -> dict[str, str]:
    """What other projects say of materials, the newest last."""
    found: dict[str, str] = {}
    for other in others:
        found |= other.materials
    return found
