"""Wall sections fit the wall they are drawn across."""

import pytest

from edge_slice.core.cut import ImpossibleCut, cut_model
from edge_slice.core.cut.placing.junctions import junctions
from edge_slice.core.cut.placing.wall_section import AIR, wall_section
from edge_slice.core.model import Model
from tests.bodies import box, model_of

# two storeys of wall on a footing, a roof that hangs over by 0.5 to the left, a floor and another wall to the right
HOUSE = model_of(
    box((0, 0, 0), (0.3, 8, 3)), box((0, 0, 3.2), (0.3, 8, 6)), box((-0.2, 0, -1), (0.5, 8, 0)),
    box((-0.5, 0, 6), (9, 8, 6.4)), box((0, 0, 3), (8, 8, 3.2)), box((7.7, 0, 0), (8, 8, 6)),
    kinds=["wall", "wall", "footing", "roof", "slab", "wall"],
)  # fmt: skip


def test_extents_hold_the_wall_its_footing_and_its_roof_edge() -> None:
    cut = wall_section(HOUSE, ((-0.6, 4), (1, 4)), "left")
    e = cut.extents
    # along the line, x = -0.6 is 0: the roof's edge at 0.1, the footing's side at 1.1
    assert (e.left, e.right, e.base, e.top) == pytest.approx((0.1 - AIR, 1.1 + AIR, -1 - AIR, 6.4 + AIR))
    assert cut.of == "wall"
    kinds = {HOUSE.elements[f.element].kind for f in cut_model(HOUSE, cut).faces}
    assert kinds == {"wall", "footing", "roof", "slab"}


def test_ground_that_a_footing_stands_in_takes_nothing_from_it() -> None:
    bodies = [box((-9, -9, -3), (9, 9, -0.2)), box((0, 0, -0.6), (0.3, 8, 3)), box((-0.2, 0, -1), (0.5, 8, -0.6))]
    model = model_of(*bodies, kinds=["ground", "wall", "footing"])
    cut = wall_section(model, ((-0.6, 4), (1, 4)), "left")
    assert cut.extents.base == pytest.approx(-1 - AIR)
    assert cut.without == ()
    names = [j.name for j in junctions(model, cut)]
    assert names == ["Foundation"]


def test_it_is_the_same_wall_from_the_other_side() -> None:
    there, back = (wall_section(HOUSE, ((-0.6, 4), (1, 4)), look).extents for look in ("left", "right"))
    assert (back.left, back.right) == pytest.approx((1.6 - there.right, 1.6 - there.left))


def test_the_wall_in_the_middle_of_the_line_is_taken() -> None:
    cut = wall_section(HOUSE, ((7, 4), (8.6, 4)), "left")
    assert cut.extents.right == pytest.approx(9 - 7 + AIR)  # the roof's other edge
    assert cut.extents.base == pytest.approx(0 - AIR)


@pytest.mark.parametrize("line", [((3, 4), (5, 4)), ((0.1, -1), (0.1, 9)), ((20, 0), (21, 0))])
def test_a_line_that_crosses_no_wall_is_refused(line: tuple) -> None:
    with pytest.raises(ImpossibleCut, match="crosses no wall"):
        wall_section(HOUSE, line, "left")


def test_outer_walls_of_the_demo_go_from_footing_to_roof(demo: Model) -> None:
    cut = wall_section(demo, ((10, 8.5), (10, 10.5)), "left", ("planting",))
    met = {demo.elements[f.element].kind for f in cut_model(demo, cut).faces}
    assert {"wall", "footing", "roof"} <= met
    assert cut.extents.right - cut.extents.left < 3.5
