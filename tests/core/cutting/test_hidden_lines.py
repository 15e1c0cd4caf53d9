"""Hidden lines against the depth check, and what may never be drawn."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import Extents, Perspective, PlanCut, PlaneCut, Role, SectionCut, cut_model
from edge_slice.core.cut.planes.sets import elevations_of
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import LayerFrame, Model
from oracles.agreement import agreement
from oracles.depth_check import DepthCheck
from tests.bodies import box, model_of, moved, polygon_ring, prism, rotation


@pytest.mark.parametrize(
    "spec",
    [
        SectionCut(line=((-3, 2.1), (25, 2.1)), depth=9, without=("planting",)),
        SectionCut(line=((10.6, -3), (10.6, 13)), look="right", depth=12),
        SectionCut(line=((-2, -1), (24, 9)), look="left"),
    ],
    ids=["along", "across", "slanting"],
)
def test_demo_sections_agree_with_the_depth_check(demo: Model, spec: SectionCut) -> None:
    shown = cut_model(demo, spec)
    kept = [k for k, e in enumerate(demo.elements) if e.kind not in spec.without]
    visible, drawn = agreement(_only(demo, kept), shown, 1500)
    assert visible >= 0.99
    assert drawn >= 0.99


def test_demo_plan_agrees_with_the_depth_check(demo: Model) -> None:
    spec = PlanCut(storey=demo.storeys[1].guid, depth=2.4)
    visible, drawn = agreement(demo, cut_model(demo, spec), 1500)
    assert visible >= 0.99
    assert drawn >= 0.99


@pytest.mark.parametrize("facing", range(4))
def test_demo_shows_no_line_but_at_joints_less_by_its_standard(demo: Model, facing: int) -> None:
    """What the standard's rules leave out of an elevation lies where one surface runs on in another element, and
    nothing else comes or goes."""
    spec = elevations_of(demo, ("planting",))[facing]
    every, fewer = cut_model(demo, spec), cut_model(demo, spec, default_standard().cut_rules(demo))
    kept = [k for k, e in enumerate(demo.elements) if e.kind != "planting"]
    part = _only(demo, kept).mesh
    check = DepthCheck(every.axes.to_drawing(part.vertices)[part.triangles], part.triangle_element)
    before, after = (shapely.union_all(shapely.linestrings(r.lines.points.reshape(-1, 2, 2))) for r in (every, fewer))
    assert shapely.difference(after, before.buffer(0.1)).length < 1
    gone = [g for g in shapely.get_parts(shapely.difference(before, after.buffer(0.1))) if g.length > 5]
    assert gone
    for line in gone:
        (u0, v0), (u1, v1) = line.coords[0], line.coords[-1]
        u, v, length = (u0 + u1) / 2, (v0 + v1) / 2, np.hypot(u1 - u0, v1 - v0)
        aside = np.array([-(v1 - v0), u1 - u0]) / length
        (d, p), (e, q) = (check.front(u + k * aside[0], v + k * aside[1]) for k in (1, -1))
        (far_d, _), (far_e, _) = (check.front(u + k * aside[0], v + k * aside[1]) for k in (2, -2))
        assert p != q
        assert far_d - d == pytest.approx(d - (d + e) / 2, abs=1.5)
        assert far_e - e == pytest.approx(e - (d + e) / 2, abs=1.5)


def _only(model: Model, kept: list[int]) -> Model:
    """The model without the other elements' triangles and edges, for the check."""
    mesh, keep = model.mesh, np.isin(model.mesh.triangle_element, kept)
    new = np.cumsum(keep) - 1
    edges = np.isin(mesh.edge_element, kept)
    pairs = mesh.edge_triangles[edges]
    across = mesh.neighbours[keep]
    reduced = replace(
        mesh,
        triangles=mesh.triangles[keep],
        triangle_element=mesh.triangle_element[keep],
        triangle_material=mesh.triangle_material[keep],
        neighbours=np.where(across >= 0, new[across], -1),
        edges=mesh.edges[edges],
        edge_triangles=np.where(pairs >= 0, new[pairs], -1),
        edge_sharp=mesh.edge_sharp[edges],
        edge_element=mesh.edge_element[edges],
    )
    return replace(model, mesh=reduced)


