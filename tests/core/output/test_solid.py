"""The building in three dimensions: bodies cut and closed, planes as cuts, and the compact form."""

from __future__ import annotations

import io
import json
import math
import struct

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import ElevationCut, ImpossibleCut, PlanCut, PlaneCut, SectionCut, leaves_of
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from edge_slice.core.solid.clipping import Body, body_of, clipped
from edge_slice.core.solid.directions import building_turn
from edge_slice.core.solid.form import fitting, in_pieces, part_bytes, seen_materials, solid_parts
from edge_slice.core.solid.opened import Taking, body_file, opened, taking
from edge_slice.core.solid.plane_cuts import Plane, cut_of_plane, moved_to_plane, parent_level, stops_along
from edge_slice.core.solid.tints import tints_of
from tests.bodies import box, model_of

REACH = default_standard().conventions.reach
STANDARD = default_standard()


def straight(point: tuple[float, ...], normal: tuple[float, ...]) -> list[Taking]:
    """A cut of one plane."""
    return [taking(point, normal)]  # type: ignore[arg-type]


def body_from(mesh: trimesh.Trimesh) -> Body:
    return body_of(np.asarray(mesh.vertices, dtype=np.float64), np.asarray(mesh.faces, dtype=np.int64))


def watertight(body: Body) -> bool:
    return bool(trimesh.Trimesh(body.vertices, body.triangles, process=False).is_watertight)


def _hollow() -> trimesh.Trimesh:
    inner = trimesh.creation.box((2, 2, 2))
    inner.invert()
    return trimesh.util.concatenate([trimesh.creation.box((4, 4, 4)), inner])


def _two() -> trimesh.Trimesh:
    other = trimesh.creation.box((1, 1, 1)).apply_translation((1.5, 0, 0))
    return trimesh.util.concatenate([trimesh.creation.box((1, 1, 1)), other])


SHAPES = {
    "box": trimesh.creation.box((4.0, 3.0, 2.0)),
    "ring": trimesh.creation.annulus(1.0, 2.0, 1.5, sections=17),
    "ball": trimesh.creation.icosphere(2, 1.7),
    "two": _two(),
    "hollow": _hollow(),
}
Unit = st.tuples(*[st.floats(-1, 1) for _ in range(3)]).filter(lambda v: math.hypot(*v) > 0.1)


@given(st.sampled_from(sorted(SHAPES)), Unit, st.floats(-1.4, 1.4))
def test_both_sides_of_a_cut_are_closed_and_make_up_the_whole(
    name: str, direction: tuple[float, ...], at: float
) -> None:
    body = body_from(SHAPES[name])
    normal = np.array(direction) / math.hypot(*direction)
    point = normal * at
    one, other = clipped(body, point, normal), clipped(body, point, -normal)
    assert not one.open
    assert not other.open
    for half in (one, other):
        assert not len(half.triangles) or watertight(half)
        assert half.volume >= -1e-9
    assert one.volume + other.volume == pytest.approx(body.volume, rel=1e-6)
    assert ((one.vertices - point) @ normal).max(initial=-1) <= 1e-6


def test_a_cut_through_corners_and_along_faces_is_closed() -> None:
    body = body_from(SHAPES["box"])
    for normal, point in (
        ((1, 0, 0), (2, 0, 0)),
        ((1, 0, 0), (-2, 0, 0)),
        ((3, 4, 0), (0, 0, 0)),
        ((0, 0, 1), (0, 0, 1)),
    ):
        n = np.array(normal, dtype=np.float64) / np.linalg.norm(normal)
        one, other = (
            clipped(body, np.array(point, dtype=np.float64), n),
            clipped(body, np.array(point, dtype=np.float64), -n),
        )
        assert one.volume + other.volume == pytest.approx(24.0)
        assert all(watertight(h) for h in (one, other) if len(h.triangles))


