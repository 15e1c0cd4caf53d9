"""Cut faces against closed forms and independent oracles."""

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import AnyCut, Extents, PlanCut, PlaneCut, SectionCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import LayerFrame, Model
from tests.bodies import Body, box, model_of, moved, pierced_box, polygon_ring, prism, rotation

angle = st.floats(0, 6.28)


def through(x: float = 0.0, look: str = "left") -> SectionCut:
    """A cut along the plane x = const, seen towards smaller x when looking left (walking north)."""
    return SectionCut(line=((x, -20.0), (x, 20.0)), look=look, extents=Extents(left=0, right=40, base=-20, top=20))


def area(model: Model, spec: AnyCut) -> float:
    """Total area of the cut in square metres."""
    return sum(f.polygon.area for f in cut_model(model, spec).faces) / 1e6


def convex_section(body: Body, x: float) -> float:
    """Area of a convex body's section at a given x: the hull of its edges' crossings, computed on its own."""
    vertices, triangles = body
    points = []
    for t in triangles:
        for a, b in ((t[0], t[1]), (t[1], t[2]), (t[2], t[0])):
            p, q = vertices[a], vertices[b]
            if (p[0] - x) * (q[0] - x) < 0:
                points.append(p + (q - p) * (x - p[0]) / (q[0] - p[0]))
    return shapely.MultiPoint(np.array(points)[:, 1:]).convex_hull.area if len(points) > 2 else 0.0


@given(angle, angle, angle, st.floats(-0.9, 0.9))
@settings(max_examples=60)
def test_section_of_a_turned_box_equals_the_hull_of_its_crossings(a: float, b: float, c: float, x: float) -> None:
    body = moved(box((-1, -0.7, -0.4), (1, 0.7, 0.4)), rotation(a, b, c), np.zeros(3))
    expected = convex_section(body, x)
    if expected > 1e-4:
        assert area(model_of(body), through(x)) == pytest.approx(expected, rel=1e-6)


def test_regular_prism_closed_form() -> None:
    model = model_of(prism(polygon_ring(17, 2.0), 0, 3))
    expected = 0.5 * 17 * 2.0**2 * math.sin(2 * math.pi / 17)
    assert area(model, PlanCut(storey="storey-0", height=1.0)) == pytest.approx(expected, rel=1e-6)


def test_hollow_body_has_a_hole() -> None:
    outer, inner = box((-1, -1, 0), (1, 1, 2)), box((-0.6, -0.6, 0.4), (0.6, 0.6, 1.6))
    vertices = np.vstack((outer[0], inner[0]))
    triangles = np.vstack((outer[1], inner[1][:, ::-1] + 8))
    faces = cut_model(model_of((vertices, triangles)), through()).faces
    assert len(faces) == 1
    assert len(faces[0].polygon.interiors) == 1
    assert faces[0].polygon.area / 1e6 == pytest.approx(4 - 1.2 * 1.2, rel=1e-6)


def test_plane_on_a_face_cuts_the_body_on_one_side_only() -> None:
    model = model_of(box((-1, 0, 0), (0, 1, 1)), box((0, 0, 0), (1, 1, 1)))
    assert area(model, through(0.0)) == pytest.approx(1.0, rel=1e-9)


def test_integral_of_cut_areas_is_the_volume_of_the_demos_bodies(demo: Model) -> None:
    """Simpson's rule between the vertices' x values, on some bodies of every kind."""
    volumes = demo.mesh.volumes(len(demo.elements))
    chosen: dict[str, int] = {}
    for index, element in enumerate(demo.elements):
        if (
            element.kind in ("wall", "slab", "roof", "footing", "column", "stair", "window", "beam")
            and element.kind not in chosen
        ):
            chosen[element.kind] = index
    assert len(chosen) == 8
    for index in chosen.values():
        rows = demo.mesh.triangle_element == index
        corners = demo.mesh.triangles[rows]
        body = (demo.mesh.vertices, corners.astype(np.int64))
        used = np.unique(corners)
        single = model_of((demo.mesh.vertices[used], np.searchsorted(used, body[1])))
        marks = np.unique(np.round(single.mesh.vertices[:, 0], 7))
        total = 0.0
        for x0, x1 in pairwise(marks):
            if x1 - x0 < 1e-6:
                continue
            inset = (x1 - x0) * 1e-4
            y = [area(single, through(float(x))) for x in (x0 + inset, (x0 + x1) / 2, x1 - inset)]
            total += (x1 - x0) * (y[0] + 4 * y[1] + y[2]) / 6
        assert total == pytest.approx(volumes[index], rel=1e-3), demo.elements[index].name