turn = st.integers(0, 62).map(lambda k: k / 10)  # faces that all but coincide have no one right answer
spot = st.floats(-2, 2)


@given(st.lists(st.tuples(turn, turn, turn, spot, spot, spot), min_size=2, max_size=7), st.integers(0, 1000))
@settings(max_examples=15)
def test_random_bodies_agree_with_the_depth_check(places: list[tuple[float, ...]], seed: int) -> None:
    shapes = [box((-1, -0.6, -0.4), (1, 0.6, 0.4)), prism(polygon_ring(24, 0.7), -0.8, 0.8)]
    bodies = [
        moved(shapes[i % 2], rotation(*p[:3]), np.array([p[3], p[4] + 4, p[5]])) for i, p in enumerate(places)
    ]  # fmt: skip
    model = model_of(*bodies)
    spec = SectionCut(line=((-9, 0), (9, 0)), extents=Extents(base=-9, top=9))
    result = cut_model(model, spec)
    visible, drawn = agreement(model, result, 120, seed)
    assert visible >= 0.97  # tolerances of both tests meet where faces cross at a shallow angle
    assert drawn >= 0.97


@pytest.mark.parametrize("y", [2.1, 6.9])
def test_no_seen_line_lies_inside_a_cut_face(demo: Model, y: float) -> None:
    result = cut_model(demo, SectionCut(line=((-3, y), (25, y)), depth=6), default_standard().cut_rules(demo))
    inner = shapely.union_all([f.polygon for f in result.faces]).buffer(-0.5)
    shapely.prepare(inner)
    seen = result.lines.points[result.lines.role == Role.SEEN]
    length = shapely.length(shapely.intersection(shapely.linestrings(seen.reshape(-1, 2, 2)), inner)).sum()
    assert length == pytest.approx(0, abs=1.0)


def test_no_line_is_drawn_twice(demo: Model) -> None:
    lines = cut_model(demo, SectionCut(line=((-3, 2.1), (25, 2.1)), depth=6)).lines
    shapes = shapely.linestrings(lines.points.reshape(-1, 2, 2))
    a, b = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    once = a < b
    shared = shapely.length(shapely.intersection(shapes[a[once]], shapes[b[once]]))
    assert shared.sum() / shapely.length(shapes).sum() < 1e-3


def test_smooth_body_shows_its_outline_only() -> None:
    model = model_of(prism(polygon_ring(64, 1.0), 0, 2))
    spec = SectionCut(line=((-5, -5), (5, -5)), extents=Extents(base=-1, top=3))
    lines = cut_model(model, spec).lines.points
    upright = lines[np.abs(lines[:, 0] - lines[:, 2]) < 1e-6]
    assert len(np.unique(np.round(upright[:, 0]))) == 2


def test_hidden_lines_are_drawn_when_asked_for() -> None:
    model = model_of(box((-1, 1, 0), (1, 2, 2)), box((-0.5, 3, 0.5), (0.5, 4, 1.5)))
    spec = SectionCut(line=((-5, 0), (5, 0)), hidden="dashed", extents=Extents(base=-1, top=3))
    lines = cut_model(model, spec).lines
    hidden = lines.points[(lines.role == Role.HIDDEN) & (lines.element == 1)]
    assert np.hypot(hidden[:, 2] - hidden[:, 0], hidden[:, 3] - hidden[:, 1]).sum() == pytest.approx(4000, abs=1)


def test_depth_ends_what_is_seen() -> None:
    model = model_of(box((-1, 1, 0), (1, 2, 2)), box((2, 6, 0), (3, 7, 2)))
    near = cut_model(model, SectionCut(line=((-5, 0), (5, 0)), depth=5)).lines
    assert set(near.element.tolist()) == {0}


def test_overhead_lines_show_what_hangs_above_a_plans_cut() -> None:
    model = model_of(box((0, 0, 0), (4, 4, 0.2)), box((1, 1, 2.5), (2, 2, 3)))
    lines = cut_model(model, PlanCut(storey="storey-0", height=1.2, depth=1.2, overhead=2)).lines
    over = lines.points[lines.role == Role.OVERHEAD]
    assert np.hypot(over[:, 2] - over[:, 0], over[:, 3] - over[:, 1]).sum() == pytest.approx(4000, abs=1)


