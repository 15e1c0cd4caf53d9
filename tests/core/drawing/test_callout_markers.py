"""Bubbles of callouts stand clear: of cut faces, texts and one another; the same way every time."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from edge_slice.core.cut import AnyCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import (
    DisplayList,
    DrawingSpec,
    Label,
    Marker,
    Paths,
    Surroundings,
    compose_drawing,
    default_standard,
)
from edge_slice.core.drawing.annotations.called_out import CalledOut, CalledOuts
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.rules.standard import CalloutRule
from edge_slice.core.drawing.spec import CalloutStyle
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.model import Model
from tests.bodies import box, model_of

STANDARD = default_standard()
SECTION = SectionCut(line=((10.6, -2), (10.6, 12)), depth=6)
RULE = CalloutRule()
MODEL = model_of(box((0, 0, 0), (0.3, 6, 3)), box((7.7, 0, 0), (8, 6, 3)))


def ring(u: float, v: float, wide: float, high: float) -> tuple[tuple[float, float], ...]:
    return ((u, v), (u + wide, v), (u + wide, v + high), (u, v + high))


def mark(number: int, where: tuple[tuple[float, float], ...], **style: object) -> CalloutMark:
    return CalloutMark(f"drawing:{number}", number, str(number), "A-401", where, style=CalloutStyle(**style))  # type: ignore[arg-type]


def composed(model: Model, cut: AnyCut, scale: float, marks: list[CalloutMark], **spec: object) -> DisplayList:
    style = DrawingSpec(scale=scale, **spec)  # type: ignore[arg-type]
    shown = STANDARD.shown_cut(cut, scale)
    result = cut_model(model, shown, STANDARD.cut_rules(model))
    return compose_drawing(model, result, shown, style, STANDARD, Surroundings(callouts=tuple(marks)))


def regions(display: DisplayList, scale: float) -> list[tuple[tuple[float, float], ...]]:
    """Nine regions spread over a drawing, metres."""
    left, base, right, top = (x * scale / 1000 for x in display.frame)
    us, vs = np.linspace(left, right, 5)[1:4], np.linspace(base, top, 5)[1:4]
    return [ring(float(u) - 0.4, float(v) - 0.3, 0.8, 0.6) for u in us for v in vs]


@pytest.mark.parametrize("scale", [50.0, 100.0])
@pytest.mark.parametrize("kind", ["section", "plan"])
def test_bubbles_stand_clear_on_the_demo(demo: Model, kind: str, scale: float) -> None:
    cut: AnyCut = SECTION if kind == "section" else PlanCut(storey=demo.storeys[1].guid, depth=1.5)
    plain = composed(demo, cut, scale, [])
    marks = [mark(k, where) for k, where in enumerate(regions(plain, scale))]
    display = composed(demo, cut, scale, marks)
    assert len(display.callouts) == 9
    bubbles = [shapely.Point(c.bubble).buffer(c.radius) for c in display.callouts]
    result = cut_model(demo, STANDARD.shown_cut(cut, scale), STANDARD.cut_rules(demo))
    faces = shapely.union_all([f.polygon for f in result.faces])
    faces = shapely.transform(faces, lambda p: p / scale)
    own = {f"callout:{m.source}" for m in marks}
    texts = [shapely.box(*box_of(i)) for i in display.items if isinstance(i, Label) and i.source not in own]
    for k, bubble in enumerate(bubbles):
        assert not faces.intersects(bubble)
        assert not any(text.intersects(bubble) for text in texts)
        assert not any(other.intersects(bubble) for other in bubbles[k + 1 :])
        assert not shapely.Polygon(display.callouts[k].boundary).intersects(bubble)
    again = composed(demo, cut, scale, marks)
    assert [c.bubble for c in again.callouts] == [c.bubble for c in display.callouts]


@pytest.mark.parametrize("size", [(0.3, 0.3), (6.0, 0.4), (0.4, 5.0), (4.0, 3.0)])
def test_a_bubble_stands_beside_its_region_however_large(size: tuple[float, float]) -> None:
    (placed,) = composed(MODEL, SectionCut(line=((-1, 3), (9, 3))), 20, [mark(1, ring(1.5, 0.2, *size))]).callouts
    away = shapely.Polygon(placed.boundary).distance(shapely.Point(placed.bubble)) - placed.radius
    assert 1.0 < away < 15.0
    assert len(placed.leader) == 2


def test_bubbles_stand_in_no_region_of_another_where_there_is_room_beside() -> None:
    """As the junctions of a wall section lie: one over the other, as wide as the drawing."""
    cut = SectionCut(line=((7.0, 3), (8.7, 3)))
    marks = [mark(k, ring(0.05, 0.1 + 0.6 * k, 1.6, 0.5)) for k in range(5)]
    placed = composed(MODEL, cut, 20, marks).callouts
    regions = [shapely.Polygon(c.boundary) for c in placed]
    for c in placed:
        bubble = shapely.Point(c.bubble).buffer(c.radius)
        assert not any(region.intersects(bubble) for region in regions)


def test_a_bubble_stands_where_it_was_put_and_its_leader_has_an_elbow() -> None:
    cut = SectionCut(line=((-1, 3), (9, 3)))
    where = ring(0.5, 0.5, 1, 1)
    (straight,) = composed(MODEL, cut, 50, [mark(1, where, bubble=(40, 25))]).callouts
    assert straight.bubble == pytest.approx((20 + 40, 20 + 25))
    assert len(straight.leader) == 2
    assert np.hypot(*(straight.leader[-1] - straight.bubble)) == pytest.approx(straight.radius)
    assert shapely.LinearRing(straight.boundary).distance(shapely.Point(straight.leader[0])) < 1e-9
    (bent,) = composed(MODEL, cut, 50, [mark(1, where, bubble=(40, 25), elbow=True)]).callouts
    assert bent.leader[1][1] == pytest.approx(bent.bubble[1])
    (over,) = composed(MODEL, cut, 50, [mark(1, where, bubble=(2, 2))]).callouts
    assert not len(over.leader)


def test_the_boundary_is_dashed_and_leads_to_its_drawing() -> None:
    display = composed(MODEL, SectionCut(line=((-1, 3), (9, 3))), 50, [mark(7, ring(0.5, 0.5, 1, 1))])
    assert "drawing:7" in [link.target for link in display.links]
    dashes = [i for i in display.items if isinstance(i, Paths) and i.role == "callout boundary"]
    assert sum(len(i.starts) - 1 for i in dashes) > 5
    assert [i.text for i in display.items if isinstance(i, Label) and i.source == "callout:drawing:7"] == ["7", "A-401"]


def called(cut: AnyCut, where: tuple[tuple[float, float], ...], **more: object) -> CalledOut:
    return CalledOut("drawing:2", 2, 1, "D1", "–", cut, where, "rectangle", **{"scale": 10.0, **more})  # type: ignore[arg-type]


def test_callouts_show_where_the_place_is_seen_in_the_same_direction() -> None:
    cut = SectionCut(line=((-1, 3), (9, 3)))
    callouts = CalledOuts(MODEL, [called(cut, ring(1, 0.5, 1, 1))])

    def seen(drawing: int, other: SectionCut, scale: float = 50.0) -> list[tuple]:
        return [m.ring[0] for m in callouts.on(MODEL, drawing, other, scale, RULE)]

    assert seen(1, cut) == [(1, 0.5)]
    assert seen(1, cut, 10.0) == [(1, 0.5)]  # its own drawing shows it at any scale
    assert seen(1, cut, 500.0) == []  # but not at one that is too small for all
    assert seen(3, SectionCut(line=((-0.5, 3), (9, 3)))) == [(0.5, 0.5)]
    assert seen(3, cut, 10.0) == []  # no larger than this
    assert seen(3, cut, 100.0) == []  # too small to see it in
    assert seen(3, cut.model_copy(update={"look": "right"})) == []
    assert seen(3, SectionCut(line=((-1, 3.1), (9, 3.1)))) == []
    assert seen(3, SectionCut(line=((4, 3), (9, 3)))) == []  # beside it
    assert seen(2, cut) == []


def test_a_callout_may_hide_itself_below_a_scale() -> None:
    cut = SectionCut(line=((-1, 3), (9, 3)))
    hidden = CalledOuts(MODEL, [called(cut, ring(1, 0.5, 1, 1), style=CalloutStyle(shown_up_to=20))])
    assert hidden.on(MODEL, 1, cut, 50, RULE) == ()
    assert len(hidden.on(MODEL, 1, cut, 20, RULE)) == 1


@pytest.mark.parametrize("kind", ["section", "plan"])
def test_heads_bubbles_and_labels_keep_clear_of_annotations(demo: Model, kind: str) -> None:
    """Words that stand where a bubble and the heads would stand are left alone: these go elsewhere."""
    scale = 100.0
    cut: AnyCut = SECTION if kind == "section" else PlanCut(storey=demo.storeys[1].guid, depth=1.5)
    shown = STANDARD.shown_cut(cut, scale)
    result = cut_model(demo, shown, STANDARD.cut_rules(demo))
    left, base, right, top = (x / 1000 for x in result.extents)
    middle = (left + right) / 2
    marks = (mark(1, ring(middle, (base + top) / 2, 0.8, 0.6)),)
    markers = (Marker(2, "A", "–", ((middle, base + 1), (middle, top - 1)), "left"),) if kind == "plan" else ()

    def boxes(standing: tuple = ()) -> list[tuple[float, ...]]:
        style = DrawingSpec(scale=scale)
        display = compose_drawing(demo, result, shown, style, STANDARD, Surroundings(markers, marks, standing=standing))
        heads = [
            i
            for i in display.items
            if isinstance(i, Paths) and i.role in ("marker head", "callout bubble") and i.closed
        ]
        found = [(*i.points.min(axis=0), *i.points.max(axis=0)) for i in heads]
        labels = [i for i in display.items if isinstance(i, Label) and i.role.startswith("room")]
        return found + [box_of(i) for i in labels]

    taken = tuple(tuple(float(x) for x in b) for b in boxes())
    assert len(taken) > (2 if kind == "plan" else 0)
    for box_, before in zip(boxes(taken[:3]), taken, strict=False):
        if before in taken[:3]:
            assert not any(shapely.box(*box_).intersection(shapely.box(*t)).area > 1.0 for t in taken[:3])
