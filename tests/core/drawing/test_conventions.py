"""Plans as the trade draws them: doors, stairs, windows, crosses, room labels."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely

from edge_slice.core.cut import Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, Label, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.spec import Conventions
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.model import Model, Placement, Space, Storey
from tests.bodies import Body, box, model_of, pierced_box
from tests.core.cutting.test_touching_bodies import as_one

STANDARD = default_standard()
WALL = pierced_box((-3, 0, 0), (3, 0.3, 2.7), (0, 0, 0.9, 2.1))
DOOR = as_one(  # a frame of two jambs and a leaf in the middle of the wall
    box((0, 0.1, 0), (0.05, 0.2, 2.1)), box((0.85, 0.1, 0), (0.9, 0.2, 2.1)), box((0.05, 0.13, 0), (0.85, 0.17, 2.1))
)
PLAN = PlanCut(
    storey="storey-0", height=1.2, depth=1.5, overhead=1.5, extents=Extents(left=-4, right=5, base=-3, top=4)
)


def turned(model: Model, index: int, operation: str, placement: Placement) -> Model:
    elements = list(model.elements)
    elements[index] = replace(elements[index], operation=operation, placement=placement)
    return replace(model, elements=tuple(elements))


def house(operation: str, x: tuple = (1.0, 0.0, 0.0), y: tuple = (0.0, 1.0, 0.0), at: tuple = (0.0, 0.1, 0.0)) -> Model:
    model = model_of(WALL, DOOR, materials=["Brick", "Timber"], kinds=["wall", "door"])
    return turned(model, 1, operation, Placement(at, x, y))


def drawn(model: Model, cut: PlanCut | SectionCut = PLAN, scale: float = 50, **style: object) -> DisplayList:
    spec = DrawingSpec(scale=scale, grid=False, **style)  # type: ignore[arg-type]
    result = cut_model(model, cut, STANDARD.cut_rules(model))
    return compose_drawing(model, result, cut, spec, STANDARD)


def paths(display: DisplayList, role: str, scale: float = 50) -> list[np.ndarray]:
    """The paths of a role in metres of the building."""
    items = [i for i in display.items if isinstance(i, Paths) and i.role == role]
    return [i.points[a:b] * scale / 1000 for i in items for a, b in zip(i.starts[:-1], i.starts[1:], strict=True)]


SHOWN = [  # a rectangle, a triangle, and one with a corner that points inwards
    {"left": 0.3, "right": 1.6, "base": -0.4, "top": 2.5},
    {"polygon": ((0.2, -0.5), (2.6, -0.5), (0.2, 3.0))},
    {"polygon": ((-2, -1), (2, -1), (2, 3.5), (0.5, 0.9), (-2, 3.5))},
]


@pytest.mark.parametrize("extents", SHOWN)
@pytest.mark.parametrize("scale", [20.0, 50.0])
def test_nothing_of_a_cropped_plan_lies_outside_its_extents(extents: dict, scale: float) -> None:
    """A door, a flight, a shaft, a void, a rooflight, windows and a roof's edge: all across the sides."""
    model = model_of(
        WALL, DOOR, steps(12, 0.18, 0.25), box((-1, 1, -0.3), (3, 3, 0)), box((0.4, 1.2, 2.6), (1.9, 2.7, 2.65)),
        pierced_box((-3, 2, 0), (3, 2.3, 2.7), (0, 0.9, 1.2, 2.1)), box((0, 2.1, 0.9), (1.2, 2.2, 2.1)),
        box((-3.5, -0.5, 2.4), (3.5, 4, 2.6)),
        kinds=["wall", "door", "stair", "slab", "window", "wall", "window", "roof"],
    )  # fmt: skip
    model = replace(
        turned(model, 1, "SINGLE_SWING_LEFT", Placement((0.0, 0.1, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))),
        spaces=(Space("s", "1", "Lift", 0, ((-1, 0.5), (1, 0.5), (1, 1.9), (-1, 1.9)), 0, 3),),
    )
    cut = PLAN.model_copy(update={"extents": Extents(**extents)})
    display = drawn(model, cut, scale, rooms=False)
    given = extents.get("polygon")
    frame = shapely.Polygon(given) if given else shapely.box(*(extents[k] for k in ("left", "base", "right", "top")))
    around = frame.buffer(1e-4)
    roles = {i.role for i in display.items if isinstance(i, Paths)}
    assert {"shaft cross", "void cross", "cut fill"} <= roles
    for item in display.items:
        if isinstance(item, Paths):
            assert shapely.covers(around, shapely.MultiPoint(item.points * scale / 1000)), item.role


