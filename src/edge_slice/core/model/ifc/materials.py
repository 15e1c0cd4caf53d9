"""Materials and build-ups from an IFC file: single materials, constituents, layer sets and their place."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import ifcopenshell.util.element
import ifcopenshell.util.placement
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import BuildUp, Layer, LayerFrame, Material
from edge_slice.core.model.ifc.curved import round_axis

Found = tuple[int, int, LayerFrame | None]


@dataclass(frozen=True)
class Rows:
    """A build-up as the file has it: materials by name, thicknesses in the file's unit."""

    name: str
    layers: tuple[tuple[str, float], ...]


class MaterialTable:
    """Numbers materials and build-ups as they are met; lengths in metres."""

    def __init__(self, file: Any, scale: float) -> None:
        self.scale = scale
        self.materials: list[Material] = []
        self.build_ups: list[BuildUp] = []
        self._by_name: dict[str, int] = {}
        self._numbers: dict[BuildUp, int] = {}
        self._categories = {str(m.Name): str(getattr(m, "Category", None) or "") for m in file.by_type("IfcMaterial")}

    def by_name(self, name: str) -> int:
        if name not in self._by_name:
            self._by_name[name] = len(self.materials)
            self.materials.append(Material(name, self._categories.get(name, "")))
        return self._by_name[name]

    def of(
        self, product: Any, world: NDArray[np.float64], triangles: NDArray[np.int64], origin: NDArray[np.float64]
    ) -> Found:
        """Main material, build-up and layer frame of a product whose vertices are `world` (n, 3)."""
        found = ifcopenshell.util.element.get_material(product, should_inherit=True)
        if found is None:
            return -1, -1, None
        if found.is_a("IfcMaterial"):
            return self.by_name(str(found.Name)), -1, None
        if found.is_a("IfcMaterialLayerSetUsage"):
            return self._layered(product, _layers(found.ForLayerSet), found, world, triangles, origin)
        if found.is_a("IfcMaterialLayerSet"):
            return self._layered(product, _layers(found), None, world, triangles, origin)
        if found.is_a("IfcMaterialConstituentSet"):
            rows = constituent_layers(product, found)
            if rows:
                layered = self._layered(product, rows, None, world, triangles, origin)
                if layered[1] >= 0:
                    return layered
        return self._largest(found, product), -1, None

    def _largest(self, found: Any, product: Any) -> int:
        """The material of a set of profiles or constituents: the constituent with the largest share, else the only
        one; -1 where several have no shares (the body's own styles then say which face is what)."""
        if found.is_a("IfcMaterialProfileSetUsage"):
            found = found.ForProfileSet
        if found.is_a("IfcMaterialProfileSet"):
            named = [p.Material for p in found.MaterialProfiles if p.Material is not None]
            return self.by_name(str(named[0].Name)) if named else -1
        if found.is_a("IfcMaterialConstituentSet"):
            shares = [(float(c.Fraction), c.Material) for c in found.MaterialConstituents if c.Fraction is not None]
            if shares:
                return self.by_name(str(max(shares, key=lambda row: row[0])[1].Name))
        parts = [m for m in ifcopenshell.util.element.get_materials(product) if m is not None]
        single = len({m.id() for m in parts}) == 1
        return self.by_name(str(parts[0].Name)) if single else -1

    def _layered(
        self,
        product: Any,
        rows: Rows,
        usage: Any,
        world: NDArray[np.float64],
        triangles: NDArray[np.int64],
        origin: NDArray[np.float64],
    ) -> Found:
        layers = tuple(Layer(self.by_name(name), thickness * self.scale) for name, thickness in rows.layers)
        if not layers:
            return -1, -1, None
        main = max(layers, key=lambda layer: layer.thickness).material
        if len(layers) == 1:
            return main, -1, None
        matrix = np.eye(4)
        if product.ObjectPlacement is not None:
            matrix = np.array(
                ifcopenshell.util.placement.get_local_placement(product.ObjectPlacement), dtype=np.float64
            )
            matrix[:3, 3] = matrix[:3, 3] * self.scale - origin
        total = sum(layer.thickness for layer in layers)
        frame = self._frame(product, usage, matrix, world, total)
        if frame is None and product.is_a("IfcWall"):
            frame = _round_frame(usage, matrix, world, triangles, total)
        if frame is None:
            return main, -1, None
        return main, self.number_of(BuildUp(rows.name, layers)), frame

    def number_of(self, build_up: BuildUp) -> int:
        """The number of a build-up; equal ones are one."""
        if build_up not in self._numbers:
            self._numbers[build_up] = len(self.build_ups)
            self.build_ups.append(build_up)
        return self._numbers[build_up]

    def _frame(
        self, product: Any, usage: Any, matrix: NDArray[np.float64], world: NDArray[np.float64], total: float
    ) -> LayerFrame | None:
        """Where the layers lie. Without a usage they are taken to fill the body across its thin direction;
        when body and layers disagree (an odd export) there is no frame, and the element stays whole."""
        walls = product.is_a("IfcWall")
        axis = 1 if walls else 2
        sense, offset = 1.0, None
        if usage is not None:
            axis = {"AXIS1": 0, "AXIS2": 1, "AXIS3": 2}[usage.LayerSetDirection]
            sense = 1.0 if usage.DirectionSense == "POSITIVE" else -1.0
            offset = float(usage.OffsetFromReferenceLine) * self.scale
        direction = matrix[:3, axis] * sense
        reach = (world - matrix[:3, 3]) @ direction
        low, high = float(reach.min()), float(reach.max())
        if abs((high - low) - total) > max(0.005, 0.02 * total):
            return None
        start = low if offset is None else offset * sense
        if abs(start - low) > max(0.005, 0.02 * total):
            start = low  # the body is right where the file's offset and sense contradict it
        at = matrix[:3, 3] + direction * start
        return LayerFrame(
            (float(at[0]), float(at[1]), float(at[2])), (float(direction[0]), float(direction[1]), float(direction[2]))
        )


