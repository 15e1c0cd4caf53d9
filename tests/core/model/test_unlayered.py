"""Layers and materials that can't be drawn as a file says are told, with what is drawn instead."""

from __future__ import annotations

from pathlib import Path

import ifcopenshell.api.material
import pytest

from edge_slice.core.model.ifc.reading import read_ifc
from tests.core.model.test_ifc_forms import layered
from tests.ifc_files import Hut


@pytest.fixture
def hut(tmp_path: Path) -> Hut:
    return Hut(tmp_path / "hut.ifc")


def wall(hut: Hut, name: str, at: float = 5000.0) -> object:
    return hut.add("IfcWall", name, [hut.box((0, at, 0), (2000, at + 300, 2000))])


def test_layers_that_do_not_add_up_to_the_body_are_told_with_both_sizes(hut: Hut) -> None:
    for k, name in enumerate(("First", "Second", "Third", "Fourth")):
        layered(hut, wall(hut, name, 5000.0 + 1000 * k), [("Brick", 100.0), ("Wool", 120.0), ("Block", 140.0)])
    layered(hut, wall(hut, "Good", 12_000.0), [("Brick", 100.0), ("Block", 200.0)])
    model = read_ifc(hut.written())
    (said,) = [p for p in model.problems if "layers" in p]
    assert said.endswith(" and 1 more are drawn without layers: these add up to 360 mm, the body is 300 mm thick")
    assert "Good" not in said
    assert read_ifc(hut.written(), known=model).problems == model.problems  # also of bodies that are known


def test_a_layer_without_thickness_is_left_out_and_told(hut: Hut) -> None:
    layered(hut, wall(hut, "Wall"), [("Brick", 100.0), ("Membrane", 0.0), ("Block", 200.0)])
    model = read_ifc(hut.written())
    assert "The layer “Membrane” of “Wall” has no thickness and is left out" in model.problems
    (built,) = (model.build_ups[e.build_up] for e in model.elements if e.name == "Wall")
    assert [model.materials[layer.material].name for layer in built.layers] == ["Brick", "Block"]


def test_several_materials_of_one_body_are_told(hut: Hut) -> None:
    made = ifcopenshell.api.material.add_material_set(hut.file, name="Mixed", set_type="IfcMaterialList")
    for name in ("Brick", "Wool"):
        material = ifcopenshell.api.material.add_material(hut.file, name=name)
        ifcopenshell.api.material.add_list_item(hut.file, material_list=made, material=material)
    ifcopenshell.api.material.assign_material(
        hut.file, products=[wall(hut, "Wall")], type="IfcMaterialList", material=made
    )
    said = "“Wall” is drawn by kind alone: of 2 materials nothing says what is of which"
    assert said in read_ifc(hut.written()).problems
