"""What stands in the view of one plane of a cut, as parts of flat faces in drawing mm, and how it looks from the viewer
or from the sun."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.lines.caps import CAP_DEPTH
from edge_slice.core.cut.lines.sight import concealing
from edge_slice.core.cut.lines.standing import points_before
from edge_slice.core.cut.memory import CutMemory
from edge_slice.core.cut.opened.standing import StandingFaces
from edge_slice.core.cut.planes.leaves import Leaf, Lens
from edge_slice.core.cut.shown import see_through_elements
from edge_slice.core.cut.surfaces.cover import covered_by, grid_over, hidden_parts, nearest_parts
from edge_slice.core.cut.surfaces.nearer import Faces, Shapes
from edge_slice.core.cut.surfaces.overlay import GRID, common, joined, polygonal
from edge_slice.core.cut.surfaces.parts import Parts, parts_between
from edge_slice.core.cut.surfaces.visible import seen_of

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
EDGE_ON = 1e-4  # sine of the angle under which a face is seen edge-on, and has no part in the picture
FEW = 60  # parts, of which it is not worth to look for hidden ones first
LEAST = 1e-6  # mm²; a part that is smaller is none
CUT, STANDING = -1, -2  # what is seen that is no flat face: cut faces; from -2 downwards those in planes of their own


@dataclass(frozen=True)
class Scene:
    """The parts of all shown triangles before the viewer, both ways round; `flat` (k,): the flat face of each;
    normal (f, 3) and offset (f,) of flat faces in drawing mm; which flat faces are `clear`, which show from `both` of
    their sides as their bodies are open, and which are `ghosted`: only their lines show; the `body` (f,) of each.
    `caps`: the cut faces; `standing`: those in planes of their own."""

    leaf: Leaf
    lens: Lens | None
    parts: Parts
    flat: I64
    normal: F64
    offset: F64
    clear: Flags
    both: Flags
    ghosted: Flags
    body: I64
    caps: Shapes
    standing: tuple[StandingFaces, ...]


@dataclass(frozen=True)
class FacesSeen:
    """The flat faces (f,) that may be seen from somewhere, `flat`: which they are, `CUT` for a cut face, `STANDING` and
    downwards for one in a plane of its own; `back`: whether from behind."""

    faces: Faces
    flat: I64
    back: Flags


class Caps(NamedTuple):
    """Cut faces as something sees them: shapes (k,), planes (k, 3) as `_as_planes` has them, and which (k,)."""

    shapes: Shapes
    planes: F64
    numbers: I64

    def and_standing(self, scene: Scene, turn: F64 | None, lens: Lens | None) -> Caps:
        """These and the standing ones that are turned to the viewer, or, with its axes `turn` (3, 3), to the sun, whose
        depth counts from the model's zero."""
        shapes, planes, numbers = [], [], []
        for k, one in enumerate(scene.standing):
            (normal, offset), points = one.plane(scene.leaf.axes), one.placed(scene.leaf.axes)
            if turn is not None:
                rise = depth_of_zero(scene)
                offset, normal = offset + normal[2] * rise, normal @ turn
                points = (points + np.array([0.0, 0.0, rise])) @ turn
            found, towards = _as_planes(normal[None], np.array([offset]), lens)
            if towards[0] < -EDGE_ON:
                seen = points if lens is None else lens.project(points)
                flat = np.round(seen[:, :2] / GRID) * GRID
                parts = shapely.get_parts(shapely.set_coordinates(shapely.transform(one.shape, np.copy), flat))
                broken = ~shapely.is_valid(parts)
                parts[broken] = polygonal(shapely.make_valid(parts[broken]))
                shapes.append(parts)
                planes.append(np.repeat(found, len(parts), axis=0))
                numbers.append(np.full(len(parts), STANDING - k))
        return Caps(
            *(np.concatenate((mine, *more)) for mine, more in zip(self, (shapes, planes, numbers), strict=True))
        )


