"""Small IFC files written on the fly: a one-room hut in any unit, at any place, whole or damaged."""

from __future__ import annotations

from pathlib import Path

import ifcopenshell
import ifcopenshell.api.aggregate
import ifcopenshell.api.context
import ifcopenshell.api.geometry
import ifcopenshell.api.owner
import ifcopenshell.api.owner.settings
import ifcopenshell.api.project
import ifcopenshell.api.root
import ifcopenshell.api.spatial
import ifcopenshell.api.unit
import numpy as np


def _name_an_owner(file: ifcopenshell.file) -> None:
    """IFC2x3 wants to know who made each entity."""
    person = ifcopenshell.api.owner.add_person(file)
    office = ifcopenshell.api.owner.add_organisation(file)
    user = ifcopenshell.api.owner.add_person_and_organisation(file, person=person, organisation=office)
    made_by = ifcopenshell.api.owner.add_application(file)
    ifcopenshell.api.owner.settings.get_user = lambda f: user if f is file else None
    ifcopenshell.api.owner.settings.get_application = lambda f: made_by if f is file else None


def write_hut(
    path: Path,
    *,
    unit: str = "MILLI",
    at: tuple[float, float, float] = (0.0, 0.0, 0.0),
    schema: str = "IFC4",
    bodies: bool = True,
    broken: bool = False,
    storeys: bool = True,
) -> Path:
    """Four walls (4 x 3 x 2.5 m outside, 0.2 m thick) and a floor of 0.3 m; `broken` adds a wall without area."""
    file = ifcopenshell.api.project.create_file(version=schema)
    if schema == "IFC2X3":
        _name_an_owner(file)
    project = ifcopenshell.api.root.create_entity(file, ifc_class="IfcProject", name="Hut")
    if unit == "foot":
        length = ifcopenshell.api.unit.add_conversion_based_unit(file, name="foot")
    else:
        length = ifcopenshell.api.unit.add_si_unit(file, unit_type="LENGTHUNIT", prefix=unit or None)
    ifcopenshell.api.unit.assign_unit(file, units=[length])
    k = {"MILLI": 1000.0, "": 1.0, "foot": 1 / 0.3048}[unit]
    model = ifcopenshell.api.context.add_context(file, context_type="Model")
    body = ifcopenshell.api.context.add_context(
        file, context_type="Model", context_identifier="Body", target_view="MODEL_VIEW", parent=model
    )
    site = ifcopenshell.api.root.create_entity(file, ifc_class="IfcSite", name="Site")
    building = ifcopenshell.api.root.create_entity(file, ifc_class="IfcBuilding", name="Hut")
    storey = building
    if storeys:
        storey = ifcopenshell.api.root.create_entity(file, ifc_class="IfcBuildingStorey", name="Ground")
        ifcopenshell.api.aggregate.assign_object(file, products=[storey], relating_object=building)
        storey.Elevation = at[2] * k
    for child, parent in ((site, project), (building, site)):
        ifcopenshell.api.aggregate.assign_object(file, products=[child], relating_object=parent)
    matrix = np.eye(4)
    matrix[:3, 3] = at
    ifcopenshell.api.geometry.edit_object_placement(file, product=storey, matrix=matrix, is_si=True)

    def element(ifc_class: str, name: str, low: tuple[float, float, float], high: tuple[float, float, float]) -> None:
        made = ifcopenshell.api.root.create_entity(file, ifc_class=ifc_class, name=name)
        ifcopenshell.api.spatial.assign_container(file, products=[made], relating_structure=storey)
        ifcopenshell.api.geometry.edit_object_placement(file, product=made, matrix=matrix, is_si=True)
        if not bodies:
            return
        ring = [(low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1])]
        points = [file.create_entity("IfcCartesianPoint", [x * k, y * k]) for x, y in ring]
        profile = file.create_entity(
            "IfcArbitraryClosedProfileDef", "AREA", None, file.create_entity("IfcPolyline", [*points, points[0]])
        )
        place = file.create_entity(
            "IfcAxis2Placement3D", file.create_entity("IfcCartesianPoint", [0.0, 0.0, low[2] * k])
        )
        up = file.create_entity("IfcDirection", [0.0, 0.0, 1.0])
        solid = file.create_entity("IfcExtrudedAreaSolid", profile, place, up, (high[2] - low[2]) * k)
        rep = file.create_entity("IfcShapeRepresentation", body, "Body", "SweptSolid", [solid])
        ifcopenshell.api.geometry.assign_representation(file, product=made, representation=rep)

    element("IfcWall", "South", (0, 0, 0), (4, 0.2, 2.5))
    element("IfcWall", "North", (0, 2.8, 0), (4, 3, 2.5))
    element("IfcWall", "West", (0, 0.2, 0), (0.2, 2.8, 2.5))
    element("IfcWall", "East", (3.8, 0.2, 0), (4, 2.8, 2.5))
    element("IfcSlab", "Floor", (0, 0, -0.3), (4, 3, 0))
    if broken:
        element("IfcWall", "Nothing", (1, 1, 0), (1, 1, 2.5))
    file.write(str(path))
    return path


class Hut:
    """The hut's file opened again, to put further elements into it; lengths in millimetres."""

    def __init__(self, path: Path, schema: str = "IFC4") -> None:
        self.path = path
        self.file = ifcopenshell.open(str(write_hut(path, schema=schema)))
        self.storey = self.file.by_type("IfcBuildingStorey")[0]
        self.body = next(c for c in self.file.by_type("IfcGeometricRepresentationSubContext"))

    def solid(
        self, curve: object, height: float, at: tuple[float, float, float] = (0, 0, 0)
    ) -> ifcopenshell.entity_instance:
        f = self.file
        profile = f.create_entity("IfcArbitraryClosedProfileDef", "AREA", None, curve)
        place = f.create_entity("IfcAxis2Placement3D", f.create_entity("IfcCartesianPoint", [float(v) for v in at]))
        up = f.create_entity("IfcDirection", [0.0, 0.0, 1.0])
        return f.create_entity("IfcExtrudedAreaSolid", profile, place, up, float(height))

    def outline(self, *points: tuple[float, float]) -> ifcopenshell.entity_instance:
        corners = [self.file.create_entity("IfcCartesianPoint", [float(x), float(y)]) for x, y in points]
        return self.file.create_entity("IfcPolyline", [*corners, corners[0]])

    def box(self, low: tuple[float, float, float], high: tuple[float, float, float]) -> ifcopenshell.entity_instance:
        ring = self.outline((low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1]))
        return self.solid(ring, high[2] - low[2], (0, 0, low[2]))

    def add(self, ifc_class: str, name: str, items: list, kind: str = "SweptSolid",
            storey: object = None) -> ifcopenshell.entity_instance:  # fmt: skip
        made = ifcopenshell.api.root.create_entity(self.file, ifc_class=ifc_class, name=name)
        ifcopenshell.api.spatial.assign_container(self.file, products=[made], relating_structure=storey or self.storey)
        ifcopenshell.api.geometry.edit_object_placement(self.file, product=made)
        shape = self.file.create_entity("IfcShapeRepresentation", self.body, "Body", kind, items)
        ifcopenshell.api.geometry.assign_representation(self.file, product=made, representation=shape)
        return made

    def written(self) -> Path:
        self.file.write(str(self.path))
        return self.path