LAYERS = [("Brick", 0.1), ("Insulation", 0.12), ("Block", 0.14), ("Plaster", 0.013)]
THICK = sum(t for _, t in LAYERS)
FRAME = LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0))


@given(st.floats(-1.2, 1.2))
@settings(max_examples=40)
def test_layers_are_square_to_the_wall_at_any_angle_of_cut(turn: float) -> None:
    model = model_of(box((-9, 0, 0), (9, THICK, 3)), layers=LAYERS, frame=FRAME)
    along = (math.sin(turn), math.cos(turn))
    spec = SectionCut(
        line=((-along[0] * 5, -along[1] * 5), (along[0] * 5, along[1] * 5)), extents=Extents(base=-1, top=4)
    )
    faces = sorted(cut_model(model, spec).faces, key=lambda f: f.layer)
    assert [f.layer for f in faces] == [0, 1, 2, 3]
    for face, (_, thickness) in zip(faces, LAYERS, strict=True):
        assert face.polygon.area / 1e6 == pytest.approx(3 * thickness / math.cos(turn), rel=1e-6)


def layer_areas(model: Model, spec: AnyCut) -> dict[int, float]:
    """Area (m2) of each layer in a cut."""
    areas: dict[int, float] = {}
    for face in cut_model(model, spec).faces:
        areas[face.layer] = areas.get(face.layer, 0.0) + face.polygon.area / 1e6
    return areas


@given(st.floats(-0.9, 0.9))
@settings(max_examples=15)
def test_layers_go_round_an_opening(turn: float) -> None:
    model = model_of(pierced_box((-2, 0, 0), (2, THICK, 3), (-1, 0.9, 1, 2.1)), layers=LAYERS, frame=FRAME)
    for height, length in ((0.5, 4), (1.5, 2), (2.5, 4)):
        plan = layer_areas(model, PlanCut(storey="storey-0", height=height))
        assert plan == pytest.approx({k: length * t for k, (_, t) in enumerate(LAYERS)}, rel=1e-6)
    d = (math.sin(turn), math.cos(turn))
    cut = SectionCut(line=((-d[0], -d[1]), (d[0], d[1])), extents=Extents(base=-1, top=4))
    faces = cut_model(model, cut).faces
    assert layer_areas(model, cut) == pytest.approx(
        {k: (3 - 1.2) * t / math.cos(turn) for k, (_, t) in enumerate(LAYERS)}, rel=1e-6
    )
    assert len(faces) == 2 * len(LAYERS)  # below the opening and above it


@given(st.floats(0.05, 1.1), st.floats(-0.8, 0.8))
@settings(max_examples=20)
def test_layers_of_a_sloping_roof_are_square_to_its_slope(slope: float, turn: float) -> None:
    """Cut along the slope each layer has its thickness; at an angle to it, more by the geometry of the two planes."""
    lean = rotation(slope, 0.0, 0.0)
    body = moved(box((-9, 0, 0), (9, 5, THICK)), lean, np.array([0.0, -1.0, 1.0]))
    normal = lean @ np.array([0.0, 0.0, 1.0])
    frame = LayerFrame((0.0, -1.0, 1.0), tuple(float(v) for v in normal))
    model = model_of(body, layers=LAYERS, frame=frame, kinds=["roof"])
    d = np.array([math.sin(turn), math.cos(turn), 0.0])
    across = np.array([d[1], -d[0], 0.0])  # of the plane of the cut
    cut = SectionCut(line=((-9 * d[0], -9 * d[1]), (9 * d[0], 9 * d[1])), extents=Extents(base=-9, top=9))
    seen = math.sqrt(1 - float(normal @ across) ** 2)  # the layers' direction as it lies in the cut
    along = np.cross(across, normal) / seen
    length = 5 / abs(float(along @ (lean @ np.array([0.0, 1.0, 0.0]))))
    expected = {k: length * t / seen for k, (_, t) in enumerate(LAYERS)}
    assert layer_areas(model, cut) == pytest.approx(expected, rel=1e-6)


def test_layers_meet_at_a_mitred_corner() -> None:
    """A wall whose end is cut at half a right angle: each layer ends where that of the other wall begins."""
    wall = prism([(0, 0), (4, 0), (4, THICK), (THICK, THICK)], 0, 3)
    areas = layer_areas(model_of(wall, layers=LAYERS, frame=FRAME), PlanCut(storey="storey-0", height=1.0))
    starts = np.cumsum([0.0, *(t for _, t in LAYERS)])
    expected = {k: t * (4 - (starts[k] + starts[k + 1]) / 2) for k, (_, t) in enumerate(LAYERS)}
    assert areas == pytest.approx(expected, rel=1e-6)


