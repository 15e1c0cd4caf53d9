"""What a person points at, and what shown sets leave out."""

from __future__ import annotations

import numpy as np
import pytest

from edge_slice.core.cut import ElevationCut, Perspective, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.placing.picking import drawn_of, pick_at, pick_in
from edge_slice.core.cut.shown import SHIPPED_SETS, PropertyValue, ShownRule, following, shown_elements
from edge_slice.core.model import Model
from tests.bodies import box, model_of

# a wall that is cut, a table behind it, a board far behind both
MODEL = model_of(
    box((4, 0, 0), (4.3, 6, 3)), box((1, 2, 0), (2, 3, 1)), box((0, 5, 0), (6, 5.2, 2)),
    kinds=["wall", "furniture", "object"],
)  # fmt: skip
CUT = SectionCut(line=((-1, 1), (8, 1)), depth=10)


def picked(cut: SectionCut | ElevationCut, u: float, v: float, reach: float = 10) -> list[tuple[int, float]]:
    result = cut_model(MODEL, cut)
    found = pick_at(MODEL, result, shown_elements(MODEL, cut), u, v, reach)
    return [(p.element, p.depth) for p in found]


def test_what_is_cut_comes_first_then_what_lies_behind_by_its_depth() -> None:
    assert picked(CUT, 5100, 1500) == [(0, 0.0), (2, 4000.0)]
    assert picked(CUT, 2500, 500) == [(1, 1000.0), (2, 4000.0)]
    assert picked(CUT, 2500, 1500) == [(2, 4000.0)]
    assert picked(CUT, 8500, 2500) == []


def test_a_line_is_met_within_reach_of_it_and_depth_limits_what_is_behind() -> None:
    assert {e for e, _ in picked(CUT, 2500, 1008)} == {1, 2}
    assert {e for e, _ in picked(CUT, 2500, 1050)} == {2}
    near = CUT.model_copy(update={"depth": 2.0})
    assert picked(near, 2500, 500) == [(1, 1000.0)]


def test_a_cut_face_is_met_within_reach_of_its_outline() -> None:
    assert 0 in [e for e, _ in picked(CUT, 4995, 1500)]  # the wall is cut from 5000 to 5300
    assert 0 not in [e for e, _ in picked(CUT, 4985, 1500)]


def test_a_perspective_is_picked_where_it_shows() -> None:
    lens = CUT.model_copy(update={"perspective": Perspective(distance=10.0, eye=(4.5, 1.0))})
    # the board's top (z 2) 4 m behind the plane stands at 1 + (2 - 1) * 10 / 14 in the picture
    assert picked(lens, 2500, 1700) == [(2, pytest.approx(4000.0))]
    assert picked(lens, 2500, 1730) == []


def test_a_box_takes_what_it_touches_or_what_lies_in_it() -> None:
    result = cut_model(MODEL, CUT)
    assert pick_in(result, (1900, -100, 3100, 1100), whole=True) == [1]
    assert pick_in(result, (2500, 500, 5100, 900), whole=False) == [0, 1]
    assert pick_in(result, (-900, -500, 8000, 4000), whole=True) == [0, 1, 2]
    assert pick_in(result, (20_000, 0, 21_000, 10), whole=False) == []
    lines = np.concatenate(drawn_of(result, 1))
    assert (lines.min(axis=0), lines.max(axis=0)) == (pytest.approx([2000, 0]), pytest.approx([3000, 1000]))


def test_single_elements_are_left_out_and_what_they_hid_appears() -> None:
    cut = CUT.model_copy(update={"left_out": (MODEL.elements[0].guid,)})
    result = cut_model(MODEL, cut)
    assert not result.faces
    assert picked(cut, 5100, 1500) == [(2, 4000.0)]


@pytest.mark.parametrize(
    ("rule", "kept"),
    [
        (ShownRule(), {0, 1, 2}),
        (ShownRule(only_kinds=("wall",)), {0}),
        (ShownRule(without_kinds=("furniture",)), {0, 2}),
        (ShownRule(without_elements=(MODEL.elements[2].guid,)), {0, 1}),
        (SHIPPED_SETS["no-loose-things"][1], {0, 2}),
        (SHIPPED_SETS["structure"][1], {0}),
        (ShownRule(only_kinds=("wall",), without_elements=(MODEL.elements[0].guid,)), set()),
    ],
)
def test_a_rule_leaves_out_what_it_says(rule: ShownRule, kept: set[int]) -> None:
    shown = shown_elements(MODEL, following(MODEL, CUT, rule))
    assert set(np.flatnonzero(shown)) == kept


def test_rules_by_material_and_storey(demo: Model) -> None:
    plan = PlanCut(storey=demo.storeys[1].guid, height=1.2, without=("planting",))
    name = demo.materials[0].name
    by_material = shown_elements(demo, following(demo, plan, ShownRule(without_materials=(name,))))
    assert {k for k, e in enumerate(demo.elements) if e.material == 0 or e.kind == "planting"} == set(
        np.flatnonzero(~by_material)
    )
    by_storey = shown_elements(demo, following(demo, plan, ShownRule(storeys=(demo.storeys[1].guid,))))
    assert {demo.elements[k].storey for k in np.flatnonzero(by_storey)} <= {-1, 1}
    assert by_storey.sum() < by_material.sum()


def test_a_rule_leaves_out_what_has_a_value_of_a_property(demo: Model) -> None:
    plan = PlanCut(storey=demo.storeys[1].guid)
    outer = PropertyValue(name="Pset_WallCommon: IsExternal", value="yes")
    shown = shown_elements(demo, following(demo, plan, ShownRule(without_properties=(outer,))))
    gone = [e for e, on in zip(demo.elements, shown, strict=True) if not on]
    assert {e.kind for e in gone} == {"wall"}
    assert any("outer wall" in e.name for e in gone)
    assert not any("partition" in demo.build_ups[e.build_up].name for e in gone if e.build_up >= 0)
    unlike = PropertyValue(name="Pset_WallCommon: IsExternal", value="maybe")
    assert shown_elements(demo, following(demo, plan, ShownRule(without_properties=(unlike,)))).all()
