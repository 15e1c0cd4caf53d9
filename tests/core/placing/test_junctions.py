"""Wall sections with their junctions: found by rule, named, and broken where nothing happens."""

from __future__ import annotations

import pytest

from edge_slice.core.cut import Extents, ImpossibleCut, PlanCut
from edge_slice.core.cut.following.callouts import Callout, Region, derived
from edge_slice.core.cut.placing.junctions import enlargement, line_across, whole_wall_section
from edge_slice.core.cut.planes.leaves import check_breaks, leaves_of
from edge_slice.core.model import Model
from tests.bodies import box, model_of, pierced_box

# a wall of six metres on a footing, with a window, a floor and a roof
HOUSE = model_of(
    pierced_box((0, 0, 0), (6, 0.3, 6), (2, 0.9, 3, 2.0)), box((-0.3, -0.3, -0.4), (6.3, 0.6, 0)),
    box((2, 0.1, 0.9), (3, 0.2, 2.0)), box((0, 0.3, 3.0), (6, 5, 3.2)), box((-0.5, -0.6, 6), (6.5, 6, 6.3)),
    kinds=["wall", "footing", "window", "slab", "roof"],
)  # fmt: skip


def test_the_line_lies_square_across_the_wall_that_was_clicked() -> None:
    (x0, y0), (x1, y1) = line_across(HOUSE, (4.0, 0.2))
    assert (x0, x1) == (4.0, 4.0)
    assert {y0, y1} == {-0.6, 0.9}
    assert line_across(HOUSE, (4.0, 0.6)) == line_across(HOUSE, (4.0, 0.1))
    with pytest.raises(ImpossibleCut, match="no wall here"):
        line_across(HOUSE, (4.0, 3.0))


def test_every_junction_is_found_named_and_lies_about_its_place() -> None:
    cut, found = whole_wall_section(HOUSE, (2.5, 0.1), "left")
    assert [j.name for j in found] == [
        "Foundation", "Sill of Body 2", "Head of Body 2", "Floor edge, Ground", "Roof edge",
    ]  # fmt: skip
    spans = {j.name: j.region.bounds[1::2] for j in found}
    assert spans["Foundation"][0] < -0.4
    assert spans["Sill of Body 2"] == pytest.approx((0.55, 1.25))
    assert spans["Floor edge, Ground"][0] < 3.0 < 3.2 < spans["Floor edge, Ground"][1]
    assert spans["Roof edge"][1] > 6.3
    for j in found:
        assert (j.region.bounds[0], j.region.bounds[2]) == (cut.extents.left, cut.extents.right)


def test_what_lies_between_junctions_is_taken_out() -> None:
    cut, found = whole_wall_section(HOUSE, (4.5, 0.1), "left")
    assert [j.name for j in found] == ["Foundation", "Floor edge, Ground", "Roof edge"]
    assert len(cut.extents.breaks) == 2
    for one in cut.extents.breaks:
        assert one.axis == "v"
        assert all(one.end < j.region.bounds[1] or one.start > j.region.bounds[3] for j in found)


def test_junctions_that_lie_together_are_one() -> None:
    low = model_of(
        box((0, 0, 0), (6, 0.3, 3)), box((-0.3, -0.3, -0.4), (6.3, 0.6, 0)), box((0, 0.3, -0.2), (6, 5, 0.1)),
        kinds=["wall", "footing", "slab"],
    )  # fmt: skip
    _, found = whole_wall_section(low, (3, 0.1), "left")
    assert [j.name for j in found] == ["Foundation and floor edge, Ground"]


def test_a_thing_is_enlarged_with_some_room_around_it(demo: Model) -> None:
    room = next(s for s in demo.spaces if s.name == "Wet lab")
    storey = demo.storeys[room.storey].guid
    plan = PlanCut(storey=storey, depth=1.5)
    name, region = enlargement(demo, plan, room.guid)
    assert name == f"{room.number} Wet lab"
    assert region.bounds[0] == pytest.approx(min(x for x, _ in room.outline) - 0.3, abs=1e-3)
    with pytest.raises(ImpossibleCut, match="no stair, room"):
        enlargement(demo, plan, "nothing")


def test_what_is_not_on_a_plan_is_not_enlarged_from_it() -> None:
    model = model_of(
        box((0, 0, 0), (6, 0.3, 6)),
        box((1, 1, 0), (2, 3, 2.5)),
        box((3, 1, 3), (4, 3, 6)),
        kinds=["wall", "stair", "stair"],
    )
    ground, upper = PlanCut(storey="storey-0", height=1.2, depth=1.5), PlanCut(storey="storey-0", height=4.2, depth=1.5)
    assert enlargement(model, ground, "element-1")[1].bounds == pytest.approx((0.7, 0.7, 2.3, 3.3))
    assert enlargement(model, upper, "element-2")[0]
    for plan, guid in ((ground, "element-2"), (upper, "element-1")):
        with pytest.raises(ImpossibleCut, match="is not on this plan; choose the plan of its storey"):
            enlargement(model, plan, guid)
    beside = ground.model_copy(update={"extents": Extents(left=4.5, right=6, base=0, top=2)})
    with pytest.raises(ImpossibleCut, match="not on this plan"):
        enlargement(model, beside, "element-1")


@pytest.mark.parametrize("at", [(2.5, 0.1), (4.5, 0.1)])
def test_details_of_a_broken_section_take_the_breaks_in_their_regions_alone(at: tuple[float, float]) -> None:
    """Those of a junction none, one that reaches over a break that one; so their cuts can be changed."""
    cut, found = whole_wall_section(HOUSE, at, "left")
    assert cut.extents.breaks
    for j in found:
        own = derived(HOUSE, cut, cut, Callout(region=j.region)).cut
        assert own.extents.breaks == ()
        check_breaks(own, leaves_of(HOUSE, own))
    (left, _), (right, _) = found[0].region.points
    first = cut.extents.breaks[0]
    over = Region(points=((left, first.start - 0.5), (right, first.end + 0.5)))
    own = derived(HOUSE, cut, cut, Callout(region=over)).cut
    assert own.extents.breaks == (first,)
    check_breaks(own, leaves_of(HOUSE, own))
    half = Region(points=((left, first.start - 0.5), (right, (first.start + first.end) / 2)))
    assert derived(HOUSE, cut, cut, Callout(region=half)).cut.extents.breaks == ()
