"""A newer state of a model beside an earlier one: what is the same, what changed, and what came and went.

Elements are matched by their GlobalId, else by kind, place and shape, for programs that write new ones each time. Those
matched so keep the GlobalId by which the project knows them, so that all that refers to them stays with them.
"""

from __future__ import annotations

import hashlib
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Model, Run, Space, Storey
from edge_slice.core.model.parts.places import AS_IT_IS, placed

F64 = NDArray[np.float64]
FILE_ID = "file: GlobalId"  # under which an element keeps the one that its file gives it
ALIKE = 0.5  # of two boxes, which must be common to both of an element that was given another GlobalId
ANOTHER = 0.2  # of the elements; where fewer are known, the file is taken for another building
ASIDE = 3.0  # metres that an element with another GlobalId may have been moved by
HEIGHT = 0.05  # metres; storeys of the same name nearer to each other are one
What = Literal["added", "removed", "changed", "renamed"]


@dataclass(frozen=True)
class ElementChange:
    """What became of an element: `what`; of a changed one `how` ("moved", "shape", "material", "kind"); `guid` is the
    one by which the project knows it. `renamed`: its file gives it another GlobalId now, nothing else."""

    what: What
    guid: str
    name: str
    kind: str
    storey: str
    how: tuple[str, ...] = ()


@dataclass(frozen=True)
class RoomChange:
    what: What
    guid: str
    name: str
    how: tuple[str, ...] = ()


@dataclass(frozen=True)
class ModelChanges:
    """From one revision to the next. `same` counts elements that did not change; `lost_storeys` are GlobalIds of those
    that are not there any more; `another`: so little is known again that it may be another building."""

    elements: tuple[ElementChange, ...]
    rooms: tuple[RoomChange, ...]
    lost_storeys: tuple[str, ...]
    same: int
    another: bool

    @property
    def changed_guids(self) -> frozenset[str]:
        """Elements that are drawn otherwise, are new, or are gone."""
        return frozenset(c.guid for c in self.elements if c.what != "renamed")


def revised(old: Model, new: Model) -> tuple[Model, ModelChanges]:
    """The newer model, with elements, storeys and rooms under the GlobalIds by which the older one knows them; and what
    changed."""
    new = placed(new, AS_IT_IS, old.origin)  # cuts of the older one then lie where they lay
    before = _matched_elements(old, new)
    storeys = _matched_storeys(old, new)
    rooms = _matched_rooms(old, new)
    elements = tuple(_known(e, old.elements[before[k]] if k in before else None) for k, e in enumerate(new.elements))
    found = new.under_guids(
        elements,
        tuple(replace(s, guid=old.storeys[storeys[k]].guid) if k in storeys else s
              for k, s in enumerate(new.storeys)),
        tuple(replace(s, guid=old.spaces[rooms[k]].guid) if k in rooms else s
              for k, s in enumerate(new.spaces)),
    )  # fmt: skip
    return found, _changes(old, new, found, before, storeys, rooms)


def _known(element: Element, before: Element | None) -> Element:
    if before is None or before.guid == element.guid:
        return element
    return replace(element, guid=before.guid, properties=(*element.properties, (FILE_ID, element.guid)))


def file_guid(element: Element) -> str:
    """The GlobalId that its own file gives an element."""
    return next((value for name, value in element.properties if name == FILE_ID), element.guid)


def _matched_elements(old: Model, new: Model) -> dict[int, int]:
    """Old element by new one."""
    known = {e.guid: k for k, e in enumerate(old.elements)} | {file_guid(e): k for k, e in enumerate(old.elements)}
    found = {k: known[e.guid] for k, e in enumerate(new.elements) if e.guid in known}
    left_old = sorted(set(range(len(old.elements))) - set(found.values()))
    left_new = [k for k in range(len(new.elements)) if k not in found]
    if not left_old or not left_new:
        return found
    for of in (_place_and_shape, _kind_and_box):
        groups: dict[Hashable, list[int]] = {}
        for k in left_old:
            groups.setdefault(of(old, k), []).append(k)
        for k in list(left_new):
            alike = groups.get(of(new, k))
            if alike:
                found[k] = alike.pop(0)
                left_new.remove(k)
                left_old.remove(found[k])
    found |= _overlapping(old, new, left_old, left_new)
    left_old = [j for j in left_old if j not in found.values()]
    return found | _near_of_shape(old, new, left_old, [k for k in left_new if k not in found])


def _survey_points(model: Model, element: int) -> F64:
    """The vertices (n, 3) of an element, whole millimetres in survey coordinates, sorted."""
    points = model.element_triangles(element).reshape(-1, 3)
    found: F64 = np.unique(np.rint((points + np.array(model.origin)) * 1000.0), axis=0)
    return found


