"""Writes the demo model, Curlew Point Field Station: the architect's file in two revisions, the engineers' structure
and services in coordinates of their own: python demo/build_demo.py [FOLDER]"""

from __future__ import annotations

import sys
from math import cos, radians, sin
from pathlib import Path

import ifcopenshell.api.aggregate
import ifcopenshell.api.pset
import ifcopenshell.guid
import ifcopenshell.util.element
import ifcopenshell.util.unit
import numpy as np
from curlew_point.build_ups import BUILD_UPS, write_build_ups
from curlew_point.engineers import build_frame, build_services, moved, turned
from curlew_point.furniture import build_furniture
from curlew_point.openings import build_openings
from curlew_point.setting_out import (
    BAY,
    GRID_X,
    GRID_Y,
    LOOKOUT,
    LOWER,
    ROOF_EDGE,
    TRUE_NORTH_DEGREES,
    UPPER,
    lookout_underside,
    roof_underside,
)
from curlew_point.site import build_site
from curlew_point.stair import build_stairs
from curlew_point.structure import build_structure, rectangle
from curlew_point.walls import build_walls
from curlew_point.writer import Point2, Writer
from ifcopenshell import entity_instance as Entity
from numpy.typing import NDArray

OWN_ZERO = moved((-250.0, 40.0, 0.0))  # where the structure has its zero
OWN_AXES = turned(25.0) @ moved((12.0, -30.0, 4.2))  # how the services lie
STOREYS = {"Boat bay": BAY, "Lower": LOWER, "Upper": UPPER, "Lookout": LOOKOUT, "Roof edge": ROOF_EDGE}
A, B, C, D = (GRID_X[k] for k in "ABCD")
# number, name, storey, outline, floor, ceiling
SPACES: list[tuple[str, str, str, list[Point2], float, float]] = [
    ("0.01", "Boat bay", "Boat bay", rectangle(0.153, 0.153, 7.075, 9.447), BAY, 2.988),
    ("1.01", "Wet lab", "Lower", rectangle(7.283, 0.153, 14.317, 4.7375), LOWER, 2.975),
    ("1.02", "Specimen store", "Lower", rectangle(7.283, 4.8625, 14.317, 9.447), LOWER, 2.975),
    ("1.03", "Plant", "Lower", rectangle(14.483, 0.153, 21.447, 4.717), LOWER, 2.975),
    ("1.04", "Entrance", "Lower", rectangle(14.483, 4.883, 21.447, 9.447), LOWER, 2.975),
    ("2.01", "Dry lab", "Upper", rectangle(0.199, 0.199, 7.1375, 9.401), UPPER, roof_underside(0.2)),
    ("2.02", "Library", "Upper", rectangle(7.2625, 0.199, 14.27, 4.7375), UPPER, roof_underside(0.2)),
    ("2.03", "Bunk room", "Upper", rectangle(7.2625, 4.8625, 14.27, 9.401), UPPER, roof_underside(4.9)),
    ("2.04", "Kitchen", "Upper", rectangle(14.599, 0.199, 21.401, 4.7375), UPPER, 6.003),
    ("2.05", "Washroom", "Upper", rectangle(18.0625, 4.8625, 21.401, 9.401), UPPER, 6.275),
    ("2.06", "Stair", "Upper", rectangle(14.599, 4.8625, 17.9375, 9.401), UPPER, 6.275),
    ("3.01", "Lookout", "Lookout", rectangle(14.599, 4.999, 21.401, 9.401), LOOKOUT, lookout_underside(5.0)),
    ("3.02", "Roof terrace", "Lookout", rectangle(14.512, 0.112, 21.488, 4.67), 6.55, 7.65),
]

WASHROOM, ASIDE = 18.0, 0.3  # metres: where the washroom's wall stands, and by how much the second revision moves it
# number and outline of rooms that are another in the second revision
NEWER: dict[str, tuple[str, list[Point2]]] = {
    "Washroom": ("2.07", rectangle(18.0625 + ASIDE, 4.8625, 21.401, 9.401)),
    "Stair": ("2.06", rectangle(14.599, 4.8625, 17.9375 + ASIDE, 9.401)),
}


def write_storeys(w: Writer) -> tuple[Entity, dict[str, Entity]]:
    site = w.entity("IfcSite", "Curlew Point")
    building = w.entity("IfcBuilding", "Field station")
    storeys = {}
    for entity in (site, building):
        w.place(entity, (0.0, 0.0, 0.0))
    for name, elevation in STOREYS.items():
        storey = storeys[name] = w.entity("IfcBuildingStorey", name)
        storey.Elevation = elevation * 1000
        w.place(storey, (0.0, 0.0, elevation))
    assign = ifcopenshell.api.aggregate.assign_object
    assign(w.file, products=[site], relating_object=w.project)
    assign(w.file, products=[building], relating_object=site)
    assign(w.file, products=list(storeys.values()), relating_object=building)
    return site, storeys


