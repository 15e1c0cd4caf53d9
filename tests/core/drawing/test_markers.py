"""Which cuts show in which drawings, where their markers stand, and which way they look."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import ElevationCut, Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.planes.leaves import steps_of
from edge_slice.core.cut.planes.sets import elevations_of, interior_elevations_of
from edge_slice.core.drawing import DrawingSpec, Label, Marker, Paths, Surroundings, compose_drawing, default_standard
from edge_slice.core.drawing.annotations.crossings import Crossings, Marked
from edge_slice.core.drawing.annotations.head_room import HeadRoom
from edge_slice.core.drawing.annotations.markers import HEAD_ROOM, Head, laid_out, marker_form, placed_markers
from edge_slice.core.drawing.display import Pen
from edge_slice.core.drawing.spec import MarkerKind, MarkerStyle
from edge_slice.core.model import Model
from tests.bodies import box, model_of

STANDARD = default_standard()
FORM = marker_form(STANDARD)
ALL: tuple[MarkerKind, ...] = ("section", "elevation", "interior elevation")
MODEL = model_of(box((0, 0, 0), (10, 8, 6)))
PLAN = PlanCut(storey=MODEL.storeys[0].guid, height=1.2)


def marked(number: int, cut: SectionCut | ElevationCut, style: MarkerStyle | None = None) -> Marked:
    return Marked(number, "A", "–", cut, style or MarkerStyle())


def placed(markers: list[Marker], scale: float, frame: tuple[float, float, float, float]) -> list[tuple[Head, ...]]:
    return [laid.heads for laid in laid_out(markers, scale, FORM, frame)]


def section(x0: float, y0: float, x1: float, y1: float, **more: object) -> SectionCut:
    return SectionCut(line=((x0, y0), (x1, y1)), **more)  # type: ignore[arg-type]


def test_a_plan_shows_the_cuts_that_its_height_lies_in() -> None:
    cuts = [
        marked(1, section(5, -1, 5, 9)),
        marked(2, section(6, -1, 6, 9, extents=Extents(base=3, top=6))),
        marked(3, elevations_of(MODEL)[0]),
    ]
    shown = Crossings(cuts).on(MODEL, 9, PLAN, ALL)
    assert [(m.drawing, m.kind, m.line) for m in shown] == [
        (1, "section", ((5, -1), (5, 9))), (3, "elevation", elevations_of(MODEL)[0].line),
    ]  # fmt: skip
    assert [m.drawing for m in Crossings(cuts).on(MODEL, 9, PLAN, ("elevation",))] == [3]
    upper = PLAN.model_copy(update={"height": 4.0})
    assert [m.drawing for m in Crossings(cuts).on(MODEL, 9, upper, ("section",))] == [1, 2]


@pytest.mark.parametrize(
    ("other", "at", "look"),
    [
        (section(4, -1, 4, 9), 5, "left"),  # looks to its left: to less x, left in a section that looks north
        (section(4, -1, 4, 9, look="right"), 5, "right"),
        (section(4, 9, 4, -1), 5, "right"),
    ],
)
def test_a_section_crosses_another_as_an_upright_line_that_looks_the_right_way(
    other: SectionCut, at: float, look: str
) -> None:
    own = section(-1, 3, 11, 3, extents=Extents(base=-1, top=7))
    (marker,) = Crossings([marked(1, own), marked(2, other)]).on(MODEL, 1, own, ALL)
    assert (marker.drawing, marker.line, marker.look) == (2, ((at, -1), (at, 7)), look)
    assert marker.style.heads == "last"  # at the top


def test_a_turned_view_mirrors_where_and_how_a_crossing_shows() -> None:
    own = section(-1, 3, 11, 3, look="right")
    (marker,) = Crossings([marked(2, section(4, -1, 4, 9))]).on(MODEL, 1, own, ALL)
    assert marker.line[0][0] == pytest.approx(11 - 4)
    assert marker.look == "right"


@given(st.floats(0, 180), st.floats(-0.9, 0.9))
def test_only_cuts_that_meet_at_45_degrees_or_more_show(angle: float, shift: float) -> None:
    c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    other = section(4 + shift - 9 * c, 3 - 9 * s, 4 + shift + 9 * c, 3 + 9 * s)
    shown = Crossings([marked(2, other)]).on(MODEL, 1, section(-1, 3, 11, 3), ALL)
    if abs(angle - 45) > 0.01 and abs(angle - 135) > 0.01:
        assert bool(shown) == (45 < angle < 135)


def test_each_leg_of_a_stepped_line_is_met_by_itself() -> None:
    stepped = SectionCut(line=((2, -1), (2, 4), (6, 4), (6, 9)))
    crossings = Crossings([marked(2, stepped)])
    low, high = section(-1, 1, 11, 1), section(-1, 6, 11, 6)
    assert [m.line[0][0] for m in crossings.on(MODEL, 1, low, ALL)] == [3]
    assert [m.line[0][0] for m in crossings.on(MODEL, 1, high, ALL)] == [7]
    assert crossings.on(MODEL, 1, section(-1, 20, 11, 20), ALL) == ()


FRAME = (-10.0, -10.0, 110.0, 90.0)  # mm at 1:100


def test_heads_stand_at_the_ends_that_are_chosen() -> None:
    line = ((5.0, -0.5), (5.0, 8.5))
    for heads, places in (("both", [-1, 1]), ("first", [-1]), ("last", [1])):
        marker = Marker(1, "A", "–", line, "left", style=MarkerStyle(heads=heads))
        found = placed([marker], 100, FRAME)[0]
        away = FORM.overhang + FORM.radius
        assert [h.centre.tolist() for h in found] == [[50, -5 - away] if p < 0 else [50, 85 + away] for p in places]


def test_a_marker_has_the_head_of_its_drawing_or_else_of_the_standard() -> None:
    def drawn(usual: str, head: str | None) -> list[Paths]:
        standard = STANDARD.model_copy(update={"marker": STANDARD.marker.model_copy(update={"head": usual})})
        line = Marker(1, "A", "–", ((0, 0), (9, 0)), "left", style=MarkerStyle(head=head))  # type: ignore[arg-type]
        items, _ = placed_markers([line], 100, standard, Pen(0.25, "#000000"), (-50, -50, 150, 50))
        return [i for i in items if isinstance(i, Paths)]

    def discs(paths: list[Paths]) -> set[bool]:
        return {p.pen is not None for p in paths if p.role == "marker head" and p.closed}

    def wide(paths: list[Paths]) -> float:
        return max(float(np.ptp(p.points[:, 0])) for p in paths if p.role == "marker wedge")

    usual = drawn("wedge", None)
    assert discs(usual) == {True}
    assert wide(drawn("wedge", "arrow")) < wide(usual) / 2
    assert discs(drawn("wedge", "open")) == {False}  # its ground covers what lies under it, without a line
    assert wide(drawn("arrow", None)) == wide(drawn("wedge", "arrow"))
    assert wide(drawn("arrow", "wedge")) == wide(usual)


def test_heads_of_elevations_keep_clear_of_others_where_there_is_room() -> None:
    plane = ((-2.0, -1.5), (12.0, -1.5))
    away = (FORM.overhang + FORM.radius) / 10  # metres at 1:100
    cutting = Marker(1, "A", "–", ((5.0, -1.5 + away), (5.0, 8.0)), "left")
    lone = [Marker(k, "N", "–", plane, "left", "elevation") for k in (2, 3, 4)]
    heads = placed([cutting, *lone], 100, (-100, -30, 200, 90))
    places = np.array([h.centre for found in heads for h in found])
    apart = np.hypot(*(places[:, None] - places[None, :]).transpose(2, 0, 1))
    assert apart[~np.eye(len(places), dtype=bool)].min() >= HEAD_ROOM * FORM.radius - 1e-9
    assert (places[2:, 1] == -15).all()


def test_an_elevation_far_off_stands_near_the_edge_of_the_plan() -> None:
    far = Marker(1, "N", "–", ((-2.0, -50.0), (12.0, -50.0)), "left", "elevation")
    (head,) = placed([far], 100, FRAME)[0]
    assert head.centre.tolist() == [50, FRAME[1] - FORM.overhang - 2 * FORM.radius]


def test_interior_elevations_of_the_demo_point_at_their_walls(demo: Model) -> None:
    room = next(s for s in demo.spaces if s.number == "1.02")
    cuts = [marked(k, c) for k, c in enumerate(interior_elevations_of(demo, room.guid))]
    plan = PlanCut(storey=demo.storeys[1].guid, height=1.2)
    shown = Crossings(cuts).on(demo, 99, plan, ALL)
    assert len(shown) == 4
    centre = np.mean(room.outline, axis=0)
    for marker in shown:
        a, b = np.array(marker.line)
        sees = np.array([-(b - a)[1], (b - a)[0]]) * (1 if marker.look == "left" else -1)
        assert float(((a + b) / 2 - centre) @ sees) > 0  # on its wall's side of the room, looking out to it
    above = PlanCut(storey=demo.storeys[2].guid, height=1.2)
    assert Crossings(cuts).on(demo, 99, above, ALL) == ()


def test_an_open_middle_leaves_the_ends_of_the_line(demo: Model) -> None:
    cut = PlanCut(storey=demo.storeys[1].guid, height=1.2)
    result = cut_model(demo, cut, STANDARD.cut_rules(demo))

    def inked(open_middle: bool) -> float:
        marker = Marker(7, "A", "–", ((10.6, 0), (10.6, 9)), "left", style=MarkerStyle(open_middle=open_middle))
        display = compose_drawing(demo, result, cut, DrawingSpec(scale=100), STANDARD, Surroundings((marker,)))
        texts = [i for i in display.items if isinstance(i, Label) and i.source == "marker:7"]
        assert len(texts) == 4
        lines = [i for i in display.items if isinstance(i, Paths) and i.role == "cutting line"]
        return sum(float(np.hypot(*np.diff(i.points[a:b], axis=0).T).sum())
                   for i in lines for a, b in zip(i.starts[:-1], i.starts[1:], strict=True))  # fmt: skip

    assert 0 < inked(True) < 0.5 * inked(False)


def test_heads_are_moved_along_their_line() -> None:
    marker = Marker(1, "A", "–", ((2.0, 1.0), (8.0, 1.0)), "left", style=MarkerStyle(shift=(5.0, -3.0)))
    plain = Marker(1, "A", "–", ((2.0, 1.0), (8.0, 1.0)), "left")
    frame = (-1000.0, -1000.0, 1000.0, 1000.0)
    (moved,), (usual,) = placed([marker], 50, frame), placed([plain], 50, frame)
    assert moved[0].centre - usual[0].centre == pytest.approx([-5, 0])
    assert moved[1].centre - usual[1].centre == pytest.approx([-3, 0])


def test_a_kind_of_marker_shows_up_to_its_scale() -> None:
    rule = STANDARD.marker.model_copy(update={"shown_up_to": {"elevation": 100.0}})
    standard = STANDARD.model_copy(update={"marker": rule})
    assert standard.marked(DrawingSpec(scale=100)) == ALL
    assert standard.marked(DrawingSpec(scale=101)) == ("section", "interior elevation")
    assert standard.marked(DrawingSpec(scale=200, shown_markers=("elevation",))) == ()


def test_labels_of_rooms_leave_the_places_of_markers_free_also_where_others_draw_them(demo: Model) -> None:
    plan = PlanCut(storey=demo.storeys[1].guid)
    result = cut_model(demo, plan, STANDARD.cut_rules(demo))
    spec = DrawingSpec(scale=100)

    def labels(*markers: Marker, shown: bool = True) -> list[tuple[str, float, float]]:
        made = compose_drawing(demo, result, plan, spec, STANDARD, Surroundings(markers, draws_markers=shown))
        assert shown or not any(i.source.startswith("marker") for i in made.items)
        return [(i.text, i.x, i.y) for i in made.items if isinstance(i, Label) and i.role.startswith("room")]

    _, x, y = labels()[0]
    marker = Marker(1, "A", "–", ((x / 10 - 1, y / 10), (x / 10 + 1, y / 10)), "left")
    assert labels(marker) == labels(marker, shown=False) != labels()


def test_heads_of_close_sections_step_back_from_each_other_and_moved_ones_stay() -> None:
    lines = [((x, 0.0), (x, 8.0)) for x in (2.0, 2.3, 2.6, 9.0)]
    close = [Marker(k, "A", "–", line, "left") for k, line in enumerate(lines)]
    frame = (-1000.0, -1000.0, 1000.0, 1000.0)
    heads = placed(close, 100, frame)
    for end in (0, 1):
        centres = np.array([h[end].centre for h in heads])
        apart = np.hypot(*(centres[:, None] - centres[None]).transpose(2, 0, 1)) + 1e9 * np.eye(len(centres))
        assert apart.min() >= HEAD_ROOM * FORM.radius
        assert [h[end].centre[0] for h in heads] == pytest.approx([20, 23, 26, 90])
    assert laid_out(close, 100, FORM, frame)[3].pieces[0].aside == (0.0, 0.0)
    put = Marker(1, "A", "–", lines[1], "left", style=MarkerStyle(shift=(0.0, 1.0)))
    assert laid_out([close[0], put], 100, FORM, frame)[1].pieces[0].aside[1] == 0.0


def test_heads_step_back_from_walls_and_bubbles_and_where_it_is_near_from_lines() -> None:
    model = model_of(box((0, 0, 0), (10, 8, 3)), box((4, 8.4, 0), (6, 9.4, 3)), box((7, 8.4, 0), (9, 9.4, 0.9)))
    cut = PlanCut(storey=model.storeys[0].guid, height=1.2)
    spec = DrawingSpec(scale=100)
    room = HeadRoom.of(model, cut_model(model, cut, STANDARD.cut_rules(model)), cut, spec, STANDARD)
    frame = (0.0, 0.0, 100.0, 94.0)
    lines = [((x, -0.5), (x, 8.5)) for x in (2.0, 5.0, 8.0)]  # over nothing, a wall, and something low
    markers = [Marker(k, "A", "–", line, "left") for k, line in enumerate(lines)]
    free, wall, low = laid_out(markers, 100, FORM, frame, room)
    usual = 85 + FORM.overhang + FORM.radius
    assert free.pieces[0].aside == (0.0, 0.0)
    for laid in (wall, low):
        assert laid.heads[1].centre[1] - FORM.radius > 94
        assert laid.heads[1].centre[1] == pytest.approx(usual + laid.pieces[0].aside[1])
    assert laid_out(markers, 100, FORM, frame)[1].pieces[0].aside == (0.0, 0.0)
    moved = [Marker(1, "A", "–", lines[1], "left", style=MarkerStyle(shift=(0.0, 2.0)))]
    assert laid_out(moved, 100, FORM, frame, room)[0].heads[1].centre[1] == pytest.approx(usual + 2)


def test_a_head_stands_on_lines_rather_than_far_off_and_never_on_a_wall_that_it_can_leave() -> None:
    rug = [box((-1, 8 + 0.4 * k, 0), (11, 8.2 + 0.4 * k, 0.5)) for k in range(30)]  # seen, for 12 m
    model = model_of(box((0, 0, 0), (10, 8, 3)), box((4, 8.4, 0.6), (6, 9.4, 3)), *rug)
    cut = PlanCut(storey=model.storeys[0].guid, height=1.2)
    room = HeadRoom.of(model, cut_model(model, cut), cut, DrawingSpec(scale=100), STANDARD)
    marker = Marker(1, "A", "–", ((5.0, -0.5), (5.0, 8.5)), "left")
    (laid,) = laid_out([marker], 100, FORM, (-10, 0, 110, 200), room)
    assert 94 < laid.heads[1].centre[1] - FORM.radius < 94 + FORM.radius


def test_a_lone_head_moves_along_its_plane_off_a_wall() -> None:
    model = model_of(box((4, -2, 0), (6, 3, 3)), box((0, 4, 0), (10, 5, 3)))
    cut = PlanCut(storey=model.storeys[0].guid, height=1.2)
    room = HeadRoom.of(model, cut_model(model, cut), cut, DrawingSpec(scale=100), STANDARD)
    marker = Marker(1, "N", "–", ((-2.0, 0.0), (12.0, 0.0)), "left", "elevation")
    (laid,) = laid_out([marker], 100, FORM, (0, -20, 100, 50), room)
    x, y = laid.heads[0].centre
    assert y == 0
    assert x + FORM.radius < 40 or x - FORM.radius > 60


@pytest.mark.parametrize("kind", ["section", "elevation"])
def test_the_wedge_of_a_head_is_clear_of_words_too(kind: str) -> None:
    """Words beside a head, at the side that it looks to: on their own line the circle alone would be clear."""
    model = model_of(box((0, 0, 0), (10, 5, 3)))
    cut = PlanCut(storey=model.storeys[0].guid, height=1.2)
    plain = HeadRoom.of(model, cut_model(model, cut), cut, DrawingSpec(scale=100), STANDARD)
    section = ((5.0, -1.0), (5.0, 6.0)) if kind == "section" else ((-2.0, -3.0), (12.0, -3.0))
    marker = Marker(1, "A", "–", section, "left", kind)  # type: ignore[arg-type]
    (usual,) = laid_out([marker], 100, FORM, (-10, -50, 110, 80), plain)
    x, y = usual.heads[0].centre
    r = FORM.radius
    words = (
        (x - 1.6 * r - 8, y - 1, x - 1.4 * r, y + 1) if kind == "section" else (x - 4, y + 1.4 * r, x + 4, y + 2.4 * r)
    )
    (moved,) = laid_out([marker], 100, FORM, (-10, -50, 110, 80), plain.with_boxes([words]))
    items, _ = placed_markers([marker], 100, STANDARD, Pen(0.35, "#000000"), (-10, -50, 110, 80),
                              plain.with_boxes([words]))  # fmt: skip
    assert not np.allclose(moved.heads[0].centre, (x, y))
    for item in (i for i in items if i.role in ("marker wedge", "marker head")):
        assert not shapely.intersects(shapely.convex_hull(shapely.MultiPoint(item.points)), shapely.box(*words))


STEPPED = ((0.0, 0.0), (4.0, 0.0), (4.0, 3.0), (9.0, 3.0))


@pytest.mark.parametrize(
    ("frame", "heads", "length"),
    [
        ((-10, -10, 110, 110), 2, 120.0),  # all of it
        ((35, 5, 45, 25), 0, 20.0),  # the jog alone: it cuts nothing
        ((20, -5, 60, 15), 1, 35.0),  # a leg runs out at the left, the jog at the top
        ((20, -5, 60, 35), 2, 70.0),  # both legs run out
        ((-10, -10, 30, 10), 2, 30.0),
        ((50, -10, 60, 10), 0, 0.0),  # beside it
    ],
)
def test_a_jog_that_runs_out_of_a_drawing_has_no_head(frame: tuple, heads: int, length: float) -> None:
    cut = SectionCut(line=STEPPED)
    marker = Marker(1, "A", "–", cut.line, "left", "section", steps=steps_of(cut))
    (laid,) = laid_out([marker], 100, FORM, frame)
    assert len(laid.heads) == heads
    assert sum(float(np.hypot(*np.diff(p.line, axis=0).T).sum()) for p in laid.pieces) == pytest.approx(length)
    items, links = placed_markers([marker], 100, STANDARD, Pen(0.35, "#000000"), frame)
    assert len(links) == heads
    assert bool(items) == (length > 0)


def test_a_line_that_comes_back_into_a_drawing_is_shown_in_both_places() -> None:
    cut = SectionCut(line=((0.0, 0.0), (4.0, 0.0), (4.0, 6.0), (8.0, 6.0), (8.0, 0.0), (12.0, 0.0)))
    marker = Marker(1, "A", "–", cut.line, "left", "section", steps=steps_of(cut))
    (laid,) = laid_out([marker], 100, FORM, (-10, -10, 130, 30))
    assert [len(p.line) for p in laid.pieces] == [3, 3]
    assert [p.ends for p in laid.pieces] == [(True, False), (False, True)]


def test_stretches_that_step_are_told_from_legs() -> None:
    assert steps_of(SectionCut(line=STEPPED)) == (False, True, False)
    assert steps_of(SectionCut(line=STEPPED, corners="turns")) == (False, False, False)
    assert steps_of(SectionCut(line=STEPPED[:3])) == (False, False)
