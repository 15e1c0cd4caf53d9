"""What the engineers' files hold: the structure, with two departures from the architect's, and the services, two of
which go through what carries or parts."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
from ifcopenshell import entity_instance as Entity
from numpy.typing import NDArray

from .setting_out import LOWER, UPPER
from .structure import StructureBuilder
from .writer import Point3, Writer

Matrix = NDArray[np.float64]
ASIDE = 0.04  # metres by which the structure has the second column of the boat bay further east
HOLE = ((6.9, 6.2, -0.75), (7.5, 6.8, -0.35))  # of the structure, in the retaining wall


def moved(by: Point3) -> Matrix:
    matrix = np.eye(4)
    matrix[:3, 3] = by
    return matrix


def turned(degrees: float) -> Matrix:
    a = radians(degrees)
    matrix = np.eye(4)
    matrix[:2, :2] = ((cos(a), -sin(a)), (sin(a), cos(a)))
    return matrix


def build_frame(writer: Writer, sets: dict[str, Entity], storeys: dict[str, Entity]) -> None:
    """Footings, retaining walls, joists and the steel of the boat bay."""
    b = StructureBuilder(writer, sets, storeys)
    b.footings()
    b.retaining_walls()
    b.joists()
    b.bay_steel(second_column=ASIDE)
    writer.void(b.named("Retaining wall B"), writer.box(*HOLE))


def build_services(writer: Writer, sets: dict[str, Entity], storeys: dict[str, Entity]) -> None:
    """Ducts under the lower ceiling, water in the plant room, and a stack of the washroom."""
    w, lower, upper = writer, storeys["Lower"], storeys["Upper"]

    def duct(name: str, low: Point3, high: Point3) -> Entity:
        made = w.element("IfcDuctSegment", name, lower, w.box(low, high), "Steel", "RIGIDSEGMENT")
        middle = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
        w.flow(made, (high[0], *middle[1:]), (low[0], *middle[1:]))
        return made

    def pipe(name: str, storey: Entity, radius: float, start: Point3, end: Point3, material: str) -> Entity:
        made = w.element("IfcPipeSegment", name, storey, w.cylinder(radius, start, end), material, "RIGIDSEGMENT")
        w.flow(made, start, end)
        return made

    supply = [
        duct("Supply duct, plant", (14.9, 2.0, 2.3), (20.9, 2.4, 2.55)),
        duct("Supply duct, wet lab", (8.0, 2.0, 2.3), (14.0, 2.4, 2.55)),
        duct("Supply duct through the partition", (14.0, 2.0, 2.3), (14.9, 2.4, 2.55)),
    ]
    flow, back = (
        pipe(f"Sea water {k + 1}", lower, 0.04, *ends, "Stainless steel")
        for k, ends in enumerate((((14.8, 0.6, 0.4), (21.0, 0.6, 0.4)), ((21.0, 0.75, 0.4), (14.8, 0.75, 0.4))))
    )
    stack = [
        pipe("Stack, lower", lower, 0.055, (20.4, 5.4, 2.9), (20.4, 5.4, LOWER + 0.02), "Steel"),
        pipe("Stack through a joist", upper, 0.055, (20.4, 5.4, UPPER + 2.4), (20.4, 5.4, 2.9), "Steel"),
    ]
    w.system("Supply air, laboratories", supply, "VENTILATION")
    w.system("Sea water to the tanks", [flow, back], "USERDEFINED")
    w.system("Foul water", stack, "SEWAGE")
