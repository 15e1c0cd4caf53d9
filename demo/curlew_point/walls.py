"""Walls of the field station: mitred outer chains, partitions, parapet, and the openings in them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from ifcopenshell import entity_instance as Entity

from .build_ups import thickness
from .setting_out import (
    DECK,
    GRID_X,
    GRID_Y,
    LOOKOUT_UNDERSIDE,
    LOWER,
    LOWER_OUT,
    ROOF_NORMAL,
    ROOF_UNDERSIDE,
    UPPER,
    UPPER_OUT,
    WALL_HEAD,
)
from .writer import Point2, Point3, Writer

A, B, C, D = (GRID_X[k] for k in "ABCD")
Y1, Y2, Y3 = (GRID_Y[k] for k in "123")
LAB_ROOF = ((0.0, 0.0, ROOF_UNDERSIDE), ROOF_NORMAL)
LOOKOUT_ROOF = ((0.0, Y2, LOOKOUT_UNDERSIDE), ROOF_NORMAL)
Clip = tuple[Point3, Point3]


@dataclass
class Wall:
    """A wall with the frame its openings are set out in: `x` along, `y` towards the inside."""

    element: Entity
    start: np.ndarray
    along: np.ndarray
    out: float
    inside: float

    def at(self, distance: float, z: float) -> Point3:
        p = self.start + self.along * distance
        return (float(p[0]), float(p[1]), z)

    @property
    def x(self) -> Point3:
        return (float(self.along[0]), float(self.along[1]), 0.0)


def _left(d: np.ndarray) -> np.ndarray:
    return np.array([-d[1], d[0]])


def _corner(p: np.ndarray, before: np.ndarray | None, after: np.ndarray, offset: float) -> np.ndarray:
    """Where the lines `offset` to the left of two wall axes that meet at p cross."""
    n = _left(after)
    if before is None or abs(float(before[0] * after[1] - before[1] * after[0])) < 1e-9:
        return p + n * offset
    m = _left(before)
    return p + (m + n) * (offset / (1 + float(m @ n)))


class WallBuilder:
    def __init__(self, writer: Writer, sets: dict[str, Entity], storeys: dict[str, Entity]) -> None:
        self.writer, self.sets, self.storeys = writer, sets, storeys

    def chain(
        self,
        name: str,
        points: Sequence[Point2],
        kind: str,
        out: float,
        storey: str,
        base: float | Sequence[float],
        top: float,
        closed: bool = True,
        clip: Callable[[int], Clip | None] = lambda i: None,
    ) -> list[Wall]:
        """Walls along a polyline with the inside at its left, mitred where they meet."""
        ps = [np.array(p, float) for p in points]
        count = len(ps) if closed else len(ps) - 1
        runs = [ps[(i + 1) % len(ps)] - ps[i] for i in range(count)]
        dirs = [r / np.linalg.norm(r) for r in runs]
        inside = thickness(kind) - out
        walls = []
        for i in range(count):
            before = dirs[i - 1] if closed or i else None
            after = dirs[(i + 1) % count] if closed or i + 1 < count else dirs[i]
            p, q, d = ps[i], ps[(i + 1) % len(ps)], dirs[i]
            corners = [
                _corner(p, before, d, -out),
                _corner(q, d, after, -out),
                _corner(q, d, after, inside),
                _corner(p, before, d, inside),
            ]
            local = [(float((c - p) @ d), float((c - p) @ _left(d))) for c in corners]
            low = base if isinstance(base, (int, float)) else base[i]
            walls.append(self._wall(f"{name} {i + 1}", kind, storey, p, d, local, (out, inside), (low, top), clip(i)))
        return walls

    def straight(
        self,
        name: str,
        start: Point2,
        end: Point2,
        kind: str,
        storey: str,
        base: float,
        top: float,
        clip: Clip | None = None,
    ) -> Wall:
        """A partition centred on its line, with square ends."""
        return self.chain(name, [start, end], kind, thickness(kind) / 2, storey, base, top, False, lambda i: clip)[0]

    def _wall(
        self,
        name: str,
        kind: str,
        storey: str,
        p: np.ndarray,
        d: np.ndarray,
        local: list[Point2],
        faces: tuple[float, float],
        heights: tuple[float, float],
        clip: Clip | None,
    ) -> Wall:
        w = self.writer
        base, top = heights
        body = w.extrude(local, top - base)
        if clip is not None:
            at, normal = np.array(clip[0]), np.array(clip[1])
            rel = at - np.array([p[0], p[1], base])
            to_local = np.array([[d[0], d[1], 0], [-d[1], d[0], 0], [0, 0, 1]])
            body = w.clip(body, tuple((to_local @ rel).tolist()), tuple((to_local @ normal).tolist()))
        made = w.entity("IfcWall", name, "PARTITIONING" if "partition" in kind else "SOLIDWALL")
        w.place(made, (float(p[0]), float(p[1]), base), x=(float(d[0]), float(d[1]), 0.0))
        w.shape(made, [body])
        w.contain(made, self.storeys[storey])
        w.layered(made, self.sets[kind], "AXIS2", "POSITIVE", -faces[0])
        return Wall(made, p, d, *faces)


def build_walls(
    writer: Writer, sets: dict[str, Entity], storeys: dict[str, Entity], washroom: float = 18.0
) -> dict[str, Wall]:
    """`washroom`: where the wall of the washroom stands, x in metres."""
    b = WallBuilder(writer, sets, storeys)
    lower = [(A, Y1), (D, Y1), (D, 3.2), (D, 6.4), (D, Y3), (B, Y3), (A, Y3)]
    low = b.chain(
        "Lower outer wall",
        lower,
        "Lower outer wall",
        LOWER_OUT,
        "Lower",
        [-1.8, -1.8, -1.35, -0.9, -0.9, 0.0, -1.8],
        WALL_HEAD,
    )
    upper = [(A, Y1), (C, Y1), (D, Y1), (D, Y3), (C, Y3), (A, Y3)]
    u = b.chain(
        "Upper outer wall",
        upper,
        "Upper outer wall",
        UPPER_OUT,
        "Upper",
        WALL_HEAD,
        9.0,
        clip=lambda i: LAB_ROOF if i in (0, 4, 5) else ((0.0, 0.0, DECK), (0.0, 0.0, 1.0)),
    )
    look = [(C, Y2), (D, Y2), (D, Y3), (C, Y3)]
    k = b.chain("Lookout wall", look, "Upper outer wall", UPPER_OUT, "Lookout", DECK, 11.0, clip=lambda i: LOOKOUT_ROOF)
    parapet_ends = [(C, Y2 - UPPER_OUT), (C, Y1), (D, Y1), (D, Y2 - UPPER_OUT)]
    b.chain("Terrace parapet", parapet_ends, "Parapet", UPPER_OUT, "Lookout", DECK, 7.65, closed=False)
    mid = b.chain(
        "Wall on C", [(C, Y3 - 0.199), (C, Y1 + 0.199)], "Upper outer wall", UPPER_OUT, "Upper", UPPER, DECK, False
    )
    s, ceiling = b.straight, 2.988
    walls = {
        "south": low[0],
        "east": low[1],
        "east north": low[3],
        "north": low[4],
        "north bay": low[5],
        "west": low[6],
        "upper south": u[0],
        "upper south kitchen": u[1],
        "upper east": u[2],
        "upper north": u[3],
        "upper north lab": u[4],
        "upper west": u[5],
        "lookout south": k[0],
        "lookout east": k[1],
        "lookout north": k[2],
        "lookout west": k[3],
        "wall C": mid[0],
        "wet lab bay": s("Partition B", (B, 0.153), (B, 9.447), "Block partition", "Lower", LOWER, ceiling),
        "wet lab C": s("Partition C", (C, 0.153), (C, 9.447), "Block partition", "Lower", LOWER, ceiling),
        "wet lab store": s(
            "Partition 2 west", (B + 0.083, Y2), (C - 0.083, Y2), "Stud partition", "Lower", LOWER, 2.748
        ),
        "plant": s("Partition 2 east", (C + 0.083, Y2), (D - 0.153, Y2), "Block partition", "Lower", LOWER, ceiling),
        "lab": s("Upper partition B", (B, 0.199), (B, 9.401), "Stud partition", "Upper", UPPER, 8.5, LAB_ROOF),
        "library": s(
            "Upper partition 2 west", (B + 0.0625, Y2), (C - 0.13, Y2), "Stud partition", "Upper", UPPER, 8.5, LAB_ROOF
        ),
        "kitchen": s(
            "Upper partition 2 east", (C + 0.199, Y2), (D - 0.199, Y2), "Stud partition", "Upper", UPPER, 6.003
        ),
        "washroom": s(
            "Washroom partition", (washroom, Y2 + 0.0625), (washroom, 9.401), "Stud partition", "Upper", UPPER, 6.275
        ),
    }
    _ledges_and_copings(writer, storeys)
    return walls


def _ledges_and_copings(w: Writer, storeys: dict[str, Entity]) -> None:
    """A sloping stone ledge over the brick, and a zinc coping on the parapet."""
    out, back = LOWER_OUT + 0.03, UPPER_OUT
    outer = [(A - out, Y1 - out), (D + out, Y1 - out), (D + out, Y3 + out), (A - out, Y3 + out)]
    inner = [(A - back, Y1 - back), (D + back, Y1 - back), (D + back, Y3 + back), (A - back, Y3 + back)]
    names = ["south", "east", "north", "west"]
    for i, name in enumerate(names):
        j = (i + 1) % 4
        o0, o1, i1, i0 = (*outer[i], WALL_HEAD), (*outer[j], WALL_HEAD), (*inner[j], WALL_HEAD), (*inner[i], WALL_HEAD)
        lift_out, lift_in = 0.03, 0.09
        low = [o0, o1, i1, i0]
        high = [
            (*outer[i], WALL_HEAD + lift_out),
            (*outer[j], WALL_HEAD + lift_out),
            (*inner[j], WALL_HEAD + lift_in),
            (*inner[i], WALL_HEAD + lift_in),
        ]
        w.element("IfcCovering", f"Ledge {name}", storeys["Upper"], w.hexahedron(low, high), "Stone", "MOLDING")
    t = 0.242 - UPPER_OUT + 0.03
    out = UPPER_OUT + 0.03
    z = 7.65
    for name, low, high in [
        ("west", (C - out, Y1 - out), (C + t, Y2 - UPPER_OUT)),
        ("south", (C + t, Y1 - out), (D - t, Y1 + t)),
        ("east", (D - t, Y1 - out), (D + out, Y2 - UPPER_OUT)),
    ]:
        w.element(
            "IfcCovering",
            f"Parapet coping {name}",
            storeys["Lookout"],
            w.box((*low, z), (*high, z + 0.03)),
            "Zinc",
            "MOLDING",
        )