# doors: width 0.9 less frames of 0.05 is 0.8 clear, the leaf's plane at y = 0.15


@pytest.mark.parametrize(
    ("operation", "tips"),
    [
        ("SINGLE_SWING_LEFT", [(0.05, 0.95)]),
        ("SINGLE_SWING_RIGHT", [(0.85, 0.95)]),
        ("DOUBLE_DOOR_SINGLE_SWING", [(0.05, 0.55), (0.85, 0.55)]),
        ("DOUBLE_PANEL_SINGLE_SWING", [(0.05, 0.55), (0.85, 0.55)]),
        ("DOUBLE_DOOR_SINGLE_SWING_OPPOSITE_LEFT", [(0.05, 0.55), (0.85, -0.25)]),
        ("DOUBLE_SWING_LEFT", [(0.05, 0.95)]),
        ("SWING_FIXED_RIGHT", [(0.85, 0.55)]),
    ],
)
def test_leaves_stand_open_at_their_hinges(operation: str, tips: list[tuple[float, float]]) -> None:
    leaves = paths(drawn(house(operation)), "door leaf")
    for tip in tips:
        assert any(np.hypot(*(leaf - tip).T).min() < 1e-6 for leaf in leaves)
    assert len(leaves) == len(tips) + operation.startswith("SWING_FIXED")


def test_swing_is_a_quarter_circle_from_the_open_to_the_closed_leaf() -> None:
    (arc,) = paths(drawn(house("SINGLE_SWING_LEFT")), "door swing")
    assert np.hypot(*(arc - (0.05, 0.15)).T) == pytest.approx(np.full(len(arc), 0.8))
    assert arc[0] == pytest.approx((0.85, 0.15))
    assert arc[-1] == pytest.approx((0.05, 0.95))
    assert len(paths(drawn(house("DOUBLE_SWING_RIGHT")), "door swing")) == 2


def test_axes_of_the_door_decide_hinge_and_side() -> None:
    """The same door, placed the other way round: it opens to the south, hinged at what is now its left."""
    model = house("SINGLE_SWING_LEFT", (-1.0, 0.0, 0.0), (0.0, -1.0, 0.0), (0.9, 0.2, 0.0))
    leaf = paths(drawn(model), "door leaf")[0]
    assert np.hypot(*(leaf - (0.85, -0.65)).T).min() < 1e-6


@pytest.mark.parametrize("operation", ["SLIDING_TO_LEFT", "DOUBLE_DOOR_SLIDING", "FOLDING_TO_RIGHT", "REVOLVING"])
def test_other_ways_to_open_have_their_own_signs(operation: str) -> None:
    display = drawn(house(operation))
    assert paths(display, "door leaf")
    assert bool(paths(display, "door swing")) == (not operation.startswith("FOLDING"))


def test_a_rolling_door_is_dashed_above() -> None:
    assert len(paths(drawn(house("ROLLINGUP")), "door swing")) > 8


def test_the_modelled_leaf_makes_room_for_the_open_one_and_the_frame_stays() -> None:
    def brown(display: DisplayList) -> float:
        tint = STANDARD.materials["timber"].tint
        rings = [i for i in display.items if isinstance(i, Paths) and i.fill == tint]
        return sum(
            abs(shapely.Polygon(i.points[a:b]).area) * 2500 / 1e6
            for i in rings
            for a, b in zip(i.starts[:-1], i.starts[1:], strict=True)
        )

    assert brown(drawn(house("SINGLE_SWING_LEFT"))) == pytest.approx(2 * 0.05 * 0.1)
    assert brown(drawn(house(""))) == pytest.approx(2 * 0.05 * 0.1 + 0.8 * 0.04)
    large = drawn(house("SINGLE_SWING_LEFT"), scale=20)  # as modelled, with its swing
    assert not paths(large, "door leaf", 20)
    assert len(paths(large, "door swing", 20)) == 1


