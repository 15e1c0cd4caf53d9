"""The estuary bank as a closed body, planting and two people."""

from __future__ import annotations

from math import cos, pi, sin

import numpy as np
from ifcopenshell import entity_instance as Entity

from .setting_out import BAY, LOOKOUT, MADE_GROUND, UPPER, terrain
from .writer import Point3, Writer

BED = -4.0
# Grid lines of the triangulation; those of the two excavations are among them.
X = sorted(
    {*np.linspace(-8.0, 30.0, 20).round(3).tolist(), 0.14, 7.075, 21.46} - {0.0, 8.0, 22.0, 6.0} | {6.1, 8.2, 22.4}
)
Y = sorted({*np.linspace(-9.0, 21.0, 16).round(3).tolist(), 0.14, 9.447} - {9.0} | {8.6, 9.447})


def _surface(x: float, y: float) -> float:
    """Height of the ground at the middle of a cell: terrain, or the underside of a floor."""
    if 0.14 < y < 9.447:
        if 0.14 < x < 7.075:
            return BAY - 0.251
        if 7.075 < x < 21.46:
            return MADE_GROUND
    return float("nan")


def _bank(w: Writer) -> Entity:
    """The bank as a closed body: terrain with two flat-bottomed excavations, vertical sides, flat bed.

    Cells differ in height where an excavation begins; the walls between take in every height that meets at
    their corners, so that the body stays closed edge to edge.
    """
    nx, ny = len(X) - 1, len(Y) - 1
    index: dict[tuple[float, float, float], int] = {}
    tris: list[tuple[int, int, int]] = []

    def corner_height(i: int, j: int, x: float, y: float) -> float:
        if not (0 <= i < nx and 0 <= j < ny):
            return BED
        flat = _surface((X[i] + X[i + 1]) / 2, (Y[j] + Y[j + 1]) / 2)
        return terrain(x, y) if flat != flat else flat

    def vertex(x: float, y: float, z: float) -> int:
        return index.setdefault((x, y, round(z, 6)), len(index))

    def heights(a: int, b: int) -> list[float]:
        around = [(a - 1, b - 1), (a, b - 1), (a - 1, b), (a, b)]
        return sorted({round(corner_height(i, j, X[a], Y[b]), 6) for i, j in around})

    def wall(low_cell: tuple[int, int], high_cell: tuple[int, int], p: tuple[int, int], q: tuple[int, int]) -> None:
        """Between two cells along the grid edge p–q, which has the higher cell at its left."""
        chains = []
        for a, b in (p, q):
            ends = sorted(round(corner_height(*cell, X[a], Y[b]), 6) for cell in (low_cell, high_cell))
            chains.append([vertex(X[a], Y[b], z) for z in heights(a, b) if ends[0] <= z <= ends[1]])
        left, right = chains
        i = j = 0
        while i + 1 < len(left) or j + 1 < len(right):
            if j + 1 < len(right) and (i + 1 == len(left) or j <= i):
                tris.append((left[i], right[j], right[j + 1]))
                j += 1
            else:
                tris.append((left[i], right[j], left[i + 1]))
                i += 1

    for i in range(nx):
        for j in range(ny):
            ring = [(i, j), (i + 1, j), (i + 1, j + 1), (i, j + 1)]
            top = [vertex(X[a], Y[b], corner_height(i, j, X[a], Y[b])) for a, b in ring]
            bed = [vertex(X[a], Y[b], BED) for a, b in ring]
            tris += [
                (top[0], top[1], top[2]),
                (top[0], top[2], top[3]),
                (bed[0], bed[2], bed[1]),
                (bed[0], bed[3], bed[2]),
            ]
            for cell, p, q in (
                ((i, j - 1), ring[0], ring[1]),
                ((i + 1, j), ring[1], ring[2]),
                ((i, j + 1), ring[2], ring[3]),
                ((i - 1, j), ring[3], ring[0]),
            ):
                mine, other = corner_height(i, j, X[p[0]], Y[p[1]]), corner_height(*cell, X[p[0]], Y[p[1]])
                if mine > other + 1e-9:
                    wall(cell, (i, j), p, q)
    return w.faces(list(index), tris)


def build_site(w: Writer, site: Entity, storeys: dict[str, Entity]) -> None:
    w.element("IfcGeographicElement", "Estuary bank", site, _bank(w), "Earth", "TERRAIN")
    slip = [(1.6, -8.5), (5.6, -8.5), (5.6, -0.27), (1.6, -0.27)]
    z = terrain(3.6, -4.0)
    low = [(*p, BAY - 0.25 + 0.075 * (p[1] + 0.27)) for p in slip]
    high = [(*p, BAY - 0.02 + 0.075 * (p[1] + 0.27)) for p in slip]
    assert z < BAY
    w.element("IfcSlab", "Slipway", site, w.hexahedron(low, high), "Concrete", "PAVING")
    path = w.box((1.6, 9.87, -0.12), (4.6, 12.4, -0.03))
    w.element("IfcSlab", "Entrance paving", site, path, "Stone", "PAVING")
    rng = np.random.default_rng(7)
    for i in range(26):
        x = float(rng.uniform(-7, 29))
        y = float(rng.uniform(-8.5, -3.5))
        if 1.0 < x < 6.2:
            x += 7
        _reeds(w, site, f"Reeds {i + 1}", x, y, rng)
    for i, (x, y) in enumerate([(-3.5, 4.0), (-4.6, 9.5), (24.6, 2.4), (25.5, 8.2), (10.0, 14.5), (17.5, 15.5)]):
        _shrub(w, site, f"Shrub {i + 1}", x, y, 0.6 + 0.12 * (i % 3), rng)
    _person(w, storeys["Upper"], "Person in the laboratory", 3.4, 3.0, UPPER)
    _person(w, storeys["Lookout"], "Person in the lookout", 18.2, 8.4, LOOKOUT)


