"""Visible regions: the view of a cut as tiles of seen surface; what is left is cut, or sky."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property, partial

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.lines.linework import true_depth
from edge_slice.core.cut.memory import CutMemory
from edge_slice.core.cut.planes.leaves import Axes, Lens
from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.surfaces.scene import FacesSeen, Scene, hiding_in, scene_of, seen_by_viewer, window_of
from edge_slice.core.cut.surfaces.visible import seen_of
from edge_slice.core.memory import CORNER
from edge_slice.core.model import Model
from edge_slice.core.remembered import Remembered, corners_of

F64 = NDArray[np.float64]
LEVEL = 1e-6  # sine of the slope under which a face lies level


@dataclass(frozen=True)
class FaceFrame:
    """The plane of a face as paper of its own, mm: `s` runs level along it, `t` up its slope; of a level face along x
    and y of the model. Neighbours in one plane share it, and courses go round corners: an upright face counts t from
    the model's zero. `origin` (3,), metres; `s`, `t` (3,) unit vectors; all in the model."""

    origin: F64
    s: F64
    t: F64

    @staticmethod
    def of(normal: F64, offset: float) -> FaceFrame:
        """Of the plane normal · x = offset, metres."""
        level = float(np.hypot(normal[0], normal[1]))
        if level < LEVEL:
            return FaceFrame(normal * offset, np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]))
        s = np.array([-normal[1], normal[0], 0.0]) / level
        t = np.array([-normal[2] * s[1], normal[2] * s[0], level])  # normal x s
        foot = np.array([normal[0], normal[1], 0.0]) * (offset / level**2)  # in the plane, at the model's zero
        return FaceFrame(foot, s, t)


@dataclass(frozen=True)
class Region:
    """The seen part of a flat face: `shape` in drawing mm (a polygon or several), `plane` (a, b, c) with its depth as
    seen w = a u + b v + c mm; `material` is the index of what it shows, -1 for an unknown one; `back`: seen from
    behind, as its body is open; `normal` (3,) points out of its body;
    `depth`: of its middle behind the cut, mm; `flat` its flat face, `leaf` the number of the plane of the cut."""

    shape: shapely.Geometry
    plane: tuple[float, float, float]
    element: int
    material: int
    back: bool
    normal: F64
    offset: float
    depth: float
    flat: int
    leaf: int
    axes: Axes
    lens: Lens | None
    start: tuple[float, float] = (0.0, 0.0)

    def to_face(self, points: F64) -> F64:
        """Drawing points (n, 2) as seen, mm, on the paper of the face (n, 2), mm, counted from `start` on it."""
        a, b, c = self.plane
        deep = a * points[:, 0] + b * points[:, 1] + c
        at = np.column_stack((points, deep))
        if self.lens is not None:
            centre = np.array([self.lens.u, self.lens.v, 0.0])
            at = centre + (at - centre) / np.maximum(1.0 - deep / self.lens.distance, 1e-9)[:, None]
        frame = self.frame
        apart = self.axes.origin - frame.origin
        turn = np.array([self.axes.u, self.axes.v, self.axes.w])
        on = np.column_stack((frame.s, frame.t))
        found: F64 = at @ (turn @ on) + (apart @ on) * 1000.0 - self.start
        return found

    def to_drawing(self, points: F64) -> F64:
        """Points (n, 2) on the paper of the face, mm, in the drawing (n, 2), mm."""
        frame = self.frame
        points = points + self.start
        at = self.axes.to_drawing(frame.origin + (points[:, :1] * frame.s + points[:, 1:] * frame.t) / 1000.0)
        seen = at if self.lens is None else self.lens.project(at)
        return seen[:, :2]

    def towards(self, light: F64) -> float:
        """How far its seen side turns to the light, which goes along a unit vector (3,): the cosine of the angle."""
        return float(self.normal @ light) * (1.0 if self.back else -1.0)

    @cached_property
    def frame(self) -> FaceFrame:
        return FaceFrame.of(self.normal, self.offset)


@dataclass(frozen=True)
class SeenSurfaces:
    """`regions` tile the view: with the cut faces they cover all but the sky, none of it twice. `clear` ones lie before
    them. `memory`: of the cut, None of a drawing of nothing."""

    regions: tuple[Region, ...]
    clear: tuple[Region, ...]
    memory: CutMemory | None = field(repr=False)


def _weight(seen: SeenSurfaces) -> int:
    leaves = seen.memory.leaves if seen.memory is not None else ()
    held = sum(leaf.traced.points.nbytes + leaf.caps.nbytes + leaf.boxes.nbytes for leaf in leaves)
    return corners_of([r.shape for r in (*seen.regions, *seen.clear)]) + int(held) // CORNER


_kept: Remembered[SeenSurfaces] = Remembered("seen surfaces", 2_000_000, _weight)


def seen_surfaces(result: CutResult) -> SeenSurfaces:
    """What is seen of surfaces in a cut; nothing in a drawing of nothing. Kept for as long as the cut is used."""
    if result.memory is None:
        return SeenSurfaces((), (), None)
    return _kept.get("", partial(seen_anew, result), result.memory)


def seen_anew(result: CutResult) -> SeenSurfaces:
    """`seen_surfaces` of a drawing of something, kept or not."""
    memory = result.memory
    assert memory is not None
    regions: list[Region] = []
    clear: list[Region] = []
    for k, part in enumerate(memory.leaves):
        scene = scene_of(memory, k)
        hides = hiding_in(scene, memory)
        seen = seen_by_viewer(scene, hides, window_of(part.leaf, result.polygon))
        parts = seen_of(seen.faces, seen.flat >= 0)
        found = [_region(memory.model, scene, seen, n, shape, k) for n, shape in enumerate(parts) if shape is not None]
        regions += [r for r in found if hides[r.flat]]
        clear += [r for r in found if not hides[r.flat]]
    return SeenSurfaces(tuple(regions), tuple(clear), memory)


def _region(model: Model, scene: Scene, seen: FacesSeen, number: int, shape: shapely.Geometry, leaf: int) -> Region:
    flat = int(seen.flat[number])
    triangle = int(model.flats.first[flat])
    a, b, c = seen.faces.planes[number].tolist()
    middle = shapely.centroid(shape)
    depth = float(true_depth(np.float64(a * middle.x + b * middle.y + c), scene.lens))
    return Region(
        shape,
        (a, b, c),
        int(model.mesh.triangle_element[triangle]),
        _material(model, triangle),
        bool(seen.back[number]),
        model.flats.normal[flat],
        float(model.flats.offset[flat]),
        depth,
        flat,
        leaf,
        scene.leaf.axes,
        scene.lens,
    )


def _material(model: Model, triangle: int) -> int:
    """What a face shows: of layers seen from their edge, what the element is of."""
    count = len(model.materials)
    kind = int(model.surfaces.kind[triangle])
    if kind > count:
        kind = int(model.triangle_materials[triangle])
    return kind if kind < count else -1