def test_a_drawing_may_do_without_any_convention() -> None:
    plain = Conventions(doors=False, stairs=False, windows=False, shafts=False, voids=False)
    display = drawn(flat_with_stair(), conventions=plain)
    roles = {i.role for i in display.items}
    assert not roles & {"door leaf", "door swing", "walking line", "stair break", "void cross", "shaft cross"}


# stairs


def steps(count: int, rise: float, going: float, base: float = 0.0) -> Body:
    """A flight that climbs along x from x = 0, one metre wide."""
    blocks = [box((k * going, 0, base), ((k + 1) * going, 1, base + (k + 1) * rise)) for k in range(count)]
    return as_one(*blocks)


def flat_with_stair() -> Model:
    model = model_of(steps(15, 0.175, 0.28), materials=["Concrete"], kinds=["stair"])
    return replace(model, storeys=(Storey("storey-0", "Lower", 0.0), Storey("storey-1", "Upper", 2.8)))


def test_walking_line_runs_from_the_first_riser_to_the_top_and_says_what_the_steps_measure() -> None:
    display = drawn(flat_with_stair())
    line, head = paths(display, "walking line")
    assert line[0] == pytest.approx((0.0, 0.5), abs=1e-6)
    assert line[-1] == pytest.approx((15 * 0.28, 0.5), abs=1e-6)
    assert head[1] == pytest.approx(line[-1])
    (label,) = [i for i in display.items if isinstance(i, Label) and i.role == "stair measures"]
    assert label.text == "16 × 175 / 280"


def test_the_break_crosses_the_flight_where_the_cut_does() -> None:
    (broken,) = paths(drawn(flat_with_stair()), "stair break")
    at = 6 * 0.28  # 1.2 m up: the seventh tread is the first above
    assert broken[[0, -1], 0].mean() == pytest.approx(at, abs=0.28)
    assert broken[:, 1].min() < 0 < 1 < broken[:, 1].max()


def test_treads_above_the_cut_are_dashed_and_those_below_are_not() -> None:
    display = drawn(flat_with_stair())
    dashed = np.concatenate(paths(display, "tread above"))
    assert (dashed[:, 0].min(), dashed[:, 0].max()) == (pytest.approx(6 * 0.28, abs=1e-3), pytest.approx(15 * 0.28))
    seen = np.concatenate([p for role in ("seen near", "seen middle", "seen far") for p in paths(display, role)])
    assert seen[:, 0].max() <= 7 * 0.28 + 1e-3
    assert not paths(display, "overhead")


# crosses, windows, heads


def test_lifts_and_shafts_are_crossed_and_floor_openings_dashed() -> None:
    slab = box((-3, -2, -0.3), (3, 3, 0))
    hole = pierced_box((-3, -0.3, -2), (3, 0, 3), (1, 1, 2, 2))  # turned to lie: an opening one metre square
    flat = np.column_stack((hole[0][:, 0], hole[0][:, 2], hole[0][:, 1])), hole[1][:, ::-1]
    model = model_of(flat, materials=["Concrete"], kinds=["slab"])
    assert slab[0][:, 2].min() == flat[0][:, 2].min()
    dashed = paths(drawn(model), "void cross")
    reach = np.concatenate(dashed)
    assert (reach.min(axis=0), reach.max(axis=0)) == (pytest.approx((1, 1), abs=1e-3), pytest.approx((2, 2), abs=1e-3))
    shaft = Space("s", "L1", "Lift", 0, ((-2, 0), (-1, 0), (-1, 1), (-2, 1)), 0.0, 2.5)
    lines = paths(drawn(replace(model, spaces=(shaft,)), rooms=False), "shaft cross")
    assert sorted(np.hypot(*(p[1] - p[0])) for p in lines) == pytest.approx([2**0.5] * 2)