def scene_of(memory: CutMemory, number: int) -> Scene:
    """All that is shown before the viewer of a plane of a cut, by its number, also beside its window: it may cast
    shadows."""
    model, rules, leaf = memory.model, memory.rules, memory.leaves[number].leaf
    mesh, flats = model.mesh, model.flats
    points, moved = points_before(model, memory.spec, leaf.axes)
    parts = parts_between(points, mesh.triangles, memory.shown[mesh.triangle_element], leaf.far)
    frame = np.column_stack((leaf.axes.u, leaf.axes.v, leaf.axes.w))
    seen_as, _ = concealing(model, memory.spec, rules)
    glass = np.append(rules.clear, False)[np.minimum(seen_as, len(rules.clear))]
    owner = mesh.triangle_element[flats.first]
    leaking = np.zeros(len(model.elements), dtype=bool)
    leaking[list(model.leaking)] = True
    normal = flats.normal @ frame
    return Scene(
        leaf,
        memory.lens,
        parts,
        flats.of[parts.triangle].astype(np.int64),
        normal,
        (flats.offset - flats.normal @ leaf.axes.origin) * 1000.0 + normal[:, 2] * moved[owner],
        glass[flats.first],
        leaking[owner],
        see_through_elements(model, memory.spec)[owner],
        flats.body,
        np.array([f.polygon for f in memory.leaves[number].faces], dtype=object),
        memory.standing,
    )


def window_of(leaf: Leaf, polygon: shapely.Geometry | None) -> shapely.Geometry:
    """What a plane of a cut shows, mm, within what the drawing is cropped to besides, if anything."""
    window = shapely.box(*leaf.window)
    return window if polygon is None else shapely.intersection(window, polygon)


def hiding_in(scene: Scene, memory: CutMemory) -> Flags:
    """Which flat faces (f,) hide what lies behind them from the viewer."""
    return ~scene.clear if memory.spec.glass == "clear" else np.ones(len(scene.clear), dtype=bool)


def seen_by_viewer(scene: Scene, hides: Flags, window: shapely.Geometry) -> FacesSeen:
    """The flat faces as the viewer sees them, within a window; hides (f,): which of them hide what is behind."""
    planes, towards = _as_planes(scene.normal, scene.offset, scene.lens)
    points = scene.parts.points if scene.lens is None else scene.lens.project(scene.parts.points)
    caps = Caps(scene.caps, np.tile([0.0, 0.0, CAP_DEPTH], (len(scene.caps), 1)), np.full(len(scene.caps), CUT))
    caps = caps.and_standing(scene, None, scene.lens)
    shown = ~scene.ghosted
    return _faces(scene, points, (planes, towards), (hides & shown, shown), caps, window)


def seen_by_sun(scene: Scene, turn: F64) -> FacesSeen:
    """The flat faces as the sun sees them; turn (3, 3): the axes of its view in drawing coordinates, as columns. Depth
    counts from the model's zero, so that a cut that moves along leaves the view as it is."""
    rise = depth_of_zero(scene)
    planes, towards = _as_planes(scene.normal @ turn, scene.offset + scene.normal[:, 2] * rise, None)
    cap_planes, cap_towards = _as_planes(turn[2:], np.array([CAP_DEPTH + rise]), None)
    caps = scene.caps if abs(cap_towards[0]) > EDGE_ON else scene.caps[:0]

    def to_sun(points: F64) -> F64:
        return (np.column_stack((points, np.full(len(points), CAP_DEPTH + rise))) @ turn)[:, :2]

    turned = shapely.transform(caps, to_sun)
    points = (scene.parts.points + np.array([0.0, 0.0, rise])) @ turn
    shown = ~scene.ghosted
    own = Caps(turned, np.repeat(cap_planes, len(turned), axis=0), np.full(len(turned), CUT))
    return _faces(
        scene, points, (planes, towards), (shown & ~scene.clear, shown),
        own.and_standing(scene, turn, None), None,
    )  # fmt: skip


def depth_of_zero(scene: Scene) -> float:
    """How far the plane of a cut lies behind the model's zero, mm."""
    return float(scene.leaf.axes.origin @ scene.leaf.axes.w) * 1000.0


def _as_planes(normal: F64, offset: F64, lens: Lens | None) -> tuple[F64, F64]:
    """Planes (f, 3) normal · x = offset as depths over the drawing: (a, b, c) with w = a u + b v + c as seen; and how
    far they turn to the viewer (f,), the sine of the angle: below 0 where they do."""
    a, b, c = normal.T
    if lens is None:
        deep = np.where(np.abs(c) < EDGE_ON, 1.0, c)
        return np.column_stack((-a / deep, -b / deep, offset / deep)), c
    ahead = a * lens.u + b * lens.v - offset
    eye = c - ahead / lens.distance
    towards = eye / np.maximum(1.0, np.abs(offset - a * lens.u - b * lens.v) / lens.distance)
    deep = np.where(np.abs(towards) < EDGE_ON, 1.0, eye)
    return np.column_stack((-a / deep, -b / deep, (a * lens.u + b * lens.v - ahead) / deep)), towards


