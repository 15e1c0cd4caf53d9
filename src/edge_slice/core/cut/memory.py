"""What a cut keeps for the next one: whatever did not change is not computed again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.opened.standing import StandingFaces
from edge_slice.core.cut.pieces import CutFace, CutLines, MaterialRules
from edge_slice.core.cut.planes.leaves import Axes, Leaf, Lens
from edge_slice.core.cut.shown import whole_elements
from edge_slice.core.cut.spec import AnyCut, Place
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
Loose = tuple[int, F64]
TOUCH = 1.0  # mm; what changes this near to an element may change its lines
MANY = 400  # changed places; with more of them, everything that they span is traced again


@dataclass(frozen=True)
class LeafMemory:
    """One leaf of an earlier cut: raw faces as sliced, faces after overlaps, the triangles that they conceal
    with, the boxes (elements, 2, 3) of elements in the drawing, and lines before coincident ones were dropped."""

    leaf: Leaf
    raw: tuple[CutFace, ...]
    loose: tuple[Loose, ...]
    faces: tuple[CutFace, ...]
    caps: F64
    boxes: F64
    traced: CutLines
    overhead: CutLines


@dataclass(frozen=True)
class CutMemory:
    """`sight` is what lines depend on besides their leaf: lens, glass, hidden lines, overhead range."""

    model: Model
    spec: AnyCut
    shown: Flags
    rules: MaterialRules
    polygon: tuple[Place, ...]
    lens: Lens | None
    sight: tuple[object, ...]
    leaves: tuple[LeafMemory, ...]
    standing: tuple[StandingFaces, ...] = ()


@dataclass(frozen=True)
class Kinship:
    """Which elements of a model are those of an earlier one: `of` (elements,) is the earlier index or -1,
    `same` (elements,) whether nothing of it changed, `new` (earlier elements,) the index now or -1."""

    of: I64
    same: Flags
    new: I64
    material: I64
    edge_shift: I64


def kinship(now: Model, before: Model) -> Kinship | None:
    """None where elements can't be told apart: a GlobalId that stands twice."""
    count = len(now.elements)
    if now is before:
        index = np.arange(count)
        none = np.zeros(count, dtype=np.int64)
        return Kinship(index, np.ones(count, dtype=bool), index, np.arange(-1, len(now.materials)), none)
    earlier = {e.guid: i for i, e in enumerate(before.elements)}
    if len(earlier) < len(before.elements) or len({e.guid for e in now.elements}) < count:
        return None
    of = np.array([earlier.get(e.guid, -1) for e in now.elements], dtype=np.int64)
    same = np.array([i >= 0 and before.digests[i] == d for i, d in zip(of, now.digests, strict=True)], dtype=bool)
    new = np.full(len(before.elements), -1, dtype=np.int64)
    new[of[of >= 0]] = np.flatnonzero(of >= 0)
    names = {m: i for i, m in enumerate(now.materials)}
    material = np.array([-1] + [names.get(m, -1) for m in before.materials], dtype=np.int64)
    starts, starts_before = _edge_starts(now), _edge_starts(before)
    shift = np.where(of >= 0, starts - starts_before[np.maximum(of, 0)], 0)
    return Kinship(of, same, new, material, shift)


def _edge_starts(model: Model) -> I64:
    """The first edge of each element; edges stand element by element."""
    return np.searchsorted(model.mesh.edge_element, np.arange(len(model.elements))).astype(np.int64)


