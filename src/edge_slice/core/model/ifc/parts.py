"""Materials of the parts of a body: which item of an IFC representation is of which constituent or profile."""

from __future__ import annotations

from typing import Any

import ifcopenshell.util.element
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.ifc.materials import MaterialTable

I64 = NDArray[np.int64]


class PartMaterials:
    """Looks up materials of representation items: a constituent's by the shape aspect of its name (IFC4,
    IfcMaterialConstituent), a profile's by the swept area that is its profile (IfcMaterialProfile)."""

    def __init__(self, file: Any, materials: MaterialTable) -> None:
        self._file, self._materials = file, materials
        self.aspects: dict[int, str] = {}
        for aspect in file.by_type("IfcShapeAspect"):
            for shape in aspect.ShapeRepresentations:
                for item in shape.Items:
                    self.aspects[item.id()] = str(aspect.Name)
        sets = [] if file.schema == "IFC2X3" else file.by_type("IfcMaterialProfileSet")
        self._says = bool(self.aspects) or any(len(s.MaterialProfiles) > 1 for s in sets)

    def of(self, product: Any, items: I64) -> I64:
        """Material of each triangle (m,) from the id of its item (m,); -1 where the file doesn't say."""
        distinct, of = np.unique(items, return_inverse=True)
        found = self._found(product, distinct.tolist()) if self._says else [None] * len(distinct)
        numbers = [-1 if m is None else self._materials.by_name(str(m.Name)) for m in found]
        return np.array(numbers, dtype=np.int64)[of]

    def _found(self, product: Any, items: list[int]) -> list[Any]:
        """The material of each item as the file has it, or None."""
        found = ifcopenshell.util.element.get_material(product, should_inherit=True, should_skip_usage=True)
        if found is not None and found.is_a("IfcMaterialConstituentSet"):
            named = {str(c.Name): c.Material for c in found.MaterialConstituents}
            return [named.get(self.aspects.get(i, "")) for i in items]
        if found is not None and found.is_a("IfcMaterialProfileSet") and len(found.MaterialProfiles) > 1:
            swept = {p.Profile.id(): p.Material for p in found.MaterialProfiles if p.Profile is not None}
            return [swept.get(self._area(i)) for i in items]
        return [None] * len(items)

    def _area(self, item: int) -> int:
        """The id of the profile an item is swept from, through what is subtracted from it; -1 if it is not swept."""
        solid = self._file.by_id(item) if item > 0 else None
        while solid is not None and solid.is_a("IfcBooleanResult"):
            solid = solid.FirstOperand
        return int(solid.SweptArea.id()) if solid is not None and solid.is_a("IfcSweptAreaSolid") else -1