def test_like_neighbours_in_one_plane_show_no_joint_and_others_do() -> None:
    """Two walls side by side: of one merging material they are one surface; of another, or set back, two."""

    def upright(far: float, *names: str) -> float:
        model = model_of(box((-2, 2, 0), (0, 3, 2)), box((0, far, 0), (2, far + 1, 2)), materials=list(names))
        return total(lines_of(model), 0, 0) * 1000

    assert upright(2, "Concrete", "Concrete") == 0
    assert upright(2, "Concrete", "Brick") == pytest.approx(2000)
    assert upright(2, "Oak", "Oak") == pytest.approx(2000)  # timber does not merge
    assert upright(2.5, "Concrete", "Concrete") == pytest.approx(2000)


FROM_SOUTH = ((-5.0, 0.0), (5.0, 0.0))


def lines_of(model: Model, line: tuple = FROM_SOUTH, without: tuple[str, ...] = ()) -> np.ndarray:
    """Lines as the standard's rules leave them, metres from the middle of the view."""
    cut = SectionCut(line=line, extents=Extents(base=-1, top=6), without=without)
    return cut_model(model, cut, default_standard().cut_rules(model)).lines.points / 1000 - np.array([5, 0, 5, 0])


def total(lines: np.ndarray, axis: int, at: float) -> float:
    """Length of the lines on u = at (axis 0) or v = at (axis 1)."""
    there = (np.abs(lines[:, axis] - at) < 1e-3) & (np.abs(lines[:, axis + 2] - at) < 1e-3)
    return float(np.abs(lines[there, 3 - axis] - lines[there, 1 - axis]).sum())


def test_joint_shows_no_line_where_only_part_of_two_edges_meets() -> None:
    """A long wall with a shorter one upon it and a lower one beside it, flush in front."""
    base, upper = box((-2, 2, 0), (2, 3, 2)), box((-1, 2, 2), (1, 3, 4))
    beside = box((2, 2, 0.5), (3, 3, 1.5))
    lines = lines_of(model_of(base, upper, beside))
    assert total(lines, 1, 2) == pytest.approx(4 - 2, abs=2e-3)
    assert total(lines, 0, 2) == pytest.approx(2 - 1, abs=2e-3)
    assert total(lines, 0, 3) == pytest.approx(1, abs=2e-3)


@pytest.mark.parametrize("lens", [None, Perspective(distance=8)], ids=["parallel", "perspective"])
def test_what_lies_right_behind_a_seam_is_hidden_and_what_lies_before_it_is_not(lens: Perspective | None) -> None:
    """Two flush bodies that meet in the middle of the view, and a third with an edge just there."""
    flush = box((-2, 2, 0), (0, 3, 2)), box((0, 2, 0), (2, 3, 2))

    def upright(third: tuple, hidden: str = "off") -> dict[int, float]:
        model = model_of(*flush, third, materials=["Concrete", "Concrete", "Brick"])
        extents = Extents(base=-1, top=4)
        cut = SectionCut(line=((-5, 0), (5, 0)), extents=extents, hidden=hidden, perspective=lens)
        lines = cut_model(model, cut, default_standard().cut_rules(model)).lines
        middle = (np.abs(lines.points[:, 0] - 5000) < 1) & (np.abs(lines.points[:, 2] - 5000) < 1)
        sizes = np.abs(lines.points[:, 3] - lines.points[:, 1])
        return {int(r): float(sizes[middle & (lines.role == r)].sum()) for r in np.unique(lines.role[middle])}

    behind, before = box((0, 6, 0.2), (1, 7, 1.2)), box((0, 0.5, 0.2), (1, 1, 1.2))
    assert upright(behind) == {}
    assert list(upright(behind, "dashed")) == [Role.HIDDEN]
    assert list(upright(before)) == [Role.SEEN]


