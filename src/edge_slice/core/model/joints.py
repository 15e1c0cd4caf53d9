"""Edges where an element's surface runs on in another element of the same material: joints that need no line."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.mesh import Mesh

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
NEAR = 1e-4  # metres; edges whose ends lie in the same places are one
ONE_PLANE = 0.9999  # cosine between faces that continue each other


def joint_edges(mesh: Mesh, material: I64) -> NDArray[np.uint8]:
    """Edges (e,) that lie on an edge of another element of the same material, with a face of either that continue each
    other in one plane: 1, 2 or 3 where this holds for the edge's first face, its second, or both, a face that looks
    into one of the other element counting too; 0 elsewhere. material (m,) of each triangle."""
    joint = np.zeros(len(mesh.edges), dtype=np.uint8)
    first, second = _same_place(mesh)
    differ = mesh.edge_element[first] != mesh.edge_element[second]
    alike = material[mesh.edge_triangles[first, 0]] == material[mesh.edge_triangles[second, 0]]
    first, second = first[differ & alike], second[differ & alike]
    mine, theirs = mesh.edge_triangles[first], mesh.edge_triangles[second]
    pairs = [(a, b, _continue(mesh, first, mine[:, a], theirs[:, b])) for a in range(2) for b in range(2)]
    runs_on = np.logical_or.reduce([found for _, _, found in pairs])
    for a, b, found in pairs:
        held = runs_on & (found | _meet(mesh, mine[:, a], theirs[:, b]))
        np.bitwise_or.at(joint, first[held], np.uint8(1 << a))
        np.bitwise_or.at(joint, second[held], np.uint8(1 << b))
    return joint


def _same_place(mesh: Mesh) -> tuple[I64, I64]:
    """Pairs of edges whose ends lie in the same places."""
    ends = np.rint(mesh.vertices[mesh.edges] / NEAR).astype(np.int64)
    swap = ends[:, 0, 0] > ends[:, 1, 0]
    for axis in (1, 2):
        tied = (ends[:, 0, :axis] == ends[:, 1, :axis]).all(axis=1)
        swap |= tied & (ends[:, 0, axis] > ends[:, 1, axis])
    ends[swap] = ends[swap][:, ::-1]
    flat = ends.reshape(-1, 6)
    mixed = np.zeros(len(flat), dtype=np.uint64)
    for column in flat.T:
        mixed = mixed * np.uint64(0x9E3779B97F4A7C15) + column.astype(np.uint64)
    order = np.argsort(mixed, kind="stable")
    same = (flat[order][1:] == flat[order][:-1]).all(axis=1) if len(flat) else np.zeros(0, dtype=bool)
    return order[:-1][same], order[1:][same]


def _cosine(mesh: Mesh, ours: NDArray[np.int32], theirs: NDArray[np.int32]) -> F64:
    """Cosine between the normals of triangles (n,), 0 where there is none."""
    n, m = (mesh.normals[t] / np.linalg.norm(mesh.normals[t], axis=1, keepdims=True) for t in (ours, theirs))
    found: F64 = np.where((ours >= 0) & (theirs >= 0), np.einsum("ij,ij->i", n, m), 0.0)
    return found


def _meet(mesh: Mesh, ours: NDArray[np.int32], theirs: NDArray[np.int32]) -> Flags:
    """Whether two triangles (n,) at an edge look into each other."""
    found: Flags = _cosine(mesh, ours, theirs) < -ONE_PLANE
    return found


def _continue(mesh: Mesh, edge: I64, ours: NDArray[np.int32], theirs: NDArray[np.int32]) -> Flags:
    """Whether two triangles (n,) at an edge (n,) lie in one plane, on either side of it."""
    a, b = mesh.vertices[mesh.edges[edge, 0]], mesh.vertices[mesh.edges[edge, 1]]
    across = np.cross(b - a, mesh.normals[ours])
    sides = [np.einsum("ij,ij->i", mesh.vertices[mesh.triangles[t]].mean(axis=1) - a, across) for t in (ours, theirs)]
    found: Flags = (_cosine(mesh, ours, theirs) > ONE_PLANE) & (sides[0] * sides[1] < 0)
    return found
