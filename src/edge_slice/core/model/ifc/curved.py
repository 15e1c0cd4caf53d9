"""The round axis of a curved wall, found from its body: layers of a curved wall are rings about it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

F64 = NDArray[np.float64]
CHORDS = 6  # at least; a wall of fewer facets is not round
NEAR = 0.004  # metres; how far a chord's middle perpendicular may pass by the axis


def round_axis(world: F64, triangles: NDArray[np.int64]) -> tuple[F64, float, float] | None:
    """Centre (2,) on plan, inner and outer radius of a body whose upright faces lie on two cylinders about one axis;
    None for any other body. world (n, 3) metres, triangles (m, 3)."""
    chords = _level_sides(world, triangles)
    if len(chords) < CHORDS:
        return None
    a, b = chords[:, 0], chords[:, 1]
    d = b - a
    size = np.hypot(d[:, 0], d[:, 1])
    normal, offset = d / size[:, None], (np.einsum("ij,ij->i", b, b) - np.einsum("ij,ij->i", a, a)) / (2 * size)
    use = np.ones(len(chords), dtype=bool)
    centre = np.zeros(2)
    for _ in range(12):  # ends of the wall are no chords: they drop out
        if use.sum() < CHORDS or np.linalg.matrix_rank(normal[use], tol=1e-3) < 2:
            return None
        centre = np.linalg.lstsq(normal[use], offset[use], rcond=None)[0]
        off = np.abs(normal @ centre - offset)
        keep = off <= max(NEAR, float(np.median(off[use])))
        if (keep == use).all():
            break
        use = keep
    if np.abs(normal[use] @ centre - offset[use]).max() > NEAR or use.sum() < 0.6 * len(use):
        return None
    radii = np.hypot(*(chords[use].reshape(-1, 2) - centre).T)
    inner, outer = float(radii.min()), float(radii.max())
    on_faces = np.minimum(np.abs(radii - inner), np.abs(radii - outer)) < NEAR
    return (centre, inner, outer) if on_faces.all() and outer - inner > 0.01 else None


def _level_sides(world: F64, triangles: NDArray[np.int64]) -> F64:
    """Level sides (k, 2, 2) of upright faces, on plan."""
    corners = world[triangles]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    length = np.linalg.norm(normal, axis=1)
    upright = (length > 1e-9) & (np.abs(normal[:, 2]) < 1e-3 * np.maximum(length, 1e-9))
    sides = corners[upright][:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2, 3)
    level = (np.abs(sides[:, 0, 2] - sides[:, 1, 2]) < 1e-4) & (np.hypot(*(sides[:, 0] - sides[:, 1])[:, :2].T) > 0.005)
    return np.asarray(sides[level][:, :, :2], dtype=np.float64)