def test_the_cut_face_is_as_large_as_it_is_by_the_formula() -> None:
    half = clipped(
        body_from(trimesh.creation.annulus(1.0, 2.0, 1.5, sections=512)),
        np.array([0.0, 0.3, 0.0]),
        np.array([0.0, 1.0, 0.0]),
    )
    caps = trimesh.Trimesh(half.vertices, half.triangles[half.cut], process=False)
    assert caps.area == pytest.approx(_band(0.3), rel=1e-3)
    assert np.allclose(caps.face_normals, [0, 1, 0])


def _band(y: float) -> float:
    """Area of a cut through a ring (radii 1 and 2, 1.5 high) at a distance from its axis."""
    return 2 * (math.sqrt(4 - y * y) - math.sqrt(1 - y * y)) * 1.5


def test_a_body_that_leaks_is_said_to() -> None:
    whole = SHAPES["box"]
    open_box = body_of(np.asarray(whole.vertices), np.asarray(whole.faces[2:], dtype=np.int64))
    half = clipped(open_box, np.zeros(3), np.array([0.0, 0.6, 0.8]))
    assert half.open or watertight(half) is False


@pytest.mark.parametrize("normal", [(0.0, -1.0, 0.0), (0.31, 0.77, 0.0), (0.2, -0.5, 0.6), (0.0, 0.0, 1.0)])
def test_the_demo_cut_open_is_closed_and_has_the_right_volume(demo: Model, normal: tuple[float, float, float]) -> None:
    point = (11.3, 4.7, 3.1)
    shown = np.ones(len(demo.elements), dtype=bool)
    shown[demo.mesh.open_elements] = False
    before = demo.mesh.volumes(len(demo.elements))
    behind = opened(demo, [straight(point, normal)], shown)
    front = opened(demo, [straight(point, tuple(-x for x in normal))], shown)
    assert all(not p.body.open for p in (*behind, *front))
    assert all(watertight(p.body) for p in (*behind, *front))
    total = sum(p.body.volume for p in (*behind, *front))
    assert total == pytest.approx(before[shown].sum(), rel=1e-3)


def test_two_planes_take_away_what_lies_before_both(demo: Model) -> None:
    shown = np.array([e.kind == "slab" for e in demo.elements])
    planes = [straight((11.0, 0.0, 0.0), (1.0, 0.0, 0.0)), straight((0.0, 4.0, 0.0), (0.0, -1.0, 0.0))]
    kept = sum(p.body.volume for p in opened(demo, planes, shown))
    whole = sum(p.body.volume for p in opened(demo, [], shown))
    before_one = opened(demo, [straight((11.0, 0.0, 0.0), (-1.0, 0.0, 0.0))], shown)
    gone = sum(clipped(p.body, np.array([0.0, 4.0, 0.0]), np.array([0.0, 1.0, 0.0])).volume for p in before_one)
    assert kept == pytest.approx(whole - gone, rel=1e-6)
    assert 0 < gone < whole


def test_a_stepped_cut_takes_only_what_lies_before_each_of_its_planes(demo: Model) -> None:
    shown = np.array([e.kind in ("wall", "slab", "roof") for e in demo.elements])
    shown[demo.mesh.open_elements] = False
    cut = SectionCut(line=((-3, 3), (8, 3), (8, 7), (30, 7)), look="left")
    leaves = leaves_of(demo, cut)
    assert len(leaves) > 1
    planes = [
        Taking(
            leaf.axes.origin, -leaf.axes.w, leaf.axes.u,
            -np.inf if leaf is leaves[0] else leaf.window[0] / 1000,
            np.inf if leaf is leaves[-1] else leaf.window[2] / 1000,
        )
        for leaf in leaves
    ]  # fmt: skip
    kept = opened(demo, [planes], shown)
    assert all(watertight(p.body) and not p.body.open for p in kept)
    taken = 0.0
    for plane in planes:  # what one plane takes is the part of its side that lies between its ends
        assert plane.along is not None
        for whole in opened(demo, [], shown):
            part = clipped(whole.body, plane.point, -plane.normal)
            for at, out in ((plane.start, -plane.along), (plane.end, plane.along)):
                if np.isfinite(at):
                    part = clipped(part, plane.point + plane.along * at, out)
            taken += part.volume
    assert taken > 1
    total = demo.mesh.volumes(len(demo.elements))[shown].sum()
    assert sum(p.body.volume for p in kept) == pytest.approx(total - taken, rel=1e-3)
    inside = np.concatenate([p.body.vertices for p in kept])
    assert inside[inside[:, 0] < 7.9][:, 1].min() == pytest.approx(3.0)  # west of the step it is cut at its first leg
    assert inside[inside[:, 0] > 8.1][:, 1].min() == pytest.approx(7.0)


