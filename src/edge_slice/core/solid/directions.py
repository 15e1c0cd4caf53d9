"""The directions in which a building stands."""

from __future__ import annotations

import numpy as np

from edge_slice.core.model import Model

UPRIGHT = 0.02  # of a normal's height, below which its face stands upright
BINS = 180  # of half a degree, over a quarter turn
BESIDE = np.radians(1.0)  # about the fullest one, from which the direction is taken


def building_turn(model: Model) -> float:
    """By how many degrees (0 to under 180, against the clock) the building's length is turned from the model's X: of
    the two directions of the largest area of upright faces the one along which it is longer. 0 where nothing stands
    upright."""
    mesh = model.mesh
    normal = mesh.normals
    size = np.linalg.norm(normal, axis=1)
    standing = model.standing[mesh.triangle_element]
    upright = (np.abs(normal[:, 2]) < UPRIGHT * size) & standing
    area, quarter = size[upright], np.pi / 2
    angle = np.arctan2(normal[upright, 1], normal[upright, 0]) % quarter
    if not len(angle):
        return 0.0
    bins = np.bincount((angle / quarter * BINS).astype(np.int64) % BINS, weights=area, minlength=BINS)
    fullest = ((bins + np.roll(bins, -1)).argmax() + 1) * quarter / BINS  # where two bins meet: no edge divides it
    aside = (angle - fullest + quarter / 2) % quarter - quarter / 2
    near = np.abs(aside) < BESIDE
    turn = (fullest + np.average(aside[near], weights=area[near])) % quarter
    used = np.zeros(len(mesh.vertices), dtype=bool)
    used[mesh.triangles[standing]] = True
    points = mesh.vertices[used, :2]
    along, across = (np.ptp(points @ [np.cos(a), np.sin(a)]) for a in (turn, turn + quarter))
    return float(np.round(np.degrees(turn + (quarter if across > along * (1 + 1e-6) else 0.0)), 4)) % 180.0
