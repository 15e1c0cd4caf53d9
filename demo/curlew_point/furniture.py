"""Benches, sinks, bunks, shelves, kitchen, and the boat in its bay."""

from __future__ import annotations

from math import cos, pi, sin, sqrt

from ifcopenshell import entity_instance as Entity

from .setting_out import BAY, LOOKOUT, LOWER, UPPER
from .writer import Point3, Writer


class Furnisher:
    def __init__(self, writer: Writer, storeys: dict[str, Entity]) -> None:
        self.writer, self.storeys = writer, storeys
        self.numbers: dict[str, int] = {}

    def name(self, word: str) -> str:
        self.numbers[word] = self.numbers.get(word, 0) + 1
        return f"{word} {self.numbers[word]}"

    def bench(self, storey: str, x: float, y: float, z: float, length: float, deep: float = 0.75) -> None:
        """A laboratory bench along x with drawer units and a service spine at its back."""
        w = self.writer
        items, names = [w.box((0, 0, 0.87), (length, deep, 0.9))], ["Resin worktop"]
        units = max(1, int(length / 0.9))
        step = length / units
        for i in range(units):
            items.append(w.box((i * step + 0.01, 0.08, 0.1), ((i + 1) * step - 0.01, deep - 0.02, 0.87)))
            names.append("Painted board")
            for drawer in range(3):
                low = 0.12 + drawer * 0.25
                items.append(w.box((i * step + 0.02, 0.06, low), ((i + 1) * step - 0.02, 0.08, low + 0.235)))
                names.append("Painted board")
                items.append(
                    w.box(
                        (i * step + step / 2 - 0.08, 0.035, low + 0.19), (i * step + step / 2 + 0.08, 0.06, low + 0.205)
                    )
                )
                names.append("Stainless steel")
        items.append(w.box((0, deep - 0.06, 0.9), (length, deep, 1.15)))
        names.append("Painted board")
        w.element("IfcFurniture", self.name("Laboratory bench"), self.storeys[storey], items, names, None, (x, y, z))

    def sink(self, storey: str, x: float, y: float, z: float, turn: Point3 = (1.0, 0.0, 0.0)) -> None:
        w = self.writer
        basin = w.subtract(w.box((0, 0, 0.72), (0.6, 0.45, 0.91)), w.box((0.03, 0.03, 0.75), (0.57, 0.42, 1.0)))
        tap = [
            w.cylinder(0.013, (0.3, 0.47, 0.88), (0.3, 0.47, 1.2)),
            w.cylinder(0.012, (0.3, 0.47, 1.19), (0.3, 0.25, 1.19)),
        ]
        w.element(
            "IfcSanitaryTerminal",
            self.name("Sink"),
            self.storeys[storey],
            [basin, *tap],
            ["Ceramic", "Stainless steel", "Stainless steel"],
            "SINK",
            (x, y, z),
            x=turn,
        )

    def shelves(
        self,
        storey: str,
        x: float,
        y: float,
        z: float,
        length: float,
        turn: Point3 = (1.0, 0.0, 0.0),
        full: str = "books",
    ) -> None:
        w, high, deep, boards = self.writer, 2.1, 0.32, 6
        items = [
            w.box((0, 0, 0), (0.02, deep, high)),
            w.box((length - 0.02, 0, 0), (length, deep, high)),
            w.box((0.02, deep - 0.008, 0), (length - 0.02, deep, high)),
        ]
        for i in range(boards):
            level = 0.06 + i * (high - 0.1) / (boards - 1)
            items.append(w.box((0.02, 0, level), (length - 0.02, deep - 0.008, level + 0.02)))
            if i == boards - 1:
                continue
            at, k = 0.04, i
            while at < length - 0.35:
                k += 1
                wide = 0.025 + 0.017 * (k * 7 % 4) if full == "books" else 0.16
                tall = 0.2 + 0.022 * (k * 5 % 5)
                if full == "books":
                    items.append(w.box((at, 0.04, level + 0.02), (at + wide, 0.26, level + 0.02 + tall)))
                else:
                    items.append(w.cylinder(0.06, (at + 0.08, 0.15, level + 0.02), (at + 0.08, 0.15, level + 0.24)))
                at += wide + (0.004 if full == "books" else 0.02) + (0.12 if k % 11 == 0 else 0)
        w.element(
            "IfcFurniture", self.name("Shelves"), self.storeys[storey], items, "Softwood", "SHELF", (x, y, z), x=turn
        )

    def bunk(self, x: float, y: float, z: float) -> None:
        w = self.writer
        items, names = [], []
        for px in (0.0, 1.93):
            for py in (0.0, 0.83):
                items.append(w.box((px, py, 0), (px + 0.07, py + 0.07, 1.75)))
                names.append("Softwood")
        for level in (0.35, 1.25):
            items += [
                w.box((0.0, 0.0, level), (2.0, 0.03, level + 0.12)),
                w.box((0.0, 0.87, level), (2.0, 0.9, level + 0.12)),
                w.box((0.07, 0.07, level + 0.04), (1.93, 0.83, level + 0.22)),
                w.box((0.12, 0.15, level + 0.22), (0.5, 0.75, level + 0.32)),
            ]
            names += ["Softwood", "Softwood", "Cloth", "Cloth"]
        for rung in range(5):
            items.append(w.cylinder(0.016, (1.5, -0.02, 0.25 + rung * 0.3), (1.93, -0.02, 0.25 + rung * 0.3)))
            names.append("Softwood")
        w.element("IfcFurniture", self.name("Bunk"), self.storeys["Upper"], items, names, "BED", (x, y, z))

    def table(self, storey: str, x: float, y: float, z: float, length: float, wide: float, chairs: int) -> None:
        w = self.writer
        items = [w.box((0, 0, 0.71), (length, wide, 0.74))]
        for px in (0.05, length - 0.12):
            for py in (0.05, wide - 0.12):
                items.append(w.box((px, py, 0), (px + 0.07, py + 0.07, 0.71)))
        w.element("IfcFurniture", self.name("Table"), self.storeys[storey], items, "Oak", "TABLE", (x, y, z))
        for i in range(chairs):
            side = i % 2
            cx = x + (i // 2 + 0.5) * length / max(1, (chairs + 1) // 2) - 0.2
            cy = y - 0.35 if side == 0 else y + wide - 0.1
            self.chair(storey, cx, cy, z, back_at=0.0 if side == 0 else 0.42)

    def chair(self, storey: str, x: float, y: float, z: float, back_at: float) -> None:
        w = self.writer
        items = [w.box((0, 0, 0.43), (0.42, 0.44, 0.46)), w.box((0.03, back_at, 0.62), (0.39, back_at + 0.02, 0.84))]
        for px in (0.03, 0.39):
            for py in (0.03, 0.41):
                items.append(w.cylinder(0.014, (px, py, 0), (px, py, 0.43)))
            items.append(w.cylinder(0.012, (px, back_at + 0.01, 0.43), (px, back_at + 0.01, 0.84)))
        w.element("IfcFurniture", self.name("Chair"), self.storeys[storey], items, "Oak", "CHAIR", (x, y, z))

    def boat(self, x: float, y: float, z: float) -> None:
        """An open survey boat on chocks: a lofted hull of 20 mm laminate, thwarts and an outboard."""
        w, stations, ribs = self.writer, 22, 12
        length, beam, depth, skin = 4.8, 1.7, 0.75, 0.02

        def lines(t: float, inset: float) -> tuple[float, float, float]:
            half = (beam / 2) * (1 - t**2.6) ** 0.7 * (0.86 + 0.14 * min(1.0, t * 4)) + 0.015 - inset
            keel = 0.28 * max(0.0, t - 0.55) ** 1.7 / 0.45**1.7 * 0.75 + inset
            return half, keel, depth + 0.16 * t**2

        def width_at(along: float, height: float) -> float:
            """Half the inner width of the hull at a place and height."""
            half, keel, sheer = lines(along / length, skin)
            cosine = 1 - ((height - keel) / (sheer - keel)) ** (4 / 3)
            return half * sqrt(1 - cosine**2) - 0.01

        def section(t: float, inset: float) -> list[Point3]:
            half, keel, sheer = lines(t, inset)
            return [
                (t * length, half * sin(a), keel + (sheer - keel) * (1 - abs(cos(a))) ** 0.75)
                for a in (-pi / 2 + pi * i / ribs for i in range(ribs + 1))
            ]

        outer = [section(min(i / stations, 0.985), 0.0) for i in range(stations + 1)]
        inner = [section(0.006 + min(i / stations, 0.985) * 0.97, skin * 0.7) for i in range(stations + 1)]
        inner = [
            [
                (p[0], p[1], max(p[2], q[2] + skin * 0.6 * sin(pi * k / ribs)))
                for k, (p, q) in enumerate(zip(row, out, strict=True))
            ]
            for row, out in zip(inner, outer, strict=True)
        ]
        n = ribs + 1
        vertices = [p for row in outer for p in row] + [p for row in inner for p in row]
        base = n * (stations + 1)
        triangles: list[tuple[int, int, int]] = []

        def quad(a: int, b: int, c: int, d: int) -> None:
            triangles.extend([(a, b, c), (a, c, d)])

        for i in range(stations):
            for j in range(ribs):
                a, b = i * n + j, (i + 1) * n + j
                quad(a, a + 1, b + 1, b)
                quad(base + a, base + b, base + b + 1, base + a + 1)
            for j in (0, ribs):
                a, b = i * n + j, (i + 1) * n + j
                quad(*((a, b, base + b, base + a) if j == 0 else (b, a, base + a, base + b)))
        for j in range(ribs):
            quad(j + 1, j, base + j, base + j + 1)
            e = stations * n + j
            quad(e, e + 1, base + e + 1, base + e)
        items, names = [w.faces(vertices, triangles)], ["Hull laminate"]
        for sx in (1.0, 2.1, 3.1):
            half = min(width_at(sx, 0.5), width_at(sx + 0.26, 0.5))
            items.append(w.box((sx, -half, 0.5), (sx + 0.26, half, 0.535)))
            names.append("Oak")
        items += [w.box((-0.28, -0.14, 0.5), (-0.01, 0.14, 1.05)), w.box((-0.2, -0.06, -0.1), (-0.08, 0.06, 0.5))]
        names += ["Steel", "Steel"]
        for sx in (1.0, 3.2):
            items.append(w.box((sx, -0.55, -0.3), (sx + 0.12, 0.55, -0.001)))
            names.append("Softwood")
        w.element(
            "IfcTransportElement",
            "Survey boat",
            self.storeys["Boat bay"],
            items,
            names,
            None,
            (x, y, z + 0.3),
            x=(0.0, -1.0, 0.0),
            object_type="Boat",
        )

    def tank(self, x: float, y: float, z: float) -> None:
        w = self.writer
        glass = w.subtract(w.box((0, 0, 0.75), (1.6, 0.6, 1.4)), w.box((0.012, 0.012, 0.77), (1.588, 0.588, 1.5)))
        stand = w.box((0, 0, 0), (1.6, 0.6, 0.75))
        w.element(
            "IfcFurniture",
            self.name("Holding tank"),
            self.storeys["Lower"],
            [glass, stand],
            ["Glass", "Painted board"],
            None,
            (x, y, z),
        )


def build_furniture(writer: Writer, storeys: dict[str, Entity]) -> None:
    f = Furnisher(writer, storeys)
    f.boat(4.8, 3.2 + 3.0, BAY)
    f.bench("Lower", 8.6, 0.35, LOWER, 4.5)
    f.bench("Lower", 9.2, 2.4, LOWER, 3.6)
    f.sink("Lower", 13.2, 0.35, LOWER)
    f.tank(7.6, 3.9, LOWER)
    f.tank(9.5, 3.9, LOWER)
    for y in (5.2, 6.4, 7.6):
        f.shelves("Lower", 7.55, y + 0.9, LOWER, 1.1, (0.0, -1.0, 0.0), "jars")
        f.shelves("Lower", 13.9, y, LOWER, 1.1, (0.0, 1.0, 0.0), "jars")
    f.bench("Lower", 9.4, 7.2, LOWER, 2.8)
    f.table("Lower", 18.6, 7.4, LOWER, 1.6, 0.8, 2)
    w = writer
    for i, x in enumerate((15.2, 16.6, 18.0)):
        items = [
            w.cylinder(0.35, (0, 0, 0.1), (0, 0, 1.7)),
            w.cylinder(0.04, (0, 0.3, 1.4), (0, 0.3, 2.7)),
            w.box((-0.3, -0.3, 0), (0.3, 0.3, 0.1)),
        ]
        w.element(
            "IfcTank",
            f"Sea-water vessel {i + 1}",
            storeys["Lower"],
            items,
            "Stainless steel",
            "STORAGE",
            (x, 3.6, LOWER),
        )
    f.bench("Upper", 1.2, 0.45, UPPER, 5.2)
    f.bench("Upper", 1.6, 4.4, UPPER, 4.0)
    f.bench("Upper", 1.6, 5.16, UPPER, 4.0)
    f.sink("Upper", 5.7, 4.5, UPPER)
    for x in (7.45, 8.85, 10.25, 11.65):
        f.shelves("Upper", x, 4.4, UPPER, 1.3)
    f.table("Upper", 9.5, 1.6, UPPER, 2.4, 1.0, 6)
    for x in (7.5, 9.9):
        f.bunk(x, 8.35, UPPER)
        f.bunk(x, 5.0, UPPER) if x < 9 else None
    f.table("Upper", 17.2, 2.2, UPPER, 2.2, 0.9, 6)
    f.bench("Upper", 15.2, 0.35, UPPER, 3.4, 0.65)
    f.sink("Upper", 18.8, 0.35, UPPER)
    f.sink("Upper", 18.4, 8.85, UPPER)
    f.sink("Upper", 19.3, 8.85, UPPER)
    pan = [w.box((0, 0, 0), (0.36, 0.5, 0.4)), w.box((0, 0.5, 0.35), (0.36, 0.68, 0.85))]
    w.element("IfcSanitaryTerminal", "Toilet", storeys["Upper"], pan, "Ceramic", "TOILETPAN", (20.6, 8.7, UPPER))
    f.table("Lookout", 18.4, 6.3, LOOKOUT, 2.0, 0.8, 3)
    f.chair("Lookout", 19.9, 8.3, LOOKOUT, 0.0)
    stand = [w.cylinder(0.02, (0, 0, 0), (0, 0, 1.25)), w.cylinder(0.06, (-0.35, 0, 1.3), (0.35, 0, 1.4))]
    w.element("IfcFurniture", "Spotting telescope", storeys["Lookout"], stand, "Steel", None, (20.6, 7.6, LOOKOUT))
    bench = [
        w.box((0, 0, 0.4), (1.8, 0.4, 0.46)),
        w.box((0.1, 0.05, 0), (0.18, 0.35, 0.4)),
        w.box((1.62, 0.05, 0), (1.7, 0.35, 0.4)),
    ]
    w.element("IfcFurniture", "Terrace seat", storeys["Lookout"], bench, "Oak", None, (17.0, 0.8, 6.55))
