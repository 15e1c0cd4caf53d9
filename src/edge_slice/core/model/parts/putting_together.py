"""One model of several parts: storeys, grid, north and rooms of the one that leads, elements of all."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Model, Part, Space, Storey
from edge_slice.core.model.merging import Named
from edge_slice.core.model.mesh.joining import together, without
from edge_slice.core.model.mesh.joints import Joints
from edge_slice.core.model.mesh.triangles import Mesh
from edge_slice.core.model.parts.places import LEVEL, PartPlace, Vector, placed
from edge_slice.core.model.parts.twice import held_twice
from edge_slice.core.model.revisions import FILE_ID

I32 = NDArray[np.int32]
NO_JOINTS = Joints(
    np.zeros(0, np.int64), np.zeros(0, np.int64), np.zeros((0, 2, 3)), *(np.zeros((0, 2), bool) for _ in range(3))
)


@dataclass(frozen=True)
class PlacedPart:
    """A part, its model as it was read, and where it lies."""

    part: Part
    model: Model
    place: PartPlace


def put_together(parts: Sequence[PlacedPart], origin: Vector | None = None) -> Model:
    """One model of parts, of which the first leads, measured from `origin`, its own if none is given. What two of them
    hold is in it once. Elements keep their GlobalIds, which must be different ones (`distinct`)."""
    models = [placed(p.model, p.place, origin or parts[0].model.origin) for p in parts]
    first = models[0]
    once = held_twice(models, [p.part.discipline for p in parts])
    named = Named(list(first.materials), list(first.build_ups))
    mesh: Mesh | None = None
    elements: list[Element] = []
    for k, (model, left) in enumerate(zip(models, once.left_out, strict=True)):
        storeys = _storeys_in(first.storeys, model.storeys) if k else list(range(len(first.storeys)))
        kept = [j for j in range(len(model.elements)) if j not in left]
        own = _renumbered(model, sorted(left), kept, len(elements), [named.material(model, m) for m in
                                                                    range(len(model.materials))])  # fmt: skip
        stands = [storeys[e.storey] if e.storey >= 0 else -1 for e in model.elements]
        if k and _without_storeys(model):
            stands = _by_height(first.storeys, model)
        elements += [_element(named, model, model.elements[j], stands[j], k) for j in kept]
        mesh = own if mesh is None else together(mesh, own, of_added=False)
    assert mesh is not None
    return replace(
        first,
        mesh=mesh,
        elements=tuple(elements),
        materials=tuple(named.materials),
        build_ups=tuple(named.build_ups),
        spaces=_rooms(models),
        grid=next((m.grid for m in models if m.grid), ()),
        leaking=tuple(mesh.open_elements.tolist()),
        problems=tuple(f"{p.part.name}: {said}" for p in parts for said in p.model.problems),
        parts=tuple(p.part for p in parts),
        twice=once.twice,
    )  # fmt: skip


def distinct(model: Model, taken: Collection[str], key: str) -> Model:
    """A part whose elements and rooms have GlobalIds that no other part has: one that is `taken` is made anew of it and
    the part's key, and kept as that of the file."""
    known = set(taken)
    if not known & {e.guid for e in model.elements} and not known & {s.guid for s in model.spaces}:
        return model
    return model.under_guids(
        tuple(
            replace(e, guid=_other_guid(e.guid, key), properties=(*e.properties, (FILE_ID, e.guid)))
            if e.guid in known else e
            for e in model.elements
        ),
        model.storeys,
        tuple(replace(s, guid=_other_guid(s.guid, key)) if s.guid in known else s for s in model.spaces),
    )  # fmt: skip


def _other_guid(guid: str, key: str) -> str:
    return f"{key[:8]}-{hashlib.blake2b(f'{key} {guid}'.encode(), digest_size=8).hexdigest()}"[:22]


def _rooms(models: Sequence[Model]) -> tuple[Space, ...]:
    """The rooms of the first part that has some, in the storeys of the leading one."""
    if models[0].spaces:
        return models[0].spaces
    roomy = next((m for m in models if m.spaces), models[0])
    storeys = [*_storeys_in(models[0].storeys, roomy.storeys), -1]
    return tuple(replace(s, storey=storeys[s.storey]) for s in roomy.spaces)


def _storeys_in(there: Sequence[Storey], own: Sequence[Storey]) -> list[int]:
    """For each storey of a part the one of the leading model that it is: of the same name where that is near, else the
    nearest, else the one that its height lies in."""
    found = []
    for storey in own:
        gaps = np.array([abs(s.elevation - storey.elevation) for s in there])
        if not len(gaps):
            found.append(-1)
            continue
        name = storey.name.strip().casefold()
        named = [k for k, s in enumerate(there) if s.name.strip().casefold() == name and gaps[k] < 4 * LEVEL]
        below = [k for k, s in enumerate(there) if s.elevation <= storey.elevation + LEVEL]
        near = int(gaps.argmin())
        found.append(named[0] if named else near if gaps[near] <= LEVEL else below[-1] if below else 0)
    return found


def _without_storeys(model: Model) -> bool:
    """Whether a file has no storeys: its reader gives it one to stand on, in which nothing stands."""
    return all(e.storey < 0 for e in model.elements)


def _by_height(there: Sequence[Storey], model: Model) -> list[int]:
    """For each element of a part without storeys the one of the leading model that its foot is in; none for ground and
    the like."""
    low = model.boxes[:, 0, 2]
    feet = [Storey("", "", float(z) if np.isfinite(z) else 0.0) for z in low]
    return [
        -1 if element.kind in ("ground", "planting") else storey
        for element, storey in zip(model.elements, _storeys_in(there, feet), strict=True)
    ]


def _element(named: Named, model: Model, element: Element, storey: int, part: int) -> Element:
    return replace(
        element,
        storey=storey,
        material=named.material(model, element.material),
        build_up=named.build_up(model, element.build_up),
        part=part,
    )


def _renumbered(model: Model, left: list[int], kept: list[int], start: int, materials: list[int]) -> Mesh:
    """The mesh of a part without what is not drawn, its elements numbered from `start` on, by the materials of all."""
    mesh, _ = without(model.mesh, NO_JOINTS, left)
    number = np.full(len(model.elements) + 1, -1, dtype=np.int32)
    number[kept] = np.arange(start, start + len(kept), dtype=np.int32)
    of = np.array([*materials, -1], dtype=np.int32)
    return replace(
        mesh,
        triangle_element=number[mesh.triangle_element],
        triangle_material=of[mesh.triangle_material],
        edge_element=number[mesh.edge_element],
        open_elements=number[mesh.open_elements],
    )
