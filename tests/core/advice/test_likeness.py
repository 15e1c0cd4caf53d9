"""Details that look alike, and those that do not."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import Extents, SectionCut, cut_model
from edge_slice.core.cut.advice.likeness import CutDetail, alike, cut_detail
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from tests.walls import Wall, house, with_thickness

STANDARD = default_standard()
ROW = tuple(Wall(f"wall-{k}", 3.0 * k, 0.0, 2.5) for k in range(3))


def detail(model: Model, x: float, look: str = "left", base: float = 2.0) -> CutDetail:
    """A window of 0.9 by 0.8 m about a wall's top that begins at `x`."""
    line = ((-1.0, 0.0), (12.0, 0.0)) if look == "left" else ((12.0, 0.0), (-1.0, 0.0))
    left = x - 0.2 + 1.0 if look == "left" else 12.0 - x - 0.7
    extents = Extents(left=left, right=left + 0.9, base=base, top=base + 0.8)
    cut = SectionCut.model_validate({"line": line, "look": "left", "depth": 1.0, "extents": extents})
    found = cut_detail(cut_model(model, cut, STANDARD.cut_rules(model)), STANDARD.classes(model))
    assert found is not None
    return found


def test_tops_of_the_same_wall_are_alike_wherever_they_stand_and_whichever_way_one_looks() -> None:
    model = house(ROW, True)
    first = detail(model, 0.0)
    assert alike(first, detail(model, 3.0))
    assert alike(first, detail(model, 6.0, "right"))  # in a mirror


@settings(max_examples=20, deadline=None)
@given(st.floats(0.13, 0.3))
def test_another_thickness_material_or_height_is_another_detail(thick: float) -> None:
    other = house((ROW[0], with_thickness(ROW[1], 1, thick), replace(ROW[2], top=2.4)), True)
    first = detail(other, 0.0)
    assert not alike(first, detail(other, 3.0))
    assert not alike(first, detail(other, 6.0))
    timber = house((ROW[0], replace(ROW[1], layers=(("Timber", 0.1), *ROW[1].layers[1:]))), True)
    assert not alike(detail(timber, 0.0), detail(timber, 3.0))


def test_windows_of_other_sizes_are_other_details() -> None:
    model = house(ROW, True)
    one = detail(model, 0.0)
    assert not alike(one, replace(one, size=(one.size[0] + 100.0, one.size[1])))