def test_faces_of_layered_bodies_are_of_their_outer_layers() -> None:
    """A wall of concrete on wool beside a solid one, seen from the concrete and from the wool."""
    frame = LayerFrame((0.0, 2.0, 0.0), (0.0, 1.0, 0.0))

    def upright(name: str, line: tuple[tuple[float, float], tuple[float, float]]) -> float:
        solid = box((-2, 2, 0), (0, 3, 2)), box((0, 2, 0), (2, 3, 2))
        layers = [("Concrete", 0.1), ("Mineral wool", 0.9)]
        model = model_of(*solid, materials=["Mineral wool", name], layers=layers, frame=frame)
        return total(lines_of(model, line), 0, 0)

    north = ((5.0, 5.0), (-5.0, 5.0))
    assert upright("Concrete", FROM_SOUTH) == 0
    assert upright("Concrete", north) == pytest.approx(2, abs=2e-3)
    assert upright("Mineral wool", FROM_SOUTH) == pytest.approx(2, abs=2e-3)


def test_joint_shows_where_the_neighbour_is_left_out() -> None:
    base, upper = box((-2, 2, 0), (2, 3, 2)), box((-1, 2, 2), (1, 3, 4))
    lines = lines_of(model_of(base, upper, kinds=["wall", "column"]), without=("column",))
    assert total(lines, 1, 2) == pytest.approx(4, abs=2e-3)


def test_a_valley_between_like_bodies_that_meet_in_one_edge_is_drawn() -> None:
    """Two wedges with one flat back: from there they are one surface, from the front the edge is a fold."""
    wedges = prism([(-2, 0), (0, 2), (-2, 2)], 0, 3), prism([(2, 0), (2, 2), (0, 2)], 0, 3)
    model = model_of(*wedges, materials=["Concrete", "Concrete"])
    assert total(lines_of(model, ((5, 4), (-5, 4))), 0, 0) == 0
    assert total(lines_of(model, ((-5, -1), (5, -1))), 0, 0) * 1000 == pytest.approx(3000)


direction = st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-0.8, 0.8)).filter(lambda n: np.hypot(*n[:2]) > 0.3)


@given(direction, st.floats(-4, 4), st.integers(0, 1000))
@settings(max_examples=12)
def test_demo_from_random_directions_agrees_with_the_depth_check(
    demo: Model, normal: tuple[float, float, float], off: float, seed: int
) -> None:
    n = np.array(normal) / np.linalg.norm(normal)
    spec = PlaneCut(point=tuple(np.array([11.0, 4.5, 3.0]) + n * off), normal=normal, extents=Extents(base=-6, top=9))
    visible, drawn = agreement(demo, cut_model(demo, spec), 300, seed)
    assert visible >= 0.98
    assert drawn >= 0.98


def test_no_rest_of_an_edge_is_a_dot() -> None:
    """Through gaps of a few hundredths of a millimetre between what stands in front a viewer sees nothing; through one
    of two millimetres what is there."""
    posts = [box((0.5 * k, 1.0, 0), (0.5 * k + 0.3, 1.2, 3)) for k in range(8)]
    rails = [box((-1, 3, 1.0 + 0.05 * k), (5, 3.2, 1.02 + 0.05 * k)) for k in range(10)]
    section = SectionCut(line=((-2, 0), (6, 0)), extents=Extents(base=-1, top=4))

    def shortest(gap: float) -> float:
        panels = [box((0.5 * k + 0.3, 0.9, 0.2), (0.5 * k + 0.5 - gap, 1.3, 2.8)) for k in range(7)]
        lines = cut_model(model_of(*posts, *panels, *rails), section).lines.points
        return float(np.hypot(*(lines[:, 2:] - lines[:, :2]).T).min())

    assert shortest(0.00007) > 10.0
    assert shortest(0.002) == pytest.approx(2.0, abs=0.1)


def test_no_end_of_an_edge_is_a_dot() -> None:
    """Rails that reach out beside a post by a few hundredths of a millimetre, and by two millimetres."""
    post = box((0, 1, 0), (1, 1.2, 3))
    section = SectionCut(line=((-2, 0), (6, 0)), extents=Extents(base=-1, top=4))

    def shortest(out: float) -> float:
        rails = [box((-out, 3, 1.0 + 0.05 * k), (1 + out, 3.2, 1.02 + 0.05 * k)) for k in range(10)]
        lines = cut_model(model_of(post, *rails), section).lines.points
        level = lines[np.abs(lines[:, 3] - lines[:, 1]) < 1]
        return float(np.hypot(*(level[:, 2:] - level[:, :2]).T).min())

    assert shortest(0.00004) == pytest.approx(1000)
    assert shortest(0.002) == pytest.approx(2.0, abs=0.1)