def write_grid(w: Writer, site: Entity) -> None:
    grid = w.entity("IfcGrid", "Setting-out grid")
    w.place(grid, (0.0, 0.0, 0.0))

    def axis(tag: str, start: Point2, end: Point2) -> Entity:
        line = w.file.create_entity("IfcPolyline", [w.point(start), w.point(end)])
        return w.file.create_entity("IfcGridAxis", tag, line, True)

    grid.UAxes = [axis(tag, (x, -2.0), (x, 11.6)) for tag, x in GRID_X.items()]
    grid.VAxes = [axis(tag, (-2.0, y), (23.6, y)) for tag, y in GRID_Y.items()]
    w.contain(grid, site)


def write_spaces(w: Writer, storeys: dict[str, Entity], second: bool) -> None:
    for number, name, storey, outline, floor, ceiling in SPACES:
        if second and name in NEWER:
            number, outline = NEWER[name]
        space = w.entity("IfcSpace", number, "EXTERNAL" if name == "Roof terrace" else "INTERNAL")
        space.LongName = name
        w.place(space, (0.0, 0.0, floor))
        w.shape(space, [w.extrude(outline, ceiling - floor)])
        ifcopenshell.api.aggregate.assign_object(w.file, products=[space], relating_object=storeys[storey])


OUTER = ("Lower outer wall", "Upper outer wall", "Parapet")
FIRE_WALLS = {"Block partition": "EI 60", "Stud partition": "EI 30"}
FIRE_DOORS = ("D03", "D04", "D05", "D06")  # the rooms that keep spirits


def write_properties(w: Writer) -> None:
    """What the file says of walls and doors beside their form."""
    for wall in w.file.by_type("IfcWall"):
        kind = getattr(ifcopenshell.util.element.get_material(wall, should_skip_usage=True), "LayerSetName", "")
        said = {"IsExternal": kind in OUTER, "LoadBearing": kind in (*OUTER, "Block partition")}
        if kind in FIRE_WALLS:
            said["FireRating"] = FIRE_WALLS[kind]
        w.describe(wall, "Pset_WallCommon", said)
    for door in w.file.by_type("IfcDoor"):
        said = {"FireRating": "EI 30" if door.Name.startswith(FIRE_DOORS) else "none"}
        w.describe(door, "Pset_DoorCommon", said)


def build(path: Path, second: bool = False) -> None:
    """`second`: the second revision, in which a wall is moved, a window added, the roof thicker, a room renumbered, and
    a wall has another GlobalId, as some programs write new ones each time."""
    thin = BUILD_UPS["Laboratory roof"][3]
    if second:
        BUILD_UPS["Laboratory roof"][3] = (thin[0], thin[1] + 40)
    try:
        _build(path, second)
    finally:
        BUILD_UPS["Laboratory roof"][3] = thin


def _build(path: Path, second: bool) -> None:
    w = Writer("Curlew Point Field Station")
    angle = radians(TRUE_NORTH_DEGREES)
    w.model.TrueNorth = w.direction((sin(angle), cos(angle)))
    sets = write_build_ups(w)
    site, storeys = write_storeys(w)
    write_grid(w, site)
    walls = build_walls(w, sets, storeys, WASHROOM + (ASIDE if second else 0.0))
    build_openings(w, storeys, walls, more=second)
    build_structure(w, sets, storeys)
    build_stairs(w, storeys)
    build_furniture(w, storeys)
    build_site(w, site, storeys)
    write_spaces(w, storeys, second)
    write_properties(w)
    if second:
        w.name_guid(walls["lab"].element, "another id")
    w.save(str(path))


def build_part(path: Path, office: str, lies: NDArray[np.float64], metres: bool = False) -> None:
    """The file of another office, with grid and storeys, in its own coordinates."""
    w = Writer(f"Curlew Point {office}", office, lies)
    sets = write_build_ups(w)
    site, storeys = write_storeys(w)
    write_grid(w, site)
    (build_frame if office == "structure" else build_services)(w, sets, storeys)
    if metres:
        w.file = ifcopenshell.util.unit.convert_file_length_units(w.file, "METER")
    w.save(str(path))


if __name__ == "__main__":
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(__file__).parent
    build(folder / "curlew-point.ifc")
    build(folder / "curlew-point-2.ifc", second=True)
    build_part(folder / "curlew-point-structure.ifc", "structure", OWN_ZERO)
    build_part(folder / "curlew-point-services.ifc", "services", OWN_AXES, metres=True)
