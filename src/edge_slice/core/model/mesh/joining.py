"""Meshes of which elements are taken out, and to which others are added, without making the rest anew."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.mesh.crossings import crossings_between
from edge_slice.core.model.mesh.joints import Joints
from edge_slice.core.model.mesh.triangles import Mesh, build_mesh

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]


def without(mesh: Mesh, joints: Joints, elements: list[int]) -> tuple[Mesh, Joints]:
    """A mesh and its joints without the triangles and edges of some elements, whose numbers stay free."""
    if not elements:
        return mesh, joints
    stays = ~np.isin(mesh.triangle_element, elements)
    number = np.append(np.cumsum(stays) - 1, -1).astype(np.int32)
    number[:-1][~stays] = -1
    crossed = mesh.edge_triangles[:, 1]
    gone = ~stays[mesh.edge_triangles[:, 0]] | ((crossed >= 0) & ~stays[crossed])
    edge = np.cumsum(~gone) - 1
    found = Mesh(
        mesh.vertices,
        mesh.triangles[stays],
        mesh.triangle_element[stays],
        mesh.triangle_material[stays],
        number[mesh.neighbours[stays]],
        mesh.edges[~gone],
        number[mesh.edge_triangles[~gone]],
        mesh.edge_sharp[~gone],
        mesh.edge_element[~gone],
        mesh.open_elements[~np.isin(mesh.open_elements, elements)],
    )
    kept = joints.pick(~gone[joints.edge] & ~np.isin(joints.other, elements))
    return found, replace(kept, edge=edge[kept.edge])


def joined(mesh: Mesh, corners: F64, triangles: I64, element: I64) -> Mesh:
    """A mesh with bodies added: corners (n, 3) metres, triangles (m, 3), element (m,), numbered after those of the
    mesh and ascending. With the lines where they pass through the others, as lines of theirs."""
    unsaid = np.full(len(triangles), -1, dtype=np.int32)
    return together(mesh, build_mesh(corners, triangles.astype(np.int32), element.astype(np.int32), unsaid))


def together(mesh: Mesh, added: Mesh, of_added: bool = True) -> Mesh:
    """A mesh and another one, whose elements are numbered after all of the first, as one, with the lines where elements
    of both pass through each other, as lines of those that were added, else of the earlier ones."""
    points = np.concatenate((mesh.vertices, added.vertices))
    every = np.concatenate((mesh.triangles, added.triangles + len(mesh.vertices)))
    owner = np.concatenate((mesh.triangle_element, added.triangle_element))
    lines, crossed = crossings_between(points, every, owner, len(mesh.triangles))
    crossed = crossed if of_added else crossed[:, ::-1]
    ends = np.arange(len(points), len(points) + 2 * len(lines), dtype=np.int32).reshape(-1, 2)
    both = np.where(added.edge_triangles >= 0, added.edge_triangles + len(mesh.triangles), -1).astype(np.int32)
    edge_element = np.concatenate((mesh.edge_element, added.edge_element, owner[crossed[:, 0]]))
    by_element = np.argsort(edge_element, kind="stable")  # those of the mesh stay first, as they were
    edge_triangles = np.concatenate((mesh.edge_triangles, both, crossed))
    edges = np.concatenate((mesh.edges, added.edges + len(mesh.vertices), ends))
    sharp = np.concatenate((mesh.edge_sharp, added.edge_sharp, np.ones(len(lines), dtype=bool)))
    neighbours = np.where(added.neighbours >= 0, added.neighbours + len(mesh.triangles), -1).astype(np.int32)
    return Mesh(
        np.concatenate((points, lines.reshape(-1, 3))),
        every,
        owner,
        np.concatenate((mesh.triangle_material, added.triangle_material)),
        np.concatenate((mesh.neighbours, neighbours)),
        edges[by_element].astype(np.int32),
        edge_triangles[by_element],
        sharp[by_element],
        edge_element[by_element].astype(np.int32),
        np.concatenate((mesh.open_elements, added.open_elements)),
    )
