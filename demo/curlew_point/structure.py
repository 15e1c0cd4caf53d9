"""Footings, retaining walls, floors, joists, roofs and the steel of the boat bay."""

from __future__ import annotations

from math import cos, sin

from ifcopenshell import entity_instance as Entity

from .build_ups import thickness
from .setting_out import (
    BAY,
    DECK,
    GRID_X,
    GRID_Y,
    JOIST,
    LOOKOUT,
    MADE_GROUND,
    OVERHANG,
    ROOF_NORMAL,
    SLOPE,
    STAIR_VOID,
    UPPER,
    UPPER_OUT,
    WALL_HEAD,
    lookout_underside,
    roof_underside,
)
from .writer import Point2, Writer

A, B, C, D = (GRID_X[k] for k in "ABCD")
Y1, Y2, Y3 = (GRID_Y[k] for k in "123")


def rectangle(x0: float, y0: float, x1: float, y1: float) -> list[Point2]:
    return [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]


class StructureBuilder:
    def __init__(self, writer: Writer, sets: dict[str, Entity], storeys: dict[str, Entity]) -> None:
        self.writer, self.sets, self.storeys = writer, sets, storeys

    def slab(
        self,
        name: str,
        kind: str,
        storey: str,
        outline: list[Point2],
        top: float,
        holes: list[list[Point2]] | None = None,
        ifc_class: str = "IfcSlab",
        predefined: str = "FLOOR",
    ) -> Entity:
        w, t = self.writer, thickness(kind)
        body = w.extrude(w.profile(outline, holes or []), t)
        made = w.element(ifc_class, name, self.storeys[storey], body, None, predefined, (0.0, 0.0, top - t))
        w.layered(made, self.sets[kind], "AXIS3", "NEGATIVE", t)
        return made

    def box(
        self,
        ifc_class: str,
        name: str,
        storey: str,
        low: tuple[float, float, float],
        high: tuple[float, float, float],
        material: str,
        predefined: str,
    ) -> Entity:
        return self.writer.element(
            ifc_class, name, self.storeys[storey], self.writer.box(low, high), material, predefined
        )

    def footings(self) -> None:
        c, h, t = 0.0585, 0.4, 0.3  # centre of the wall outside its grid line, half width, thickness
        strips = [
            ("south", (A - c - h, -c - h), (D + c + h, -c + h), -1.8),
            ("west", (-c - h, -c + h), (-c + h, Y3 + c + h), -1.8),
            ("north bay", (-c + h, Y3 + c - h), (B + 0.4, Y3 + c + h), -1.8),
            ("north", (B + 0.4, Y3 + c - h), (D + c + h, Y3 + c + h), -0.9),
            ("east 1", (D + c - h, -c + h), (D + c + h, 3.4), -1.8),
            ("east 2", (D + c - h, 3.2), (D + c + h, 6.6), -1.35),
            ("east 3", (D + c - h, 6.4), (D + c + h, Y3 + c - h), -0.9),
            ("retaining wall", (B - 0.6, -c + h), (B + 0.6, Y3 + c - h), -1.8),
            ("grid C", (C - 0.3, 0.14), (C + 0.3, 9.46), -0.617),
        ]
        for name, low, high, top in strips:
            self.box(
                "IfcFooting",
                f"Strip footing {name}",
                "Boat bay",
                (*low, top - t),
                (*high, top),
                "Concrete",
                "STRIP_FOOTING",
            )
        steps = [
            ("north", (B + 0.2, Y3 + c - h), (B + 0.4, Y3 + c + h), -0.9),
            ("east 1", (D + c - h, 3.2), (D + c + h, 3.4), -1.65),
            ("east 2", (D + c - h, 6.4), (D + c + h, 6.6), -1.2),
        ]
        for name, low, high, top in steps:
            self.box(
                "IfcFooting",
                f"Footing step {name}",
                "Boat bay",
                (*low, top - 0.9 if name == "north" else top - 0.15),
                (*high, top),
                "Concrete",
                "STRIP_FOOTING",
            )
        for name, x, y in [("A", 3.6, 4.8), ("B", 1.2, 4.8), ("C", 6.0, 4.8)]:
            self.box(
                "IfcFooting",
                f"Pad footing {name}",
                "Boat bay",
                (x - 0.5, y - 0.5, -1.801),
                (x + 0.5, y + 0.5, -1.351),
                "Reinforced concrete",
                "PAD_FOOTING",
            )

    def retaining_walls(self) -> None:
        self.box(
            "IfcWall",
            "Retaining wall B",
            "Boat bay",
            (B - 0.125, 0.153, -1.8),
            (B + 0.125, 9.447, 0.0),
            "Reinforced concrete",
            "SOLIDWALL",
        )
        self.box(
            "IfcWall",
            "Retaining wall north",
            "Boat bay",
            (0.153, 9.447, -1.8),
            (B + 0.125, 9.87, 0.0),
            "Reinforced concrete",
            "SOLIDWALL",
        )

    def ground_floors(self) -> None:
        self.slab(
            "Ground floor",
            "Ground floor",
            "Lower",
            rectangle(B + 0.125, 0.14, D - 0.14, 9.46),
            0.0,
            predefined="BASESLAB",
        )
        self.box(
            "IfcSlab",
            "Made ground",
            "Boat bay",
            (B + 0.125, 0.14, MADE_GROUND),
            (D - 0.14, 9.447, -0.617),
            "Hardcore",
            "BASESLAB",
        )
        self.slab(
            "Boat bay floor",
            "Boat bay floor",
            "Boat bay",
            rectangle(0.14, 0.14, B - 0.125, 9.447),
            BAY,
            predefined="BASESLAB",
        )
        for i in range(5):
            z = BAY + 0.18 * (i + 1)
            self.box(
                "IfcStairFlight",
                f"Bay step {i + 1}",
                "Boat bay",
                (B - 0.125 - 0.26 * (5 - i), 1.1, BAY),
                (B - 0.125 - 0.26 * (4 - i), 2.5, z),
                "Concrete",
                "STRAIGHT",
            )

    def floors(self) -> None:
        self.slab(
            "Upper floor",
            "Upper floor",
            "Upper",
            rectangle(A + 0.199, Y1 + 0.199, D - 0.199, Y3 - 0.199),
            UPPER,
            [STAIR_VOID],
        )
        self.slab(
            "Lookout floor",
            "Upper floor",
            "Lookout",
            rectangle(C + 0.199, Y2 + 0.199, D - 0.199, Y3 - 0.199),
            LOOKOUT,
            [[(14.6, 5.95), (16.9, 5.95), (16.9, 9.395), (14.6, 9.395)]],
        )
        self.slab(
            "Terrace roof",
            "Terrace roof",
            "Lookout",
            rectangle(C + 0.112, Y1 + 0.112, D - 0.112, Y2 - UPPER_OUT),
            6.55,
            predefined="ROOF",
        )
        ceilings = [
            ("wet lab", 2.988, rectangle(B + 0.083, 0.153, C - 0.083, Y2 - 0.0625), []),
            ("specimen store", 2.988, rectangle(B + 0.083, Y2 + 0.0625, C - 0.083, 9.447), []),
            ("plant", 2.988, rectangle(C + 0.083, 0.153, D - 0.153, Y2 - 0.083), []),
            ("entrance", 2.988, rectangle(C + 0.083, Y2 + 0.083, D - 0.153, 9.447), [STAIR_VOID]),
        ]
        for name, z, outline, holes in ceilings:
            self.slab(f"Ceiling {name}", "Ceiling", "Lower", outline, z, holes, "IfcCovering", "CEILING")
        upper = [
            ("kitchen", 6.016, rectangle(C + 0.199, 0.199, D - 0.199, Y2 - 0.0625), []),
            ("washroom", 6.288, rectangle(18.0625, Y2 + 0.0625, D - 0.199, 9.401), []),
            ("stair hall", 6.288, rectangle(C + 0.199, Y2 + 0.0625, 18.0 - 0.0625, 9.401), [STAIR_VOID]),
        ]
        for name, z, outline, holes in upper:
            self.slab(f"Ceiling {name}", "Ceiling", "Upper", outline, z, holes, "IfcCovering", "CEILING")

    def joists(self) -> None:
        low = WALL_HEAD - JOIST
        spans = [(0.153, Y2), (Y2, 9.447)]
        count = 53
        for i in range(count):
            x = 0.4 + i * 0.4
            for j, (y0, y1) in enumerate(spans):
                end = 5.95 - 0.05 if j == 1 and 14.55 < x < 16.95 else y1
                self.box(
                    "IfcBeam",
                    f"Joist {i + 1}.{j + 1}",
                    "Upper",
                    (x - 0.025, y0, low),
                    (x + 0.025, end, WALL_HEAD),
                    "Softwood",
                    "JOIST",
                )
        self.box("IfcBeam", "Stair trimmer", "Upper", (14.483, 5.9, low), (16.95, 5.95, WALL_HEAD), "Softwood", "JOIST")
        self.box(
            "IfcBeam",
            "Wet lab beam",
            "Upper",
            (B + 0.083, Y2 - 0.07, 2.748),
            (C - 0.083, Y2 + 0.07, 2.988),
            "Softwood",
            "BEAM",
        )
        for i in range(17):
            x = 14.8 + i * 0.4
            self.box(
                "IfcBeam",
                f"Terrace joist {i + 1}",
                "Lookout",
                (x - 0.025, 0.199, 6.016),
                (x + 0.025, Y2, 6.256),
                "Softwood",
                "JOIST",
            )
            y1 = 5.9 if 14.55 < x < 16.95 else 9.401
            self.box(
                "IfcBeam",
                f"Lookout joist {i + 1}",
                "Lookout",
                (x - 0.025, Y2, 6.288),
                (x + 0.025, y1, 6.528),
                "Softwood",
                "JOIST",
            )
        self.box(
            "IfcBeam",
            "Lookout beam",
            "Lookout",
            (C + 0.199, Y2 - 0.06, 6.016 - 0.2),
            (D - 0.199, Y2 + 0.06, 6.016),
            "Softwood",
            "BEAM",
        )
        self.box(
            "IfcBeam", "Lookout trimmer", "Lookout", (C + 0.199, 5.9, 6.288), (16.95, 5.95, 6.528), "Softwood", "JOIST"
        )

    def roof(
        self,
        name: str,
        storey: str,
        x: tuple[float, float],
        y: tuple[float, float],
        underside: float,
        rooflight: Point2 | None = None,
    ) -> None:
        """A sloping roof whose lower face passes through `underside` at the eaves y[0]."""
        w, t = self.writer, thickness("Laboratory roof")
        run = (y[1] - y[0]) / cos(SLOPE)
        origin = (x[0], y[0], underside)
        outline = rectangle(0.0, 0.0, x[1] - x[0], run)
        made = w.element(
            "IfcRoof", name, self.storeys[storey], w.extrude(outline, t), None, "SHED_ROOF", origin, ROOF_NORMAL
        )
        w.layered(made, self.sets["Laboratory roof"], "AXIS3", "NEGATIVE", t)
        for end, along in (("eaves", 0.0), ("ridge", run)):
            board = w.extrude(rectangle(0.0, -0.03, x[1] - x[0], 0.0), t + 0.02)
            at = (x[0], y[0] + along * cos(SLOPE), underside + along * sin(SLOPE))
            if end == "ridge":
                at = (at[0], at[1] + 0.03 * cos(SLOPE), at[2] + 0.03 * sin(SLOPE))
            w.element(
                "IfcCovering",
                f"{name} {end} board",
                self.storeys[storey],
                board,
                "Timber boarding",
                "MOLDING",
                at,
                ROOF_NORMAL,
            )
        if rooflight:
            self._rooflight(made, origin, rooflight, t, storey)

    def _rooflight(self, roof: Entity, origin: tuple[float, float, float], at: Point2, t: float, storey: str) -> None:
        w, size = self.writer, 1.3
        o = (origin[0] + at[0], origin[1] + at[1] * cos(SLOPE), origin[2] + at[1] * sin(SLOPE))
        opening = w.entity("IfcOpeningElement", "Rooflight opening")
        w.place(opening, o, ROOF_NORMAL)
        w.shape(opening, [w.box((0.0, 0.0, -0.2), (size, size, t + 0.2))])
        import ifcopenshell.api.feature

        ifcopenshell.api.feature.add_feature(w.file, feature=opening, element=roof)
        hole = rectangle(0.06, 0.06, size - 0.06, size - 0.06)
        frame = w.extrude(w.profile(rectangle(0.0, 0.0, size, size), [hole]), 0.25, (0.0, 0.0, t - 0.1))
        glass = w.box((0.06, 0.06, t + 0.1), (size - 0.06, size - 0.06, t + 0.128))
        made = w.element(
            "IfcWindow",
            "Rooflight",
            self.storeys[storey],
            [frame, glass],
            ["Aluminium", "Glass"],
            "SKYLIGHT",
            o,
            ROOF_NORMAL,
        )
        w.fill(opening, made)

    def named(self, name: str) -> Entity:
        return next(e for e in self.writer.file.by_type("IfcElement") if e.Name == name)

    def bay_steel(self, second_column: float = 0.0) -> None:
        """`second_column`: metres by which that one stands further east."""
        w, storey = self.writer, self.storeys["Boat bay"]
        column = w.i_profile(0.2, 0.2, 0.009, 0.015)
        for i, x in enumerate((1.2, 3.6 + second_column, 6.0)):
            body = w.extrude(column, 2.988 - 0.3 - BAY, (0.0, 0.0, 0.02))
            plate = w.box((-0.18, -0.18, 0.0), (0.18, 0.18, 0.02))
            w.element("IfcColumn", f"Bay column {i + 1}", storey, [body, plate], "Steel", "COLUMN", (x, 4.8, BAY))
        beam = w.i_profile(0.15, 0.28, 0.008, 0.012)
        body = w.extrude(beam, B - 0.083 - 0.153, (0.153, 4.8, 2.988 - 0.14), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        w.element("IfcBeam", "Bay main beam", storey, body, "Steel", "BEAM")
        rail = w.i_profile(0.12, 0.2, 0.006, 0.01)
        body = w.extrude(rail, 9.447 - 0.153, (3.6, 9.447, 2.708 - 0.1), (0.0, -1.0, 0.0), (1.0, 0.0, 0.0))
        w.element("IfcBeam", "Hoist rail", storey, body, "Steel", "BEAM")
        hoist = [w.box((3.48, 2.9, 2.3), (3.72, 3.3, 2.5)), w.cylinder(0.012, (3.6, 3.1, 2.3), (3.6, 3.1, 1.2))]
        w.element("IfcDiscreteAccessory", "Hoist", storey, hoist, "Steel", object_type="Hoist")


def build_structure(writer: Writer, sets: dict[str, Entity], storeys: dict[str, Entity]) -> None:
    b = StructureBuilder(writer, sets, storeys)
    b.footings()
    b.retaining_walls()
    b.ground_floors()
    b.floors()
    b.joists()
    b.bay_steel()
    y0 = Y1 - UPPER_OUT - OVERHANG
    b.roof(
        "Laboratory roof",
        "Upper",
        (A - UPPER_OUT - OVERHANG, C - UPPER_OUT),
        (y0, Y3 + UPPER_OUT + OVERHANG),
        roof_underside(y0),
        rooflight=(4.0, 4.0),
    )
    y0 = Y2 - UPPER_OUT - OVERHANG
    b.roof(
        "Lookout roof",
        "Lookout",
        (C - UPPER_OUT - OVERHANG, D + UPPER_OUT + OVERHANG),
        (y0, Y3 + UPPER_OUT + OVERHANG),
        lookout_underside(y0),
    )
    assert DECK == WALL_HEAD - JOIST + 3.3
