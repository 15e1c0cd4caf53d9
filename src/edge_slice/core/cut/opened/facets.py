"""Where openings leave cut faces: the part of each of their planes that bounds what they take away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.planes.leaves import Axes, axes_square_to
from edge_slice.core.cut.spec import Opening, TakingPlane
from edge_slice.core.model.mesh.taken import Space

F64 = NDArray[np.float64]
LEAST = 1e-4  # square metres; a smaller part of a plane is none
JUST = 1e-4  # metres behind a plane, where it is looked what else is taken


@dataclass(frozen=True)
class Facet:
    """A part of a plane of an opening, which looks at what is left: `shape` in metres in its axes, and where others
    take from it (`less`)."""

    plane: TakingPlane
    axes: Axes
    shape: shapely.Polygon
    less: shapely.Geometry


def space_of(opening: Opening) -> Space:
    normal = np.array([plane.normal for plane in opening.planes], dtype=np.float64)
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    points = np.array([plane.point for plane in opening.planes], dtype=np.float64)
    return Space(normal, np.einsum("ij,ij->i", normal, points))


def facets_of(openings: Sequence[Opening], bounds: tuple[F64, F64], within: Space) -> list[Facet]:
    """The parts of all planes that bound what is taken, within a box (low and high corner, metres) and before all
    planes of a space `within`: the view's own plane and depth."""
    spaces = [space_of(opening) for opening in openings]
    low, high = bounds
    corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)]) * (high - low) + low
    found = []
    for k, opening in enumerate(openings):
        for j, plane in enumerate(opening.planes):
            axes = axes_square_to(plane.point, plane.normal)
            flat = axes.to_drawing(corners)[:, :2] / 1000.0
            shape = shapely.box(*flat.min(axis=0), *flat.max(axis=0))
            shape = _within(shape, axes, spaces[k], leave_out=j)
            shape = _within(shape, axes, within)
            if shape.area < LEAST:
                continue
            behind_it = replace(axes, origin=axes.origin + JUST * axes.w)  # openings side by side share a plane
            others = [_within(shape, behind_it, space) for n, space in enumerate(spaces) if n != k]
            less = shapely.union_all([one for one in others if one.area > LEAST])
            if shapely.difference(shape, less).area > LEAST:
                found.append(Facet(plane, axes, shape, less))
    return found


def _within(shape: shapely.Polygon, axes: Axes, space: Space, leave_out: int = -1) -> shapely.Polygon:
    """What of a convex shape in a plane (metres in its axes) lies before the planes of a space."""
    for k, (normal, offset) in enumerate(zip(space.normal, space.offset, strict=True)):
        if k == leave_out or shape.is_empty:
            continue
        ring = shapely.get_coordinates(shape)[:-1]
        height = axes.to_model(ring * 1000.0) @ normal - offset
        shape = _before(ring, height)
    return shape


def _before(ring: F64, height: F64) -> shapely.Polygon:
    """What of a convex ring (n, 2) has a height above 0 (Sutherland and Hodgman 1974)."""
    kept: list[F64] = []
    for k in range(len(ring)):
        a, b = ring[k], ring[(k + 1) % len(ring)]
        h, g = float(height[k]), float(height[(k + 1) % len(ring)])
        if h >= 0:
            kept.append(a)
        if h * g < 0:
            kept.append(a + (b - a) * (h / (h - g)))
    return shapely.Polygon(kept) if len(kept) > 2 else shapely.Polygon()