def test_a_box_keeps_what_lies_in_it() -> None:
    model = model_of(box((0, 0, 0), (4, 3, 2)), box((8, 8, 0), (9, 9, 1)), box((1.5, 1, 0.5), (2, 2, 1)))
    low, high = (1.0, 0.5, -1.0), (3.0, 9.0, 1.5)
    sides = [
        taking(corner, tuple(sign * np.eye(3)[axis]))
        for corner, sign in ((low, -1.0), (high, 1.0))
        for axis in range(3)
    ]
    pieces = opened(model, [sides], np.ones(3, dtype=bool))
    assert {p.element: p.body.volume for p in pieces} == {0: pytest.approx(2 * 2.5 * 1.5), 2: pytest.approx(0.25)}
    assert all(watertight(p.body) for p in pieces)


def test_a_slice_is_as_thick_as_it_was_asked_for(demo: Model) -> None:
    shown = np.array([e.kind == "wall" for e in demo.elements])
    pieces = opened(demo, [straight((0.0, 0.0, 2.0), (0.0, 0.0, 1.0))], shown, 0.25)
    heights = np.concatenate([p.body.vertices[:, 2] for p in pieces])
    assert (heights.min(), heights.max()) == pytest.approx((1.75, 2.0))
    assert all(watertight(p.body) for p in pieces)
    with pytest.raises(ImpossibleCut, match="one plane"):
        opened(demo, [], shown, 0.25)


@pytest.mark.parametrize("form", ["glb", "stl"])
def test_files_of_bodies_are_read_back_with_their_volume(demo: Model, form: str) -> None:
    shown = np.array([e.kind in ("wall", "slab") for e in demo.elements])
    pieces = opened(demo, [straight((10.0, 0.0, 0.0), (1.0, 0.0, 0.0))], shown)
    data = body_file(demo, pieces, form, STANDARD)  # type: ignore[arg-type]
    loaded = trimesh.load(io.BytesIO(data), file_type=form, process=False)
    volume = sum(p.body.volume for p in pieces)
    if form == "glb":
        assert len(loaded.geometry) == len(pieces)
        assert loaded.bounds[1][1] == pytest.approx(max(p.body.vertices[:, 2].max() for p in pieces), abs=1e-4)
        assert sum(g.volume for g in loaded.geometry.values()) == pytest.approx(volume, rel=1e-3)
    else:
        assert loaded.volume / 1e9 == pytest.approx(volume, rel=1e-3)
    with pytest.raises(ImpossibleCut, match="Nothing"):
        body_file(demo, [], form, STANDARD)  # type: ignore[arg-type]


