"""A thin layer over ifcopenshell's API: one method per thing that the demo building is made of.

All lengths given to it are metres; the file is written in millimetres.
"""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence

import ifcopenshell
import ifcopenshell.api.aggregate
import ifcopenshell.api.context
import ifcopenshell.api.feature
import ifcopenshell.api.geometry
import ifcopenshell.api.group
import ifcopenshell.api.material
import ifcopenshell.api.nest
import ifcopenshell.api.project
import ifcopenshell.api.pset
import ifcopenshell.api.root
import ifcopenshell.api.spatial
import ifcopenshell.api.style
import ifcopenshell.api.unit
import ifcopenshell.guid
import numpy as np
from ifcopenshell import entity_instance as Entity
from numpy.typing import NDArray

Point2 = tuple[float, float]
Point3 = tuple[float, float, float]
NAMESPACE = uuid.UUID("6d1f3f5e-2f0a-4c1c-9a53-0c5c8f1f7c10")
UP: Point3 = (0.0, 0.0, 1.0)
EAST: Point3 = (1.0, 0.0, 0.0)


def mm(values: Iterable[float]) -> list[float]:
    return [round(float(value) * 1000, 4) for value in values]


class Writer:
    def __init__(self, name: str, office: str = "", lies: NDArray[np.float64] | None = None) -> None:
        """`office`: who writes the file, other GlobalIds for another one; `lies`: the matrix (4, 4) that brings the
        building into that file's own coordinates."""
        self._namespace = uuid.uuid5(NAMESPACE, office) if office else NAMESPACE
        self._lies = np.eye(4) if lies is None else lies
        self.file = ifcopenshell.api.project.create_file(version="IFC4")
        self._names: dict[str, int] = {}
        self.project = self.entity("IfcProject", name)
        length = ifcopenshell.api.unit.add_si_unit(self.file, unit_type="LENGTHUNIT", prefix="MILLI")
        area = ifcopenshell.api.unit.add_si_unit(self.file, unit_type="AREAUNIT")
        ifcopenshell.api.unit.assign_unit(self.file, units=[length, area])
        self.model = ifcopenshell.api.context.add_context(self.file, context_type="Model")
        self.body = ifcopenshell.api.context.add_context(
            self.file, context_type="Model", context_identifier="Body", target_view="MODEL_VIEW", parent=self.model
        )
        self.axis = ifcopenshell.api.context.add_context(
            self.file,
            context_type="Plan",
            context_identifier="Axis",
            target_view="GRAPH_VIEW",
            parent=ifcopenshell.api.context.add_context(self.file, context_type="Plan"),
        )
        self._styles: dict[str, Entity] = {}
        self.materials: dict[str, Entity] = {}

    # -- entities ---------------------------------------------------------------------------------------

    def entity(self, ifc_class: str, name: str, predefined: str | None = None) -> Entity:
        """A rooted entity whose GlobalId follows from its class and name, so that a rebuild keeps it."""
        made = ifcopenshell.api.root.create_entity(
            self.file, ifc_class=ifc_class, name=name, predefined_type=predefined
        )
        self.name_guid(made, f"{ifc_class}:{name}")
        return made

    def name_guid(self, entity: Entity, key: str) -> None:
        count = self._names.get(key, 0)
        self._names[key] = count + 1
        entity.GlobalId = ifcopenshell.guid.compress(uuid.uuid5(self._namespace, f"{key}#{count}").hex)

    def contain(self, element: Entity, storey: Entity) -> None:
        ifcopenshell.api.spatial.assign_container(self.file, products=[element], relating_structure=storey)

    def place(self, element: Entity, origin: Point3, axis: Point3 = UP, x: Point3 = EAST) -> None:
        z = np.array(axis, float) / np.linalg.norm(axis)
        ex = np.array(x, float)
        ex = ex - z * ex.dot(z)
        ex /= np.linalg.norm(ex)
        matrix = np.eye(4)
        matrix[:3, 0], matrix[:3, 1], matrix[:3, 2], matrix[:3, 3] = ex, np.cross(z, ex), z, origin
        matrix = self._lies @ matrix
        ifcopenshell.api.geometry.edit_object_placement(self.file, product=element, matrix=matrix, is_si=True)

    # -- geometry items ---------------------------------------------------------------------------------

    def point(self, values: Sequence[float]) -> Entity:
        return self.file.create_entity("IfcCartesianPoint", mm(values))

    def direction(self, values: Sequence[float]) -> Entity:
        return self.file.create_entity("IfcDirection", [float(v) for v in values])

    def axes(self, origin: Point3 = (0.0, 0.0, 0.0), axis: Point3 = UP, x: Point3 = EAST) -> Entity:
        return self.file.create_entity(
            "IfcAxis2Placement3D", self.point(origin), self.direction(axis), self.direction(x)
        )

    def _closed(self, points: Sequence[Point2]) -> Entity:
        ring = [self.point(p) for p in points]
        return self.file.create_entity("IfcPolyline", [*ring, ring[0]])

    def profile(self, points: Sequence[Point2], holes: Sequence[Sequence[Point2]] = ()) -> Entity:
        if holes:
            return self.file.create_entity(
                "IfcArbitraryProfileDefWithVoids",
                "AREA",
                None,
                self._closed(points),
                [self._closed(h) for h in holes],
            )
        return self.file.create_entity("IfcArbitraryClosedProfileDef", "AREA", None, self._closed(points))

    def i_profile(self, width: float, depth: float, web: float, flange: float) -> Entity:
        return self.file.create_entity(
            "IfcIShapeProfileDef", "AREA", None, None, *mm([width, depth, web, flange]), *mm([0.012])
        )

    def extrude(
        self,
        profile: Entity | Sequence[Point2],
        depth: float,
        origin: Point3 = (0.0, 0.0, 0.0),
        axis: Point3 = UP,
        x: Point3 = EAST,
    ) -> Entity:
        shape = profile if isinstance(profile, Entity) else self.profile(profile)
        return self.file.create_entity(
            "IfcExtrudedAreaSolid", shape, self.axes(origin, axis, x), self.direction(UP), mm([depth])[0]
        )

    def box(self, low: Point3, high: Point3) -> Entity:
        (x0, y0, z0), (x1, y1, z1) = low, high
        return self.extrude([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], z1 - z0, (0.0, 0.0, z0))

    def cylinder(self, radius: float, start: Point3, end: Point3) -> Entity:
        axis = np.subtract(end, start)
        length = float(np.linalg.norm(axis))
        x = (1.0, 0.0, 0.0) if abs(axis[0]) < 0.9 * length else (0.0, 1.0, 0.0)
        circle = self.file.create_entity("IfcCircleProfileDef", "AREA", None, None, mm([radius])[0])
        unit = axis / length
        return self.extrude(circle, length, start, tuple(unit.tolist()), x)

    def faces(self, vertices: Sequence[Sequence[float]], triangles: Sequence[Sequence[int]]) -> Entity:
        """A closed triangulated face set; `triangles` counts vertices from 0."""
        points = self.file.create_entity("IfcCartesianPointList3D", [mm(v) for v in vertices])
        return self.file.create_entity(
            "IfcTriangulatedFaceSet", points, None, True, [[int(i) + 1 for i in t] for t in triangles]
        )

    def hexahedron(self, low: Sequence[Point3], high: Sequence[Point3]) -> Entity:
        """A six-sided body between two rings of four corners, counter-clockwise from above."""
        quads = [(3, 2, 1, 0), (4, 5, 6, 7), (0, 1, 5, 4), (1, 2, 6, 5), (2, 3, 7, 6), (3, 0, 4, 7)]
        return self.faces([*low, *high], [t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))])

    def clip(self, solid: Entity, origin: Point3, normal: Point3) -> Entity:
        """The part of the solid on the side against `normal`."""
        x = (1.0, 0.0, 0.0) if abs(normal[0]) < 0.9 else (0.0, 1.0, 0.0)
        plane = self.file.create_entity("IfcPlane", self.axes(origin, normal, x))
        half = self.file.create_entity("IfcHalfSpaceSolid", plane, False)
        return self.file.create_entity("IfcBooleanClippingResult", "DIFFERENCE", solid, half)

    def subtract(self, solid: Entity, other: Entity) -> Entity:
        return self.file.create_entity("IfcBooleanResult", "DIFFERENCE", solid, other)

    def shape(self, element: Entity, items: Sequence[Entity]) -> None:
        kinds = {item.is_a() for item in items}
        if kinds == {"IfcTriangulatedFaceSet"}:
            kind = "Tessellation"
        elif kinds & {"IfcBooleanClippingResult", "IfcBooleanResult"}:
            kind = "CSG" if "IfcBooleanResult" in kinds else "Clipping"
        else:
            kind = "SweptSolid"
        rep = self.file.create_entity("IfcShapeRepresentation", self.body, "Body", kind, list(items))
        ifcopenshell.api.geometry.assign_representation(self.file, product=element, representation=rep)

    # -- whole elements ---------------------------------------------------------------------------------

    def element(
        self,
        ifc_class: str,
        name: str,
        storey: Entity,
        items: Sequence[Entity] | Entity,
        material: str | Sequence[str] | Entity | None = None,
        predefined: str | None = None,
        origin: Point3 = (0.0, 0.0, 0.0),
        axis: Point3 = UP,
        x: Point3 = EAST,
        object_type: str | None = None,
    ) -> Entity:
        """An element with its body; a list of materials styles the items one by one."""
        made = self.entity(ifc_class, name, predefined)
        if object_type:
            made.ObjectType = object_type
        bodies = [items] if isinstance(items, Entity) else list(items)
        self.place(made, origin, axis, x)
        self.shape(made, bodies)
        self.contain(made, storey)
        if isinstance(material, Entity):
            self.layered(made, material, "AXIS3")
        elif isinstance(material, str):
            self.assign(made, self.materials[material])
        elif material is not None:
            self._parts(made, bodies, material)
        return made

    def flow(self, element: Entity, start: Point3, end: Point3) -> None:
        """Ports at both ends of a run, in the coordinates of the building: it flows in at its start."""
        for k, (at, way) in enumerate(((start, "SINK"), (end, "SOURCE"))):
            port = self.entity("IfcDistributionPort", f"{element.Name}, {('in', 'out')[k]}")
            port.FlowDirection = way
            self.place(port, at)
            ifcopenshell.api.nest.assign_object(self.file, related_objects=[port], relating_object=element)

    def system(self, name: str, elements: Sequence[Entity], purpose: str) -> None:
        made = self.entity("IfcDistributionSystem", name, purpose)
        ifcopenshell.api.group.assign_group(self.file, products=list(elements), group=made)

    def assign(self, element: Entity, material: Entity) -> None:
        ifcopenshell.api.material.assign_material(self.file, products=[element], material=material)

    def _parts(self, element: Entity, items: Sequence[Entity], names: Sequence[str]) -> None:
        parts = ifcopenshell.api.material.add_material_set(
            self.file, name=element.Name, set_type="IfcMaterialConstituentSet"
        )
        for name in dict.fromkeys(names):
            ifcopenshell.api.material.add_constituent(
                self.file, constituent_set=parts, material=self.materials[name], name=name
            )
        self.assign(element, parts)
        for item, name in zip(items, names, strict=True):
            self.file.create_entity("IfcStyledItem", item, [self._styles[name]], None)

    def layered(
        self, element: Entity, layer_set: Entity, direction: str, sense: str = "POSITIVE", offset: float = 0.0
    ) -> None:
        usage = self.file.create_entity("IfcMaterialLayerSetUsage", layer_set, direction, sense, mm([offset])[0])
        relation = self.file.create_entity(
            "IfcRelAssociatesMaterial", ifcopenshell.guid.new(), None, None, None, [element], usage
        )
        self.name_guid(relation, "layers:" + element.GlobalId)

    def void(
        self, host: Entity, items: Entity | Sequence[Entity], origin: Point3 = (0.0, 0.0, 0.0), x: Point3 = EAST
    ) -> Entity:
        opening = self.entity("IfcOpeningElement", f"Opening in {host.Name}")
        self.place(opening, origin, UP, x)
        self.shape(opening, [items] if isinstance(items, Entity) else list(items))
        ifcopenshell.api.feature.add_feature(self.file, feature=opening, element=host)
        return opening

    def fill(self, opening: Entity, element: Entity) -> None:
        ifcopenshell.api.feature.add_filling(self.file, opening=opening, element=element)

    def material(self, name: str, category: str, colour: tuple[float, float, float], clear: float = 0.0) -> None:
        self.materials[name] = ifcopenshell.api.material.add_material(self.file, name=name, category=category)
        style = ifcopenshell.api.style.add_style(self.file, name=name)
        ifcopenshell.api.style.add_surface_style(
            self.file,
            style=style,
            ifc_class="IfcSurfaceStyleShading",
            attributes={
                "SurfaceColour": {"Name": None, "Red": colour[0], "Green": colour[1], "Blue": colour[2]},
                "Transparency": clear,
            },
        )
        self._styles[name] = style

    def layer_set(self, name: str, layers: Sequence[tuple[str, float]]) -> Entity:
        made = ifcopenshell.api.material.add_material_set(self.file, name=name, set_type="IfcMaterialLayerSet")
        for material, thickness in layers:
            layer = ifcopenshell.api.material.add_layer(self.file, layer_set=made, material=self.materials[material])
            layer.LayerThickness = float(thickness)
        return made

    def describe(self, element: Entity, set_name: str, values: dict[str, object]) -> None:
        """A property set of an element, by the templates of ISO 16739."""
        made = ifcopenshell.api.pset.add_pset(self.file, product=element, name=set_name)
        self.name_guid(made, f"{set_name}:{element.GlobalId}")
        ifcopenshell.api.pset.edit_pset(self.file, pset=made, properties=values)

    def save(self, path: str) -> None:
        for relation in self.file.by_type("IfcRelationship"):
            self.name_guid(relation, f"{relation.is_a()}")
        self.file.header.file_name.time_stamp = "2026-01-01T00:00:00"
        self.file.write(path)