def _place_and_shape(model: Model, element: int) -> Hashable:
    points = _survey_points(model, element)
    return model.elements[element].kind, hashlib.blake2b(points.tobytes(), digest_size=12).digest()


def _kind_and_box(model: Model, element: int) -> Hashable:
    points = _survey_points(model, element)
    if not len(points):
        return model.elements[element].kind, model.elements[element].name
    return model.elements[element].kind, (*points.min(axis=0).tolist(), *points.max(axis=0).tolist())


def _overlapping(old: Model, new: Model, left_old: Sequence[int], left_new: Sequence[int]) -> dict[int, int]:
    """Elements of one kind whose boxes have most in common, the most alike ones first; each is used once."""
    pairs: list[tuple[float, int, int]] = []
    shift = np.array(new.origin) - np.array(old.origin)
    for k in left_new:
        low, high = new.boxes[k] + shift
        for j in left_old:
            if old.elements[j].kind != new.elements[k].kind:
                continue
            share = _common(low, high, *old.boxes[j])
            named = old.elements[j].name == new.elements[k].name
            if share >= ALIKE or (named and share > 0):
                pairs.append((-share - (1.0 if named else 0.0), k, j))
    return _paired(pairs)


def _near_of_shape(old: Model, new: Model, left_old: Sequence[int], left_new: Sequence[int]) -> dict[int, int]:
    """Elements of one kind, name and shape that stand a little aside, the nearest ones first."""
    shapes: dict[Hashable, list[int]] = {}
    for j in left_old:
        shapes.setdefault(_shape(old, j), []).append(j)
    pairs = []
    for k in left_new:
        for j in shapes.get(_shape(new, k), ()):
            away = float(np.linalg.norm(_survey_points(new, k)[0] - _survey_points(old, j)[0])) / 1000.0
            if away <= ASIDE:
                pairs.append((away, k, j))
    return _paired(pairs)


def _paired(pairs: list[tuple[float, int, int]]) -> dict[int, int]:
    """Of pairs (cost, new, old) the cheapest ones, each element once."""
    found: dict[int, int] = {}
    used: set[int] = set()
    for _, k, j in sorted(pairs):
        if k not in found and j not in used:
            found[k] = j
            used.add(j)
    return found


def _shape(model: Model, element: int) -> Hashable:
    points = _survey_points(model, element)
    own = points - points.min(axis=0) if len(points) else points
    of = model.elements[element]
    return of.kind, of.name, hashlib.blake2b(own.tobytes(), digest_size=12).digest()


def _common(low: F64, high: F64, other_low: F64, other_high: F64) -> float:
    """The share of two boxes together that is common to both; flat ones count as a millimetre thick."""
    if not np.isfinite([*low, *high, *other_low, *other_high]).all():
        return 0.0
    both = np.maximum(np.minimum(high, other_high) - np.maximum(low, other_low) + 0.001, 0.0).prod()
    one, other = (high - low + 0.001).prod(), (other_high - other_low + 0.001).prod()
    return float(both / (one + other - both))


def _matched_storeys(old: Model, new: Model) -> dict[int, int]:
    found: dict[int, int] = {}

    def same_guid(a: Storey, b: Storey) -> bool:
        return a.guid == b.guid

    def same_name(a: Storey, b: Storey) -> bool:
        return a.name == b.name

    def same_height(a: Storey, b: Storey) -> bool:
        return abs(a.elevation + old.origin[2] - b.elevation - new.origin[2]) < HEIGHT

    for same in (same_guid, same_name, same_height):
        for k, b in enumerate(new.storeys):
            if k in found:
                continue
            for j, a in enumerate(old.storeys):
                if j not in found.values() and same(a, b):
                    found[k] = j
                    break
    return found


def _matched_rooms(old: Model, new: Model) -> dict[int, int]:
    by_guid = {s.guid: j for j, s in enumerate(old.spaces)}
    found = {k: by_guid[s.guid] for k, s in enumerate(new.spaces) if s.guid in by_guid}
    left = [j for j in range(len(old.spaces)) if j not in found.values()]
    for k, space in enumerate(new.spaces):
        if k in found:
            continue
        best = max(left, key=lambda j: _room_share(old, old.spaces[j], new, space), default=None)
        if best is not None and _room_share(old, old.spaces[best], new, space) >= ALIKE:
            found[k] = best
            left.remove(best)
    return found


