"""The model of a project file: one file, or several that are put together; in one state, or in revisions."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import PurePosixPath

from edge_slice.core.drawing import SHIPPED, shipped_standard
from edge_slice.core.model import Model
from edge_slice.core.model.building import Discipline, Part
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.ground.made import GroundProblem
from edge_slice.core.model.ground.standing_in import reliefs_of, with_ground
from edge_slice.core.model.parts.disciplines import guessed_discipline
from edge_slice.core.model.parts.places import AS_IT_IS, PartPlace, proposed_place
from edge_slice.core.model.parts.putting_together import PlacedPart, put_together
from edge_slice.core.model.parts.states import as_known, whole_of
from edge_slice.core.model.revisions import ModelChanges, revised
from edge_slice.core.model.said import with_said
from edge_slice.core.project.file.project_file import PartTable, ProjectFile
from edge_slice.core.project.known_names import check_names, in_materials_here, known_of_materials
from edge_slice.core.project.refused import Refused

Read = Callable[[str, Model | None], Model]  # a file by its name, and what may be known of it


@dataclass(frozen=True)
class ReadPart:
    """A part as it is in one state: its own model, as the project knows its elements."""

    key: str
    name: str
    discipline: Discipline
    file: str
    place: PartPlace
    model: Model


@dataclass(frozen=True)
class ReadState:
    """One state of a model: put together, with what changed since the one before, None of the first; its `parts`, none
    of one file; `file` is the one that leads."""

    model: Model
    changes: ModelChanges | None
    parts: tuple[ReadPart, ...]
    file: str


def read_states(document: ProjectFile, read: Read) -> list[ReadState]:
    """All states of a project file's model, the newest last. Raises `Refused` for a part that does not say its place
    where that isn't clear, and for two of one key or name."""
    found: list[ReadState] = []
    files: dict[str, Model] = {}

    def once(name: str, known: Model | None) -> Model:
        if name not in files:
            files[name] = read(name, known)
        return files[name]

    for k, said in enumerate(document.states):
        before = found[-1] if found else None
        if isinstance(said, str):
            model = once(said, before.model if before else None)
            known, changes = (model, None) if before is None else revised(before.model, model)
            found.append(ReadState(known, changes, (), said))
            continue
        parts = _parts(said, before, once, f"model.{k}")
        placed = [PlacedPart(Part(p.key, p.name, p.discipline), p.model, p.place) for p in parts]
        if before is None:
            found.append(ReadState(put_together(placed), None, parts, parts[0].file))
        else:
            whole, changes = whole_of(placed, before.model)
            found.append(ReadState(whole, changes, parts, parts[0].file))
    return found


def as_drawn(model: Model, document: ProjectFile, strict: bool) -> Model:
    """The model as its project corrects it, in the ground and of the materials that it says. Raises `Refused` for a
    ground that can't be made, and for names that nothing is called, where `strict`."""
    grounds, said = document.ground, document.material_here
    model, told = corrected(model, document.correction)
    if strict and (lost := [one.of for one in told if one.lost]):
        raise Refused(f"There is no “{lost[0].asked_of}” to be corrected.", "correction")
    if strict:
        standards = [*map(shipped_standard, SHIPPED), *(one.document for one in document.standard)]
        check_names(in_materials_here(said, "material_here"), known_of_materials(model, standards))
    try:
        reliefs = reliefs_of(model, grounds) if strict else None
    except GroundProblem as problem:
        raise Refused(f"The ground can't be made: {problem}", "ground") from problem
    standing = with_ground(model, grounds, reliefs_of if reliefs is None else lambda *_: reliefs)
    return with_said(standing, said) if said else standing


def _parts(said: list[PartTable], before: ReadState | None, read: Read, field: str) -> tuple[ReadPart, ...]:
    known = {p.key: p for p in _known(before)}
    keys = [one.key or str(n) for n, one in enumerate(said, 1)]
    names = [one.name or PurePosixPath(one.file).stem for one in said]
    for what, those in (("key", keys), ("name", names)):
        twice = next((one for one in those if those.count(one) > 1), None)
        if twice is not None:
            raise Refused(f"Two parts of the model have the {what} “{twice}”.", field)
    found: list[ReadPart] = []
    for n, (one, key, name) in enumerate(zip(said, keys, names, strict=True)):
        was = known.get(key)
        if was is not None and was.file == one.file:
            model = was.model
        else:
            others = [p.model for p in found] + [p.model for p in known.values() if p.key not in keys[: n + 1]]
            raw = read(one.file, was.model if was else None)
            model = as_known(raw, was.model if was else None, others, key)[0]
        discipline = one.discipline or guessed_discipline(one.file, model)[0]
        place = one.place if one.place is not None else _place(found, model, one.file, field)
        found.append(ReadPart(key, name, discipline, one.file, place, model))
    return tuple(found)


def _known(before: ReadState | None) -> Iterator[ReadPart]:
    """The parts of the state before; one file is the part of key 1."""
    if before is None:
        return
    if before.parts:
        yield from before.parts
    else:
        yield ReadPart("1", "", "architecture", before.file, AS_IT_IS, before.model)


def _place(found: list[ReadPart], model: Model, file: str, field: str) -> PartPlace:
    """Where a part lies whose place the file doesn't say. Raises `Refused` where that isn't clear."""
    if not found:
        return AS_IT_IS
    where = proposed_place(found[0].model, model)
    if not where.sure:
        raise Refused(f"{file}: {where.says} Say its place: x, y, z in metres and turn in degrees.", field)
    return where.place