def test_a_plane_becomes_the_cut_of_its_kind_and_lies_where_it_lay(demo: Model) -> None:
    section = cut_of_plane(demo, Plane((10.6, 3.0, 1.0), (-1.0, 0.0, 0.0)), REACH)
    assert isinstance(section, SectionCut)
    (leaf,) = leaves_of(demo, section)
    assert leaf.axes.w == pytest.approx([1, 0, 0])
    assert leaf.axes.origin[0] == pytest.approx(10.6)
    storey = demo.storeys[1]
    plan = cut_of_plane(demo, Plane((0.0, 0.0, storey.elevation + 1.5), (0.0, 0.0, 1.0)), REACH)
    assert isinstance(plan, PlanCut)
    assert (plan.storey, plan.height, plan.look) == (storey.guid, 1.5, "down")
    assert cut_of_plane(demo, Plane((0.0, 0.0, storey.elevation + 1.5), (0.0, 0.0, -1.0)), REACH).look == "up"  # type: ignore[union-attr]
    elevation = cut_of_plane(demo, Plane((0.0, -500.0, 1.0), (0.0, -1.0, 0.0)), REACH)
    assert isinstance(elevation, ElevationCut)
    free = cut_of_plane(demo, Plane((10.0, 3.0, 4.0), (0.0, -1.0, 1.0)), REACH, perspective=True)
    assert isinstance(free, PlaneCut)
    assert free.perspective is not None
    assert leaves_of(demo, free)[0].axes.w == pytest.approx([0, math.sqrt(0.5), -math.sqrt(0.5)])


def test_planes_that_give_no_cut_say_why(demo: Model) -> None:
    with pytest.raises(ImpossibleCut, match="behind this plane"):
        cut_of_plane(demo, Plane((0.0, -500.0, 0.0), (0.0, 1.0, 0.0)), REACH)
    with pytest.raises(ImpossibleCut, match="no length"):
        cut_of_plane(demo, Plane((0.0, 0.0, 0.0), (0.0, 0.0, 0.0)), REACH)


def test_a_drawing_takes_a_plane_of_its_kind_alone(demo: Model) -> None:
    old = SectionCut(line=((1, -2), (1, 12)), depth=3.0, without=("furniture",), depths=(3.0,))
    found = cut_of_plane(demo, Plane((7.0, 0.0, 0.0), (1.0, 0.0, 0.0)), REACH)
    moved = moved_to_plane(demo, old, found)
    assert isinstance(moved, SectionCut)
    assert (moved.depth, moved.without, moved.depths) == (3.0, ("furniture",), ())
    assert {round(x, 3) for x, _ in moved.line} == {7.0}
    with pytest.raises(ImpossibleCut, match="make a new drawing"):
        moved_to_plane(demo, old, cut_of_plane(demo, Plane((0.0, 0.0, 2.0), (0.0, 0.0, 1.0)), REACH))


def test_stops_name_levels_grid_faces_and_openings(demo: Model) -> None:
    up = stops_along(demo, (0.0, 0.0, 1.0))
    levels = {s.says: s.at for s in up if s.says.startswith("level")}
    assert len(levels) >= len({round(s.elevation, 3) for s in demo.storeys}) - 1
    along = stops_along(demo, (1.0, 0.0, 0.0))
    assert [s.at for s in along] == sorted(s.at for s in along)
    grid = {s.says[5:]: s.at for s in along if s.says.startswith("grid")}
    upright = {a.name: a.start[0] for a in demo.grid if abs(a.start[0] - a.end[0]) < 1e-6}
    assert grid
    assert all(upright[name] == pytest.approx(at) for name, at in grid.items())
    assert any(s.says.startswith("face of") for s in along)
    assert any(s.says.startswith("middle of") for s in along)
    assert parent_level(demo, demo.storeys[1].elevation + 0.1) == demo.storeys[1].guid


