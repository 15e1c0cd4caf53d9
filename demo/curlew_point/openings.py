"""Windows and doors: the opening in the wall, and the frame, leaves and glass in it."""

from __future__ import annotations

from dataclasses import dataclass

from ifcopenshell import entity_instance as Entity

from .setting_out import BAY, LOOKOUT, LOWER, UPPER
from .walls import Wall
from .writer import Point2, Writer


@dataclass(frozen=True)
class WindowType:
    name: str
    width: float
    height: float
    columns: int
    rows: int
    sash: bool
    material: str


PICTURE = WindowType("Picture window", 2.4, 1.5, 1, 1, False, "Aluminium")
PAIR = WindowType("Two-light window", 1.5, 1.35, 2, 1, True, "Oak")
RIBBON = WindowType("Ribbon window", 4.2, 1.2, 4, 1, True, "Aluminium")
HIGH = WindowType("High-level window", 3.0, 0.6, 3, 1, False, "Aluminium")
TALL = WindowType("Tall window", 1.1, 2.1, 1, 2, True, "Oak")
LOOKING = WindowType("Lookout window", 5.6, 1.15, 5, 1, False, "Aluminium")


def _ring(x0: float, z0: float, x1: float, z1: float) -> list[Point2]:
    return [(x0, z0), (x1, z0), (x1, z1), (x0, z1)]


def _upright(w: Writer, outline: list[Point2], holes: list[list[Point2]], back: float, depth: float) -> Entity:
    """A profile drawn in the wall's elevation (x, z), extruded outwards from `back`."""
    return w.extrude(w.profile(outline, holes), depth, (0.0, back, 0.0), (0.0, -1.0, 0.0))


def _lights(width: float, height: float, columns: int, rows: int, frame: float, bar: float) -> list[list[Point2]]:
    wide = (width - 2 * frame - bar * (columns - 1)) / columns
    high = (height - 2 * frame - bar * (rows - 1)) / rows
    return [
        _ring(
            frame + c * (wide + bar),
            frame + r * (high + bar),
            frame + c * (wide + bar) + wide,
            frame + r * (high + bar) + high,
        )
        for r in range(rows)
        for c in range(columns)
    ]


