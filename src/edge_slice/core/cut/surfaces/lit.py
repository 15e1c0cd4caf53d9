"""What of the seen surfaces lies in the sun. The sun is a viewer like any other: what it sees is lit."""

from __future__ import annotations

from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.surfaces.overlay import common, polygonal
from edge_slice.core.cut.surfaces.regions import Region, SeenSurfaces, seen_surfaces
from edge_slice.core.cut.surfaces.scene import Scene, depth_of_zero, scene_of, seen_by_sun
from edge_slice.core.cut.surfaces.visible import seen_of
from edge_slice.core.model.mesh.directions import square_to
from edge_slice.core.remembered import Remembered, corners_of

F64 = NDArray[np.float64]
Shapes = NDArray[np.object_]
GRAZING = 1e-3  # sine of the angle under which light falls along a face and lights nothing


_kept: Remembered[tuple[shapely.Geometry | None, ...]] = Remembered(
    "lit surfaces", 2_000_000, lambda shapes: corners_of([s for s in shapes if s is not None])
)


def lit_shapes(result: CutResult, light: F64) -> tuple[shapely.Geometry | None, ...]:
    """The lit part (r,) of each seen region of a cut, in drawing mm; None where it lies in shadow as a whole. `light`
    (3,): the way the light goes, a unit vector in the model. Shadows are cast by what is shown before the viewer, also
    beside the window, and by what is cut; clear glass lets light through. Kept for as long as the cut is used."""
    memory = result.memory
    if memory is None:
        return ()
    return _kept.get(light.tobytes(), partial(lit_anew, result, seen_surfaces(result), light), memory)


def lit_anew(result: CutResult, seen: SeenSurfaces, light: F64) -> tuple[shapely.Geometry | None, ...]:
    """`lit_shapes` of a drawing of something, kept or not."""
    memory, regions = result.memory, seen.regions
    assert memory is not None
    found: list[shapely.Geometry | None] = [None] * len(regions)
    for k in range(len(memory.leaves)):
        mine = [n for n, r in enumerate(regions) if r.leaf == k and r.towards(light) > GRAZING]
        if mine:
            lit = _lit_of(scene_of(memory, k), [regions[n] for n in mine], light)
            for n, shape in zip(mine, lit, strict=True):
                found[n] = shape
    return tuple(found)


def _lit_of(scene: Scene, regions: list[Region], light: F64) -> list[shapely.Geometry | None]:
    axes = scene.leaf.axes
    turn = _turn(np.array([light @ axes.u, light @ axes.v, light @ axes.w]))
    seen = seen_by_sun(scene, turn)
    numbers = np.full(int(seen.flat.max(initial=-1)) + 1, -1)
    numbers[seen.flat[seen.flat >= 0]] = np.flatnonzero(seen.flat >= 0)
    wanted = np.zeros(len(seen.flat), dtype=bool)
    flats = np.array([r.flat for r in regions])
    known = flats[flats < len(numbers)]
    wanted[numbers[known][numbers[known] >= 0]] = True
    lit = seen_of(seen.faces, wanted)
    number = np.where(flats < len(numbers), numbers[np.minimum(flats, len(numbers) - 1)], -1)
    held = np.array([k >= 0 and lit[k] is not None for k in number.tolist()], dtype=bool)
    found = np.full(len(regions), None, dtype=object)
    if held.any():
        own = np.array([r.shape for r in regions], dtype=object)[held]
        shapes = common(own, _drawn(lit[number[held]], seen.faces.planes[number[held]], turn, scene))
        found[np.flatnonzero(held)[~shapely.is_empty(shapes)]] = shapes[~shapely.is_empty(shapes)]
    return found.tolist()


def _drawn(shapes: Shapes, planes: F64, turn: F64, scene: Scene) -> Shapes:
    """Shapes (n,) on planes (n, 3) as the sun sees them, as the viewer does."""
    points, of = shapely.get_coordinates(shapes, return_index=True)
    deep = points[:, 0] * planes[of, 0] + points[:, 1] * planes[of, 1] + planes[of, 2]
    here = np.column_stack((points, deep)) @ turn.T - [0.0, 0.0, depth_of_zero(scene)]
    flat = here if scene.lens is None else scene.lens.project(here)
    drawn: Shapes = shapely.set_coordinates(shapes.copy(), flat[:, :2])
    broken = ~shapely.is_valid(drawn)
    drawn[broken] = polygonal(shapely.make_valid(drawn[broken]))
    return drawn


def _turn(along: F64) -> F64:
    """Axes (3, 3), as columns, of a view along a unit vector (3,)."""
    return np.column_stack((square_to(along), along))