def test_the_compact_form_holds_every_triangle_within_a_hair(demo: Model) -> None:
    parts = solid_parts(demo)
    assert sum(p.triangles for p in parts) == len(demo.mesh.triangles)
    seen = 0
    for part in parts:
        data = part_bytes(demo, part)
        (length,) = struct.unpack_from("<I", data)
        head = json.loads(data[4 : 4 + length])
        at = 4 + length
        positions = np.frombuffer(data, "<u2", head["vertices"] * 3, at).reshape(-1, 3)
        at += -(-positions.nbytes // 4) * 4
        triangles = np.frombuffer(data, "<u4", head["triangles"] * 3, at).reshape(-1, 3)
        at += triangles.nbytes
        edges = np.frombuffer(data, "<u4", head["edges"] * 2, at)
        assert at + edges.nbytes == len(data)
        points = np.array(head["low"]) + positions * np.array(head["step"])
        start = 0
        for row, (guid, _, _, runs, _) in zip(part.elements.tolist(), head["elements"], strict=True):
            assert demo.elements[row].guid == guid
            count = sum(many for _, many in runs)
            mine = np.flatnonzero(demo.mesh.triangle_element == row)
            mine = mine[np.argsort(seen_materials(demo)[mine], kind="stable")]  # in the order of what they show
            assert [[one, many] for one, many in runs] == [
                list(pair) for pair in zip(*np.unique(seen_materials(demo)[mine], return_counts=True), strict=True)
            ]
            corners = demo.mesh.vertices[demo.mesh.triangles[mine]]
            assert np.abs(points[triangles[start : start + count]] - corners).max() <= max(head["step"])
            start += count
            seen += count
    assert seen == len(demo.mesh.triangles)


def test_walls_show_their_outer_layers_in_the_colours_of_the_standard(demo: Model) -> None:
    names = {k: m.name for k, m in enumerate(demo.materials)}
    wall = next(
        k for k, e in enumerate(demo.elements) if e.kind == "wall" and e.material >= 0 and e.build_up >= 0
        and "Studs" in names[e.material] and "partition" not in e.name.lower()
    )  # fmt: skip
    layers = demo.build_ups[demo.elements[wall].build_up].layers
    seen = seen_materials(demo)[demo.mesh.triangle_element == wall]
    assert {layers[0].material, layers[-1].material} <= set(seen.tolist())
    colours = {(t.kind, t.material): t.colour for t in tints_of(demo, STANDARD)}
    kinds = np.array([e.kind for e in demo.elements])[demo.mesh.triangle_element]
    assert set(colours) == set(zip(kinds.tolist(), seen_materials(demo).tolist(), strict=True))
    class_of = STANDARD.face_classes(demo)
    outside = colours["wall", layers[0].material]
    assert outside == STANDARD.materials[class_of(demo.elements[wall], layers[0].material, -1)].tint


def test_a_model_too_large_shows_its_largest_elements(demo: Model) -> None:
    parts = solid_parts(demo)
    assert fitting(demo, parts) == parts
    less = fitting(demo, parts, 20_000)
    assert sum(p.triangles for p in less) <= 20_000
    counts = np.bincount(demo.mesh.triangle_element, minlength=len(demo.elements))
    for part, whole in zip(less, parts, strict=True):
        assert part.triangles == counts[part.elements].sum()
        assert len(part.elements) + part.missing == len(whole.elements)
        assert set(part.elements.tolist()) <= set(whole.elements.tolist())
    assert sum(p.triangles for p in less) > 15_000  # and as many as find room
    pieces = in_pieces(demo, less, 3_000)
    assert sum(p.missing for p in pieces) == sum(p.missing for p in less)
    assert [e for p in pieces for e in p.elements.tolist()] == [e for p in less for e in p.elements.tolist()]
    assert len(pieces) > len(less)


@given(st.floats(0, 179.9))
def test_the_directions_of_a_building_are_those_of_its_walls(turn: float) -> None:
    a = math.radians(turn)
    rotation = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0], [0, 0, 1]])
    house = trimesh.creation.box((12.0, 7.0, 3.0))
    skew = trimesh.creation.box((2.0, 2.0, 3.0)).apply_transform(
        trimesh.transformations.rotation_matrix(0.5, [0, 0, 1])
    )
    shape = trimesh.util.concatenate([house, skew])
    found = building_turn(model_of((np.asarray(shape.vertices) @ rotation.T, np.asarray(shape.faces))))
    assert (found - turn + 90) % 180 - 90 == pytest.approx(0, abs=1e-2)
