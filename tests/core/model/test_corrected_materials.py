"""Elements of another material, and layers on faces."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.model import Material, Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import CopiedElements, FaceElsewhere, MovedElements, OtherMaterial
from edge_slice.core.model.corrections.materials import LAYERED, NOT_OF_IT, materials_of
from edge_slice.core.model.corrections.new_documents import NewLayer
from edge_slice.core.model.corrections.pushing import NO_FACE
from edge_slice.core.model.corrections.saying import FacePlane
from edge_slice.core.model.corrections.wanted import GONE
from tests.bodies import box, model_of, pierced_box
from tests.core.model.test_corrected_faces import UP, corners, volume
from tests.walls import Wall, house

NEW = "n" * 22


def beam() -> Model:
    """Two boxes of steel, half of the second one of paint."""
    model = model_of(box((0, 0, 0), (1, 1, 1)), box((2, 0, 0), (3, 1, 1)), kinds=["beam", "beam"])
    model = replace(
        model, materials=(Material("Steel"), Material("Paint")),
        elements=tuple(replace(e, material=0) for e in model.elements),
    )  # fmt: skip
    of = model.mesh.triangle_material.copy()
    of[model.mesh.of_element(1)] = [-1] * 6 + [1] * 6
    return replace(model, mesh=replace(model.mesh, triangle_material=of))


def of(material: str, *elements: int, **more: object) -> OtherMaterial:
    guids = tuple(f"element-{k}" for k in elements)
    return OtherMaterial.model_validate({"elements": guids, "material": material, **more})


def test_all_of_an_element_or_one_of_its_parts_is_of_another_material() -> None:
    model = beam()
    found, (told,) = corrected(model, [of("Larch", 0, 1, is_a="timber")])
    assert (told.elements, told.already) == (2, 0)
    assert [materials_of(found, k) for k in (0, 1)] == [["Larch"], ["Larch"]]
    assert found.materials[-1] == Material("Larch", said="timber")
    found, _ = corrected(model, [of("Larch", 1, in_place_of="Paint")])
    assert [materials_of(found, k) for k in (0, 1)] == [["Steel"], ["Larch", "Steel"]]
    found, _ = corrected(model, [of("Larch", 1, in_place_of="Steel"), of("Oil", 1, in_place_of="Paint")])
    assert materials_of(found, 1) == ["Larch", "Oil"]
    assert volume(found, 1) == pytest.approx(1.0)


def test_what_is_of_no_known_material_becomes_of_one() -> None:
    model = model_of(box((0, 0, 0), (1, 1, 1)), kinds=["object"])
    model = replace(model, elements=(replace(model.elements[0], material=-1),))
    assert materials_of(model, 0) == []
    found, (told,) = corrected(model, [of("Larch", 0)])
    assert (told.elements, materials_of(found, 0)) == (1, ["Larch"])


def test_what_a_newer_file_has_so_is_taken_and_what_it_has_otherwise_is_asked_about() -> None:
    model = beam()
    said = of("Larch", 0, had=("Steel",))
    there, _ = corrected(model, [said])
    again, (told,) = corrected(there, [said])
    assert again is there
    assert (told.already, told.elements) == (1, 0)
    other, _ = corrected(model, [of("Oak", 0)])
    _, (told,) = corrected(other, [said])
    assert (told.elements, told.changed) == (1, 1)
    _, (told,) = corrected(model, [of("Larch", 0, in_place_of="Zinc")])
    assert told.refused == ((NOT_OF_IT, 1),)
    _, (told,) = corrected(house((Wall("wall", 0.0),), True), [OtherMaterial(elements=("wall",), material="Larch")])
    assert told.refused == ((LAYERED, 1),)
    _, (told,) = corrected(model, [of("Larch", 9)])
    assert told.refused == ((GONE, 1),)
    assert told.lost
    with pytest.raises(ValidationError, match="another material"):
        of("Larch", 0, in_place_of="Larch")


def test_what_is_copied_or_moved_is_of_the_other_material_too() -> None:
    model = beam()
    said = [of("Larch", 0), CopiedElements(elements=("element-0",), copies=((0.0, 0.0, 2.0),))]
    found, _ = corrected(model, [*said, MovedElements(elements=("element-1",), by=(0.0, 3.0, 0.0))])
    assert sorted(materials_of(found, k)[0] for k in range(3)) == ["Larch", "Larch", "Paint"]


def layer(element: int, looks: tuple[float, float, float], at: float, thick: float = 0.1) -> NewLayer:
    return NewLayer.model_validate(
        {
            "body": NEW, "name": "Insulation", "kind": "covering", "material": "Cork", "element": f"element-{element}",
            "on": {"looks": looks, "at": at}, "thickness": thick,
        }
    )  # fmt: skip


def test_a_layer_on_a_face_goes_round_its_openings() -> None:
    wall = pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2))
    model = model_of(wall, kinds=["wall"])
    found, (told,) = corrected(model, [layer(0, (0.0, -1.0, 0.0), 0.0)])
    assert (told.elements, told.refused) == (1, ())
    k = found.element_by_guid[NEW]
    hand = model_of(pierced_box((0, -0.1, 0), (4, 0, 3), (1, 1, 2, 2)), kinds=["covering"])
    assert corners(found, k) == pytest.approx(np.array(corners(hand)))
    assert volume(found, k) == pytest.approx(0.1 * 11.0)
    assert found.leaking == ()
    assert corrected(found, [layer(0, (0.0, -1.0, 0.0), 0.0)])[1][0].already == 1


@settings(max_examples=30, deadline=None)
@given(far=st.integers(-5, 20).filter(bool), thick=st.integers(1, 30), turn=st.floats(-180.0, 180.0))
def test_a_layer_goes_where_its_face_goes(far: int, thick: int, turn: float) -> None:
    model = model_of(box((0, 0, 0), (4, 1, 3)), kinds=["slab"])
    top, to = FacePlane(looks=UP, at=3.0), FacePlane(looks=UP, at=3.0 + far / 10)
    said = [
        layer(0, UP, 3.0, thick / 100),
        FaceElsewhere(element="element-0", face=top, to=to),
        MovedElements(elements=("element-0",), by=(0.0, 0.0, 7.0), turn=turn),
    ]
    found, told = corrected(model, said)
    assert [one.refused for one in told] == [()] * len(told)
    k = found.element_by_guid[NEW]
    assert volume(found, k) == pytest.approx(4.0 * thick / 100)
    assert found.boxes[k][:, 2] == pytest.approx([10.0 + far / 10, 10.0 + far / 10 + thick / 100])
    assert found.leaking == ()


def test_a_layer_whose_face_is_gone_says_so() -> None:
    model = model_of(box((0, 0, 0), (4, 1, 3)), kinds=["slab"])
    assert corrected(model, [layer(0, UP, 9.0)])[1][0].refused == ((NO_FACE, 1),)
    assert corrected(model, [layer(7, UP, 3.0)])[1][0].lost
    moved, _ = corrected(model, [FaceElsewhere(
        element="element-0", face=FacePlane(looks=UP, at=3.0), to=FacePlane(looks=UP, at=3.2)
    )])  # fmt: skip
    _, (told,) = corrected(moved, [layer(0, UP, 3.0)])
    assert (told.elements, told.changed) == (1, 1)