@dataclass(frozen=True)
class Past:
    """An earlier cut of the same drawing, as seen from the model and the settings of now."""

    memory: CutMemory
    kin: Kinship
    reusable: Flags  # unchanged, and shown both times

    @staticmethod
    def of(memory: CutMemory | None, model: Model, shown: Flags, spec: AnyCut) -> Past | None:
        if memory is None or memory.polygon != spec.extents.polygon:
            return None
        kin = kinship(model, memory.model)
        if kin is None:
            return None
        earlier = np.maximum(kin.of, 0)
        before = np.where(kin.of >= 0, memory.shown[earlier], False)
        alike = whole_elements(model, spec) == whole_elements(memory.model, memory.spec)[earlier]
        return Past(memory, kin, kin.same & shown & before & alike)

    def leaf(self, leaf: Leaf, index: int, count: int) -> LeafMemory | None:
        """The memory of a leaf that shows the same part of the same plane."""
        if len(self.memory.leaves) != count:
            return None
        kept = self.memory.leaves[index]
        same = same_axes(kept.leaf.axes, leaf.axes) and kept.leaf.window == leaf.window
        return kept if same else None

    def kept(self, element: int) -> int:
        """The index now of an earlier element that can be reused, or -1."""
        now = int(self.kin.new[element])
        return now if now >= 0 and self.reusable[now] else -1

    def faces(self, earlier: tuple[CutFace, ...]) -> list[CutFace]:
        """Earlier faces of what can be reused, with the indices of now."""
        found = []
        for face in earlier:
            now = self.kept(face.element)
            if now >= 0:
                material = int(self.kin.material[face.material + 1])
                found.append(replace(face, element=now, material=material))
        return found

    def loose(self, earlier: tuple[Loose, ...]) -> list[Loose]:
        return [(self.kept(e), chain) for e, chain in earlier if self.kept(e) >= 0]

    def lines(self, earlier: CutLines, wanted: Callable[[I64], Flags]) -> CutLines:
        """Earlier lines of elements that can be reused and are `wanted`, with the indices of now."""
        now = self.kin.new[earlier.element]
        good = (now >= 0) & self.reusable[np.maximum(now, 0)]
        good &= wanted(np.maximum(now, 0))
        kept = earlier.pick(good)
        element = now[good]
        edge = kept.edge + self.kin.edge_shift[element]
        return replace(kept, element=element.astype(np.int32), edge=edge.astype(np.int32))


def nothing_changed(memory: CutMemory, model: Model, spec: AnyCut, rules: MaterialRules) -> bool:
    """Whether a cut would give what it gave before: the same cut of a model in which every element is as it was."""
    if spec != memory.spec or not same_rules(rules, memory.rules):
        return False
    before = memory.model
    if model is before:
        return True
    same = model.materials == before.materials and model.storeys == before.storeys
    return (
        same
        and [e.guid for e in model.elements] == [e.guid for e in before.elements]
        and model.digests == before.digests
    )


def same_axes(a: Axes, b: Axes) -> bool:
    return all(np.array_equal(x, y) for x, y in ((a.origin, b.origin), (a.u, b.u), (a.v, b.v), (a.w, b.w)))


def same_rules(a: MaterialRules, b: MaterialRules) -> bool:
    return np.array_equal(a.strength, b.strength) and same_sight(a, b)


def same_sight(a: MaterialRules, b: MaterialRules) -> bool:
    """Whether materials conceal and merge alike."""
    return np.array_equal(a.clear, b.clear) and np.array_equal(a.merge, b.merge) and a.skins == b.skins


def touched(boxes: F64, places: F64) -> Flags:
    """Which boxes (n, 2, 3) lie in the drawing where places (k, 4) left base right top do."""
    found = np.zeros(len(boxes), dtype=bool)
    if not len(places):
        return found
    if len(places) > MANY:
        places = np.r_[places[:, :2].min(axis=0), places[:, 2:].max(axis=0)][None]
    for left, base, right, top in places.tolist():
        found |= (
            (boxes[:, 1, 0] >= left - TOUCH)
            & (boxes[:, 1, 1] >= base - TOUCH)
            & (boxes[:, 0, 0] <= right + TOUCH)
            & (boxes[:, 0, 1] <= top + TOUCH)
        )
    return found


def places_of(boxes: F64) -> F64:
    """Boxes (n, 2, 3) as places (n, 4) in the drawing."""
    return np.concatenate((boxes[:, 0, :2], boxes[:, 1, :2]), axis=1)


def changed_faces(before: tuple[CutFace, ...], now: list[CutFace]) -> F64:
    """Places (k, 4) of faces that are only in one of both."""
    a = {f.polygon.wkb: f.polygon for f in before}
    b = {f.polygon.wkb: f.polygon for f in now}
    differ = [p for k, p in a.items() if k not in b] + [p for k, p in b.items() if k not in a]
    return np.array([p.bounds for p in differ], dtype=np.float64).reshape(-1, 4)
