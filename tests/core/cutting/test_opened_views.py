"""Views that are opened by other planes than their own, against lines of sight through whole bodies."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import ImpossibleCut, PlaneCut, Role, cut_model
from edge_slice.core.cut.anchors.references import line_reference, resolve_line
from edge_slice.core.cut.opened.facets import space_of
from edge_slice.core.cut.shown import shown_elements
from edge_slice.core.cut.spec import Opening, TakingPlane
from edge_slice.core.drawing import default_standard
from edge_slice.core.drawing.compose import compose_drawing
from edge_slice.core.drawing.display import Paths
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.model import Model
from edge_slice.core.model.mesh.taken import Space, mesh_less
from edge_slice.core.solid.plane_cuts import View, view_cut
from oracles.opened_check import OpenedCheck, faces_agree, lines_agree
from tests.bodies import box, model_of

Triple = tuple[float, float, float]
BLOCK = box((0, 0, 0), (4, 3, 2))
CORNER = View((-1.0, -1.0, 1.0))


def plane(point: Triple, normal: Triple) -> TakingPlane:
    return TakingPlane(point=point, normal=normal)


def opening(*planes: tuple[Triple, Triple]) -> Opening:
    return Opening(planes=tuple(plane(*one) for one in planes))


def some_openings(model: Model, towards: Triple, rng: np.random.Generator, count: int) -> tuple[Opening, ...]:
    """Openings by one to three planes, most of them towards the viewer and square to the building."""
    low, high = model.bounds
    found = []
    for k in range(count):
        at = low + rng.uniform(0.25, 0.8, 3) * (high - low)
        square = np.diag(np.sign(towards))[rng.permutation(3)[: 1 + k % 3]]
        ways = rng.normal(size=(2, 3)) if k == 2 else square
        found.append(Opening(planes=tuple(plane(tuple(at), tuple(way)) for way in ways)))
    return tuple(found)


@pytest.mark.long
@pytest.mark.parametrize("count", [1, 2, 3, 4])
def test_demo_views_agree_with_lines_of_sight_through_whole_bodies(demo: Model, count: int) -> None:
    rng = np.random.default_rng(count)
    low, high = demo.bounds
    agreed = []
    for perspective in (False, True):
        towards = (*rng.normal(size=2), 0.9)
        way = np.array(towards) / np.linalg.norm(towards)
        eye = tuple((low + high) / 2 + way * 30) if perspective else None
        cut = view_cut(demo, View(towards, eye), some_openings(demo, towards, rng, count))
        result = cut_model(demo, cut)
        check = OpenedCheck(demo, cut, result, shown_elements(demo, cut))
        agreed.append((faces_agree(check, 500), *lines_agree(demo, check, 700)))
    faces, visible, drawn = np.mean(agreed, axis=0).tolist()
    assert faces >= 0.998
    assert visible >= 0.997
    assert drawn >= 0.99


@settings(max_examples=60)
@given(st.integers(0, 2**32 - 1), st.integers(1, 3))
def test_what_is_left_of_a_body_does_not_hang_on_the_order_of_openings(seed: int, count: int) -> None:
    rng = np.random.default_rng(seed)
    mesh = model_of(BLOCK, box((-1, -1, -0.5), (5, 4, 0))).mesh

    def space() -> Space:
        at = [plane(tuple(rng.uniform(-0.5, 3.5, 3)), tuple(rng.normal(size=3))) for _ in range(rng.integers(1, 4))]
        return space_of(Opening(planes=tuple(at)))

    spaces = [space() for _ in range(count)]
    takes = np.ones(2, dtype=bool)
    left, back = (mesh_less(mesh, order, takes)[0] for order in (spaces, spaces[::-1]))
    for one in (left, back):
        middles = one.vertices[one.triangles].mean(axis=1)
        halves = one.vertices[one.edges].mean(axis=1)
        for space in spaces:
            assert not (space.heights(middles) > 1e-6).all(axis=1).any()
            assert not (space.heights(halves) > 1e-6).all(axis=1).any()
    areas, lengths = (
        [f(one) for one in (left, back)]
        for f in (
            lambda m: np.linalg.norm(m.normals, axis=1).sum() / 2,
            lambda m: np.linalg.norm(np.diff(m.vertices[m.edges], axis=1), axis=2).sum(),
        )
    )
    assert areas[0] == pytest.approx(areas[1], abs=1e-6)
    assert lengths[0] == pytest.approx(lengths[1], abs=1e-4)


def test_a_plane_square_to_the_view_opens_it_to_what_a_section_there_shows(demo: Model) -> None:
    rules = default_standard().cut_rules(demo)
    normal, at = (0.0, -1.0, 0.0), (0.0, 4.2, 0.0)
    section = cut_model(demo, PlaneCut(point=at, normal=normal), rules)
    view = PlaneCut(of="view", point=(0.0, -40.0, 0.0), normal=normal, openings=(opening((at, normal)),))
    opened = cut_model(demo, view, rules)
    (seen,) = opened.standing
    faces = shapely.union_all([face.polygon for face in section.faces])
    window = shapely.box(*section.extents)
    apart = shapely.symmetric_difference(seen.seen, faces, grid_size=0.01)
    assert shapely.intersection(apart, window).area < 1e-4 * faces.area
    drawn = [
        shapely.union_all(shapely.linestrings(r.lines.points[r.lines.role == Role.SEEN].reshape(-1, 2, 2)))
        for r in (section, opened)
    ]
    borders = shapely.boundary(faces).buffer(0.3)  # along cut faces both leave their own line to those
    for one, other in (drawn, drawn[::-1]):
        more = shapely.difference(shapely.intersection(one, window), shapely.union(other.buffer(0.3), borders))
        assert more.length < 0.005 * one.length


def test_openings_side_by_side_leave_no_faces_between_them() -> None:
    block = model_of(BLOCK)
    left = opening(((0, 0, 1), (0, 0, 1)), ((2, 0, 0), (-1, 0, 0)))
    right = opening(((0, 0, 1), (0, 0, 1)), ((2, 0, 0), (1, 0, 0)))
    one = cut_model(block, view_cut(block, CORNER, (opening(((0, 0, 1), (0, 0, 1))),)))
    two = cut_model(block, view_cut(block, CORNER, (left, right)))
    areas = [sum(face.polygon.area for s in r.standing for face in s.standing.faces) for r in (one, two)]
    assert areas == pytest.approx([12e6, 12e6])


def test_a_corner_that_is_taken_out_shows_three_faces_in_their_own_planes() -> None:
    """Seen along a diagonal, each of three faces square to the axes shows the same share of its true size."""
    block = model_of(BLOCK)
    corner = opening(((1, 1, 1), (-1, 0, 0)), ((1, 1, 1), (0, -1, 0)), ((1, 1, 1), (0, 0, 1)))
    cut = view_cut(block, CORNER, (corner,))
    result = cut_model(block, cut)
    assert sorted(round(s.seen.area) for s in result.standing) == [round(1e6 / 3**0.5)] * 3
    for scale in (20.0, 50.0):
        drawing = compose_drawing(block, result, cut, DrawingSpec(scale=scale), default_standard())
        hatches = [p for p in drawing.items if isinstance(p, Paths) and p.role == "hatch"]
        assert hatches
        whole = shapely.union_all([s.seen for s in result.standing]).buffer(2.0)
        for path in hatches:
            assert shapely.covers(whole, shapely.multipoints(path.points * scale))


def test_what_is_drawn_whole_is_not_opened_and_what_is_left_out_is_not_there() -> None:
    model = model_of(BLOCK, box((1, 1, 2), (2, 2, 3)), kinds=["wall", "furniture"])
    half = (opening(((0, 1.5, 0), (0, -1, 0))),)
    cut = view_cut(model, CORNER, half)
    guid = model.elements[1].guid

    def faces_of(**change: object) -> list[int]:
        result = cut_model(model, cut.model_copy(update=change))
        return sorted({face.element for s in result.standing for face in s.standing.faces})

    assert faces_of() == [0, 1]
    assert faces_of(whole=(guid,)) == [0]
    assert faces_of(left_out=(guid,)) == [0]
    assert faces_of(without=("wall",)) == [1]


def test_openings_that_leave_nothing_are_refused() -> None:
    block = model_of(BLOCK)
    everything = opening(((-9, 0, 0), (1, 0, 0)))
    with pytest.raises(ImpossibleCut, match="take all of the building"):
        cut_model(block, view_cut(block, CORNER, (everything,)))
    with pytest.raises(ImpossibleCut, match="Nothing of the building is seen"):
        view_cut(block, View((-1, 0, 0), (9, 1, 1)))


@pytest.mark.parametrize("angle", [20.0, 60.0, 100.0])
def test_a_perspective_begins_just_before_what_is_seen_nearest(angle: float) -> None:
    block = model_of(BLOCK)
    eye = (-5.0, 1.5, 1.0)
    cut = view_cut(block, View((-1, 0, 0), eye, angle, 1.5))
    assert cut.perspective is not None
    distance = cut.perspective.distance
    assert distance is not None
    assert 0.9 * 5 < distance < 5
    result = cut_model(block, cut)
    front = shapely.box(-1500, -1000, 1500, 1000)  # of the block, 5 m away, as its picture shows it
    seen = result.lines.points.reshape(-1, 2)
    expected = np.array(front.bounds) * distance / 5.0
    inside = (np.abs(seen[:, 0]) <= result.extents[2]) & (np.abs(seen[:, 1]) <= result.extents[3])
    assert inside.all()
    if result.extents[2] > expected[2] and result.extents[3] > expected[3]:
        assert [*seen.min(axis=0), *seen.max(axis=0)] == pytest.approx(expected.tolist(), abs=0.5)


def test_lines_are_of_edges_of_the_whole_model_however_it_is_opened(demo: Model) -> None:
    """Notes, touch-ups and outlines know the model and not what openings leave of it."""
    rng = np.random.default_rng(7)
    for count in (1, 3):
        cut = view_cut(demo, CORNER, some_openings(demo, CORNER.towards, rng, count))
        result = cut_model(demo, cut)
        lines, mesh = result.lines, demo.mesh
        assert (mesh.edge_element[lines.edge] == lines.element).all()
        ends = result.axes.to_drawing(mesh.vertices[mesh.edges[lines.edge]].reshape(-1, 3))[:, :2].reshape(-1, 2, 2)
        whole = shapely.linestrings(ends)
        for k in (0, 1):
            off = shapely.distance(whole, shapely.points(lines.points.reshape(-1, 2, 2)[:, k]))
            assert off.max() < 0.5  # mm


def test_what_is_said_of_a_line_is_found_again_when_the_view_is_opened_elsewhere(demo: Model) -> None:
    low, high = demo.bounds
    middle = (low + high) / 2
    cuts = [view_cut(demo, CORNER, (opening(((0, float(y), 0), (0, -1, 0))),)) for y in (middle[1], middle[1] - 0.4)]
    before, after = (cut_model(demo, cut) for cut in cuts)
    found = [resolve_line(demo, after, line_reference(demo, before, k)) for k in range(0, len(before.lines.points), 10)]
    still = {int(e) for e in after.lines.edge}
    wanted = [int(before.lines.edge[k]) in still for k in range(0, len(before.lines.points), 10)]
    assert sum(wanted) > 20
    assert all(one.state == "exact" for one, there in zip(found, wanted, strict=True) if there)
