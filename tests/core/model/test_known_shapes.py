"""A newer file is read as if nothing were known of the building, but shapes that are known are not built again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import ifcopenshell.api.material
import ifcopenshell.guid
import numpy as np
import pytest

from edge_slice.core.model import Model
from edge_slice.core.model.ifc import shapes
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from tests.conftest import ROOT
from tests.ifc_files import Hut

Built = list[str]


@pytest.fixture
def built(monkeypatch: pytest.MonkeyPatch) -> Built:
    """Names of the products whose shapes were built."""
    names: Built = []
    usual = shapes.kernel_shapes

    def watched(file: Any, products: list[Any], threads: int) -> Any:
        names.extend(sorted(p.Name for p in products))
        return usual(file, products, threads)

    monkeypatch.setattr(shapes, "kernel_shapes", watched)
    return names


def same(one: Model, other: Model) -> None:
    assert one.digests == other.digests
    assert [replace(e, material=0, build_up=0) for e in one.elements] == [
        replace(e, material=0, build_up=0) for e in other.elements
    ]
    assert (one.spaces, one.storeys, one.grid, one.leaking, one.problems) == (
        other.spaces, other.storeys, other.grid, other.leaking, other.problems,
    )  # fmt: skip
    assert np.array_equal(one.mesh.vertices, other.mesh.vertices)
    assert np.array_equal(one.mesh.triangles, other.mesh.triangles)
    assert np.array_equal(one.triangle_materials, other.triangle_materials) or one.materials != other.materials


def test_the_second_revision_of_the_demo_reads_the_same_and_builds_a_tenth_at_most(demo: Model, built: Built) -> None:
    path = ROOT / "demo" / "curlew-point-2.ifc"
    stored = model_from_bytes(model_to_bytes(demo))
    again = read_ifc(path, threads=2, known=stored)
    count = len(built)
    assert 0 < count < len(demo.elements) / 10
    same(again, read_ifc(path, threads=2))
    assert len(built) > 10 * count


def _hut(path: Path) -> Hut:
    hut = Hut(path)
    wall = hut.add("IfcWall", "Pierced", [hut.box((0, 5000, 0), (2000, 5300, 2000))])
    hole = hut.add("IfcOpeningElement", "Hole", [hut.box((500, 4900, 500), (1500, 5400, 1500))])
    hut.file.create_entity(
        "IfcRelVoidsElement", ifcopenshell.guid.new(), RelatingBuildingElement=wall, RelatedOpeningElement=hole
    )
    hut.file.create_entity("IfcStyledItem", wall.Representation.Representations[0].Items[0], [_style(hut, "White")])
    brick = ifcopenshell.api.material.add_material(hut.file, name="Brick")
    ifcopenshell.api.material.assign_material(hut.file, products=[wall], material=brick)
    return hut


def _style(hut: Hut, name: str) -> Any:
    colour = hut.file.create_entity("IfcColourRgb", None, 1.0, 1.0, 1.0)
    shading = hut.file.create_entity("IfcSurfaceStyleShading", colour)
    return hut.file.create_entity("IfcSurfaceStyle", name, "BOTH", [shading])


def _wall(hut: Hut) -> Any:
    return next(w for w in hut.file.by_type("IfcWall") if w.Name == "Pierced")


def _deeper_hole(hut: Hut) -> None:
    hut.file.by_type("IfcOpeningElement")[0].Representation.Representations[0].Items[0].Depth = 1200.0


def _moved_hole(hut: Hut) -> None:
    _move(hut, hut.file.by_type("IfcOpeningElement")[0])


def _moved(hut: Hut) -> None:
    _move(hut, _wall(hut))


def _move(hut: Hut, product: Any) -> None:
    placed = product.ObjectPlacement
    point = hut.file.create_entity("IfcCartesianPoint", [300.0, 0.0, 0.0])
    place = hut.file.create_entity("IfcAxis2Placement3D", point)
    product.ObjectPlacement = hut.file.create_entity("IfcLocalPlacement", placed.PlacementRelTo, place)


def _restyled(hut: Hut) -> None:
    hut.file.by_type("IfcSurfaceStyle")[0].Name = "Red"


def _other_material(hut: Hut) -> None:
    hut.file.by_type("IfcMaterial")[0].Name = "Stone"


@pytest.mark.parametrize("change", [_deeper_hole, _moved_hole, _moved, _restyled, _other_material])
def test_what_a_shape_depends_on_has_it_built_again(
    change: Callable[[Hut], None], tmp_path: Path, built: Built
) -> None:
    hut = _hut(tmp_path / "hut.ifc")
    before = read_ifc(hut.written())
    change(hut)
    built.clear()
    after = read_ifc(hut.written(), known=before)
    assert built == ["Pierced"]
    same(after, read_ifc(hut.path))


def test_new_ids_names_and_numbers_do_not_count(tmp_path: Path, built: Built) -> None:
    first = read_ifc(_hut(tmp_path / "first.ifc").written())
    hut = Hut(tmp_path / "second.ifc")  # with GlobalIds of its own
    hut.box((0, 0, 0), (1, 1, 1))  # so that what follows has other numbers
    hut.written()
    again = _hut(tmp_path / "second.ifc")
    for wall in again.file.by_type("IfcWall"):
        wall.Name = f"Wall {wall.Name}"
    built.clear()
    model = read_ifc(again.written(), known=first)
    assert built == []
    same(model, read_ifc(again.path))
    assert {e.guid for e in model.elements}.isdisjoint(e.guid for e in first.elements)


def test_a_building_that_is_not_where_it_was_is_read_anew(tmp_path: Path, built: Built) -> None:
    hut = _hut(tmp_path / "hut.ifc")
    near = read_ifc(hut.written())
    for product in [*hut.file.by_type("IfcElement"), *hut.file.by_type("IfcBuildingStorey")]:
        point = hut.file.create_entity("IfcCartesianPoint", [4.0e8, 0.0, 0.0])
        place = hut.file.create_entity("IfcAxis2Placement3D", point)
        product.ObjectPlacement = hut.file.create_entity("IfcLocalPlacement", None, place)
    built.clear()
    far = read_ifc(hut.written(), known=near)
    assert far.origin == (400000.0, 0.0, 0.0)
    assert len(built) == 6


def test_a_model_that_was_stored_before_contents_were_known_is_read_anew(tmp_path: Path, built: Built) -> None:
    path = _hut(tmp_path / "hut.ifc").written()
    model = read_ifc(path)
    old = replace(model, elements=tuple(replace(e, content="") for e in model.elements))
    built.clear()
    same(read_ifc(path, known=old), model)
    assert len(built) == 6


def test_what_a_broken_file_leaves_out_is_no_reason_not_to_read_it(tmp_path: Path) -> None:
    hut = _hut(tmp_path / "hut.ifc")
    hut.file.by_type("IfcRelVoidsElement")[0].RelatedOpeningElement = None
    hut.file.create_entity("IfcMaterialDefinitionRepresentation", None, None, [], None)
    assert {e.name for e in read_ifc(hut.written()).elements} >= {"South", "North", "West", "East", "Floor"}
