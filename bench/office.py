"""A made-up office building of any size, for measuring growth: bays with slab, column, walls, desks and chairs."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model import Element, Material, Model, Storey
from edge_slice.core.model.mesh.triangles import build_mesh

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Body = tuple[F64, I64]
Placed = tuple[str, int, F64, I64]
BAY, STOREY = 6.0, 3.6
MATERIALS = ("Reinforced concrete", "Brick", "Glass", "Timber", "Steel")
SIZES = {1: (4, 4, 2), 10: (10, 8, 4), 100: (20, 16, 10)}  # bays along, across, storeys


def prism(sides: int, radius: float, z0: float, z1: float, x: float, y: float) -> Body:
    a = 2 * math.pi * (np.arange(sides) + 0.5) / sides
    ring = np.column_stack((x + radius * np.cos(a), y + radius * np.sin(a)))
    return extruded(ring, z0, z1)


def extruded(ring: F64, z0: float, z1: float) -> Body:
    """An upright prism over a convex ring (n, 2), against the clock."""
    n = len(ring)
    vertices = np.column_stack((np.vstack((ring, ring)), np.repeat([z0, z1], n)))
    k = np.arange(1, n - 1)
    i = np.arange(n)
    j = (i + 1) % n
    zero = np.zeros_like(k)
    faces = np.vstack(
        (
            np.column_stack((zero, k + 1, k)),
            np.column_stack((zero + n, k + n, k + 1 + n)),
            np.column_stack((i, j, j + n)),
            np.column_stack((i, j + n, i + n)),
        )
    )
    return vertices, faces


def box(x0: float, y0: float, z0: float, x1: float, y1: float, z1: float) -> Body:
    return extruded(np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)]), z0, z1)


def together(*bodies: Body) -> Body:
    counts = np.cumsum([0] + [len(v) for v, _ in bodies])
    return (
        np.concatenate([v for v, _ in bodies]),
        np.concatenate([t + c for (_, t), c in zip(bodies, counts[:-1], strict=True)]),
    )


def desk(x: float, y: float) -> Body:
    legs = [box(x + a, y + b, 0, x + a + 0.05, y + b + 0.05, 0.72) for a in (0.05, 1.5) for b in (0.05, 0.7)]
    return together(box(x, y, 0.72, x + 1.6, y + 0.8, 0.75), *legs)


def chair(x: float, y: float) -> Body:
    legs = [prism(6, 0.02, 0, 0.42, x + a, y + b) for a in (-0.15, 0.15) for b in (-0.15, 0.15)]
    return together(prism(20, 0.24, 0.42, 0.47, x, y), box(x - 0.2, y + 0.2, 0.5, x + 0.2, y + 0.23, 0.9), *legs)


def bay() -> list[tuple[str, int, Body]]:
    """What stands in one bay: kind, material, body; lengths in metres from the bay's corner."""
    window = together(
        box(1, -0.05, 0.9, 5, 0.0, 0.95), box(1, -0.05, 2.35, 5, 0.0, 2.4), box(1, -0.05, 0.95, 1.05, 0, 2.35)
    )
    found = [
        ("slab", 0, box(0, 0, -0.3, BAY, BAY, 0)),
        ("column", 0, prism(16, 0.25, 0, STOREY - 0.3, 0.4, 0.4)),
        ("wall", 1, box(0, -0.15, 0, BAY, 0.15, 0.9)),
        ("window", 2, box(1, -0.02, 0.95, 5, 0.02, 2.35)),
        ("window", 4, window),
        ("wall", 1, box(-0.1, 0.9, 0, 0.1, BAY, STOREY - 0.3)),
    ]
    for k in range(2):
        found += [("furniture", 3, desk(1.0 + 2.4 * k, 2.0)), ("furniture", 3, chair(1.8 + 2.4 * k, 1.6))]
        found += [("furniture", 3, desk(1.0 + 2.4 * k, 4.4)), ("furniture", 3, chair(1.8 + 2.4 * k, 4.0))]
    return found


def office(bays: int, rows: int, storeys: int) -> Model:
    """The building as a model; one element a part."""
    parts = bay()
    steps = [np.array([BAY * i, BAY * j, STOREY * k]) for k in range(storeys) for j in range(rows) for i in range(bays)]
    vertices, triangles, owner, elements, at = [], [], [], [], 0
    for n, step in enumerate(steps):
        storey = n // (bays * rows)
        for p, (kind, material, (v, t)) in enumerate(parts):
            vertices.append(v + step)
            triangles.append(t + at)
            owner.append(np.full(len(t), len(elements), np.int32))
            elements.append(Element(f"{n}-{p}", "", kind, storey, material))
            at += len(v)
    count = sum(len(t) for t in triangles)
    mesh = build_mesh(
        np.concatenate(vertices), np.concatenate(triangles).astype(np.int32), np.concatenate(owner),
        np.full(count, -1, np.int32),
    )  # fmt: skip
    floors = tuple(Storey(f"storey-{k}", f"Level {k}", STOREY * k) for k in range(storeys))
    return Model("Office", mesh, tuple(elements), tuple(Material(m) for m in MATERIALS), storeys=floors)