def _room_share(old: Model, a: Space, new: Model, b: Space) -> float:
    if len(a.outline) < 3 or len(b.outline) < 3 or abs(a.floor + old.origin[2] - b.floor - new.origin[2]) > 1.0:
        return 0.0
    shift = np.array(new.origin)[:2] - np.array(old.origin)[:2]
    one, other = shapely.Polygon(a.outline), shapely.Polygon(np.array(b.outline) + shift)
    if not one.is_valid or not other.is_valid:
        return 0.0
    both = one.intersection(other).area
    return float(both / max(one.area + other.area - both, 1e-9))


def _changes(
    old: Model, new: Model, found: Model, before: dict[int, int], storeys: dict[int, int], rooms: dict[int, int]
) -> ModelChanges:
    elements: list[ElementChange] = []
    same = 0
    for k, element in enumerate(found.elements):
        j = before.get(k)
        how = () if j is None else _how(old, j, found, k)
        if j is None:
            elements.append(_change("added", found, element))
        elif how:
            elements.append(_change("changed", found, element, how))
        elif file_guid(element) != file_guid(old.elements[j]):
            elements.append(_change("renamed", found, element))
        else:
            same += 1
    gone = sorted(set(range(len(old.elements))) - set(before.values()))
    elements += [_change("removed", old, old.elements[j]) for j in gone]
    lost = tuple(s.guid for j, s in enumerate(old.storeys) if j not in storeys.values())
    known = len(before) / max(len(old.elements), 1)
    return ModelChanges(tuple(elements), _room_changes(old, found, rooms), lost, same, known < ANOTHER)


def _change(what: What, model: Model, element: Element, how: tuple[str, ...] = ()) -> ElementChange:
    storey = model.storeys[element.storey].name if element.storey >= 0 else ""
    return ElementChange(what, element.guid, element.name, element.kind, storey, how)


def _how(old: Model, j: int, new: Model, k: int) -> tuple[str, ...]:
    """In what an element differs."""
    a, b = old.elements[j], new.elements[k]
    found: list[str] = []
    alike = old.origin == new.origin and np.array_equal(old.element_triangles(j), new.element_triangles(k))
    one, other = (np.zeros((0, 3)),) * 2 if alike else (_survey_points(old, j), _survey_points(new, k))
    if one.shape != other.shape or not np.allclose(one, other, atol=1.0):
        shift = other.mean(axis=0) - one.mean(axis=0) if len(one) and len(other) else np.zeros(3)
        whole = one.shape == other.shape and np.allclose(_sorted(one + shift), _sorted(other), atol=2.0)
        if not whole:
            found.append("shape")
        elif np.abs(shift).max() > 0.5:  # else it is where it was, but for what rounding to millimetres makes of it
            found.append("moved")
    if _made_of(old, a) != _made_of(new, b):
        found.append("material")
    if a.kind != b.kind:
        found.append("kind")
    if not _same_run(a.run, b.run):
        found.append("system")
    return tuple(found)


def _same_run(a: Run | None, b: Run | None) -> bool:
    """Whether runs are of one system and flow one way; a part that was turned flows a little otherwise."""
    one, other = a or Run(), b or Run()
    if (one.system, one.purpose, one.flow is None) != (other.system, other.purpose, other.flow is None):
        return False
    return one.flow is None or other.flow is None or float(np.dot(one.flow, other.flow)) > 0.999


def _sorted(points: F64) -> F64:
    rounded = np.rint(points)
    return np.asarray(rounded[np.lexsort(rounded.T)])


def _made_of(model: Model, element: Element) -> Hashable:
    layers = model.build_ups[element.build_up].layers if element.build_up >= 0 else ()
    own = model.materials[element.material].name if element.material >= 0 else ""
    return own, tuple(
        (model.materials[x.material].name if x.material >= 0 else "", round(x.thickness, 4)) for x in layers
    )


def _room_changes(old: Model, new: Model, rooms: dict[int, int]) -> tuple[RoomChange, ...]:
    found: list[RoomChange] = []
    for k, space in enumerate(new.spaces):
        name = f"{space.number} {space.name}".strip()
        j = rooms.get(k)
        if j is None:
            found.append(RoomChange("added", space.guid, name))
            continue
        was = old.spaces[j]
        how = tuple(
            word
            for word, differs in (
                ("number", was.number != space.number),
                ("name", was.name != space.name),
                ("outline", _room_share(old, was, new, space) < 0.999),
            )
            if differs
        )
        if how:
            found.append(RoomChange("changed", space.guid, name, how))
    gone = [old.spaces[j] for j in range(len(old.spaces)) if j not in rooms.values()]
    found += [RoomChange("removed", s.guid, f"{s.number} {s.name}".strip()) for s in gone]
    return tuple(found)