def layers_of(layer_set: Any) -> tuple[tuple[str, float], ...]:
    """The layers of a set: materials by name, thicknesses in the file's unit, also of those that have none."""
    return tuple(
        (str(layer.Material.Name) if layer.Material else "Air", float(layer.LayerThickness or 0.0))
        for layer in layer_set.MaterialLayers
    )


def _layers(layer_set: Any) -> Rows:
    rows = tuple(row for row in layers_of(layer_set) if row[1] > 0)
    return Rows(str(getattr(layer_set, "LayerSetName", None) or ""), rows)


def constituent_layers(product: Any, found: Any) -> Rows | None:
    """The layers of an element whose layered material comes as constituents, as in IFC4's reference view: each has its
    width in a complex quantity "layer" of its name. None unless every constituent has one."""
    kind = ifcopenshell.util.element.get_type(product)
    sets = [r.RelatingPropertyDefinition for r in product.IsDefinedBy if r.is_a("IfcRelDefinesByProperties")]
    sets += list(kind.HasPropertySets or ()) if kind is not None else []
    widths: dict[str, float] = {}
    for row in (q for s in sets if s.is_a("IfcElementQuantity") for q in s.Quantities):
        if row.is_a("IfcPhysicalComplexQuantity") and row.Discrimination.lower() == "layer":
            for part in row.HasQuantities:
                if part.is_a("IfcQuantityLength") and part.Name.lower() in ("width", "thickness"):
                    widths.setdefault(str(row.Name), float(part.LengthValue))
    named = {str(c.Name): str(c.Material.Name) for c in found.MaterialConstituents}
    if len(named) != len(found.MaterialConstituents) or set(widths) != set(named):
        return None
    return Rows(str(found.Name or ""), tuple((named[name], width) for name, width in widths.items()))


def _round_frame(
    usage: Any, matrix: NDArray[np.float64], world: NDArray[np.float64], triangles: NDArray[np.int64], total: float
) -> LayerFrame | None:
    """Where the layers of a curved wall lie: rings about its axis, counted towards the side to which the wall's y axis
    points where it begins."""
    found = round_axis(world, triangles)
    if found is None:
        return None
    centre, inner, outer = found
    if abs((outer - inner) - total) > max(0.005, 0.02 * total):
        return None
    sense = 1.0 if usage is None or usage.DirectionSense == "POSITIVE" else -1.0
    outward = float((matrix[:2, 3] - centre) @ matrix[:2, 1]) * sense >= 0
    at = (float(centre[0]), float(centre[1]), 0.0)
    return LayerFrame(at, (1.0 if outward else -1.0, 0.0, 0.0), inner if outward else outer)
