"""Visible regions against the depth of everything, by brute force, and as tiles of the view."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import CutResult, ElevationCut, Extents, Perspective, PlanCut, PlaneCut, SectionCut, cut_model
from edge_slice.core.cut.pieces import MaterialRules
from edge_slice.core.cut.planes.sets import elevations_of
from edge_slice.core.cut.surfaces.lit import lit_shapes
from edge_slice.core.cut.surfaces.regions import FaceFrame, SeenSurfaces, seen_surfaces
from edge_slice.core.cut.surfaces.sun import light_from
from edge_slice.core.drawing import default_standard
from edge_slice.core.memory import MEMORY
from edge_slice.core.model import Model
from oracles.surface_check import surface_agreement
from tests.bodies import box, model_of, moved, rotation

RIGHT = 0.997


def tiled(result: CutResult, seen: SeenSurfaces) -> None:
    """Nothing of the view is covered twice, and nothing lies outside it."""
    shapes = [r.shape for r in seen.regions] + [f.polygon for f in result.faces]
    whole = shapely.union_all(shapes, grid_size=1e-6)
    assert sum(s.area for s in shapes) == pytest.approx(whole.area, rel=1e-6)
    assert shapely.difference(whole, shapely.box(*result.extents).buffer(1e-6)).area < 1.0


def seen_from(model: Model, normal: tuple[float, float, float], share: float) -> tuple[PlaneCut, CutResult]:
    """A view along a direction, from a plane through a share of the model."""
    low, high = model.bounds
    n = np.array(normal) / np.linalg.norm(normal)
    point = (low + high) / 2 + n * float(np.linalg.norm(high - low)) * share
    spec = PlaneCut(point=tuple(point.tolist()), normal=tuple(n.tolist()), without=("planting",))
    return spec, cut_model(model, spec, default_standard().cut_rules(model))


@pytest.mark.parametrize("number", [1, 2])
def test_regions_of_the_demo_agree_with_the_depth_of_everything_in_any_direction(demo: Model, number: int) -> None:
    normal = np.random.default_rng(number).normal(size=3)
    spec, result = seen_from(demo, tuple(normal.tolist()), 0.8 if number % 2 else 0.05)
    seen = seen_surfaces(result)
    assert surface_agreement(demo, spec, result, seen, 600) >= RIGHT
    tiled(result, seen)


@pytest.mark.parametrize(
    "spec",
    [
        SectionCut(line=((-3, 2.1), (25, 2.1)), depth=9, without=("planting",)),
        SectionCut(line=((10.6, -3), (10.6, 13)), look="right", depth=12, without=("planting",)),
        SectionCut(line=((-2, -1), (24, 9)), look="left", without=("planting",)),
        SectionCut(line=((-2, 4), (24, 4)), depth=7, perspective=Perspective(field_of_view=60), without=("planting",)),
        ElevationCut(line=((-2, -6), (24, -6)), depth=30, extents=Extents(polygon=((2, 0), (14, 1), (9, 8)))),
    ],
    ids=["along", "across", "slanting", "perspective", "cropped"],
)
def test_sections_and_elevations_of_the_demo_agree_with_the_depth_of_everything(
    demo: Model, spec: SectionCut | ElevationCut
) -> None:
    result = cut_model(demo, spec, default_standard().cut_rules(demo))
    seen = seen_surfaces(result)
    assert len(seen.regions) > 20
    assert surface_agreement(demo, spec, result, seen, 1200) >= RIGHT
    tiled(result, seen)


def test_a_plan_of_the_demo_agrees_with_the_depth_of_everything(demo: Model) -> None:
    spec = PlanCut(storey=demo.storeys[1].guid, depth=2.4)
    result = cut_model(demo, spec, default_standard().cut_rules(demo))
    assert surface_agreement(demo, spec, result, seen_surfaces(result), 1200) >= RIGHT


angles = st.floats(0.1, 3.0)
places = st.tuples(st.floats(-2, 2), st.floats(0.5, 6), st.floats(-2, 2))


@settings(max_examples=40)
@given(st.lists(st.tuples(places, angles, angles, st.floats(0.3, 2)), min_size=1, max_size=6), st.booleans())
def test_any_bodies_tile_the_view_as_deep_as_they_are(bodies: list, lens: bool) -> None:
    """Boxes turned any way, through each other too, before the viewer and behind him."""
    unit = box((-0.5, -0.5, -0.5), (0.5, 0.5, 0.5))
    model = model_of(*(moved(unit, size * rotation(a, b, 0.3), np.array(at)) for at, a, b, size in bodies))
    spec = ElevationCut(
        line=((-4, 0), (4, 0)), depth=12, extents=Extents(base=-4, top=4),
    ) if not lens else SectionCut(
        line=((-4, 0), (4, 0)), depth=12, extents=Extents(base=-4, top=4), perspective=Perspective(distance=6),
    )  # fmt: skip
    result = cut_model(model, spec)
    seen = seen_surfaces(result)
    tiled(result, seen)
    assert surface_agreement(model, spec, result, seen, 150) >= 0.99


def test_a_box_shows_the_faces_that_turn_to_the_viewer_at_their_size() -> None:
    model = model_of(
        box((0, 1, 0), (2, 3, 1)),
        moved(box((0, 0, 0), (1, 1, 1)), rotation(0, 0, np.pi / 4), np.array((4.0, 2.0, 0.0))),
    )
    seen = seen_surfaces(cut_model(model, ElevationCut(line=((-1, 0), (7, 0)))))
    areas = sorted(round(r.shape.area / 1e6, 4) for r in seen.regions)
    assert areas == [round(2**-0.5, 4), round(2**-0.5, 4), 2.0]
    first = next(r for r in seen.regions if r.element == 0)
    assert first.depth == pytest.approx(1000)
    assert not first.back
    assert first.normal == pytest.approx([0, -1, 0])


def test_of_faces_in_one_plane_the_first_keeps_the_place() -> None:
    model = model_of(box((0, 1, 0), (2, 2, 2)), box((1, 1, 0), (3, 2, 2)))
    result = cut_model(model, ElevationCut(line=((-1, 0), (4, 0))))
    seen = seen_surfaces(result)
    tiled(result, seen)
    area = {r.element: r.shape.area / 1e6 for r in seen.regions}
    assert area == pytest.approx({0: 4.0, 1: 2.0})


def test_an_open_body_shows_its_inside() -> None:
    points, faces = box((0, 1, 0), (2, 3, 2))
    normals = np.cross(points[faces[:, 1]] - points[faces[:, 0]], points[faces[:, 2]] - points[faces[:, 0]])
    open_box = points, faces[normals[:, 1] > -0.5]  # without the side to the viewer
    seen = seen_surfaces(cut_model(model_of(open_box), ElevationCut(line=((-1, 0), (4, 0)))))
    (inside,) = [r for r in seen.regions if r.shape.area > 1e6]
    assert inside.back
    assert inside.depth == pytest.approx(3000)


def test_what_is_seen_through_hides_nothing_and_is_none() -> None:
    model = model_of(box((0, 1, 0), (2, 1.2, 2)), box((0, 3, 0), (2, 4, 2)), kinds=["wall", "wall"])
    spec = ElevationCut(line=((-1, 0), (4, 0)), see_through=(model.elements[0].guid,))
    seen = seen_surfaces(cut_model(model, spec))
    assert [r.element for r in seen.regions] == [1]


def test_clear_glass_lies_before_what_shows_through_it() -> None:
    model = model_of(box((0, 1, 0), (2, 1.02, 2)), box((0, 3, 0), (2, 4, 2)), materials=["Glass", "Concrete"])
    rules = default_standard().cut_rules(model)
    clear = seen_surfaces(cut_model(model, ElevationCut(line=((-1, 0), (4, 0)), glass="clear"), rules))
    solid = seen_surfaces(cut_model(model, ElevationCut(line=((-1, 0), (4, 0))), rules))
    assert ([r.element for r in clear.regions], [r.element for r in clear.clear]) == ([1], [0])
    assert ([r.element for r in solid.regions], [r.element for r in solid.clear]) == ([0], [])


def test_the_same_cut_has_the_same_regions_to_the_bit(demo: Model) -> None:
    spec = elevations_of(demo, ("planting",))[1]
    rules = default_standard().cut_rules(demo)
    one, two = (seen_surfaces(cut_model(demo, spec, rules)) for _ in range(2))
    assert [(r.shape.wkb, r.element, r.material) for r in one.regions] == [
        (r.shape.wkb, r.element, r.material) for r in two.regions
    ]


def forget(monkeypatch: pytest.MonkeyPatch) -> None:
    with monkeypatch.context() as nothing_kept:
        nothing_kept.setattr(MEMORY, "most", 0)
        MEMORY.make_room()


@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.tuples(st.floats(-0.5, 7), st.floats(3, 9)), min_size=2, max_size=5), st.sampled_from([0.0, 0.3]))
def test_a_cut_that_was_moved_has_the_regions_and_shadows_of_one_that_never_was(
    monkeypatch: pytest.MonkeyPatch, moves: list[tuple[float, float]], skew: float
) -> None:
    model = model_of(
        box((0, 1, 0), (4, 1.3, 3)), box((1, 4, 0), (6, 4.4, 2)), moved(box((0, 0, 0), (1, 3, 1)), rotation(0.3, 0.2, 0.5), np.array([2.0, 3.0, 0.5])),  # noqa: E501
    )  # fmt: skip
    light = light_from(200, 40, (0.0, 1.0))
    earlier = None
    for y, depth in moves:
        spec = SectionCut(line=((-1, y), (7, y + skew)), depth=depth)
        earlier = cut_model(model, spec, earlier=earlier)
        lit = lit_shapes(earlier, light)
    assert earlier is not None
    one = seen_surfaces(earlier)
    forget(monkeypatch)
    anew = cut_model(model, spec)
    two = seen_surfaces(anew)
    assert [(r.shape.wkb, r.element) for r in one.regions] == [(r.shape.wkb, r.element) for r in two.regions]
    assert [s and s.wkb for s in lit] == [s and s.wkb for s in lit_shapes(anew, light)]


@pytest.mark.parametrize(("skew", "share"), [(0.0, 0.5), (2.5, 0.8)], ids=["square", "askew, so that its faces move"])
def test_a_section_that_moves_keeps_what_it_leaves_as_it_is(
    demo: Model, monkeypatch: pytest.MonkeyPatch, skew: float, share: float
) -> None:
    """Square to its line, by 5 cm: much of what stands beyond it is neither more nor hidden by anything else."""
    forget(monkeypatch)
    figures = []
    across = np.array([14.0, -skew]) / np.hypot(14.0, skew)
    for far in (0.0, 0.05):
        first, last = np.array([10.6, -2.0]) + far * across, np.array([10.6 + skew, 12.0]) + far * across
        spec = SectionCut(line=((first[0], first[1]), (last[0], last[1])), depth=6, without=("planting", "ground"))
        seen_surfaces(cut_model(demo, spec, default_standard().cut_rules(demo)))
        figures.append(next(f for f in MEMORY.figures() if f.name == "seen of faces"))
    anew, moved_on = figures
    assert moved_on.made - anew.made < share * (moved_on.asked - anew.asked)


@given(st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)).filter(lambda n: np.linalg.norm(n) > 0.1))
def test_the_paper_of_a_face_is_level_and_leads_back_to_the_drawing(normal: tuple[float, float, float]) -> None:
    n = np.array(normal) / np.linalg.norm(normal)
    frame = FaceFrame.of(n, 2.5)
    assert n @ frame.origin == pytest.approx(2.5)
    assert frame.s[2] == pytest.approx(0, abs=1e-12)
    assert frame.t[2] >= 0
    assert np.array([frame.s @ frame.t, frame.s @ n, frame.t @ n]) == pytest.approx(0, abs=1.1e-6)  # level within LEVEL


@pytest.mark.parametrize("perspective", [None, Perspective(distance=5)])
def test_places_on_a_face_are_where_they_are_seen(perspective: Perspective | None) -> None:
    roof = moved(box((0, 0, 0), (4, 3, 0.2)), rotation(0.6, 0, 0.2), np.array([0.0, 2.0, 1.0]))
    spec = SectionCut(line=((-1, 0), (6, 0)), depth=9, perspective=perspective)
    seen = seen_surfaces(cut_model(model_of(roof), spec, MaterialRules.plain(1)))
    for region in seen.regions:
        corners = shapely.get_coordinates(region.shape)
        on = region.to_face(corners)
        assert region.to_drawing(on) == pytest.approx(corners, abs=1e-6)
        there = region.frame.origin + (on[:, :1] * region.frame.s + on[:, 1:] * region.frame.t) / 1000
        assert there @ region.normal == pytest.approx(region.offset, abs=1e-9)
