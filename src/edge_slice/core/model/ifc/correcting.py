"""An IFC file with corrections in it: bodies, places and materials of what is corrected; everything else as it was
read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.api.geometry
import ifcopenshell.api.root
import ifcopenshell.guid
import ifcopenshell.util.element
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.applied import changed
from edge_slice.core.model.corrections.becoming import sorted_out
from edge_slice.core.model.corrections.corners import corners_as_wanted, faces_that_move, outward_moves
from edge_slice.core.model.corrections.documents import BuildUpCorrection, Correction, WantedLayer
from edge_slice.core.model.corrections.faces import MovedFace
from edge_slice.core.model.corrections.wanted import Wanted
from edge_slice.core.model.ifc.adding import Adding
from edge_slice.core.model.ifc.associating import associate, make_of, material_named
from edge_slice.core.model.ifc.bodies import Bodies, as_nearest, outwards
from edge_slice.core.model.parts.places import InFile
from edge_slice.core.model.revisions import file_guid

F64 = NDArray[np.float64]
Ends = tuple[list[MovedFace], F64, F64]


@dataclass(frozen=True)
class CorrectedFile:
    """The bytes of a file with corrections in it, how many elements these change, and the names of those whose body
    comes out otherwise than the model has it, when it is read again."""

    data: bytes
    changed: int
    otherwise: tuple[str, ...]


def corrected_ifc(
    path: Path, model: Model, corrections: Sequence[Correction], lies: InFile, with_new: bool = True
) -> CorrectedFile:
    """The file of a part of a model (as it is without corrections) with what is corrected of that part, and, where
    asked for, with what is in no file yet."""
    wanted, _ = sorted_out(model, corrections)
    wanted.new = wanted.new if with_new else []
    writing = _Writing(ifcopenshell.open(str(path)), model, lies)
    writing.layers(wanted)
    writing.openings(wanted)
    writing.places(wanted)
    writing.materials(wanted)
    writing.rebuilt(wanted)
    writing.added(wanted)
    writing.left_out(wanted)
    data = str(writing.file.to_string()).encode()
    return CorrectedFile(data, len(writing.changed), tuple(writing.otherwise))


class _Writing:
    def __init__(self, file: Any, model: Model, lies: InFile) -> None:
        self.file, self.model, self.lies = file, model, lies
        self.bodies = Bodies(file, lies)
        self.changed: set[int] = set()
        self.otherwise: list[str] = []
        self._sets: dict[tuple[str, tuple[WantedLayer, ...]], Any] = {}

    def _product(self, k: int) -> Any | None:
        """The product of an element, where it is of this part."""
        element = self.model.elements[k]
        if element.part != self.lies.part:
            return None
        try:
            return self.file.by_guid(file_guid(element))
        except RuntimeError:
            return None

    def layers(self, wanted: Wanted) -> None:
        """Write the layers of elements, their bodies, those of what follows, and openings through what is thicker."""
        after = corners_as_wanted(self.model, wanted)
        moved = after - self.model.mesh.vertices
        for k in range(len(self.model.elements)):
            rows = self.model.mesh.of_element(k)
            own = np.unique(self.model.mesh.triangles[rows])
            correction = wanted.layers.get(k)
            if correction is None and not np.abs(moved[own]).any():
                continue
            product = self._product(k)
            if product is None:
                continue
            self.changed.add(k)
            corners, shall = self.model.mesh.vertices[own], after[self.model.mesh.triangles[rows]]
            faces = faces_that_move(self.model, k, correction) if correction is not None else []
            ends = moved[own] - outwards(corners, faces)  # what follows others that become thicker

            def by(at: F64, faces: list[MovedFace] = faces, corners: F64 = corners, ends: F64 = ends) -> F64:
                return outwards(at, faces) + as_nearest(at, corners, ends)

            frame = self.model.elements[k].frame
            across = None if frame is None else np.eye(3) - np.outer(frame.direction, frame.direction)

            def through(at: F64, by: Ends = (faces, corners, ends), across: F64 | None = across) -> F64:
                """Openings go through what is thicker, and their sides follow as those of the hole do."""
                if (stretch := next((s for s in wanted.openings.values() if s.around(at)), None)) is not None:
                    return stretch.applied(at) - at
                faces, corners, ends = by
                if across is None:
                    return outwards(at, faces)
                return outwards(at, faces) + as_nearest(at @ across, corners @ across, ends @ across)

            if not self.bodies.put(product, by, through, shall):
                self.otherwise.append(self.model.elements[k].name or self.model.elements[k].guid)
            if correction is not None:
                self._layer_set(product, self.model.build_ups[self.model.elements[k].build_up].name, correction, k)

    def _layer_set(self, product: Any, name: str, one: BuildUpCorrection, k: int) -> None:
        """Say which layers a product has; where they begin stays said as it was, but for what moves."""
        usage = ifcopenshell.util.element.get_material(product, should_inherit=True)
        found = self._set_of(name, one)
        if usage is not None and usage.is_a("IfcMaterialLayerSetUsage"):
            sense = 1.0 if usage.DirectionSense == "POSITIVE" else -1.0
            first, _ = outward_moves(self.model.build_ups[self.model.elements[k].build_up].thickness, one)
            found = self.file.create_entity(
                "IfcMaterialLayerSetUsage", ForLayerSet=found, LayerSetDirection=usage.LayerSetDirection,
                DirectionSense=usage.DirectionSense,
                OffsetFromReferenceLine=usage.OffsetFromReferenceLine - sense * first / self.bodies.scale,
            )  # fmt: skip
        associate(self.file, product, found)

    def _set_of(self, name: str, one: BuildUpCorrection) -> Any:
        """The set of the layers of a correction, made once."""
        key = name, one.layers
        if key not in self._sets:
            layers = []
            for one_of in one.layers:
                thick = one_of.thickness / self.bodies.scale
                said = {"Material": material_named(self.file, one_of.material, one_of.is_a), "LayerThickness": thick}
                layers.append(self.file.create_entity("IfcMaterialLayer", **said))
            self._sets[key] = self.file.create_entity(
                "IfcMaterialLayerSet", MaterialLayers=layers, LayerSetName=name or None
            )
        return self._sets[key]

    def materials(self, wanted: Wanted) -> None:
        """Say of what material products are, or parts of them."""
        for k, one in wanted.materials:
            product = self._product(k)
            if product is None:
                continue
            self.changed.add(k)
            if not make_of(self.file, product, one):
                self.otherwise.append(self.model.elements[k].name or self.model.elements[k].guid)

    def rebuilt(self, wanted: Wanted) -> None:
        """Write flights with other steps."""
        for k, steps in wanted.flights.items():
            product = self._product(k)
            if product is None:
                continue
            self.changed.add(k)
            body = wanted.rebuilt[k]
            self.bodies.write(product, body.corners)
            risers = "NumberOfRiser" if self.file.schema == "IFC2X3" else "NumberOfRisers"
            measures: dict[str, float | int] = {
                risers: steps.risers, "NumberOfTreads": steps.treads,
                "RiserHeight": steps.rise / self.bodies.scale, "TreadLength": steps.going / self.bodies.scale,
            }  # fmt: skip
            for name, value in measures.items():
                if getattr(product, name, None) is not None:
                    setattr(product, name, value)
            if not self.bodies.is_as(product, body.corners):
                self.otherwise.append(self.model.elements[k].name or self.model.elements[k].guid)

    def openings(self, wanted: Wanted) -> None:
        """Say how wide and high windows and doors of another size are, where the file says it."""
        for k, stretch in wanted.openings.items():
            product = self._product(k)
            if product is None:
                continue
            left, right, sill, head = stretch.by
            for name, more in (("OverallWidth", right - left), ("OverallHeight", head - sill)):
                if getattr(product, name, None) is not None:
                    setattr(product, name, getattr(product, name) + more / self.bodies.scale)

    def added(self, wanted: Wanted) -> None:
        """Write copies and what is in no file, as it is in the corrected model."""
        if not wanted.copies and not wanted.new:
            return
        after = changed(self.model, wanted)
        adding = Adding(self.file, self.bodies, after)
        for copy in wanted.copies:
            of = self._product(copy.of)
            if of is not None:
                self.changed.add(copy.of)
                self._told(after, adding.copied(of, copy.guid), copy.guid)
        hosts = {hole.into: self._product(hole.into) for hole in wanted.holes}
        for hole in wanted.holes:
            if hosts[hole.into] is not None:
                self.changed.add(hole.into)
                adding.cut(hosts[hole.into], hole)
        for k, host in hosts.items():
            if host is not None:
                guid = self.model.elements[k].guid
                shall = after.element_triangles(after.element_by_guid[guid])
                self._told(after, self.bodies.is_as(host, shall), guid)
        for n, (new, _) in enumerate(wanted.new):
            self.changed.add(-1 - n)
            self._told(after, adding.made(new), new.body)

    def _told(self, after: Model, right: bool, guid: str) -> None:
        if not right:
            element = after.elements[after.element_by_guid[guid]]
            self.otherwise.append(element.name or guid)

    def places(self, wanted: Wanted) -> None:
        """Place what stands elsewhere there. All places are found before one is changed: some hang on others."""
        lies, back = self.lies.matrix, np.linalg.inv(self.lies.matrix)
        new: list[tuple[Any, F64]] = []
        for k, motion in wanted.moved.items():
            product = self._product(k)
            if product is None or product.ObjectPlacement is None:
                continue
            self.changed.add(k)
            moves = np.eye(4)
            moves[:3, :3], moves[:3, 3] = motion.turn, motion.shift
            whole = lies @ moves @ back
            new.append((product, whole @ self.bodies.matrix(product)))
            new += [
                (rel.RelatedOpeningElement, whole @ self.bodies.matrix(rel.RelatedOpeningElement))
                for rel in getattr(product, "HasOpenings", ())
            ]
        for product, matrix in new:
            ifcopenshell.api.geometry.edit_object_placement(self.file, product=product, matrix=matrix, is_si=True)

    def left_out(self, wanted: Wanted) -> None:
        for k in sorted(wanted.left_out):
            product = self._product(k)
            if product is not None:
                self.changed.add(k)
                ifcopenshell.api.root.remove_product(self.file, product=product)
