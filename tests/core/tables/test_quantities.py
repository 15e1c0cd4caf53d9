"""Volumes of bodies and layers against closed forms, and against what cuts show of them."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import PlaneCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import BuildUp, Element, Layer, LayerFrame, Material, Model, Storey
from edge_slice.core.model.mesh.bodies import box
from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.core.tables.quantities import quantities_of
from edge_slice.core.tables.rows import Measured

MATERIALS = tuple(Material(name) for name in ("Brick", "Wool", "Board"))


def wall(
    thicknesses: tuple[float, ...],
    long: float,
    high: float,
    turn: float = 0.0,
    properties: tuple = (),
    hole: bool = False,
) -> Model:
    """A wall of layers from y = 0 on, turned about the vertical; with a hole through it of 1 × 1 m."""
    whole = sum(thicknesses)
    body = trimesh.creation.box(bounds=((0, 0, 0), (long, whole, high)))
    if hole:
        parts = [((0, 0, 0), (1, whole, high)), ((2, 0, 0), (long, whole, high)), ((1, 0, 0), (2, whole, 1))]
        corners, triangles, count = [], [], 0
        for low, top in [*parts, ((1, 0, 2), (2, whole, high))]:
            c, t = box(low, top)
            corners.append(c)
            triangles.append(t + count)
            count += len(c)
        points, faces = np.concatenate(corners), np.concatenate(triangles)
    else:
        points, faces = np.array(body.vertices), np.array(body.faces)
    c, s = np.cos(turn), np.sin(turn)
    points = points @ np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]]) + [30.0, -20.0, 4.0]
    direction = (float(-s), float(c), 0.0)
    mesh = build_mesh(points, faces.astype(np.int32), np.zeros(len(faces), np.int32), np.full(len(faces), -1, np.int32))
    built = BuildUp("Outer wall", tuple(Layer(k % 3, t) for k, t in enumerate(thicknesses)))
    frame = LayerFrame((30.0, -20.0, 4.0), direction)
    element = Element("w", "Wall", "wall", 0, 0, 0, frame, properties=properties)
    return Model("", mesh, (element,), MATERIALS, (built,), (Storey("s", "Ground", 4.0),))


@given(st.lists(st.floats(0.01, 0.4), min_size=1, max_size=6), st.floats(2.1, 20), st.floats(2.1, 6), st.floats(0, 6.3))
def test_layers_of_a_wall_have_their_thickness_times_its_side(
    thicknesses: list[float], long: float, high: float, turn: float
) -> None:
    found = quantities_of(wall(tuple(thicknesses), long, high, turn))
    assert found.layers[0] == pytest.approx([t * long * high for t in thicknesses], rel=1e-6)
    assert found.volume[0] == pytest.approx(sum(thicknesses) * long * high, rel=1e-6)


def test_a_hole_goes_through_every_layer() -> None:
    found = quantities_of(wall((0.1, 0.16, 0.0125), 5.0, 3.0, 0.7, hole=True))
    assert found.layers[0] == pytest.approx([t * 14.0 for t in (0.1, 0.16, 0.0125)], rel=1e-6)


def curved(points: np.ndarray, faces: np.ndarray, frame: LayerFrame, thicknesses: tuple[float, ...]) -> Model:
    none = np.full(len(faces), -1, np.int32)
    mesh = build_mesh(points, faces.astype(np.int32), np.zeros(len(faces), np.int32), none)
    built = BuildUp("Round wall", tuple(Layer(k % 3, t) for k, t in enumerate(thicknesses)))
    return Model("", mesh, (Element("w", "Wall", "wall", 0, 0, 0, frame),), MATERIALS, (built,), (Storey("s", "G", 0),))


@pytest.mark.parametrize("outwards", [True, False])
@pytest.mark.parametrize("slope", [0.0, 0.4])
def test_layers_of_a_round_wall_are_rings(outwards: bool, slope: float) -> None:
    """What lies between two circles wholly in the body is a ring to the last digit, also under a slanting top."""
    body = trimesh.creation.annulus(r_min=4.0, r_max=4.5, height=3.0, sections=90)
    points = np.array(body.vertices)
    points[:, 2] += slope * points[:, 0]
    at = (12.0, -7.0, 2.0)
    frame = LayerFrame(at, (1.0 if outwards else -1.0, 0.0, 0.0), 4.0 if outwards else 4.5)
    found = quantities_of(curved(points + at, np.array(body.faces), frame, (0.1, 0.15, 0.05, 0.2)))
    rings = [(4.1, 4.25), (4.25, 4.3)] if outwards else [(4.25, 4.4), (4.2, 4.25)]
    expected = [np.pi * (b**2 - a**2) * 3.0 for a, b in rings]
    assert found.layers[0][1:3] == pytest.approx(expected, rel=1e-9)
    assert found.layers[0].sum() == pytest.approx(found.volume[0], rel=1e-9)
    assert found.volume[0] == pytest.approx(45 * np.sin(2 * np.pi / 90) * (4.5**2 - 4.0**2) * 3.0, rel=1e-6)


@given(
    st.tuples(*[st.floats(-4, 4)] * 2), st.floats(0.2, 5), st.floats(0.2, 5), st.tuples(*[st.floats(-1, 1)] * 2),
    st.floats(0.3, 6),
)  # fmt: skip
def test_what_lies_in_a_cylinder_is_as_high_as_the_body(
    corner: tuple[float, float], long: float, deep: float, slopes: tuple[float, float], radius: float
) -> None:
    """A slanting box is two metres high everywhere: its volume in a cylinder is twice the area in the circle."""
    low = np.array([*corner, 0.0])
    points, faces = box(tuple(low), tuple(low + np.array([long, deep, 2.0])))
    points = np.array(points, dtype=float)
    points[:, 2] += points[:, :2] @ slopes
    frame = LayerFrame((0.0, 0.0, -3.0), (1.0, 0.0, 0.0), radius - 0.1)
    found = quantities_of(curved(points, np.array(faces), frame, (0.1, 50.0)))
    circle = shapely.Point(0, 0).buffer(radius, quad_segs=2000)
    shared = circle.intersection(shapely.box(*corner, corner[0] + long, corner[1] + deep)).area
    assert found.layers[0] == pytest.approx([2 * shared, 2 * (long * deep - shared)], abs=1e-4)


def test_layers_of_the_demo_add_up_to_its_bodies_and_are_those_that_are_cut(demo: Model) -> None:
    """A layer's volume is the area that cuts along it show, over its thickness (Gauss and Legendre, three places)."""
    found = quantities_of(demo)
    looked_at = 0
    for k, volumes in found.layers.items():
        assert volumes.sum() == pytest.approx(found.volume[k], rel=1e-9, abs=1e-9)
        element = demo.elements[k]
        if element.kind != "wall" or looked_at == 3:
            continue
        looked_at += 1
        alone = _alone(demo, k)
        rules = default_standard().cut_rules(alone)
        x, y, z = (-c for c in element.frame.direction)
        start = 0.0
        for layer, volume in zip(demo.build_ups[element.build_up].layers, volumes.tolist(), strict=True):
            counted = 0.0
            for place, weight in zip(*np.polynomial.legendre.leggauss(3), strict=True):
                deep = start + layer.thickness * (place + 1) / 2
                at = np.array(element.frame.origin) + np.array(element.frame.direction) * deep
                cut = PlaneCut(point=tuple(at.tolist()), normal=(x, y, z))
                faces = [f.polygon.area for f in cut_model(alone, cut, rules).faces]
                counted += weight / 2 * layer.thickness * sum(faces) / 1e6
            assert counted == pytest.approx(volume, rel=2e-3, abs=1e-4)
            start += layer.thickness
    assert looked_at == 3


