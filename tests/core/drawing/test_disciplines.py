"""Parts of a model by their discipline: as drawn, grey, outlines alone, left out."""

from __future__ import annotations

from dataclasses import replace

import pytest

from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.cut.shown import ShownRule, following
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.core.drawing.compose import compose_drawing
from edge_slice.core.drawing.display import DisplayList, Paths
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import ElementLook
from edge_slice.core.model import Model
from edge_slice.core.model.building import Part
from edge_slice.core.model.parts.places import AS_IT_IS
from edge_slice.core.model.parts.putting_together import PlacedPart, put_together
from tests.bodies import box, model_of

CUT = SectionCut(line=((-1.0, 0.5), (6.0, 0.5)), look="left", depth=3.0)
GREY = "#8c9492"


def one(guid: str, x: float, kind: str) -> Model:
    model = model_of(box((x, 0, 0), (x + 1, 1, 3)), kinds=[kind], materials=["Concrete"])
    return replace(model, elements=tuple(replace(e, guid=guid) for e in model.elements))


@pytest.fixture(scope="module")
def model() -> Model:
    wall, column = one("w", 0, "wall"), one("c", 3, "column")
    parts = [
        PlacedPart(Part("1", "House", "architecture"), wall, AS_IT_IS),
        PlacedPart(Part("2", "Frame", "structure"), column, AS_IT_IS),
    ]
    return put_together(parts)


def drawn(model: Model, style: DrawingSpec, standard: DrawingStandard | None = None) -> DisplayList:
    standard = standard or default_standard()
    return compose_drawing(model, cut_model(model, CUT), CUT, style, standard)


def colours(display: DisplayList, right: bool) -> set[str]:
    """Of the lines of the left or the right body."""
    found = set()
    for item in display.items:
        if isinstance(item, Paths) and item.pen is not None and item.role.startswith(("cut", "hatch", "seen")):
            for a, b in zip(item.starts[:-1], item.starts[1:], strict=True):
                if (item.points[a:b, 0].mean() > 3.0 / 50 * 1000 - 20) == right:
                    found.add(item.pen.colour)
    return found


STYLE = DrawingSpec(scale=50, levels=False, grid=False)


def test_grey_is_grey_and_the_rest_as_it_was(model: Model) -> None:
    usual, grey = drawn(model, STYLE), drawn(model, STYLE.model_copy(update={"disciplines": {"structure": "grey"}}))
    assert colours(usual, True) == colours(usual, False)
    assert colours(grey, True) == {GREY}
    assert colours(grey, False) == colours(usual, False)


def test_outlines_have_no_hatch(model: Model) -> None:
    def hatched(display: DisplayList) -> int:
        return sum(len(i.starts) - 1 for i in display.items if isinstance(i, Paths) and i.role == "hatch")

    outline = drawn(model, STYLE.model_copy(update={"disciplines": {"structure": "outline"}}))
    assert 0 < hatched(outline) < hatched(drawn(model, STYLE))
    both = STYLE.model_copy(update={"disciplines": {"structure": "outline", "architecture": "outline"}})
    assert hatched(drawn(model, both)) == 0


def test_a_drawing_goes_before_its_standard_and_an_element_before_its_discipline(model: Model) -> None:
    standard = default_standard().model_copy(update={"disciplines": {"structure": "grey"}})
    assert colours(drawn(model, STYLE, standard), True) == {GREY}
    as_drawn = STYLE.model_copy(update={"disciplines": {"structure": "as drawn"}})
    assert GREY not in colours(drawn(model, as_drawn, standard), True)
    red = STYLE.model_copy(update={"looks": (ElementLook(kind="column", ink="#ff0000"),)})
    assert colours(drawn(model, red, standard), True) == {"#ff0000"}


def test_left_out_by_the_cut_or_by_a_shown_set(model: Model) -> None:
    bare = CUT.model_copy(update={"without_disciplines": ("structure",)})
    assert {model.elements[f.element].guid for f in cut_model(model, bare).faces} == {"w"}
    assert following(model, CUT, ShownRule(without_disciplines=("structure",))) == bare
    assert following(model, bare, ShownRule(without_disciplines=("structure",))) is bare


def test_a_model_of_one_file_has_no_disciplines() -> None:
    alone = one("w", 3, "wall")
    every = {d: "grey" for d in ("architecture", "structure", "services", "site", "furniture")}
    grey = STYLE.model_copy(update={"disciplines": every})
    assert colours(drawn(alone, grey), True) == colours(drawn(alone, STYLE), True)
    assert cut_model(alone, CUT.model_copy(update={"without_disciplines": ("architecture",)})).faces


def test_a_class_of_material_without_a_hatch_is_drawn_without_one(model: Model) -> None:
    standard = default_standard()
    bare = {key: rule.model_copy(update={"hatch": "", "hatch_across": ""}) for key, rule in standard.materials.items()}
    display = drawn(model, STYLE, standard.model_copy(update={"materials": bare}))
    assert not [i for i in display.items if isinstance(i, Paths) and i.role == "hatch"]
    assert [i for i in display.items if isinstance(i, Paths) and i.role == "cut fill"]
