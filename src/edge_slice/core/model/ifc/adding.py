"""Products that come into an IFC file: copies of its own, and bodies that were in no file."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import ifcopenshell
import ifcopenshell.api.geometry
import ifcopenshell.guid
import ifcopenshell.util.element
import numpy as np

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.documents import NewThing
from edge_slice.core.model.ifc.bodies import Bodies

IS_A = {
    "wall": "IfcWall", "slab": "IfcSlab", "column": "IfcColumn", "beam": "IfcBeam", "member": "IfcMember",
    "footing": "IfcFooting", "covering": "IfcCovering", "accessory": "IfcDiscreteAccessory",
    "object": "IfcBuildingElementProxy",
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
            product.Representation = ifcopenshell.util.element.copy_deep(
                self.file, of.Representation, exclude=["IfcGeometricRepresentationContext"]
            )
            if self.bodies.is_as(product, shall):
                return True
        return self._write(product, shall)

    def _beside(self, of: Any, guid: str) -> Any:
        """A product beside another one, said of it what is said of that one: type, material, properties, groups."""
        product = ifcopenshell.util.element.copy(self.file, of)
        product.GlobalId, product.Representation = guid, None
        product.ObjectPlacement = ifcopenshell.util.element.copy(self.file, of.ObjectPlacement)
        for rel in self.file.get_inverse(of):
            if rel.is_a("IfcRelDefines") or rel.is_a("IfcRelAssociates") or rel.is_a("IfcRelAssignsToGroup"):
                rel.RelatedObjects = [*rel.RelatedObjects, product]
        return product

    def made(self, new: NewThing, material: Callable[[str, str], Any]) -> bool:
        """Write a body that was in no file; whether it is read again so. `material` gives a material of the file by its
        name and class."""
        k = self.after.element_by_guid[new.body]
        owner = next((p.OwnerHistory for p in self.file.by_type("IfcProduct") if p.OwnerHistory), None)
        product = self.file.create_entity(IS_A[new.kind], GlobalId=new.body, OwnerHistory=owner, Name=new.name)
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
            RelatingMaterial=material(new.material, new.is_a),
        )  # fmt: skip
        return self._write(product, self.after.element_triangles(k))

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
