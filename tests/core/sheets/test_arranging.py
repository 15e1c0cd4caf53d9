"""Drawings on sheets: arranged, trimmed, in line, compared."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import PlanCut, SectionCut
from edge_slice.core.drawing import DisplayList, Label, Paths, Pen, default_standard
from edge_slice.core.drawing.display import Link, paths_of
from edge_slice.core.model import Model
from edge_slice.core.sheet import PlacedDrawing, SheetSpec, TitleStyle, compose_sheet, placement_box
from edge_slice.core.sheet.arranging import (
    Wanted,
    arranged,
    centred,
    free_place,
    larger_scale,
    reading_order,
    scale_that_fits,
)
from edge_slice.core.sheet.comparison import sheets_compared
from edge_slice.core.sheet.guides import guides_of
from edge_slice.core.sheet.trimming import trimmed

PEN = Pen(0.25, "#000000")
AREA = (20.0, 10.0, 831.0, 584.0)
STANDARD = default_standard()
FINE = 6e-4  # mm, to which places are rounded
origins = st.none() | st.tuples(st.sampled_from("ab"), st.floats(-50, 500))
sizes = st.builds(Wanted, st.floats(10, 500), st.floats(10, 400), scale=st.just(100.0), axis=origins, level=origins)


def inside(box: tuple[float, ...], area: tuple[float, ...]) -> bool:
    return all(box[k] >= area[k] - FINE for k in (0, 1)) and all(box[k] <= area[k] + FINE for k in (2, 3))


def apart(a: tuple[float, ...], b: tuple[float, ...]) -> bool:
    return a[2] <= b[0] + 2 * FINE or b[2] <= a[0] + 2 * FINE or a[3] <= b[1] + 2 * FINE or b[3] <= a[1] + 2 * FINE


@settings(max_examples=60)
@given(st.lists(sizes, min_size=1, max_size=12), st.booleans())
def test_arranged_drawings_lie_in_the_area_and_apart(wanted: list[Wanted], blocked: bool) -> None:
    taken = [(300.0, 200.0, 420.0, 330.0)] if blocked else []
    places = arranged(wanted, [AREA], taken)
    boxes = [w.at(p) for w, p in zip(wanted, places, strict=True) if p is not None]
    assert all(inside(box, AREA) for box in boxes)
    everything = boxes + taken
    assert all(apart(a, b) for k, a in enumerate(everything) for b in everything[:k])
    if len(wanted) == 1 and not blocked and inside((0, 0, *wanted[0].outer), (0, 0, 811, 574)):
        assert places[0] is not None


def test_rows_are_read_from_the_upper_left_and_stand_level() -> None:
    wanted = [Wanted(200, high, scale=50) for high in (100, 140, 90, 120, 80)]
    places = [p for p in arranged(wanted, [AREA]) if p is not None]
    boxes = [(x, y, x + w.wide, y + w.high) for (x, y), w in zip(places, wanted, strict=True)]
    assert reading_order(boxes) == [0, 1, 2, 3, 4]
    assert places[0][1] == places[1][1] == places[2][1]


def test_the_scale_that_would_fit_and_the_one_that_would_fit_too() -> None:
    large = Wanted(1000, 700, scale=50)
    assert arranged([large], [AREA]) == [None]
    assert scale_that_fits([large], 0, [AREA]) == 100
    assert centred(large.at_scale(100), AREA) is not None
    assert larger_scale([large.at_scale(200)], [AREA]) == 100
    assert larger_scale([large.at_scale(100)] * 2, [AREA]) is None
    assert scale_that_fits([Wanted(10, 10, scale=50)], 0, [(0, 0, 20, 20)]) is None
    assert free_place(Wanted(10, 10), (0, 0, 100, 100), [(0, 0, 100, 100)]) is None


def drawing() -> DisplayList:
    """A square with a hole, filled, a cross through it, texts in and beside it."""
    square = [(0, 0), (100, 0), (100, 100), (0, 100)]
    hole = [(40, 40), (60, 40), (60, 60), (40, 60)]
    return DisplayList(
        (
            paths_of("cut fill", [square, hole], None, "#888888", True),
            paths_of("seen near", [[(0, 0), (100, 100)], [(0, 100), (100, 0)]], PEN),
            Label("level", "+0.000", 110, 50, 2.5, "#000000"),
            Label("room", "Lab", 20, 20, 2.5, "#000000", "centre"),
        ),
        (0, 0, 100, 100),
        (Link((10, 10, 20, 20), "drawing:3"),),
    )


@given(st.floats(0, 45), st.floats(0, 45), st.floats(0, 45), st.floats(0, 45))
def test_trimming_leaves_what_lies_within(left: float, base: float, right: float, top: float) -> None:
    kept = trimmed(drawing(), (left, base, right, top))
    box = shapely.box(left, base, 100 - right, 100 - top)
    fill = next(i for i in kept.items if isinstance(i, Paths) and i.fill)
    shape = shapely.Polygon()
    for a, b in zip(fill.starts[:-1], fill.starts[1:], strict=True):
        shape = shape.symmetric_difference(shapely.Polygon(fill.points[a:b]).buffer(0))
    whole = shapely.box(0, 0, 100, 100).difference(shapely.box(40, 40, 60, 60))
    assert shape.area == pytest.approx(whole.intersection(box).area, rel=1e-9)
    lines = [i for i in kept.items if isinstance(i, Paths) and i.pen]
    drawn = sum(
        float(np.hypot(*(i.points[b - 1] - i.points[a])))
        for i in lines
        for a, b in zip(i.starts[:-1], i.starts[1:], strict=True)
    )
    cross = shapely.MultiLineString([[(0, 0), (100, 100)], [(0, 100), (100, 0)]])
    assert drawn == pytest.approx(cross.intersection(box).length, rel=1e-6)
    assert kept.frame == pytest.approx((left, base, 100 - right, 100 - top))


def test_a_drawing_that_became_smaller_than_its_trim_is_still_there() -> None:
    placed = PlacedDrawing(1, 1, "1", "A long name", 100, drawing(), 50, 60, (), (300, 0, 100, 0), TitleStyle(wide=0.5))
    left, _, right, _ = placement_box(placed)
    assert right - left == pytest.approx(1)
    assert (left - 50) / (150 - right) == pytest.approx(3)
    items = compose_sheet(SheetSpec("1", "T", "A1", "P"), (placed,), STANDARD).items
    assert min(i.height for i in items if isinstance(i, Label)) > 0


def test_what_stands_beside_a_side_that_is_not_trimmed_stays() -> None:
    texts = {i.text for i in trimmed(drawing(), (30, 0, 0, 0)).items if isinstance(i, Label)}
    assert texts == {"+0.000"}
    assert trimmed(drawing(), (30, 0, 0, 0)).links == ()
    assert {i.text for i in trimmed(drawing(), (0, 0, 5, 0)).items if isinstance(i, Label)} == {"Lab"}


def test_a_trimmed_drawing_stays_where_it_was_and_its_title_moves_or_goes() -> None:
    placed = PlacedDrawing(
        1, 1, "1", "Plan", 100, drawing(), 50, 60, trim=(10, 20, 0, 0), title=TitleStyle(dx=5, dy=-3)
    )
    assert placement_box(placed) == (60, 80, 150, 160)
    spec = SheetSpec("1", "T", "A1", "P")
    items = compose_sheet(spec, (placed,), STANDARD).items
    room = next(i for i in items if isinstance(i, Paths) and i.role == "cut fill")
    assert room.points.min(axis=0).tolist() == [60, 80]
    number = next(i for i in items if isinstance(i, Label) and i.role == "title number")
    assert number.x == 60 + 6 + 5
    hidden = PlacedDrawing(1, 1, "1", "Plan", 100, drawing(), 50, 60, title=TitleStyle(shown=False))
    roles = {i.role for i in compose_sheet(spec, (hidden,), STANDARD).items}
    assert "title number" not in roles


def test_guides_name_the_same_thing_of_the_building(demo: Model) -> None:
    model = demo
    storey = model.storeys[0]
    section = SectionCut(line=((-1.0, 2.0), (7.0, 2.0)), depth=3)
    plan = guides_of(model, PlanCut(storey=storey.guid), 100, STANDARD.breaks, [("A", section)])
    upright = guides_of(model, section, 50, STANDARD.breaks)
    level = next(g for g in upright if g.of == f"level {storey.guid}")
    base = next(g for g in upright if g.way == "y" and g.of.startswith("axis"))
    assert level.at - base.at == pytest.approx(storey.elevation * 1000 / 50)
    line = next(g for g in plan if g.of == "section A")
    origin = next(g for g in plan if g.way == "y" and g.of.startswith("axis"))
    assert line.at - origin.at == pytest.approx(2000 / 100)
    turned = SectionCut(line=((2.0, -1.0), (2.0, 7.0)), depth=3)
    across = next(g for g in guides_of(model, turned, 50, STANDARD.breaks) if g.way == "x")
    assert across.of != next(g for g in upright if g.way == "x" and g.of.startswith("axis")).of


def test_compared_sheets_show_what_went_and_came_and_nothing_else() -> None:
    before = DisplayList((paths_of("seen near", [[(10, 10), (60, 10)], [(10, 50), (60, 50)]], PEN),
                          Label("note", "Old", 20, 80, 3, "#000000")), (0, 0, 100, 100))  # fmt: skip
    after = DisplayList((paths_of("seen near", [[(10, 10), (40, 10)], [(10, 50), (60, 50)], [(80, 80), (90, 80)]], PEN),
                         Label("note", "New", 20, 80, 3, "#000000")), (0, 0, 100, 100))  # fmt: skip
    assert sheets_compared(before, before).places == ()
    found = sheets_compared(before, after)
    added = [i for i in found.display.items if i.role == "added"]
    removed = [i for i in found.display.items if i.role == "removed"]
    assert {i.text for i in added if isinstance(i, Label)} == {"New"}
    assert {i.text for i in removed if isinstance(i, Label)} == {"Old"}
    points = np.concatenate([i.points for i in removed if isinstance(i, Paths)])
    assert (points[:, 0].min(), points[:, 0].max()) == pytest.approx((40, 60), abs=0.01)
    points = np.concatenate([i.points for i in added if isinstance(i, Paths)])
    assert (points[:, 0].min(), points[:, 0].max()) == pytest.approx((80, 90), abs=0.01)
    assert len(found.places) == 3