def test_layers_end_at_a_butted_corner() -> None:
    """The end of one wall against the side of another: both keep all of their layers, and nothing is covered twice."""
    model = model_of(
        box((0, 0, 0), (4, THICK, 3)), box((0, THICK, 0), (0.3, 3, 3)), layers=LAYERS, frame=FRAME,
        materials=["Block", "Reinforced concrete"],
    )  # fmt: skip
    areas = layer_areas(model, PlanCut(storey="storey-0", height=1.0))
    expected = {k: 4 * t for k, (_, t) in enumerate(LAYERS)} | {-1: 0.3 * (3 - THICK)}
    assert areas == pytest.approx(expected, rel=1e-6)


def test_the_stronger_material_wins_and_no_point_is_covered_twice() -> None:
    model = model_of(
        box((-1, 0, 0), (1, 2, 1)), box((-1, 1, 0), (1, 3, 1)), box((-1, 0.5, 0.5), (1, 2.5, 2)),
        materials=["Plaster", "Reinforced concrete", "Timber"],
    )  # fmt: skip
    result = cut_model(model, through(), default_standard().cut_rules(model))
    shapes = [f.polygon for f in result.faces]
    union = shapely.union_all(shapes).area
    assert sum(s.area for s in shapes) == pytest.approx(union, rel=1e-6)
    strong = sum(f.polygon.area for f in result.faces if f.element == 1)
    assert strong / 1e6 == pytest.approx(2.0, rel=1e-9)


@pytest.mark.parametrize("y", [0.9, 2.4, 4.8, 7.3, 9.1])
def test_no_point_of_the_demo_is_covered_twice(demo: Model, y: float) -> None:
    spec = SectionCut(line=((-3, y), (25, y)))
    shapes = [f.polygon for f in cut_model(demo, spec, default_standard().cut_rules(demo)).faces]
    assert len(shapes) > 50
    assert all(s.is_valid for s in shapes)
    assert sum(s.area for s in shapes) == pytest.approx(shapely.union_all(shapes).area, rel=1e-6)


def open_box(drop: float) -> Body:
    """A box whose lid hangs `drop` metres below its walls."""
    vertices, triangles = box((-1, 0, 0), (1, 1, 1))
    walls = triangles[[0, 1, *range(4, 12)]]
    lid = np.array([(8, 9, 10), (8, 10, 11)])
    return np.vstack((vertices, vertices[4:] - [0, 0, drop])), np.vstack((walls, lid))


def test_gap_of_2_mm_is_bridged() -> None:
    result = cut_model(model_of(open_box(0.002)), through())
    assert not result.open_chains
    assert sum(f.polygon.area for f in result.faces) / 1e6 == pytest.approx(1.0, rel=5e-3)


def test_gap_of_20_mm_stays_open_and_is_named() -> None:
    result = cut_model(model_of(open_box(0.02)), through())
    assert not result.faces
    assert {e for e, _ in result.open_chains} == {0}


def test_cut_clear_of_everything_is_empty() -> None:
    result = cut_model(model_of(box((0, 0, 0), (1, 1, 1))), SectionCut(line=((50, 0), (50, 5)), look="right", depth=2))
    assert result.is_empty


def test_faces_end_at_the_extents() -> None:
    spec = through().model_copy(update={"extents": Extents(left=0, right=40, base=0.25, top=0.75)})
    assert area(model_of(box((-1, 0, 0), (1, 2, 1))), spec) == pytest.approx(1.0, rel=1e-9)


def test_ground_without_a_body_is_cut_as_one() -> None:
    """A surface that falls from 1 m to 0 m over 10 m; a footing of concrete stands in it."""
    surface = (np.array([(-5, -5, 1), (5, -5, 1), (5, 5, 0), (-5, 5, 0)], float), np.array([(0, 1, 2), (0, 2, 3)]))
    model = model_of(
        surface, box((-1, -1, -1), (1, 1, 0.2)), materials=["Earth", "Concrete"], kinds=["ground", "footing"]
    )
    spec = SectionCut(line=((0, -5), (0, 5)), extents=Extents(left=0, right=10, base=-2, top=3))
    result = cut_model(model, spec, default_standard().cut_rules(model))
    assert not result.open_chains
    assert model.unclosed == ()
    areas = {e: sum(f.polygon.area for f in result.faces if f.element == e) / 1e6 for e in (0, 1)}
    assert areas == pytest.approx({0: 10 * 2.5 - 2.4, 1: 2.4}, rel=1e-6)