def _reeds(w: Writer, site: Entity, name: str, x: float, y: float, rng: np.random.Generator) -> None:
    vertices: list[Point3] = []
    tris: list[tuple[int, int, int]] = []
    ground = terrain(x, y) - 0.05
    for _ in range(36):
        bx, by = rng.normal(0, 0.28, 2)
        lean = rng.normal(0, 0.12, 2)
        high, r, turn = float(rng.uniform(0.7, 1.5)), 0.012, float(rng.uniform(0, 2 * pi))
        start = len(vertices)
        vertices += [(bx + r * cos(turn + k * 2 * pi / 3), by + r * sin(turn + k * 2 * pi / 3), 0.0) for k in range(3)]
        vertices.append((bx + lean[0], by + lean[1], high))
        tris += [
            (start, start + 2, start + 1),
            (start, start + 1, start + 3),
            (start + 1, start + 2, start + 3),
            (start + 2, start, start + 3),
        ]
    w.element(
        "IfcGeographicElement",
        name,
        site,
        w.faces(vertices, tris),
        "Reed",
        "USERDEFINED",
        (x, y, ground),
        object_type="Planting",
    )


def _revolved(
    rings: list[tuple[float, float]], around: int, wobble: np.ndarray | None = None
) -> tuple[list[Point3], list[tuple[int, int, int]]]:
    """A closed body from (radius, height) rings; first and last radius are drawn to a point."""
    vertices: list[Point3] = [(0.0, 0.0, rings[0][1])]
    for k, (radius, z) in enumerate(rings[1:-1]):
        for i in range(around):
            r = radius * (1.0 if wobble is None else float(wobble[k, i]))
            vertices.append((r * cos(2 * pi * i / around), r * sin(2 * pi * i / around), z))
    vertices.append((0.0, 0.0, rings[-1][1]))
    tris: list[tuple[int, int, int]] = []
    rows, last = len(rings) - 2, len(vertices) - 1
    for i in range(around):
        j = (i + 1) % around
        tris.append((0, 1 + j, 1 + i))
        for k in range(rows - 1):
            a, b = 1 + k * around, 1 + (k + 1) * around
            tris += [(a + i, a + j, b + j), (a + i, b + j, b + i)]
        top = 1 + (rows - 1) * around
        tris.append((top + i, top + j, last))
    return vertices, tris


def _shrub(w: Writer, site: Entity, name: str, x: float, y: float, size: float, rng: np.random.Generator) -> None:
    steps = 9
    rings = [(size * sin(pi * k / steps), size * 0.9 * (1 - cos(pi * k / steps))) for k in range(steps + 1)]
    wobble = rng.uniform(0.94, 1.05, (steps, 16))
    vertices, tris = _revolved(rings, 16, wobble)
    w.element(
        "IfcGeographicElement",
        name,
        site,
        w.faces(vertices, tris),
        "Reed",
        "USERDEFINED",
        (x, y, terrain(x, y) - 0.1),
        object_type="Planting",
    )


def _person(w: Writer, storey: Entity, name: str, x: float, y: float, z: float) -> None:
    body = [
        (0, 0.82),
        (0.13, 0.82),
        (0.165, 0.95),
        (0.15, 1.1),
        (0.185, 1.32),
        (0.17, 1.44),
        (0.06, 1.5),
        (0.055, 1.54),
        (0, 1.54),
    ]
    head = [(0, 1.53), (0.06, 1.545), (0.09, 1.6), (0.1, 1.66), (0.085, 1.73), (0.045, 1.775), (0, 1.785)]
    leg = [(0, 0.0), (0.055, 0.0), (0.06, 0.1), (0.055, 0.45), (0.08, 0.8), (0.08, 0.86), (0, 0.86)]
    arm = [(0, 0.78), (0.035, 0.8), (0.04, 1.1), (0.05, 1.4), (0, 1.43)]
    items = []
    for rings, dx in [(body, 0.0), (head, 0.0), (leg, -0.085), (leg, 0.085), (arm, -0.225), (arm, 0.225)]:
        vertices, tris = _revolved([(float(r), float(h)) for r, h in rings], 20)
        items.append(w.faces([(vx + dx, vy, vz) for vx, vy, vz in vertices], tris))
    w.element("IfcBuildingElementProxy", name, storey, items, "Cloth", "USERDEFINED", (x, y, z), object_type="Person")