def test_windows_are_plain_at_small_scales_and_whole_at_larger_ones() -> None:
    window = as_one(*(box((0.1 * k, 0.1, 0), (0.1 * k + 0.08, 0.2, 2.1)) for k in range(9)))
    model = model_of(WALL, window, materials=["Brick", "Timber"], kinds=["wall", "window"])
    model = turned(model, 1, "", Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)))
    small = drawn(model, scale=100)
    assert len(paths(small, "window frame", 100)) == 2
    ((a, b),) = paths(small, "window glass", 100)
    assert (a[1], b[1]) == (pytest.approx(0.15), pytest.approx(0.15))
    assert not paths(drawn(model, scale=20), "window frame", 20)


def test_heads_of_openings_are_not_dashed_and_a_roof_edge_above_is() -> None:
    roof = box((-3.5, -0.5, 2.5), (3.5, 0.8, 2.6))
    model = model_of(WALL, DOOR, roof, materials=["Brick", "Timber", "Timber"], kinds=["wall", "door", "roof"])
    dashes = np.concatenate(paths(drawn(model), "overhead"))
    assert np.isclose(dashes[:, 1], -0.5).any()
    assert not ((dashes[:, 0] > -0.1) & (dashes[:, 0] < 1) & (dashes[:, 1] > 0.01) & (dashes[:, 1] < 0.29)).any()


# room labels


ROOM = Space("r", "1.01", "Laboratory", 0, ((-3, -2.5), (3, -2.5), (3, 0), (-3, 0)), 0.0, 2.7)


def labels(display: DisplayList) -> list[Label]:
    return [i for i in display.items if isinstance(i, Label) and i.role.startswith("room")]


def test_label_stands_clear_of_furniture_in_the_largest_free_place() -> None:
    table = box((-1.6, -2.2, 0), (1.9, -0.4, 0.75))
    model = replace(model_of(WALL, table, materials=["Brick", "Timber"], kinds=["wall", "furniture"]), spaces=(ROOM,))
    found = labels(drawn(model))
    assert [label.text for label in found] == ["1.01", "Laboratory", "15.0 m²"]
    around = shapely.union_all([shapely.box(*box_of(label)) for label in found])
    assert not around.intersects(shapely.box(-32, -44, 38, -8))  # the table on paper
    assert shapely.box(-60, -50, 60, 0).contains(around)


def test_label_that_has_no_place_is_left_out_with_a_finding() -> None:
    narrow = replace(ROOM, outline=((0, -2.5), (0.1, -2.5), (0.1, 0), (0, 0)))
    display = drawn(replace(model_of(WALL, materials=["Brick"]), spaces=(narrow,)))
    assert not labels(display)
    assert "1.01 Laboratory" in display.findings[0]


def test_labels_keep_clear_of_each_other() -> None:
    rooms = tuple(replace(ROOM, guid=str(k), number=f"1.0{k}") for k in range(3))  # three in one place
    found = labels(drawn(replace(model_of(WALL, materials=["Brick"]), spaces=rooms)))
    boxes = [shapely.box(*box_of(label)) for label in found]
    assert len(found) > 5
    assert all(shapely.intersection(a, b).area < 0.2 for k, a in enumerate(boxes) for b in boxes[k + 1 :])


def test_sections_name_the_rooms_they_cut_if_asked() -> None:
    model = replace(model_of(WALL, materials=["Brick"]), spaces=(ROOM,))
    cut = SectionCut(line=((-4, -1), (4, -1)), extents=Extents(base=-1, top=4))
    assert not labels(drawn(model, cut))
    (number, name) = labels(drawn(model, cut, section_rooms=True))
    assert (number.text, name.text) == ("1.01", "Laboratory")
    assert 1000 / 50 < name.x < 7000 / 50
    assert 0 < name.y < 2700 / 50