def test_body_that_touches_itself_along_an_edge_keeps_its_area() -> None:
    """Two boxes of one element that share an upright edge: four faces meet there."""
    one, other = box((-1, -1, 0), (0, 0, 2)), box((0, 0, 0), (1, 1, 2))
    body = (np.vstack((one[0], other[0])), np.vstack((one[1], other[1] + 8)))
    model = model_of(body)
    assert area(model, PlanCut(storey="storey-0", height=1.0)) == pytest.approx(2.0, rel=1e-9)
    assert not model.leaking


@pytest.mark.parametrize("turned", [False, True])
def test_body_that_stands_twice_in_one_element_is_cut_once(turned: bool) -> None:
    """The copy may be inside out."""
    vertices, triangles = box((-1, -1, 0), (1, 1, 2))
    copy = triangles[:, ::-1] if turned else triangles
    model = model_of((np.vstack((vertices, vertices)), np.vstack((triangles, copy + 8))))
    assert area(model, PlanCut(storey="storey-0", height=1.0)) == pytest.approx(4.0, rel=1e-9)


def test_two_elements_in_the_same_place_are_cut_once() -> None:
    model = model_of(box((-1, -1, 0), (1, 1, 2)), box((-1, -1, 0), (1, 1, 2)))
    assert area(model, PlanCut(storey="storey-0", height=1.0)) == pytest.approx(4.0, rel=1e-9)


def test_part_inside_another_part_is_no_void_unless_it_is_turned_inward() -> None:
    outer, inner = box((-1, -1, 0), (1, 1, 2)), box((-0.6, -0.6, 0.4), (0.6, 0.6, 1.6))
    body = (np.vstack((outer[0], inner[0])), np.vstack((outer[1], inner[1] + 8)))
    assert area(model_of(body), PlanCut(storey="storey-0", height=1.0)) == pytest.approx(4.0, rel=1e-9)


@given(st.lists(st.tuples(angle, angle, angle, st.floats(-1, 1), st.floats(-1, 1)), min_size=2, max_size=6))
@settings(max_examples=25)
def test_sum_of_areas_is_the_area_of_the_union(places: list[tuple[float, ...]]) -> None:
    bodies = [
        moved(box((-1, -0.7, -0.4), (1, 0.7, 0.4)), rotation(*p[:3]), np.array([0.0, p[3], p[4]])) for p in places
    ]
    names = ["Concrete", "Brick", "Steel", "Glass", "Plaster", "Oak"][: len(bodies)]
    model = model_of(*bodies, materials=names)
    shapes = [f.polygon for f in cut_model(model, through(), default_standard().cut_rules(model)).faces]
    total = sum(s.area for s in shapes)
    assert total == pytest.approx(shapely.union_all(shapes).area, rel=1e-6)
    alone = [cut_model(model_of(b), through()).faces for b in bodies]
    assert total == pytest.approx(shapely.union_all([f.polygon for one in alone for f in one]).area, rel=1e-6)


@given(st.lists(st.floats(0.01, 0.3), min_size=2, max_size=6), st.floats(-1.2, 1.2))
@settings(max_examples=30)
def test_layers_add_up_to_the_wall_at_any_angle(thicknesses: list[float], turn: float) -> None:
    total = sum(thicknesses)
    layers = [(f"Material {k}", t) for k, t in enumerate(thicknesses)]
    frame = LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    model = model_of(box((-9, 0, 0), (9, total, 2)), layers=layers, frame=frame)
    d = (math.sin(turn), math.cos(turn))
    spec = SectionCut(line=((-4 * d[0], -4 * d[1]), (4 * d[0], 4 * d[1])), extents=Extents(base=-1, top=3))
    faces = cut_model(model, spec).faces
    for k, thick in enumerate(thicknesses):
        own = sum(f.polygon.area for f in faces if f.layer == k) / 2e6
        assert own == pytest.approx(thick / math.cos(turn), rel=1e-5, abs=1e-7)


@given(st.floats(-1e-12, 1e-12), st.floats(0, 6.28), st.floats(-50, 50))
@settings(max_examples=60)
def test_a_face_that_lies_in_the_cut_but_for_rounding_is_cut_whole_or_not_at_all(
    noise: float, turn: float, far: float
) -> None:
    vertices, triangles = box((0, 0, 0), (6, 0.3, 0.9))
    turned = vertices @ rotation(0.0, 0.0, turn).T + np.array([far, far, 0.0])
    turned[:, 2] += noise * np.arange(len(turned))
    model = model_of((turned, triangles), box((0, 0, -0.3), (1, 1, 0)))
    cut = PlaneCut(point=(far, far, -0.3 + 1.2), normal=(0.0, 0.0, 1.0))
    areas = [f.polygon.area for f in cut_model(model, cut).faces]
    assert areas in ([], [pytest.approx(6000 * 300, rel=1e-6)])
