"""Seen surfaces on paper: colours, patterns at their true size, shadows, and what files say of them."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from typing import Any

import ezdxf
import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.cut import AnyCut, ElevationCut, Perspective, SectionCut, cut_model
from edge_slice.core.cut.planes.sets import elevations_of
from edge_slice.core.cut.surfaces.regions import seen_surfaces
from edge_slice.core.drawing import DisplayList, DrawingSpec, DrawingStandard, compose_drawing, default_standard
from edge_slice.core.drawing.display import Paths
from edge_slice.core.drawing.rules.hatch_rules import Hatch
from edge_slice.core.drawing.spec import ElementLook, SurfaceStyle
from edge_slice.core.drawing.sunlight import Sun
from edge_slice.core.drawing.surfaces.colours import mixed
from edge_slice.core.drawing.surfaces.patterns import FaceBox, pattern_in
from edge_slice.core.model import Model, Storey
from edge_slice.core.render.outputs import OUTPUTS, Drawn
from tests.bodies import box, model_of, moved, rotation

LOOK = ElevationCut(line=((-1, 0), (7, 0)))
WIDE = FaceBox(1e6, 1e6, (0.0, 0.0))


def drawn(model: Model, cut: AnyCut = LOOK, scale: float = 50, **style: Any) -> DisplayList:
    standard = default_standard()
    result = cut_model(model, cut, standard.cut_rules(model))
    spec = DrawingSpec(**{"appearance": "presentation", **style}, scale=scale, levels=False, grid=False)
    return compose_drawing(model, result, cut, spec, standard)


def of(display: DisplayList, role: str) -> list[Paths]:
    return [i for i in display.items if isinstance(i, Paths) and i.role == role]


def area(paths: list[Paths], scale: float = 50) -> float:
    """Of even-odd rings, m² of the building."""
    rings = [shapely.Polygon(r) for p in paths for r in np.split(p.points, p.starts[1:-1])]
    odd = shapely.Polygon()
    for ring in rings:
        odd = odd.symmetric_difference(ring)
    return float(odd.area) * scale**2 / 1e6


def wall(material: str = "Brick") -> Model:
    return model_of(box((0, 1, 0), (4, 1.3, 3)), materials=[material])


def test_a_drawing_in_lines_has_no_surfaces_and_is_what_it_was_before_there_were_any() -> None:
    roles = {i.role for i in drawn(wall(), appearance="lines").items}
    assert not roles & {"surface fill", "surface pattern", "shadow", "profile"}


def test_a_wall_is_filled_in_the_tint_of_its_material_as_large_as_it_is() -> None:
    standard = default_standard()
    (fill,) = of(drawn(wall(), surfaces=SurfaceStyle(shade="none", strength=1.0)), "surface fill")
    assert fill.fill == mixed(standard.materials["brick"].seen_tint or "", "#ffffff", 0.3)  # as far as anything is
    assert area([fill]) == pytest.approx(12)


@pytest.mark.parametrize(
    ("style", "tints"),
    [
        ({"surfaces": SurfaceStyle(fill="colour", colour="#123456", fade=0, strength=1, shade="none")}, {"#123456"}),
        ({"surfaces": SurfaceStyle(fill="none", shadow="none", patterns=False)}, set()),
        (
            {
                "surfaces": SurfaceStyle(fade=0, strength=1, shade="none"),
                "looks": (ElementLook(kind="wall", tint="#445566"),),
            },
            {"#445566"},
        ),
    ],
    ids=["one colour", "none", "an exception"],
)
def test_fills_go_by_rule_and_by_exception(style: dict[str, Any], tints: set[str]) -> None:
    model = model_of(box((0, 1, 0), (4, 1.3, 3)), kinds=["wall"])
    assert {p.fill for p in of(drawn(model, **style), "surface fill")} == tints


def test_what_lies_far_is_paler() -> None:
    model = model_of(box((0, 1, 0), (2, 1.3, 3)), box((3, 9, 0), (5, 9.3, 3)))
    fills = of(drawn(model, surfaces=SurfaceStyle(shade="none")), "surface fill")
    near, far = (p.fill or "" for p in sorted(fills, key=lambda p: p.points[0, 0]))
    assert int(near[1:3], 16) < int(far[1:3], 16)


def courses(display: DisplayList) -> np.ndarray:
    """Heights of level strokes, mm of the building."""
    points = np.concatenate([p.points.reshape(-1, 2, 2) for p in of(display, "surface pattern")])
    level = np.abs(points[:, 0, 1] - points[:, 1, 1]) < 1e-9
    return np.unique(np.round(points[level, 0, 1] * 50, 3))


def test_courses_of_brick_lie_75_mm_apart_from_zero_and_perpends_stand_half_a_brick_aside() -> None:
    display = drawn(wall())
    heights = courses(display)
    assert np.diff(heights) == pytest.approx(75)
    assert heights[0] % 75 == pytest.approx(0, abs=1e-6)
    strokes = np.concatenate([p.points.reshape(-1, 2, 2) for p in of(display, "surface pattern")]) * 50
    upright = strokes[np.abs(strokes[:, 0, 0] - strokes[:, 1, 0]) < 1e-6]
    rows = {round(min(s[:, 1]) / 75): set() for s in upright}
    for s in upright:
        rows[round(min(s[:, 1]) / 75)].add(round(float(s[0, 0]), 1) % 225)
    assert len(rows[4]) == 1
    assert abs(rows[4].pop() - rows[5].pop()) == pytest.approx(112.5)


def test_courses_run_on_round_corners_and_over_neighbours() -> None:
    """Two walls of a corner, of which the second turns away, and a third that stands higher."""
    model = model_of(
        box((0, 1, 0), (3, 1.3, 3)),
        moved(box((0, 0, 0), (3, 0.3, 3)), rotation(0, 0, -0.7), np.array([3.0, 1.0, 0.0])),
        box((-2, 1, 0.4), (0, 1.3, 2.9)),
        materials=["Brick"] * 3,
    )
    heights = courses(drawn(model, ElevationCut(line=((-3, -4), (7, -4)))))
    assert np.diff(heights) == pytest.approx(75)


@pytest.mark.parametrize(
    ("start", "lowest", "perpend"),
    [
        ({"at": "zero"}, 75, 0),
        ({"at": "corner"}, 40, 30),
        ({"at": "place", "place": (0.1, 0, 0.02)}, 95, 100),
        ({"at": "storey"}, 75, 0),
    ],
)
def test_courses_begin_where_they_are_told_to(start: dict[str, Any], lowest: float, perpend: float) -> None:
    """A wall whose lower left corner is at (0.03, 0.04)."""
    model = model_of(box((0.03, 1, 0.04), (4, 1.3, 3)), materials=["Brick"])
    display = drawn(model, surfaces={"pattern_start": start})
    heights = courses(display)
    assert (heights[0] - lowest) % 75 == pytest.approx(0, abs=1e-3)
    strokes = np.concatenate([p.points.reshape(-1, 2, 2) for p in of(display, "surface pattern")]) * 50
    upright = strokes[np.abs(strokes[:, 0, 0] - strokes[:, 1, 0]) < 1e-6][:, 0, 0] - 1000.0  # the line begins at -1
    aside = (upright - perpend) % 112.5
    assert np.minimum(aside, 112.5 - aside).max() < 1e-3


def test_courses_begin_at_the_floor_of_their_storey() -> None:
    walls = model_of(box((0, 1, 0.02), (4, 1.3, 3)), box((0, 1, 3), (4, 1.3, 6)), materials=["Brick", "Brick"])
    storeys = (Storey("a", "", 0.02), Storey("b", "", 3.04))
    elements = tuple(replace(e, storey=k) for k, e in enumerate(walls.elements))
    model = replace(walls, storeys=storeys, elements=elements)
    heights = courses(drawn(model, surfaces={"pattern_start": {"at": "storey"}}))
    lower, upper = heights[heights < 2999], heights[heights > 3001]
    assert (lower - 20) % 75 == pytest.approx(0, abs=1e-3)
    assert (upper - 3040) % 75 == pytest.approx(0, abs=1e-3)


@given(st.floats(0.2, 1.3))
def test_a_pattern_on_a_slope_is_foreshortened_as_the_slope_is(slope: float) -> None:
    roof = moved(box((0, 0, 0), (4, 3, 0.2)), rotation(slope, 0, 0), np.array([0.0, 1.0, 0.0]))
    result = cut_model(model_of(roof), LOOK)
    top = max(seen_surfaces(result).regions, key=lambda r: r.normal[2])
    lines = Hatch.model_validate({"families": [{"angle": 0, "spacing": 300, "model": True, "least": 0.01}]})
    found = pattern_in(top, lines, WIDE, 50, 0.1)
    heights = np.unique(np.round(found.even[0][:, 1], 6))
    assert np.diff(heights) == pytest.approx(300 * np.sin(slope), rel=1e-6)


def test_a_pattern_on_a_wall_in_perspective_runs_to_its_vanishing_point() -> None:
    side = box((3, 1, 0), (3.3, 9, 3))
    cut = SectionCut(line=((-4, 0), (4, 0)), depth=20, perspective=Perspective(distance=5, eye=(4.0, 1.5)))
    result = cut_model(model_of(side), cut)
    region = max(seen_surfaces(result).regions, key=lambda r: -r.normal[0])
    lines = Hatch.model_validate({"families": [{"angle": 0, "spacing": 500, "model": True, "least": 0.01}]})
    found = pattern_in(region, lines, WIDE, 50, 0.1).even[0].reshape(-1, 2, 2)
    assert len(found) >= 4
    eye = np.array([4000.0, 1500.0])
    for a, b in found:
        step = b - a
        assert abs(np.cross(step, eye - a)) / np.hypot(*step) < 1e-6


def test_a_pattern_finer_than_print_is_a_tint_of_its_grey() -> None:
    fine, coarse = drawn(wall(), scale=200), drawn(wall(), scale=50)
    assert not of(fine, "surface pattern")
    assert of(coarse, "surface pattern")
    (tint,), (plain,) = of(fine, "surface fill"), of(coarse, "surface fill")
    assert int((tint.fill or "")[1:3], 16) < int((plain.fill or "")[1:3], 16)


def test_patterns_of_more_lines_than_a_drawing_may_have_are_left_out_and_that_is_said() -> None:
    huge = model_of(box((0, 1, 0), (150, 1.3, 150)), materials=["Brick"])
    display = drawn(huge, ElevationCut(line=((-1, 0), (151, 0))))
    assert sum(len(p.points) for p in of(display, "surface pattern")) < 10_000  # its courses alone
    assert of(display, "surface fill")
    assert any("too many lines at 1:50" in finding for finding in display.findings)


def test_a_post_narrower_than_its_boards_has_none() -> None:
    post, broad = (model_of(box((0, 1, 0), (w, 1.3, 3)), materials=["Timber"]) for w in (0.2, 2.0))
    assert not of(drawn(post), "surface pattern")
    assert of(drawn(broad), "surface pattern")


def test_eaves_throw_their_shadow_on_the_wall() -> None:
    """An eave 0.5 m before a wall: 0.5 m of shadow below it, at 45°."""
    model = model_of(box((0, 2, 0), (4, 2.3, 3)), box((-9, 1.5, 3), (13, 2.3, 3.2)))
    cut = ElevationCut(line=((-10, 0), (14, 0)))
    plain = SurfaceStyle(shade="none", fade=0, patterns=False)
    dark = min(of(drawn(model, cut, surfaces=plain), "surface fill"), key=lambda p: p.fill or "")
    assert area([dark]) == pytest.approx(4 * 0.5)
    hatched = of(drawn(model, cut, surfaces=plain.model_copy(update={"shadow": "hatch"})), "shadow")
    outlined = of(drawn(model, cut, surfaces=plain.model_copy(update={"shadow": "outline"})), "shadow")
    assert hatched[0].pattern is not None
    assert area(outlined) == pytest.approx(4 * 0.5)


def test_clear_glass_tints_what_shows_through_it() -> None:
    model = model_of(box((0, 2, 0), (4, 2.3, 3)), box((1, 1, 1), (3, 1.02, 2)), materials=["Brick", "Glass"])
    cut = ElevationCut(line=((-1, 0), (7, 0)), glass="clear")
    fills = of(drawn(model, cut, surfaces=SurfaceStyle(shade="none", shadow="none")), "surface fill")
    assert sorted(round(area([p]), 3) for p in fills) == [2.0, 10.0]


def test_a_line_runs_round_the_building_but_not_along_its_openings() -> None:
    model = model_of(box((0, 1, 0), (4, 1.3, 3)), box((4, 1.5, 0), (6, 1.8, 2)))
    (profile,) = of(drawn(model, surfaces={"outline": 0.0}), "profile")
    points = profile.points * 50
    length = np.hypot(*np.diff(np.vstack((points, points[:1])), axis=0).T).sum()
    assert length == pytest.approx(2 * 6000 + 2 * 3000, rel=1e-3)
    assert profile.pen is not None
    assert profile.pen.width == 0.5


def heavy(model: Model, gap: float, cut: AnyCut = LOOK) -> shapely.Geometry:
    """The lines beyond which the view goes on deeper, metres in the drawing."""
    style = {"profile": 0.0, "outline": 0.4, "outline_gap": gap, "shadow": "none"}
    paths = of(drawn(model, cut, surfaces=style), "profile")
    runs = [run * 0.05 for p in paths for run in np.split(p.points, p.starts[1:-1])]
    return shapely.union_all([shapely.LineString(run) for run in runs])


@pytest.mark.parametrize("lens", [None, Perspective(distance=9.0, eye=(4.0, 1.6))])
def test_lines_are_heavier_where_what_lies_behind_is_farther_by_the_gap(lens: Perspective | None) -> None:
    """A block 1.5 m before a wall that reaches as high as its middle, and beyond it on one side."""
    cut = LOOK.model_copy(update={"perspective": lens})
    wall, block = box((0, 3, 0), (4, 3.3, 1)), box((2, 1, 0), (6, 1.5, 2))
    model = model_of(wall, block)
    near = heavy(model, 1.0, cut)
    if lens is None:
        edge = shapely.LineString([(3, 0), (3, 2)])  # the block's left side, over the wall and over the sky
        assert near.buffer(1e-3).covers(edge)
        assert near.buffer(1e-3).covers(shapely.LineString([(1, 0), (1, 1), (3, 1)]))  # the wall against the sky
        assert not near.buffer(1e-3).intersects(shapely.LineString([(3.1, 0.5), (6.9, 0.5)]))
    over_wall = shapely.LineString([(3, 0.05), (3, 0.95)]) if lens is None else None
    far = heavy(model, 5.0, cut)
    assert far.length < near.length
    if over_wall is not None:
        assert not far.buffer(1e-3).intersects(over_wall)


def test_a_joint_between_two_blocks_is_no_outline() -> None:
    model = model_of(box((0, 1, 0), (2, 1.3, 2)), box((2.008, 1, 0), (4, 1.3, 2)))
    found = heavy(model, 1.0)
    assert found.envelope.bounds == pytest.approx((1, 0, 5, 2))
    assert not found.intersects(shapely.box(2.5, 0.5, 3.5, 1.5))


@pytest.mark.parametrize("form", ["svg", "pdf", "dxf", "png"])
def test_files_have_surfaces_on_layers_of_their_own_and_are_the_same_twice(demo: Model, form: str) -> None:
    cut = elevations_of(demo, ("planting",))[3]
    made = [OUTPUTS[form].file(Drawn(drawn(demo, cut, 100), (0, 0, 400, 150), "x", 100)) for _ in range(2)]
    assert made[0] == made[1]
    if form == "svg":
        assert b'class="surface-fill"' in made[0]
    if form == "dxf":
        document = ezdxf.read(io.StringIO(made[0].decode()))
        hatches = {e.dxf.layer for e in document.modelspace().query("HATCH")}
        assert {layer for layer in hatches if "SURFIL" in layer}
        assert {layer for layer in hatches if "SURPAT" in layer}  # even patterns as hatches, not as lines


@pytest.mark.parametrize(
    ("sun", "words"),
    [
        ({"by": "hour", "latitude": 54, "longitude": -2, "when": "2026-06-21T01:00+00:00"}, "over the horizon"),
        ({"by": "hour", "latitude": 54, "longitude": -2, "when": "2026-06-21T12:00"}, "needs its zone"),
        ({"by": "hour", "latitude": 54}, "needs a place and a time"),
        ({"by": "bearing", "height": 0}, "greater than or equal to 1"),
        ({"by": "moon"}, "'view', 'bearing' or 'hour'"),
    ],
)
def test_a_sun_that_lights_nothing_is_refused_in_words(sun: dict[str, Any], words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        Sun.model_validate(sun)


def test_a_standard_that_was_given_away_before_has_the_shipped_appearances() -> None:
    document = json.loads(default_standard().model_dump_json())
    del document["appearances"], document["pens"]["surface pattern"]
    for rule in document["materials"].values():
        del rule["pattern"], rule["seen_tint"]
    standard = DrawingStandard.model_validate(document)
    assert set(standard.appearances) == {"lines", "presentation"}
    assert standard.appearance_of(DrawingSpec(appearance="gone")).shows is False


def test_a_pattern_that_is_no_hatch_of_the_standard_is_refused() -> None:
    document = json.loads(default_standard().model_dump_json())
    document["materials"]["brick"]["pattern"] = "herringbone"
    with pytest.raises(ValidationError, match="herringbone"):
        DrawingStandard.model_validate(document)
