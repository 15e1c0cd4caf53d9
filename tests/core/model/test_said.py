"""What a project says of materials in single places: the narrower place goes first, everything else stays as it is."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import Extents, SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.core.drawing.content import shown_pieces
from edge_slice.core.drawing.hatching.fills import hatch_of
from edge_slice.core.drawing.looks import Looks
from edge_slice.core.drawing.spec import ElementLook
from edge_slice.core.model import Material, Model
from edge_slice.core.model.digests import digest_of_said
from edge_slice.core.model.said import MaterialHere, is_there, with_said
from edge_slice.core.model.storage import model_to_bytes
from tests.bodies import box, model_of
from tests.walls import USUAL, Wall, house

STANDARD = default_standard()
HOUSE = house((Wall("a", 0.0), Wall("b", 1.0), Wall("c", 2.0, layers=USUAL[:2])), placed=True)
HOUSE = replace(HOUSE, build_ups=(*HOUSE.build_ups[:2], replace(HOUSE.build_ups[2], name="Other wall")))
CUT = SectionCut(line=((-1, 0), (4, 0)), extents=Extents(base=-1, top=5))


def drawn(model: Model) -> dict[tuple[str, int], tuple[str, str]]:
    """Class and hatch by element and layer."""
    result = cut_model(model, CUT, STANDARD.cut_rules(model))
    pieces = shown_pieces(model, result, STANDARD, "membranes", 20)
    return {(model.elements[p.element].guid, p.layer): (p.kind, hatch_of(p, STANDARD)) for p in pieces}


def changed(said: list[MaterialHere], model: Model = HOUSE) -> dict[tuple[str, int], tuple[str, str]]:
    before, after = drawn(model), drawn(with_said(model, said))
    assert set(before) == set(after)
    return {where: now for where, now in after.items() if before[where] != now}


def test_one_layer_of_one_element() -> None:
    found = changed([MaterialHere(element="b", material="Block", is_a="timber")])
    assert set(found) == {("b", 2)}  # its finish and every other wall's block stay what they are
    assert found["b", 2][0] == "timber"


def test_one_build_up_and_not_another_of_the_same_material() -> None:
    assert set(changed([MaterialHere(build_up="Wall", material="Brick", is_a="stone")])) == {("a", 0), ("b", 0)}


def test_a_hatch_alone_leaves_the_class_as_it_is_everywhere() -> None:
    usual = drawn(HOUSE)["a", 0]
    found = changed([MaterialHere(material="Brick", hatch="timber end")])
    assert found == {(wall, 0): (usual[0], "timber end") for wall in "abc"}


def test_the_narrower_place_goes_first_whatever_the_order() -> None:
    said = [
        MaterialHere(element="a", material="Brick", is_a="stone", hatch="earth"),
        MaterialHere(material="Brick", hatch="timber end"),
        MaterialHere(build_up="Wall", material="Brick", is_a="timber"),
    ]
    for order in (said, said[::-1]):
        found = drawn(with_said(HOUSE, order))
        assert found["a", 0] == ("stone", "earth")
        assert found["b", 0] == ("timber", "timber end")
        assert found["c", 0] == (drawn(HOUSE)["c", 0][0], "timber end")


def test_an_element_without_a_material_and_one_with_two() -> None:
    model = model_of(box((0, -1, 0), (1, 1, 1)), box((2, -1, 0), (3, 1, 1)), kinds=["column", "column"])
    model = replace(model, elements=tuple(replace(e, material=-1) for e in model.elements))
    assert {k for k, _ in drawn(with_said(model, [MaterialHere(element="element-0", is_a="steel")])).values()} == {
        "steel", drawn(model)["element-1", -1][0],
    }  # fmt: skip
    two = replace(
        model, materials=(Material("Oak"), Material("Glass")),
        mesh=replace(model.mesh, triangle_material=(model.mesh.triangle_element).astype(np.int32)),
    )  # fmt: skip
    found = with_said(two, [MaterialHere(element="element-1", material="Glass", is_a="brick")])
    assert {found.materials[m].said for m in found.triangle_materials[found.mesh.triangle_element == 1]} == {"brick"}
    assert {found.materials[m].said for m in found.triangle_materials[found.mesh.triangle_element == 0]} == {""}


def test_a_look_of_one_drawing_goes_before_it_and_a_standard_without_the_class_leaves_it() -> None:
    model = with_said(HOUSE, [MaterialHere(material="Brick", hatch="earth", is_a="")])
    result = cut_model(model, CUT, STANDARD.cut_rules(model))
    pieces = shown_pieces(model, result, STANDARD, "membranes", 20)
    spec = DrawingSpec(looks=(ElementLook(elements=("a",), hatch="timber end"),))
    pieces, standard = Looks.on(model, spec.looks).dressed(pieces, STANDARD)
    by = {(model.elements[p.element].guid, p.layer): hatch_of(p, standard) for p in pieces}
    assert (by["a", 0], by["b", 0]) == ("timber end", "earth")
    assert not changed([MaterialHere(element="a", material="Brick", is_a="of another standard", hatch="unknown")])


def test_only_what_is_meant_is_another_element_and_the_file_stays_what_it_was() -> None:
    said = [MaterialHere(element="b", material="Block", is_a="timber")]
    found = with_said(HOUSE, said)
    same = [a == b for a, b in zip(HOUSE.digests, found.digests, strict=True)]
    assert same == [True, False, True]
    assert model_to_bytes(with_said(HOUSE, [MaterialHere(material="Brick", hatch="earth")])) == model_to_bytes(HOUSE)
    assert digest_of_said(said) != digest_of_said([]) == ""


PLACES = st.sampled_from([("", ""), ("a", ""), ("b", ""), ("gone", ""), ("", "Wall"), ("", "Other wall"), ("", "gone")])
CLASSES = st.sampled_from(["", "brick", "timber", "steel"])
HATCHES = st.sampled_from(["", "earth", "timber end"])


@st.composite
def words(draw: st.DrawFn) -> MaterialHere:
    element, build_up = draw(PLACES)
    is_a = draw(CLASSES) if element or build_up else ""
    hatch = draw(HATCHES) if is_a else draw(HATCHES.filter(bool))
    material = draw(st.sampled_from([n for n, _ in USUAL]))
    return MaterialHere(element=element, build_up=build_up, material=material, is_a=is_a, hatch=hatch)


@given(said=st.lists(words(), max_size=6, unique_by=lambda one: one.where))
def test_each_layer_is_what_the_narrowest_word_of_it_says(said: list[MaterialHere]) -> None:
    model = with_said(HOUSE, said)
    by = {one.where: one for one in said}
    for element in model.elements:
        build_up = model.build_ups[element.build_up]
        for layer in build_up.layers:
            found = model.materials[layer.material]
            narrow = [by.get(w) for w in (
                (element.guid, "", found.name), ("", build_up.name, found.name), ("", "", found.name))]  # fmt: skip
            assert found.said == next((one.is_a for one in narrow if one and one.is_a), "")
            assert found.hatch == next((one.hatch for one in narrow if one and one.hatch), "")
    assert [is_there(HOUSE, one) for one in said] == [
        "gone" not in (one.element, one.build_up) and not (one.build_up == "Other wall" and one.material
                                                           in ("Block", "Plaster")) for one in said
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("given", "says"),
    [
        ({"material": "Brick", "is_a": "stone"}, "stands in `materials`"),
        ({"material": "Brick"}, "a class, a hatch"),
        ({"build_up": "Wall", "is_a": "stone"}, "which material"),
        ({"build_up": "Wall", "element": "a", "material": "Brick", "is_a": "stone"}, "not both"),
    ],
)
def test_words_that_mean_nothing_are_refused(given: dict[str, str], says: str) -> None:
    with pytest.raises(ValueError, match=says):
        MaterialHere.model_validate(given)
