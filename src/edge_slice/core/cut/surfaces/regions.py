"""Visible regions: the view of a cut as tiles of seen surface; what is left is cut, or sky."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.pieces import MaterialRules
from edge_slice.core.cut.planes.leaves import Lens
from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.spec import AnyCut
from edge_slice.core.cut.surfaces.scene import FacesSeen, Scene, scene_of, seen_by_viewer
from edge_slice.core.cut.surfaces.visible import Shapes, seen_of
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
LEVEL = 1e-6  # sine of the slope under which a face lies level


@dataclass(frozen=True)
class FaceFrame:
    """The plane of a face as paper of its own, mm: `s` runs level along it, `t` up its slope; of a level face along x and
    y of the model. Neighbours in one plane share it, and courses go round corners: an upright face counts t from the
    model's zero. `origin` (3,), metres; `s`, `t` (3,) unit vectors; all in the model."""

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
        t = np.cross(normal, s)
        foot = np.array([normal[0], normal[1], 0.0]) * (offset / level**2)  # in the plane, at the model's zero
        return FaceFrame(foot, s, t if t[2] >= 0 else -t)


@dataclass(frozen=True)
class Region:
    """The seen part of a flat face: `shape` in drawing mm (a polygon or several), `plane` (a, b, c) with its depth as
    seen w = a u + b v + c mm; `material` is the index of what it shows, -1 for an unknown one; `back`: seen from
    behind, as its body is open; `clear`: what lies behind shows through it; `normal` (3,) points out of its body;
    `depth`: of its middle behind the cut, mm; `flat` its flat face, `leaf` the plane of the cut that it is seen from."""

    shape: shapely.Geometry
    plane: tuple[float, float, float]
    element: int
    material: int
    back: bool
    clear: bool
    normal: F64
    offset: float
    depth: float
    flat: int
    leaf: int

    @property
    def frame(self) -> FaceFrame:
        return FaceFrame.of(self.normal, self.offset)


@dataclass(frozen=True)
class SeenSurfaces:
    """`regions` tile the view: with the cut faces they cover all but the sky, none of it twice. `clear` ones lie before
    them. `scenes`: what each plane of the cut looks at."""

    regions: tuple[Region, ...]
    clear: tuple[Region, ...]
    scenes: tuple[Scene, ...]


def seen_surfaces(model: Model, spec: AnyCut, rules: MaterialRules, result: CutResult) -> SeenSurfaces:
    """What is seen of surfaces in a cut, with the rules of materials that it was made by. None in a drawing of
    nothing."""
    memory = result.memory
    regions: list[Region] = []
    clear: list[Region] = []
    scenes: list[Scene] = []
    for k, part in enumerate(memory.leaves if memory is not None else ()):
        scene = scene_of(model, spec, rules, part.leaf, result.lens, list(part.faces))
        window = shapely.box(*part.leaf.window)
        if result.polygon is not None:
            window = shapely.intersection(window, result.polygon)
        hides = ~scene.clear if spec.glass == "clear" else np.ones(len(scene.clear), dtype=bool)
        seen = seen_by_viewer(scene, hides, window)
        parts = seen_of(seen.faces, seen.flat >= 0)
        found = [_region(model, scene, seen, n, parts[n], k) for n in np.flatnonzero(parts != None).tolist()]  # noqa: E711
        regions += [r for r in found if hides[r.flat]]
        clear += [r for r in found if not hides[r.flat]]
        scenes.append(scene)
    return SeenSurfaces(tuple(regions), tuple(clear), tuple(scenes))


def _region(model: Model, scene: Scene, seen: FacesSeen, number: int, shape: shapely.Geometry, leaf: int) -> Region:
    flat = int(seen.flat[number])
    triangle = int(model.flats.first[flat])
    a, b, c = seen.faces.planes[number].tolist()
    middle = shapely.centroid(shape)
    depth = a * middle.x + b * middle.y + c
    if scene.lens is not None:
        depth = depth / max(1.0 - depth / scene.lens.distance, 1e-9)
    return Region(
        shape,
        (a, b, c),
        int(model.mesh.triangle_element[triangle]),
        _material(model, triangle),
        bool(seen.back[number]),
        bool(scene.clear[flat]),
        model.flats.normal[flat],
        float(model.flats.offset[flat]),
        depth,
        flat,
        leaf,
    )


def _material(model: Model, triangle: int) -> int:
    """What a face shows: of layers seen from their edge, what the element is of."""
    count = len(model.materials)
    kind = int(model.surfaces.kind[triangle])
    if kind > count:
        kind = int(model.triangle_materials[triangle])
    return kind if kind < count else -1


