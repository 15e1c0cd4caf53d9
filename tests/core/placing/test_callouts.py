"""Callouts show exactly what their drawing shows there, follow it, and hold on to the model."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.cut import BlankCut, CutResult, ImpossibleCut, Perspective, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.following.callouts import (
    Callout,
    Form,
    Region,
    anchored,
    beginning_scale,
    derived,
    region_of,
)
from edge_slice.core.model import Model
from tests.bodies import box, model_of, moved, rotation

# walls, a slab, a roof, and bodies that stand askew
MODEL = model_of(
    box((0, 0, 0), (0.3, 6, 3)), box((7.7, 0, 0), (8, 6, 3)),
    box((0, 0, -0.3), (8, 6, 0)), box((-0.5, -0.5, 3), (8.5, 6.5, 3.4)),
    moved(box((-0.5, -0.5, 0), (0.5, 0.5, 1.5)), rotation(0.2, 0.3, 0.4), np.array([3.0, 3.0, 0.4])),
    moved(box((-0.4, -0.2, 0), (0.4, 0.2, 2.2)), rotation(0.0, 0.0, 0.7), np.array([5.5, 4.5, 0.0])),
)  # fmt: skip
SECTION = SectionCut(line=((-2, 3), (10, 3)), depth=5)
PLAN = PlanCut(storey="storey-0", height=1.2)


def called(parent: object, region: Region, form: Form = "detail", model: Model = MODEL, **own: object) -> object:
    callout = Callout(region=region, form=form)
    return derived(model, parent, parent.model_copy(update=own), callout).cut  # type: ignore[arg-type, attr-defined]


def areas(result: CutResult, within: shapely.Geometry) -> dict[tuple[int, int], shapely.Geometry]:
    found: dict[tuple[int, int], list[shapely.Geometry]] = {}
    for face in result.faces:
        found.setdefault((face.element, face.layer), []).append(shapely.intersection(face.polygon, within))
    return {k: shapely.union_all(v) for k, v in found.items() if shapely.union_all(v).area > 1e-3}


def lines(result: CutResult, within: shapely.Geometry) -> dict[int, shapely.Geometry]:
    """The lines of each role, well inside. Not by element: a line along which two bodies touch belongs to the one
    that has more of it, and how much of it there is depends on the extents."""
    found = {}
    for role in set(result.lines.role.tolist()):
        rows = result.lines.role == role
        shape = shapely.union_all(shapely.linestrings(result.lines.points[rows].reshape(-1, 2, 2)))
        inside = shapely.intersection(shape, within)
        if inside.length > 1.0:
            found[role] = inside
    return found


def assert_same_there(parent: CutResult, callout: CutResult, region: Region) -> None:
    """Faces and lines of both are the same within the region, to 1e-6 m."""
    window = shapely.Polygon(region.outline * 1000.0)
    shown = shapely.box(*callout.extents) if callout.polygon is None else callout.polygon
    inner = shown.intersection(window).buffer(-0.01)
    ours, theirs = areas(callout, inner), areas(parent, inner)
    assert ours.keys() == theirs.keys()
    for key, shape in ours.items():
        assert shapely.hausdorff_distance(shape.boundary, theirs[key].boundary) < 1e-3  # mm
    drawn, there = lines(callout, inner), lines(parent, inner)
    assert drawn.keys() == there.keys()
    for role, line in drawn.items():
        assert shapely.hausdorff_distance(line, there[role]) < 1e-3


@st.composite
def sections(draw: st.DrawFn) -> SectionCut:
    turn = draw(st.floats(-0.6, 0.6))
    y = draw(st.floats(1.0, 5.0))
    a, b = (4 - 6 * math.cos(turn), y - 6 * math.sin(turn)), (4 + 6 * math.cos(turn), y + 6 * math.sin(turn))
    line = [a, b]
    if draw(st.booleans()):  # a step in the middle
        by = draw(st.floats(0.3, 1.2))
        normal = (-math.sin(turn) * by, math.cos(turn) * by)
        middle = (4.0, y)
        line = [a, middle, (middle[0] + normal[0], middle[1] + normal[1]), (b[0] + normal[0], b[1] + normal[1])]
    look = draw(st.sampled_from(["left", "right"]))
    return SectionCut.model_validate({"line": line, "look": look, "depth": draw(st.floats(1.0, 8.0))})


@st.composite
def regions(draw: st.DrawFn, left: float = 0.5, right: float = 11.5, base: float = -0.3, top: float = 3.5) -> Region:
    u, v = draw(st.floats(left, right)), draw(st.floats(base, top))
    wide, high = draw(st.floats(0.2, 4.0)), draw(st.floats(0.2, 3.0))
    shape = draw(st.sampled_from(["rectangle", "circle", "polygon"]))
    points = {
        "rectangle": [(u, v), (u + wide, v + high)],
        "circle": [(u, v), (u + wide / 2, v)],
        "polygon": [(u, v), (u + wide, v), (u + wide, v + high / 2), (u, v + high)],
    }[shape]
    return Region.model_validate({"shape": shape, "points": points})


@settings(max_examples=60)
@given(sections(), regions())
def test_a_callout_shows_what_its_drawing_shows_there(section: SectionCut, region: Region) -> None:
    cut = called(section, region)
    assert_same_there(cut_model(MODEL, section), cut_model(MODEL, cut), region)  # type: ignore[arg-type]


@settings(max_examples=30)
@given(sections(), regions(right=8.0, top=2.0), st.floats(0.1, 0.5), st.floats(0.1, 0.5))
def test_nested_callouts_too(section: SectionCut, region: Region, x: float, y: float) -> None:
    outer = called(section, region)
    left, base, right, top = region.bounds
    wide, high = (right - left) * 0.4, (top - base) * 0.4
    inner = Region(points=((left + x * wide, base + y * high), (left + x * wide + wide, base + y * high + high)))
    cut = called(outer, inner)
    assert_same_there(cut_model(MODEL, section), cut_model(MODEL, cut), inner)  # type: ignore[arg-type]


def test_plans_and_perspectives_are_called_out_too() -> None:
    region = Region(points=((2, 2), (6, 5.5)))
    assert_same_there(cut_model(MODEL, PLAN), cut_model(MODEL, called(PLAN, region)), region)  # type: ignore[arg-type]
    seen = SECTION.model_copy(update={"perspective": Perspective(field_of_view=60)})
    region = Region(points=((4, 0.5), (7, 2.5)))
    assert_same_there(cut_model(MODEL, seen), cut_model(MODEL, called(seen, region)), region)  # type: ignore[arg-type]


def test_depth_and_what_shows_are_its_own_the_rest_is_its_drawings() -> None:
    parent = SECTION.model_copy(update={"without": ("wall",)})
    region = Region(points=((2, -0.4), (5, 1)))
    own = parent.model_copy(update={"depth": 0.5, "without": (), "hidden": "dashed"})
    shared = derived(MODEL, parent, own, Callout(region=region)).cut
    assert isinstance(shared, SectionCut)
    assert (shared.depth, shared.without, shared.hidden, shared.line) == (5, (), "dashed", parent.line)
    deep = derived(MODEL, parent, own, Callout(region=region, own_depth=True, form="wall")).cut
    assert isinstance(deep, SectionCut)
    assert (deep.depth, deep.of) == (0.5, "wall")


def test_the_region_follows_the_wall_and_the_level_it_is_tied_to() -> None:
    region = anchored(MODEL, SECTION, Region(points=((9.2, 2.5), (10.3, 3.6))))
    assert region.u is not None
    assert region.v is not None
    assert (region.u.name, region.u.at, region.v.to) == ("element-1", pytest.approx(9.7), "level")
    wall = box((8.1, 0, 0), (8.4, 6, 3))
    bodies = [box((0, 0, 0), (0.3, 6, 3)), wall]
    moved_wall = model_of(*bodies)
    storeys = (replace(moved_wall.storeys[0], elevation=0.25),)
    changed = replace(moved_wall, storeys=storeys)
    now = derived(changed, SECTION, SECTION, Callout(region=region))
    assert now.region.bounds == pytest.approx((9.6, 2.75, 10.7, 3.85))
    assert now.finding == ""
    gone = derived(model_of(bodies[0]), SECTION, SECTION, Callout(region=region))
    assert gone.region.points == region.points
    assert "is not there any more" in gone.finding


def test_the_region_follows_a_wall_that_stands_askew_when_the_section_moves() -> None:
    model = model_of(moved(box((-0.15, -6, 0), (0.15, 6, 3)), rotation(0, 0, -math.pi / 4), np.array([4.0, 3.0, 0.0])))
    region = anchored(model, SECTION, Region(points=((5.5, 1), (6.5, 2))))
    further = SECTION.model_copy(update={"line": ((-2, 4), (10, 4))})
    now = derived(model, further, further, Callout(region=region)).region
    shift = now.points[0][0] - region.points[0][0]
    assert abs(shift) == pytest.approx(1.0)
    assert_same_there(cut_model(model, further), cut_model(model, called(further, region, model=model)), now)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("points", "shape", "word"),
    [
        (((1, 1), (1, 2)), "rectangle", "no size"),
        (((1, 1), (1, 1)), "circle", "no size"),
        (((0, 0), (2, 2), (2, 0), (0, 2)), "polygon", "must not cross"),
        (((0, 0), (1, 1)), "polygon", "three corners"),
        (((0, 0), (1, 1), (2, 0)), "circle", "two points"),
    ],
)
def test_impossible_regions_are_refused_in_words(points: tuple, shape: str, word: str) -> None:
    with pytest.raises(ValidationError, match=word):
        Region.model_validate({"points": points, "shape": shape})


def test_a_region_must_lie_in_its_drawing() -> None:
    with pytest.raises(ImpossibleCut, match="outside the drawing"):
        called(SECTION, Region(points=((50, 1), (52, 2))))
    with pytest.raises(ImpossibleCut, match="nothing to call out"):
        called(BlankCut(), Region(points=((0.1, 0.1), (0.5, 0.5))))


def test_scales_begin_with_the_form_and_grow() -> None:
    assert [beginning_scale("detail", s) for s in (100, 50, 20, 10, 5, 1, 0.2)] == [10, 10, 10, 5, 2, 0.5, 0.2]
    assert [beginning_scale("wall", s) for s in (100, 20, 10)] == [20, 10, 5]


def test_changed_extents_are_a_changed_region() -> None:
    cut = called(SECTION, Region(points=((2, 0), (4, 2))))
    wider = cut.extents.model_copy(update={"right": 5.0, "top": None})  # type: ignore[attr-defined]
    assert region_of(wider, Region(points=((2, 0), (4, 2)))).bounds == (2, 0, 5, 2)


def test_a_blank_detail_has_its_size_and_nothing_in_it() -> None:
    result = cut_model(MODEL, BlankCut(width=0.5, height=0.3))
    assert result.extents == (0, 0, 500, 300)
    assert result.is_empty