def _faces(
    scene: Scene,
    points: F64,
    turned: tuple[F64, F64],
    use: tuple[Flags, Flags],
    caps: Caps,
    window: shapely.Geometry | None,
) -> FacesSeen:
    """Parts joined to faces, without what is certainly hidden; the cut faces are the last ones."""
    planes, towards = turned
    hides, shown = use
    points = np.column_stack((np.round(points[:, :2] / GRID) * GRID, points[:, 2]))
    chosen = (shown & ((towards < -EDGE_ON) | (scene.both & (np.abs(towards) > EDGE_ON))))[scene.flat]
    parts, flat = Parts(points, *scene.parts[1:]).of(chosen), scene.flat[chosen]
    if window is not None and len(flat):
        parts, flat = _within(parts, flat, window.bounds)
    if len(flat) > FEW:
        hidden = _hidden(parts, flat, (planes, hides, scene.body), caps)
        parts, flat = parts.of(~hidden), flat[~hidden]
    numbers, shapes = joined_faces(parts, flat)
    if window is not None:
        shapes = _cropped(shapes, window)
    kept = ~shapely.is_empty(shapes)
    numbers, shapes = numbers[kept], shapes[kept]
    cut = caps.numbers
    faces = Faces(
        np.concatenate((shapes, caps.shapes)),
        np.concatenate((planes[numbers], caps.planes)),
        np.append(hides[numbers], np.ones(len(cut), dtype=bool)),
        np.append(scene.body[numbers], np.minimum(cut, CUT)),
    )
    return FacesSeen(faces, np.append(numbers, cut), np.append(towards[numbers] > 0, np.zeros(len(cut), dtype=bool)))


def _hidden(parts: Parts, flat: I64, faces: tuple[F64, Flags, I64], caps: Caps) -> Flags:
    """Which parts (k,) are certainly hidden; `faces`: the planes (f, 3) of all, which hide (f,), their bodies (f,)."""
    planes, hides, body = faces
    grid = grid_over(parts.points[:, :2], len(flat))
    near = np.zeros(len(planes), dtype=bool)
    near[flat[nearest_parts(parts, planes[flat], hides[flat], grid)]] = True
    numbers, shapes = joined_faces(parts.of(near[flat]), flat[near[flat]])
    shapes, over = np.concatenate((shapes, caps.shapes)), np.concatenate((planes[numbers], caps.planes))
    every = np.ones(len(shapes), dtype=bool)
    owner = np.append(body[numbers], np.minimum(caps.numbers, CUT))
    seen = seen_of(Faces(shapes, over, every, owner), every)
    shown = np.array([one is not None for one in seen], dtype=bool)
    return hidden_parts(parts, covered_by(seen[shown], over[shown], grid), grid)


def _within(parts: Parts, flat: I64, box: tuple[float, float, float, float]) -> tuple[Parts, I64]:
    """The parts whose boxes meet a box."""
    starts = parts.starts[:-1]
    low = np.minimum.reduceat(parts.points[:, :2], starts)
    high = np.maximum.reduceat(parts.points[:, :2], starts)
    meets: Flags = np.asarray((low < box[2:]).all(axis=1) & (high > box[:2]).all(axis=1))
    return parts.of(meets), flat[meets]


def joined_faces(parts: Parts, flat: I64) -> tuple[I64, Shapes]:
    """The flat faces (f,) that have parts, and their shapes (f,)."""
    if not len(flat):
        return flat, np.zeros(0, dtype=object)
    order = np.argsort(flat, kind="stable")
    rings = shapely.linearrings(parts.points[:, :2], indices=parts.owner)
    pieces = shapely.polygons(rings)[order]
    numbers, starts = np.unique(flat[order], return_index=True)
    shapes = joined(pieces, starts)
    broken = ~shapely.is_valid(shapes)  # slivers, by rounding
    shapes[broken] = polygonal(shapely.make_valid(shapes[broken]))
    wide = shapely.area(shapes) > LEAST
    return numbers[wide], shapes[wide]


def _cropped(shapes: Shapes, window: shapely.Geometry) -> Shapes:
    shapely.prepare(window)
    inside = shapely.contains_properly(window, shapes)
    cropped = shapes.copy()
    cropped[~inside] = common(shapes[~inside], window)
    return cropped
