"""Every way to cut: steps, turns, free planes, elevations, ceilings, perspective, polygons and clear glass."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import (
    CutResult,
    ElevationCut,
    Extents,
    ImpossibleCut,
    MaterialRules,
    Perspective,
    PlanCut,
    PlaneCut,
    Role,
    SectionCut,
    cut_model,
    leaves_of,
)
from edge_slice.core.cut.planes.sets import (
    elevation_facing,
    elevations_of,
    facing_of,
    interior_elevations_of,
    plans_of,
    wind,
)
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model, Space
from tests.bodies import box, model_of, moved, rotation


def total(result: CutResult) -> float:
    return sum(f.polygon.area for f in result.faces) / 1e6


def length(result: CutResult, role: Role = Role.SEEN, element: int | None = None) -> float:
    lines = result.lines
    chosen = lines.role == role
    if element is not None:
        chosen &= lines.element == element
    p = lines.points[chosen]
    return float(np.hypot(p[:, 2] - p[:, 0], p[:, 3] - p[:, 1]).sum())


ROW = model_of(box((0, 0, 0), (4, 1, 3)), box((4, 3, 0), (8, 4, 2)))
STEPPED = SectionCut(line=((-1, 0.5), (4, 0.5), (4, 3.5), (9, 3.5)), extents=Extents(base=-1, top=4))


def test_stepped_cut_passes_through_what_lies_behind_each_other() -> None:
    result = cut_model(ROW, STEPPED)
    assert len(result.leaves) == 2
    assert result.steps == (5000.0,)
    assert total(result) == pytest.approx(4 * 3 + 4 * 2, rel=1e-9)
    assert result.extents == (0.0, -1000.0, 10000.0, 4000.0)


def test_both_looks_at_a_stepped_line_cut_the_same_and_mirror_it() -> None:
    left = cut_model(ROW, STEPPED)
    right = cut_model(ROW, STEPPED.model_copy(update={"look": "right"}))
    mirrored = sorted(tuple(np.round((10000 - b[2], b[1], 10000 - b[0], b[3]), 6)) for b in _bounds(right))
    assert mirrored == sorted(tuple(np.round(b, 6)) for b in _bounds(left))


def _bounds(result: CutResult) -> list[tuple[float, ...]]:
    return [f.polygon.bounds for f in result.faces]


@given(st.lists(st.tuples(st.floats(0.5, 4), st.floats(-1.5, 1.5)), min_size=2, max_size=6))
@settings(max_examples=25)
def test_any_number_of_steps_through_one_slab_leaves_one_face(legs: list[tuple[float, float]]) -> None:
    points, x = [(0.0, legs[0][1])], 0.0
    for k, (run, y) in enumerate(legs):
        if k and abs(y - points[-1][1]) > 0.02:
            points.append((x, y))
        x += run
        points.append((x, points[-1][1]))
    result = cut_model(model_of(box((-1, -9, 0), (40, 9, 0.3))), SectionCut(line=tuple(points)))
    assert len(result.faces) == 1
    assert result.faces[0].polygon.area == pytest.approx(x * 1000 * 300, rel=1e-6)


def test_what_a_step_skips_is_not_cut_and_each_leg_has_its_depth() -> None:
    model = model_of(box((0, 5, 0), (2, 6, 2)), box((6, 5, 0), (8, 6, 2)))
    line = ((-1, 0), (4, 0), (4, 1), (9, 1))
    both = cut_model(model, SectionCut(line=line, depths=(None, 20), extents=Extents(base=-1, top=3)))
    near = cut_model(model, SectionCut(line=line, depths=(2, None), extents=Extents(base=-1, top=3)))
    assert set(both.lines.element.tolist()) == {0, 1}
    assert set(near.lines.element.tolist()) == {1}
    assert near.reach is None


def test_wrong_number_of_depths_and_lines_that_turn_back_are_refused() -> None:
    with pytest.raises(ImpossibleCut, match="2 cutting legs but 3 depths"):
        leaves_of(ROW, STEPPED.model_copy(update={"depths": (1, 2, 3)}))
    with pytest.raises(ImpossibleCut, match="turns back"):
        leaves_of(ROW, SectionCut(line=((0, 0), (5, 0), (1, 0.1))))


def test_turned_legs_unfold_into_one_plane() -> None:
    """A ring of walls cut along two of its sides: each side shows in its own length."""
    model = model_of(box((-9, -9, 0), (9, 9, 1)))
    around = SectionCut(line=((-3, 0), (2, 0), (2, 4)), extents=Extents(base=-1, top=2))
    result = cut_model(model, around)
    assert [leaf.axes.u.tolist() for leaf in result.leaves] == [[1, 0, 0], [0, 1, 0]]
    assert result.extents[2] == 9000
    assert total(result) == pytest.approx(9 * 1, rel=1e-9)
    slanting = cut_model(model, SectionCut(line=((-3, 0), (0, 0), (2, 2)), extents=Extents(base=-1, top=2)))
    assert total(slanting) == pytest.approx(3 + math.sqrt(8), rel=1e-9)


def test_right_angles_turn_when_asked_to() -> None:
    steps = leaves_of(ROW, STEPPED)
    turns = leaves_of(ROW, STEPPED.model_copy(update={"corners": "turns"}))
    assert (len(steps), len(turns)) == (2, 3)


plane = st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)).filter(lambda n: math.hypot(*n) > 0.1)


@given(plane, st.tuples(st.floats(0, 6), st.floats(0, 6), st.floats(0, 6)), st.floats(-0.5, 0.5))
@settings(max_examples=40)
def test_free_plane_through_a_ball_of_facets_cuts_the_hull_of_its_crossings(
    normal: tuple[float, float, float], turn: tuple[float, float, float], at: float
) -> None:
    vertices, triangles = moved(box((-1, -0.8, -0.6), (1, 0.8, 0.6)), rotation(*turn), np.zeros(3))
    n = np.array(normal) / math.hypot(*normal)
    points = []
    for t in triangles:
        for i, j in ((t[0], t[1]), (t[1], t[2]), (t[2], t[0])):
            a, b = vertices[i] @ n - at, vertices[j] @ n - at
            if a * b < 0:
                points.append(vertices[i] + (vertices[j] - vertices[i]) * a / (a - b))
    result = cut_model(model_of((vertices, triangles)), PlaneCut(point=tuple(n * at), normal=normal))
    if len(points) < 3:
        return
    across = np.linalg.svd(np.array(points) - points[0])[2][:2]
    expected = shapely.MultiPoint(np.array(points) @ across.T).convex_hull.area
    if expected > 1e-3:
        assert total(result) == pytest.approx(expected, rel=1e-6)


def test_level_free_plane_is_a_plan() -> None:
    model = model_of(box((0, 0, 0), (2, 1, 3)))
    free = cut_model(model, PlaneCut(point=(0, 0, 1.2), normal=(0, 0, 1)))
    plan = cut_model(model, PlanCut(storey="storey-0"))
    assert free.faces[0].polygon.bounds == pytest.approx(plan.faces[0].polygon.bounds)
    assert free.axes.w.tolist() == plan.axes.w.tolist() == [0, 0, -1]


def test_ceiling_plan_overlies_the_plan_and_shows_what_hangs_above() -> None:
    model = model_of(box((0, 0, 0), (4, 0.3, 3)), box((1, 1, 2.5), (2, 3, 2.8)), box((3, 1, 0), (3.5, 2, 0.5)))
    plan = cut_model(model, PlanCut(storey="storey-0", depth=1.2))
    ceiling = cut_model(model, PlanCut(storey="storey-0", look="up"))
    assert [f.polygon.bounds for f in ceiling.faces] == [f.polygon.bounds for f in plan.faces]
    assert length(ceiling, element=1) == pytest.approx(6000, abs=1)
    assert length(ceiling, element=2) == 0
    box_in_plan = ceiling.lines.points[ceiling.lines.element == 1]
    assert (box_in_plan[:, ::2].min(), box_in_plan[:, ::2].max()) == pytest.approx((1000, 2000))


# perspective


def test_perspective_keeps_the_cut_true_and_draws_what_lies_behind_smaller() -> None:
    model = model_of(box((-2, -0.2, 0), (-1, 0.2, 3)), box((1, 5, 0), (2, 6, 2)))
    spec = SectionCut(
        line=((-5, 0), (5, 0)), extents=Extents(base=0, top=4), perspective=Perspective(distance=5, eye=(5, 1))
    )
    flat = cut_model(model, spec.model_copy(update={"perspective": None}))
    deep = cut_model(model, spec)
    assert [f.polygon.bounds for f in deep.faces] == [f.polygon.bounds for f in flat.faces]
    near = deep.lines.points[(deep.lines.element == 1)]
    # the near face of the box, 5 m behind, appears at half size about the eye (5, 1)
    front = near[(near[:, 0] >= 5499) & (near[:, 2] >= 5499)]
    assert front[:, [0, 2]].max() == pytest.approx(5000 + 2000 / 2, abs=0.1)
    assert front[:, [1, 3]].max() == pytest.approx(1000 + 1000 / 2, abs=0.1)
    assert deep.lines.depth[deep.lines.element == 1].min() == pytest.approx(5000, abs=1)


def test_field_of_view_is_a_distance() -> None:
    model = model_of(box((-1, 3, 0), (1, 4, 2)))
    line = ((-4, 0), (4, 0))
    extents = Extents(base=0, top=3)
    wide = cut_model(model, SectionCut(line=line, extents=extents, perspective=Perspective(field_of_view=90)))
    near = cut_model(model, SectionCut(line=line, extents=extents, perspective=Perspective(distance=4)))
    assert wide.lens is not None
    assert near.lens is not None
    assert wide.lens.distance == pytest.approx(near.lens.distance)
    assert wide.lines.points == pytest.approx(near.lines.points)


@given(
    st.lists(st.tuples(st.floats(-2, 2), st.floats(2, 7), st.floats(-1, 1), st.floats(0, 6)), min_size=2, max_size=5)
)
@settings(max_examples=15)
def test_perspective_hidden_lines_agree_with_rays_from_the_eye(places: list[tuple[float, ...]]) -> None:
    """Points in the middle of seen pieces are met first by a ray from the eye, by brute force over all triangles."""
    bodies = [
        moved(box((-0.5, -0.4, -0.3), (0.5, 0.4, 0.3)), rotation(p[3], p[3] / 2, 0), np.array(p[:3])) for p in places
    ]
    model = model_of(*bodies)
    spec = SectionCut(
        line=((-4, 0), (4, 0)), extents=Extents(base=-3, top=3), perspective=Perspective(distance=3, eye=(4, 0))
    )
    result = cut_model(model, spec)
    assert result.lens is not None
    eye = np.array([4000.0, 0.0, -3000.0])
    points = result.axes.to_drawing(model.mesh.vertices)[model.mesh.triangles]
    lines = result.lines
    wrong = 0
    for p, depth in zip((lines.points[:, :2] + lines.points[:, 2:]) / 2, lines.depth, strict=True):
        ray = np.array([p[0], p[1], 0.0]) - eye
        hits = _hits(eye, ray, points)
        seen = min((h for h in hits), default=np.inf)
        wrong += seen * np.linalg.norm(ray) < np.linalg.norm(ray) * (depth + 3000) / 3000 - 60
    assert wrong <= 0.03 * len(lines.points) + 1


def _hits(origin: np.ndarray, ray: np.ndarray, corners: np.ndarray) -> list[float]:
    """Where a ray meets triangles (Moeller and Trumbore 1997), a little within their sides."""
    e1, e2 = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    h = np.cross(ray, e2)
    a = np.einsum("ij,ij->i", e1, h)
    ok = np.abs(a) > 1e-3
    a = np.where(ok, a, 1.0)
    s = origin - corners[:, 0]
    u = np.einsum("ij,ij->i", s, h) / a
    q = np.cross(s, e1)
    v = np.einsum("j,ij->i", ray, q) / a
    t = np.einsum("ij,ij->i", e2, q) / a
    inside = ok & (u > 0.01) & (v > 0.01) & (u + v < 0.99) & (t > 1.0)
    return t[inside].tolist()


def test_perspective_wants_one_measure() -> None:
    with pytest.raises(ValueError, match="one of both"):
        Perspective()
    with pytest.raises(ValueError, match="one of both"):
        Perspective(distance=3, field_of_view=60)


# extents and glass


def test_polygon_crops_faces_and_lines() -> None:
    model = model_of(box((0, -1, 0), (4, 1, 4)), box((-1, 3, 0), (5, 4, 6)))
    triangle = ((0.0, 0.0), (4.0, 0.0), (0.0, 4.0))
    spec = SectionCut(line=((0, 0), (4, 0)), extents=Extents(base=-1, top=9, polygon=triangle))
    result = cut_model(model, spec)
    assert total(result) == pytest.approx(8, rel=1e-9)
    assert result.extents == pytest.approx((0, 0, 4000, 4000))
    inside = shapely.Polygon(np.array(triangle) * 1000).buffer(0.01)
    assert inside.contains(shapely.linestrings(result.lines.points.reshape(-1, 2, 2))).all()


@pytest.mark.parametrize("corners", [((0, 0), (1, 1)), ((0, 0), (2, 2), (2, 0), (0, 2)), ((0, 0), (1, 0), (2, 0))])
def test_polygons_that_enclose_nothing_or_cross_themselves_are_refused(corners: tuple) -> None:
    with pytest.raises(ValueError, match="polygon"):
        Extents(polygon=corners)


def test_clear_glass_shows_what_stands_behind_it() -> None:
    model = model_of(
        box((-2, 1, 0), (2, 1.1, 3)),
        box((-1, 3, 1), (1, 4, 2)),
        materials=["Glass", "Concrete"],
        kinds=["window", "wall"],
    )
    spec = SectionCut(line=((-5, 0), (5, 0)), extents=Extents(base=-1, top=4))
    rules = default_standard().cut_rules(model)
    solid = cut_model(model, spec, rules)
    clear = cut_model(model, spec.model_copy(update={"glass": "clear"}), rules)
    assert length(solid, element=1) == 0
    assert length(clear, element=1) == pytest.approx(6000, abs=1)
    assert length(clear, element=0) == pytest.approx(length(solid, element=0), abs=1)


def test_cut_glass_hides_what_lies_behind_its_cut_face() -> None:
    model = model_of(box((-2, -0.1, 0), (2, 0.1, 3)), box((-1, 3, 1), (1, 4, 2)), materials=["Glass", "Concrete"])
    rules = MaterialRules(np.zeros(3), np.array([True, False, False]), np.zeros(3, bool))
    spec = SectionCut(line=((-5, 0), (5, 0)), extents=Extents(base=-1, top=4), glass="clear")
    assert length(cut_model(model, spec, rules), element=1) == 0


# sets


@pytest.mark.parametrize("turned", [0.0, 20.0, -20.0, 90.0])
def test_four_elevations_are_named_by_true_north(turned: float) -> None:
    a = math.radians(turned)
    model = replace(model_of(box((0, 0, 0), (4, 2, 3))), north=(math.sin(a), math.cos(a)))
    cuts = elevations_of(model)
    assert [wind(facing_of(model, c)) for c in cuts] == ["north", "east", "south", "west"]
    north = cuts[0]
    looking = leaves_of(model, north)[0].axes.w[:2]
    assert looking @ np.array(model.north) == pytest.approx(-math.cos(math.radians((turned + 45) % 90 - 45)), abs=1e-6)


@given(st.floats(0, 359.9))
@settings(max_examples=20)
def test_elevation_at_a_bearing_faces_it_and_stands_clear(degrees: float) -> None:
    model = replace(model_of(box((1, 2, 0), (5, 4, 3))), north=(0.6, 0.8))
    cut = elevation_facing(model, degrees)
    assert abs((facing_of(model, cut) - degrees + 180) % 360 - 180) < 0.1
    result = cut_model(model, cut)
    assert not result.faces
    assert result.axes.to_drawing(model.mesh.vertices)[:, 2].min() > 1000
    low, high = result.lines.points[:, ::2].min(), result.lines.points[:, ::2].max()
    assert result.extents[0] < low < high < result.extents[2]


def test_interior_elevations_show_each_wall_of_a_room_at_its_width() -> None:
    ring = ((0.0, 0.0), (5.0, 0.0), (5.0, 3.0), (2.0, 3.0), (2.0, 3.0005), (0.0, 3.0))
    space = Space("room", "01", "Wet lab", 0, ring, 0.0, 2.6)
    model = replace(model_of(box((0, 0, -0.2), (5, 3, 0))), spaces=(space,))
    cuts = interior_elevations_of(model, "room")
    assert [wind((facing_of(model, c) + 180) % 360) for c in cuts] == ["north", "east", "south", "west"]
    for cut, wide in zip(cuts, (5, 3, 5, 3), strict=True):
        left, base, right, top = cut_model(model, cut).extents
        assert (right - left, base, top) == pytest.approx((wide * 1000, 0, 2600), abs=1)
    with pytest.raises(ImpossibleCut, match="not in the model"):
        interior_elevations_of(model, "none")


def test_every_room_of_the_demo_has_interior_elevations(demo: Model) -> None:
    for space in demo.spaces:
        cuts = interior_elevations_of(demo, space.guid)
        assert len(cuts) >= 3
        assert all(isinstance(c, ElevationCut) and c.space == space.guid for c in cuts)


def test_plans_of_every_storey_in_one_act(demo: Model) -> None:
    plans = plans_of(demo, (0.3, 1.5))
    ceilings = plans_of(demo, (0.3, 1.5), "up", {plans[0].storey: 1.5})
    assert [p.storey for p in plans] == [c.storey for c in ceilings]
    assert ceilings[0].height == 1.5
    assert all(not cut_model(demo, c).is_empty for c in (*plans, *ceilings))