def _alone(model: Model, element: int) -> Model:
    """An element without those that it overlaps, which share its place in a cut."""
    triangles = model.element_triangles(element)
    count = len(triangles)
    corners = np.arange(3 * count, dtype=np.int32).reshape(-1, 3)
    mesh = build_mesh(triangles.reshape(-1, 3), corners, np.zeros(count, np.int32), np.full(count, -1, np.int32))
    return Model("", mesh, (Element("a", "", "wall", 0, 0),), MATERIALS)


def test_a_body_that_is_not_closed_has_no_volume() -> None:
    corners, triangles = box((0, 0, 0), (1, 1, 1))
    mesh = build_mesh(corners, triangles[2:].astype(np.int32), np.zeros(10, np.int32), np.full(10, -1, np.int32))
    model = Model("", mesh, (Element("a", "", "slab", 0, 0),), MATERIALS, leaking=(0,))
    found = quantities_of(model)
    assert np.isnan(found.volume[0])
    assert found.parts == {}


@pytest.mark.parametrize(
    ("said", "told"), [("1.5", []), ("1.512", []), ("1.9", [("net volume", 1.9)]), ("as built", [])]
)
def test_a_volume_that_the_file_has_otherwise_is_told(said: str, told: list) -> None:
    model = wall((0.1,), 5.0, 3.0, properties=(("Qto_WallBaseQuantities: NetVolume", said),))
    found = Measured(model).disagreements
    assert [(one.what, one.said) for one in found] == told
    assert all(one.found == pytest.approx(1.5) for one in found)
