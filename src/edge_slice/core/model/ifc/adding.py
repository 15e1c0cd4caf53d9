"""Products that come into an IFC file: copies of its own, and bodies that were in no file."""

from __future__ import annotations

from typing import Any

import ifcopenshell
import ifcopenshell.api.geometry
import ifcopenshell.guid
import ifcopenshell.util.element
import numpy as np
import trimesh
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.new_documents import NewThing
from edge_slice.core.model.corrections.wanted import Hole
from edge_slice.core.model.ifc.associating import material_named
from edge_slice.core.model.ifc.bodies import Bodies

F64 = NDArray[np.float64]
BEYOND = 0.05  # metres that an opening reaches beyond what it is cut into
IS_A = {
    "wall": "IfcWall", "slab": "IfcSlab", "column": "IfcColumn", "beam": "IfcBeam", "member": "IfcMember",
    "footing": "IfcFooting", "covering": "IfcCovering", "accessory": "IfcDiscreteAccessory",
    "object": "IfcBuildingElementProxy", "ground": "IfcGeographicElement",
}  # fmt: skip


class Adding:
    """`after`: the model with what comes into the file, by GlobalIds."""

    def __init__(self, file: Any, bodies: Bodies, after: Model) -> None:
        self.file, self.bodies, self.after = file, bodies, after

    def copied(self, of: Any, guid: str) -> bool:
        """Write a product once more, as the model has it under a GlobalId; whether it is read again so."""
        product = self._beside(of, guid)
        k = self.after.element_by_guid[guid]
        shall = self.after.element_triangles(k)
        matrix = self.bodies.matrix(of)
        step = shall.min(axis=(0, 1)) - self._there(of)
        matrix[:3, 3] += self.bodies.lies.matrix[:3, :3] @ step
        ifcopenshell.api.geometry.edit_object_placement(self.file, product=product, matrix=matrix, is_si=True)
        self._contain(product, k)
        if not getattr(of, "HasOpenings", ()):
            kept = ["IfcGeometricRepresentationContext", "IfcRepresentationMap"]
            product.Representation = ifcopenshell.util.element.copy_deep(self.file, of.Representation, exclude=kept)
            self._aspects(of, product)
            if self.bodies.is_as(product, shall):
                return True
        return self._write(product, shall)

    def _aspects(self, of: Any, product: Any) -> None:
        """Say of the items of a copied shape what is said of those that they are copies of."""
        items = {
            was.id(): new
            for a, b in zip(of.Representation.Representations, product.Representation.Representations, strict=True)
            for was, new in zip(a.Items, b.Items, strict=True)
        }
        for item, new in items.items():
            for style in getattr(self.file.by_id(item), "StyledByItem", ()):
                self.file.create_entity("IfcStyledItem", Item=new, Styles=style.Styles, Name=style.Name)
        for aspect in [a for a in self.file.get_inverse(of.Representation) if a.is_a("IfcShapeAspect")]:
            for shape in aspect.ShapeRepresentations:
                new = [items[item.id()] for item in shape.Items if item.id() in items]
                if new:
                    self.bodies.aspect(product, shape.ContextOfItems, str(aspect.Name), new)

    def _beside(self, of: Any, guid: str) -> Any:
        """A product beside another one, said of it what is said of that one: type, material, properties, groups."""
        product = ifcopenshell.util.element.copy(self.file, of)
        product.GlobalId, product.Representation = guid, None
        product.ObjectPlacement = ifcopenshell.util.element.copy(self.file, of.ObjectPlacement)
        for rel in self.file.get_inverse(of):
            if rel.is_a("IfcRelDefines") or rel.is_a("IfcRelAssociates") or rel.is_a("IfcRelAssignsToGroup"):
                rel.RelatedObjects = [*rel.RelatedObjects, product]
        return product

    def cut(self, host: Any, hole: Hole) -> None:
        """Cut an opening into a product, for a window or door that may be in this file, too."""
        owner = host.OwnerHistory
        opening = self.file.create_entity("IfcOpeningElement", GlobalId=ifcopenshell.guid.new(), OwnerHistory=owner)
        if hasattr(opening, "PredefinedType"):
            opening.PredefinedType = "OPENING"
        opening.ObjectPlacement = ifcopenshell.util.element.copy(self.file, host.ObjectPlacement)
        left, right, sill, head = hole.sides
        low, high = np.array((left, sill, hole.deep[0] - BEYOND)), np.array((right, head, hole.deep[1] + BEYOND))
        box = trimesh.creation.box(bounds=(low, high))
        corners = np.asarray(box.vertices[box.faces]) @ hole.axes
        if np.linalg.det(hole.axes) < 0:
            corners = corners[:, ::-1]
        self.bodies.write(opening, corners)
        self.file.create_entity(
            "IfcRelVoidsElement", GlobalId=ifcopenshell.guid.new(), OwnerHistory=owner, RelatingBuildingElement=host,
            RelatedOpeningElement=opening,
        )  # fmt: skip
        try:
            window = self.file.by_guid(hole.guid)
        except RuntimeError:
            return
        self.file.create_entity(
            "IfcRelFillsElement", GlobalId=ifcopenshell.guid.new(), OwnerHistory=owner, RelatingOpeningElement=opening,
            RelatedBuildingElement=window,
        )  # fmt: skip

    def made(self, new: NewThing) -> bool:
        """Write a body that was in no file; whether it is read again so."""
        k = self.after.element_by_guid[new.body]
        owner = next((p.OwnerHistory for p in self.file.by_type("IfcProduct") if p.OwnerHistory), None)
        without = new.kind == "ground" and self.file.schema == "IFC2X3"  # which has no ground but that of the site
        is_a = IS_A["object" if without else new.kind]
        product = self.file.create_entity(is_a, GlobalId=new.body, OwnerHistory=owner, Name=new.name)
        if hasattr(product, "PredefinedType"):  # which some schemas ask for
            product.PredefinedType = "NOTDEFINED"
        origin = self.file.create_entity("IfcCartesianPoint", Coordinates=(0.0, 0.0, 0.0))
        product.ObjectPlacement = self.file.create_entity(
            "IfcLocalPlacement",
            RelativePlacement=self.file.create_entity("IfcAxis2Placement3D", Location=origin),
        )
        self._contain(product, k)
        self.file.create_entity(
            "IfcRelAssociatesMaterial", GlobalId=ifcopenshell.guid.new(), OwnerHistory=owner, RelatedObjects=[product],
            RelatingMaterial=material_named(self.file, new.material, new.is_a),
        )  # fmt: skip
        return self._write(product, self.after.element_triangles(k)) and not without

    def _write(self, product: Any, shall: Any) -> bool:
        self.bodies.write(product, shall)
        return self.bodies.is_as(product, shall)

    def _there(self, product: Any) -> Any:
        """The least corner (3,) of a product as it is in the file now, metres of the model."""
        points, triangles = self.bodies.of(product, False)
        return points[np.unique(triangles)].min(axis=0)

    def _contain(self, product: Any, k: int) -> None:
        """Put a product into the storey that its element is in, where the file has that one."""
        storey = self.after.elements[k].storey
        guid = self.after.storeys[storey].guid if storey >= 0 else ""
        found = next((s for s in self.file.by_type("IfcBuildingStorey") if s.GlobalId == guid), None)
        if found is None:
            return
        owner = found.OwnerHistory
        self.file.create_entity(
            "IfcRelContainedInSpatialStructure", GlobalId=ifcopenshell.guid.new(), OwnerHistory=owner,
            RelatedElements=[product], RelatingStructure=found,
        )  # fmt: skip
