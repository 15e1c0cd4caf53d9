"""Segments that lie on one straight line, found by direction and distance from the origin."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
ANGLE = math.pi / 2 / 15013  # upright and level lines lie in the middle of a group
OFFSET = 0.0437  # mm; an odd number, so that no rounded dimension of a building lies on a border between groups


def line_groups(segments: F64) -> tuple[I64, F64, F64, F64]:
    """Which straight line each segment (n, 4) lies on.

    Returns the line's number (n,), start and end along it (n,), and the segments turned one way (n, 4).
    """
    angle = np.arctan2(segments[:, 3] - segments[:, 1], segments[:, 2] - segments[:, 0])
    flip = (angle <= -math.pi / 2 + ANGLE / 2) | (angle > math.pi / 2 + ANGLE / 2)
    turned = np.where(flip[:, None], segments[:, [2, 3, 0, 1]], segments)
    d = turned[:, 2:] - turned[:, :2]
    length = np.hypot(d[:, 0], d[:, 1])
    d = d / np.where(length > 0, length, 1.0)[:, None]
    steps = np.rint(np.where(flip, angle - np.copysign(math.pi, angle), angle) / ANGLE).astype(np.int64)
    middle = (turned[:, :2] + turned[:, 2:]) / 2
    # the distance is taken with the segment's own direction: it then agrees wherever on the line the segment lies
    offset = np.rint((middle[:, 1] * d[:, 0] - middle[:, 0] * d[:, 1]) / OFFSET).astype(np.int64)
    _, group = np.unique((steps << 40) + offset, return_inverse=True)  # an offset takes far less than 40 bits
    t0 = np.einsum("ij,ij->i", turned[:, :2], d)
    return group.reshape(-1).astype(np.int64), t0, t0 + length, turned
