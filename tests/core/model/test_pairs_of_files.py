"""Pairs of IFC files: one that is corrected, and one in which somebody has modelled it so; both have the same bodies
and layers."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.api.root
import numpy as np
import pytest

from edge_slice.core.model import Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import LISTED
from edge_slice.core.model.ifc.reading import read_ifc
from tests.ifc_files import Hut

Box = tuple[float, float, float, float, float, float]  # low and high corner, mm
Layers = tuple[tuple[str, float], ...]  # mm
CORK = {"material": "Cork", "thickness": 0.06}
OUTER: Layers = (("Brick", 100.0), ("Block", 200.0))
UP, EAST = [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]


@dataclass(frozen=True)
class Built:
    """A wall along x with a window in it, a slab, a column and a beam, mm; the wall's face of the first layer lies at
    `face`."""

    layers: Layers = OUTER
    face: float = 10000.0
    top: float = 3000.0
    windows: tuple[tuple[float, float, float, float], ...] = ((11000.0, 1000.0, 12000.0, 2000.0),)  # x, z, x, z
    slab: Box = (20000, 10000, 0, 24000, 14000, 250)
    columns: tuple[Box, ...] = ((30000, 10000, 0, 30300, 10300, 3000),)
    beam: Box | None = (40000, 10000, 2700, 44000, 10200, 3000)

    def written(self, path: Path, schema: str) -> Path:
        hut = Hut(path, schema)
        thick = sum(t for _, t in self.layers)
        wall = hut.add("IfcWall", "Long", [hut.box((10000, self.face, 0), (16000, self.face + thick, self.top))])
        _layered(hut, wall, self.layers, self.face)
        for x0, z0, x1, z1 in self.windows:
            hole = hut.add("IfcOpeningElement", "Hole", [hut.box((x0, self.face - 100, z0), (x1, self.face + 900, z1))])
            _void(hut, wall, hole)
            hut.add("IfcWindow", "Window", [hut.box((x0, 10050, z0), (x1, 10120, z1))])
        hut.add("IfcSlab", "Slab", [hut.box(self.slab[:3], self.slab[3:])])
        for column in self.columns:
            hut.add("IfcColumn", "Column", [hut.box(column[:3], column[3:])])
        if self.beam:
            hut.add("IfcBeam", "Beam", [hut.box(self.beam[:3], self.beam[3:])])
        return hut.written()


def _layered(hut: Hut, wall: Any, layers: Layers, face: float) -> None:
    make = hut.file.create_entity
    each = [make("IfcMaterialLayer", Material=make("IfcMaterial", Name=n), LayerThickness=t) for n, t in layers]
    usage = make(
        "IfcMaterialLayerSetUsage", ForLayerSet=make("IfcMaterialLayerSet", MaterialLayers=each, LayerSetName="Outer"),
        LayerSetDirection="AXIS2", DirectionSense="POSITIVE", OffsetFromReferenceLine=face,
    )  # fmt: skip
    make(
        "IfcRelAssociatesMaterial", GlobalId=ifcopenshell.guid.new(), OwnerHistory=wall.OwnerHistory,
        RelatedObjects=[wall], RelatingMaterial=usage,
    )  # fmt: skip


def _void(hut: Hut, wall: Any, hole: Any) -> None:
    for rel in hut.file.by_type("IfcRelContainedInSpatialStructure"):  # what a hole is in is the wall alone
        if hole in rel.RelatedElements:
            rel.RelatedElements = [one for one in rel.RelatedElements if one != hole]
    hut.file.create_entity(
        "IfcRelVoidsElement", GlobalId=ifcopenshell.guid.new(), OwnerHistory=wall.OwnerHistory,
        RelatingBuildingElement=wall, RelatedOpeningElement=hole,
    )  # fmt: skip


def measures(model: Model) -> list[tuple[Any, ...]]:
    """Of each element its name, box, volume, the area of its sides, and its layers."""
    volumes, found = model.mesh.volumes(len(model.elements)), []
    for k, element in enumerate(model.elements):
        a, b, c = np.moveaxis(model.element_triangles(k), 1, 0)
        area = float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)
        layers = model.build_ups[element.build_up].layers if element.build_up >= 0 else ()
        said = [(model.materials[layer.material].name, round(layer.thickness, 9)) for layer in layers]
        box = (model.boxes[k] + np.array(model.origin)).ravel().tolist()
        found.append((element.name, tuple(np.round(box, 6) + 0.0), round(volumes[k], 6), round(area, 6), said))
    return sorted(found)


def face(looks: list[float], at: float, by: float) -> dict[str, Any]:
    return {"face": {"looks": looks, "at": at}, "to": {"looks": looks, "at": at + by}}


B = Built()
HOLE = B.windows[0]
LAYERS = [{"material": n, "thickness": t / 1000} for n, t in OUTER]
PAIRS: dict[str, tuple[dict[str, Any], Built]] = {
    "a layer more, the first face stays": (
        {"element": "Long", "layers": [*LAYERS, CORK], "stays": "first"}, replace(B, layers=(*OUTER, ("Cork", 60.0)))),
    "a layer more, the last face stays": (
        {"element": "Long", "layers": [*LAYERS, CORK], "stays": "last"},
        replace(B, layers=(*OUTER, ("Cork", 60.0)), face=9940.0)),
    "a layer more, its middle stays": (
        {"element": "Long", "layers": [*LAYERS, CORK], "stays": "middle"},
        replace(B, layers=(*OUTER, ("Cork", 60.0)), face=9970.0)),
    "a layer less": ({"element": "Long", "layers": [*LAYERS[1:], CORK]}, replace(B, layers=(OUTER[1], ("Cork", 60.0)))),
    "a wall higher": ({"element": "Long", **face(UP, 3.0, 0.4)}, replace(B, top=3400.0)),
    "a slab longer": ({"element": "Slab", **face(EAST, 24.0, 0.5)}, replace(B, slab=(*B.slab[:3], 24500, 14000, 250))),
    "a slab thinner": ({"element": "Slab", **face(UP, 0.25, -0.05)}, replace(B, slab=(*B.slab[:5], 200))),
    "a beam elsewhere": (
        {"elements": ["Beam"], "by": [0.3, 0, -0.1]}, replace(B, beam=(40300, 10000, 2600, 44300, 10200, 2900))),
    "a beam turned": (
        {"elements": ["Beam"], "by": [0, 0, 0], "turn": 90}, replace(B, beam=(41900, 8100, 2700, 42100, 12100, 3000))),
    "a beam out": ({"elements": ["Beam"], "left_out": True}, replace(B, beam=None)),
    "a window wider and higher": (
        {"element": "Window", "looks": [0, 1, 0], "right": 0.3, "head": 0.2},
        replace(B, windows=((11000.0, 1000.0, 12300.0, 2200.0),))),
    "a window further along": (
        {"element": "Window", "looks": [0, 1, 0], "left": 0.5, "right": 0.5},
        replace(B, windows=((11500.0, 1000.0, 12500.0, 2000.0),))),
    "a window once more": (
        {"elements": ["Window"], "copies": [[2, 0, 0.5]], "openings": True},
        replace(B, windows=(HOLE, (13000.0, 1500.0, 14000.0, 2500.0)))),
    "a column once more": (
        {"elements": ["Column"], "copies": [[0, 0, 3]]},
        replace(B, columns=(*B.columns, (30000, 10000, 3000, 30300, 10300, 6000)))),
}  # fmt: skip


@pytest.mark.parametrize("schema", ["IFC2X3", "IFC4", "IFC4X3"])
@pytest.mark.parametrize("pair", PAIRS)
def test_what_is_corrected_is_as_somebody_has_modelled_it(tmp_path: Path, pair: str, schema: str) -> None:
    said, by_hand = PAIRS[pair]
    model = read_ifc(B.written(tmp_path / "is.ifc", schema))
    guid = {e.name: e.guid for e in model.elements}
    named = {**said}
    if "element" in said:
        named["element"] = guid[said["element"]]
    if "elements" in said:
        named["elements"] = [guid[name] for name in said["elements"]]
    found, (told,) = corrected(model, LISTED.validate_python([named]))
    assert (told.elements, told.refused) == (1, ())
    assert found.leaking == ()
    shall = read_ifc(by_hand.written(tmp_path / "shall.ifc", schema))
    for one, other in zip(measures(found), measures(shall), strict=True):
        assert one[0] == other[0]
        assert one[1] == pytest.approx(other[1], abs=2e-6)
        assert one[2:4] == pytest.approx(other[2:4], rel=1e-6, abs=2e-6)
        assert one[4] == other[4]
