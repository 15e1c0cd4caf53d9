"""Plain bodies and models made of them, for tests that know the right answer."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model import BuildUp, Element, Layer, LayerFrame, Material, Model, Storey
from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.library import box as box

F64 = NDArray[np.float64]
Body = tuple[F64, NDArray[np.int64]]
BOX_FACES = box((0, 0, 0), (1, 1, 1))[1]


def pierced_box(low: tuple[float, float, float], high: tuple[float, float, float],
                hole: tuple[float, float, float, float]) -> Body:  # fmt: skip
    """A box with an opening along y: hole is its least x, least z, greatest x, greatest z."""
    outer = [(low[0], low[2]), (high[0], low[2]), (high[0], high[2]), (low[0], high[2])]
    inner = [(hole[0], hole[1]), (hole[2], hole[1]), (hole[2], hole[3]), (hole[0], hole[3])]
    vertices = np.array([(x, y, z) for y in (low[1], high[1]) for x, z in (*outer, *inner)], float)
    faces = []
    for i in range(4):
        j = (i + 1) % 4
        faces += [(i, j, 4 + j), (i, 4 + j, 4 + i), (8 + j, 8 + i, 12 + j), (8 + i, 12 + i, 12 + j)]  # front, back
        faces += [(j, i, 8 + i), (j, 8 + i, 8 + j), (4 + i, 4 + j, 12 + j), (4 + i, 12 + j, 12 + i)]  # sides, reveals
    return vertices, np.array(faces)


def extruded(area: shapely.Polygon, low: float, high: float) -> Body:
    """An area along x and up, with or without holes, from `low` to `high` along y."""
    area = shapely.orient_polygons(area)
    rings = [np.asarray(ring.coords)[:-1] for ring in (area.exterior, *area.interiors)]
    flat = np.concatenate(rings)
    n, first, sides = len(flat), 0, []
    for ring in rings:
        here = np.arange(first, first + len(ring))
        following = np.roll(here, -1)
        sides += [np.column_stack((here, following, following + n)), np.column_stack((here, following + n, here + n))]
        first += len(ring)
    made = shapely.orient_polygons(shapely.get_parts(shapely.constrained_delaunay_triangles(area)))
    corners = shapely.get_coordinates(made).reshape(-1, 4, 2)[:, :3]
    cap = np.array([[int(np.hypot(*(flat - p).T).argmin()) for p in one] for one in corners])
    points = np.array([(x, y, z) for y in (low, high) for x, z in flat])
    return points, np.concatenate((cap, cap[:, ::-1] + n, *sides))


def prism(ring: list[tuple[float, float]], z0: float, z1: float) -> Body:
    """An upright prism over a convex ring (counter-clockwise)."""
    n = len(ring)
    vertices = np.array([(x, y, z) for z in (z0, z1) for x, y in ring], float)
    faces = [(0, i + 1, i) for i in range(1, n - 1)] + [(n, n + i, n + i + 1) for i in range(1, n - 1)]
    for i in range(n):
        j = (i + 1) % n
        faces += [(i, j, n + j), (i, n + j, n + i)]
    return vertices, np.array(faces)


def polygon_ring(sides: int, radius: float) -> list[tuple[float, float]]:
    a = 2 * np.pi * np.arange(sides) / sides
    return [(float(radius * np.cos(t)), float(radius * np.sin(t))) for t in a]


def moved(body: Body, matrix: F64, by: F64) -> Body:
    return body[0] @ matrix.T + by, body[1]


def rotation(a: float, b: float, c: float) -> F64:
    """A turn by three angles."""

    def about(axis: int, angle: float) -> F64:
        m = np.eye(3)
        i, j = [k for k in range(3) if k != axis]
        m[i, i] = m[j, j] = np.cos(angle)
        m[i, j], m[j, i] = -np.sin(angle), np.sin(angle)
        return m

    return about(0, a) @ about(1, b) @ about(2, c)


def model_of(
    *bodies: Body,
    materials: list[str] | None = None,
    kinds: list[str] | None = None,
    layers: list[tuple[str, float]] | None = None,
    frame: LayerFrame | None = None,
) -> Model:
    """A model with one element a body; `layers` with `frame` make a build-up of the first."""
    names = materials or ["Concrete"] * len(bodies)
    table = list(dict.fromkeys([*names, *(name for name, _ in layers or [])]))
    vertices, triangles, owner, at = [], [], [], 0
    for index, (v, t) in enumerate(bodies):
        vertices.append(v)
        triangles.append(t + at)
        owner.append(np.full(len(t), index))
        at += len(v)
    elements = tuple(
        Element(f"element-{i}", f"Body {i}", (kinds or ["wall"] * len(bodies))[i], 0, table.index(names[i]),
                0 if layers and i == 0 else -1, frame if layers and i == 0 else None)
        for i in range(len(bodies))
    )  # fmt: skip
    count = len(np.concatenate(owner))
    mesh = build_mesh(
        np.concatenate(vertices), np.concatenate(triangles).astype(np.int32), np.concatenate(owner).astype(np.int32),
        np.full(count, -1, np.int32),
    )  # fmt: skip
    build_ups = (BuildUp("Wall", tuple(Layer(table.index(n), t) for n, t in layers)),) if layers else ()
    return Model(
        name="Test", mesh=mesh, elements=elements, materials=tuple(Material(n) for n in table), build_ups=build_ups,
        storeys=(Storey("storey-0", "Ground", 0.0),), leaking=tuple(int(i) for i in mesh.open_elements),
    )  # fmt: skip
