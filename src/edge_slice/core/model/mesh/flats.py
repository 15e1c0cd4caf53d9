"""Flat faces: triangles side by side in one plane that belong to one element and show one material."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.model.mesh.triangles import Mesh
from edge_slice.core.model.mesh.winding import shells

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
FLAT = 2e-5  # metres; corners this near to a face's plane lie in it
ALIKE = 0.9998  # cosine between the normals of triangles of one face; slivers turn further by rounding


@dataclass(frozen=True)
class Flats:
    """of (m,) int32: the face of each triangle; of each face: normal (f, 3), a unit vector that points outwards;
    offset (f,), metres, so that normal · x = offset on it; first (f,) int32, its largest triangle; body (f,) int64, a
    number for all that hang together by edges of two."""

    of: I32
    normal: F64
    offset: F64
    first: I32
    body: I64


def flats_of(mesh: Mesh, shows: I64) -> Flats:
    """The flat faces of a mesh; shows (m,): what each triangle shows, another number where a face ends. Faces grow from
    their largest triangle, whose plane is theirs, so that the facets of a curve stay apart."""
    length = np.linalg.norm(mesh.normals, axis=1)
    order = np.argsort(-length, kind="stable").astype(np.int32)
    unit = mesh.normals / np.maximum(length, 1e-30)[:, None]
    apart = mesh.triangle_element.astype(np.int64) * (int(shows.max(initial=0)) + 1) + shows
    of, first = _grown(mesh.vertices, mesh.triangles, mesh.neighbours, apart, unit, order)
    normal = unit[first]
    offset = np.einsum("ij,ij->i", normal, mesh.vertices[mesh.triangles[first, 0]])
    body = shells(mesh.triangles, mesh.neighbours)[0][first]
    return Flats(of, normal, offset, first, body)


@njit(cache=True, nogil=True)
def _grown(vertices: F64, triangles: I32, neighbours: I32, apart: I64, unit: F64, order: I32):  # type: ignore[no-untyped-def]
    count = triangles.shape[0]
    of = np.full(count, -1, np.int32)
    first = np.empty(count, np.int32)
    stack = np.empty(count, np.int32)
    found = 0
    for seed in order:
        if of[seed] >= 0:
            continue
        n, p = unit[seed], vertices[triangles[seed, 0]]
        of[seed], first[found] = found, seed
        stack[0], top = seed, 1
        while top > 0:
            top -= 1
            t = stack[top]
            for k in range(3):
                other = neighbours[t, k]
                if other < 0 or of[other] >= 0 or apart[other] != apart[t]:
                    continue
                m = unit[other]
                if m[0] * n[0] + m[1] * n[1] + m[2] * n[2] < ALIKE:
                    continue
                near = True
                for j in range(3):
                    q = vertices[triangles[other, j]]
                    off = (q[0] - p[0]) * n[0] + (q[1] - p[1]) * n[1] + (q[2] - p[2]) * n[2]
                    near = near and abs(off) <= FLAT
                if near:
                    of[other] = found
                    stack[top] = other
                    top += 1
        found += 1
    return of, first[:found]