class OpeningBuilder:
    def __init__(self, writer: Writer, storeys: dict[str, Entity]) -> None:
        self.writer, self.storeys = writer, storeys
        self.counts = {"W": 0, "D": 0}

    def _mark(self, letter: str) -> str:
        self.counts[letter] += 1
        return f"{letter}{self.counts[letter]:02d}"

    def _void(self, wall: Wall, at: float, z: float, width: float, height: float) -> Entity:
        box = self.writer.box((0.0, -wall.out - 0.1, 0.0), (width, wall.inside + 0.1, height))
        return self.writer.void(wall.element, box, wall.at(at, z), wall.x)

    def window(self, wall: Wall, at: float, sill: float, kind: WindowType, storey: str) -> None:
        w = self.writer
        opening = self._void(wall, at, sill, kind.width, kind.height)
        back, deep = -wall.out + 0.19, 0.07
        lights = _lights(kind.width, kind.height, kind.columns, kind.rows, 0.055, 0.05)
        items = [_upright(w, _ring(0, 0, kind.width, kind.height), lights, back, deep)]
        names = [kind.material]
        for ring in lights:
            (x0, z0), (x1, z1) = ring[0], ring[2]
            if kind.sash:
                inner = _ring(x0 + 0.045, z0 + 0.045, x1 - 0.045, z1 - 0.045)
                items.append(_upright(w, ring, [inner], back + 0.012, 0.058))
                names.append(kind.material)
                (x0, z0), (x1, z1) = inner[0], inner[2]
            items.append(w.box((x0, back - 0.047, z0), (x1, back - 0.023, z1)))
            names.append("Glass")
        mark = self._mark("W")
        made = w.element(
            "IfcWindow",
            f"{mark} {kind.name}",
            self.storeys[storey],
            items,
            names,
            "WINDOW",
            wall.at(at, sill),
            x=wall.x,
        )
        made.OverallWidth, made.OverallHeight = kind.width * 1000, kind.height * 1000
        w.fill(opening, made)
        sill_board = w.box((-0.04, -wall.out - 0.05, -0.04), (kind.width + 0.04, back - deep, 0.0))
        w.element(
            "IfcCovering",
            f"{mark} outer sill",
            self.storeys[storey],
            sill_board,
            "Stone" if wall.out > 0.2 else "Zinc",
            "MOLDING",
            wall.at(at, sill),
            x=wall.x,
        )
        board = w.box((-0.03, back, -0.025), (kind.width + 0.03, wall.inside + 0.03, 0.0))
        w.element(
            "IfcCovering",
            f"{mark} window board",
            self.storeys[storey],
            board,
            "Oak",
            "MOLDING",
            wall.at(at, sill),
            x=wall.x,
        )
        if wall.out > 0.2:
            self._lintel(wall, at, sill + kind.height, kind.width, mark, storey)

    def _lintel(self, wall: Wall, at: float, z: float, width: float, mark: str, storey: str) -> None:
        w = self.writer
        block = w.box((-0.15, 0.0, 0.0), (width + 0.15, 0.14, 0.215))
        w.element(
            "IfcBeam",
            f"{mark} inner lintel",
            self.storeys[storey],
            block,
            "Precast concrete",
            "LINTEL",
            wall.at(at, z),
            x=wall.x,
        )
        angle = [
            (-wall.out + 0.01, 0.0),
            (-wall.out + 0.11, 0.0),
            (-wall.out + 0.11, 0.1),
            (-wall.out + 0.102, 0.1),
            (-wall.out + 0.102, 0.008),
            (-wall.out + 0.01, 0.008),
        ]
        steel = w.extrude(angle, width + 0.3, (-0.15, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        w.element(
            "IfcBeam", f"{mark} outer lintel", self.storeys[storey], steel, "Steel", "LINTEL", wall.at(at, z), x=wall.x
        )

    def door(
        self, wall: Wall, at: float, floor: float, width: float, storey: str, glazed: bool = False, height: float = 2.1
    ) -> None:
        w = self.writer
        opening = self._void(wall, at, floor, width, height)
        deep = min(0.1, wall.out + wall.inside)
        back = min(wall.inside, deep / 2)
        jamb = [
            (0.0, 0.0),
            (0.05, 0.0),
            (0.05, height - 0.05),
            (width - 0.05, height - 0.05),
            (width - 0.05, 0.0),
            (width, 0.0),
            (width, height),
            (0.0, height),
        ]
        items, names = [_upright(w, jamb, [], back, deep)], ["Oak"]
        leaf = _ring(0.053, 0.006, width - 0.053, height - 0.053)
        if glazed:
            pane = _ring(0.2, 0.25, width - 0.2, height - 0.2)
            items += [
                _upright(w, leaf, [pane], back - 0.02, 0.054),
                w.box((0.2, back - 0.06, 0.25), (width - 0.2, back - 0.036, height - 0.2)),
            ]
            names += ["Oak", "Glass"]
        else:
            items.append(_upright(w, leaf, [], back - 0.02, 0.044))
            names.append("Painted board")
        for y in (back + 0.03, back - 0.12):
            items.append(w.cylinder(0.01, (width - 0.13, y, 1.0), (width - 0.25, y, 1.0)))
            names.append("Stainless steel")
        made = w.element(
            "IfcDoor",
            f"{self._mark('D')} door",
            self.storeys[storey],
            items,
            names,
            "DOOR",
            wall.at(at, floor),
            x=wall.x,
        )
        made.OverallWidth, made.OverallHeight = width * 1000, height * 1000
        made.OperationType = "SINGLE_SWING_LEFT"  # the handle is at the right
        w.fill(opening, made)

    def boat_bay_door(self, wall: Wall, at: float) -> None:
        """A sectional door of boarded leaves, its frame in steel."""
        w, width, height = self.writer, 3.6, 3.0
        opening = self._void(wall, at, BAY, width, height)
        frame = [
            (0.0, 0.0),
            (0.09, 0.0),
            (0.09, height - 0.09),
            (width - 0.09, height - 0.09),
            (width - 0.09, 0.0),
            (width, 0.0),
            (width, height),
            (0.0, height),
        ]
        items, names = [_upright(w, frame, [], -0.04, 0.12)], ["Steel"]
        leaves, high = 5, (height - 0.1) / 5
        for i in range(leaves):
            z = 0.01 + i * high
            hole = _ring(0.35, z + 0.12, width - 0.35, z + high - 0.1)
            glazed = i == 3
            items.append(
                _upright(
                    w, _ring(0.095, z + 0.003, width - 0.095, z + high - 0.003), [hole] if glazed else [], -0.06, 0.06
                )
            )
            names.append("Softwood")
            if glazed:
                items.append(w.box((0.35, -0.1, z + 0.12), (width - 0.35, -0.085, z + high - 0.1)))
                names.append("Glass")
            for rib in range(6):
                x = 0.2 + rib * (width - 0.4) / 5
                items.append(w.box((x - 0.03, -0.06, z + 0.02), (x + 0.03, -0.03, z + 0.1)))
                names.append("Steel")
        made = w.element(
            "IfcDoor",
            f"{self._mark('D')} boat-bay door",
            self.storeys["Boat bay"],
            items,
            names,
            "GATE",
            wall.at(at, BAY),
            x=wall.x,
        )
        made.OverallWidth, made.OverallHeight = width * 1000, height * 1000
        made.OperationType = "ROLLINGUP"
        w.fill(opening, made)
        beam = w.box((-0.2, -0.25, 0.0), (width + 0.2, 0.14, 0.3))
        w.element(
            "IfcBeam",
            "Boat-bay door lintel",
            self.storeys["Boat bay"],
            beam,
            "Reinforced concrete",
            "LINTEL",
            wall.at(at, BAY + height),
            x=wall.x,
        )


def build_openings(writer: Writer, storeys: dict[str, Entity], walls: dict[str, Wall], more: bool = False) -> None:
    """`more`: with the window that the second revision adds."""
    b = OpeningBuilder(writer, storeys)
    b.boat_bay_door(walls["south"], 1.8)
    b.window(walls["west"], 2.6, LOWER + 0.9, PAIR, "Lower")
    b.window(walls["west"], 5.6, LOWER + 0.9, PAIR, "Lower")
    b.window(walls["south"], 8.7, LOWER + 0.95, RIBBON, "Lower")
    b.window(walls["south"], 16.2, LOWER + 0.95, PAIR, "Lower")
    b.window(walls["north"], 8.6, LOWER + 1.2, HIGH, "Lower")
    b.window(walls["north"], 1.0, LOWER + 0.3, TALL, "Lower")
    b.door(walls["north"], 2.6, LOWER, 1.1, "Lower", glazed=True)
    b.door(walls["east"], 1.0, LOWER, 1.0, "Lower")
    b.door(walls["wet lab bay"], 1.2, LOWER, 1.0, "Lower")
    b.door(walls["wet lab C"], 5.25, LOWER, 0.95, "Lower")
    b.door(walls["wet lab store"], 5.2, LOWER, 0.9, "Lower")
    b.door(walls["plant"], 5.3, LOWER, 0.95, "Lower")
    b.window(walls["upper south"], 1.5, UPPER + 0.95, RIBBON, "Upper")
    b.window(walls["upper south"], 9.3, UPPER + 0.7, PICTURE, "Upper")
    b.window(walls["upper south kitchen"], 2.0, UPPER + 1.0, PICTURE, "Upper")
    b.window(walls["upper east"], 1.4, UPPER + 1.0, PAIR, "Upper")
    b.window(walls["upper east"], 6.6, UPPER + 1.5, WindowType("Washroom window", 0.9, 0.6, 1, 1, True, "Oak"), "Upper")
    b.window(walls["upper north lab"], 8.4, 6.55, HIGH, "Upper")
    b.window(walls["upper north lab"], 11.6 - 0.1, UPPER + 0.9, PAIR, "Upper")
    b.window(walls["upper north lab"], 2.2, UPPER + 0.9, PAIR, "Upper")
    b.window(walls["upper west"], 3.0, UPPER + 0.95, RIBBON, "Upper")
    b.window(walls["upper north"], 4.9, UPPER + 0.4, TALL, "Upper")
    b.door(walls["lab"], 5.4, UPPER, 0.95, "Upper")
    b.door(walls["library"], 5.6, UPPER, 0.9, "Upper")
    b.door(walls["wall C"], 3.45, UPPER, 0.85, "Upper")
    b.door(walls["kitchen"], 1.5 + 0.6, UPPER, 0.95, "Upper", glazed=True)
    b.door(walls["washroom"], 0.5, UPPER, 0.85, "Upper")
    b.window(
        walls["lookout east"],
        0.9,
        LOOKOUT + 0.9,
        WindowType("Lookout side window", 3.0, 1.3, 3, 1, False, "Aluminium"),
        "Lookout",
    )
    b.window(
        walls["lookout north"],
        1.4,
        LOOKOUT + 0.9,
        WindowType("Lookout window", 4.4, 1.6, 4, 1, False, "Aluminium"),
        "Lookout",
    )
    b.window(
        walls["lookout south"],
        0.8,
        LOOKOUT + 0.9,
        WindowType("Lookout window", 4.4, 1.15, 4, 1, False, "Aluminium"),
        "Lookout",
    )
    b.door(walls["lookout south"], 5.7, LOOKOUT, 1.0, "Lookout", glazed=True)
    if more:
        b.window(walls["south"], 19.0, LOWER + 0.95, PAIR, "Lower")
