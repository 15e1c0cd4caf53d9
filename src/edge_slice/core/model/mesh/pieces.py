"""Which triangles hang together."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

I64 = NDArray[np.int64]
F64 = NDArray[np.float64]


def joined(triangles: NDArray[np.integer[Any]]) -> I64:
    """For each of some triangles which of their groups it is in: those of one share corners."""
    number = np.arange(len(triangles))
    corners, at = np.unique(triangles, return_inverse=True)
    at = at.reshape(-1, 3)
    while True:
        least = np.full(len(corners), len(triangles))
        np.minimum.at(least, at.ravel(), np.repeat(number, 3))
        new = least[at].min(axis=1)
        if (new == number).all():
            return number
        number = new


def solids(points: F64, triangles: NDArray[np.integer[Any]]) -> I64:
    """For each triangle (m, 3) of corners (n, 3) which of the closed bodies it bounds: also of two that share an edge,
    at which a body is what lies between a side of it and the next one. (Neighbours of a mesh go on over sides of two
    bodies that lie on each other; here both have one.)"""
    edges = np.concatenate((triangles[:, :2], triangles[:, 1:], triangles[:, [2, 0]])).astype(np.int64)
    of, third = np.tile(np.arange(len(triangles)), 3), np.concatenate(np.moveaxis(triangles[:, [2, 0, 1]], 1, 0))
    forward = edges[:, 0] < edges[:, 1]
    edges = np.sort(edges, axis=1)
    way = points[edges[:, 1]] - points[edges[:, 0]]
    way /= np.maximum(np.linalg.norm(way, axis=1), 1e-300)[:, None]
    across = np.cross(way, np.eye(3)[np.abs(way).argmin(axis=1)])
    out = points[third] - points[edges[:, 0]]
    x, y = np.einsum("ij,ij->i", out, across), np.einsum("ij,ij->i", out, np.cross(way, across))
    turn = np.round(np.arctan2(y, x), 6)  # what lies on each other is at one angle
    turn[turn <= -np.pi + 1e-6] = np.round(np.pi, 6)
    order = np.lexsort((~forward, turn, edges[:, 1], edges[:, 0]))
    first = np.flatnonzero(np.r_[True, (np.diff(edges[order], axis=0) != 0).any(axis=1)])
    following = np.arange(1, len(order) + 1)
    following[np.r_[first[1:], len(order)] - 1] = first
    behind = ~forward[order]
    here, there = of[order][behind], of[order][following[behind]]
    number = np.arange(len(triangles))
    while True:
        new = number.copy()
        np.minimum.at(new, here, number[there])
        np.minimum.at(new, there, new[here])
        new = new[new]
        if (new == number).all():
            return number
        number = new
