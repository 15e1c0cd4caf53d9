"""A model in the ground of its project: cut, seen and hidden as if its file had it."""

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

from edge_slice.core.cut import ElevationCut, Extents, SectionCut, cut_model
from edge_slice.core.cut.pieces import Role
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.model import Model
from edge_slice.core.model.ground.documents import (
    ElementGround,
    Ground,
    Grounds,
    LevelGround,
    PointsGround,
    ProfileGround,
)
from edge_slice.core.model.ground.made import GroundProblem, model_ground, relief_of
from edge_slice.core.model.ground.standing_in import EXISTING, PROPOSED, reliefs_of, with_ground
from edge_slice.core.model.ground.typed import Untyped, typed_points
from edge_slice.core.model.mesh.triangles import build_mesh
from tests.bodies import box, model_of

HOUSE = (box((0, 0, 0), (6, 4, 3)), box((-0.3, -0.3, -0.6), (6.3, 4.3, 0.0)))
SECTION = SectionCut(line=((-8, 2), (14, 2)), extents=Extents(base=-3, top=4))
SLOPE = ProfileGround(start=(0, 0), end=(1, 0), heights=((-2, -0.5), (8, 0.5)))


def house() -> Model:
    """A block of a wall on a footing."""
    return model_of(*HOUSE, kinds=["wall", "footing"])


def grounded(shape: object, **more: object) -> Model:
    return with_ground(house(), Grounds(existing=Ground.model_validate({"shape": shape, **more})))


def ground_cut(model: Model) -> float:
    """Square metres of ground in the section, above 3 m below the floor."""
    faces = cut_model(model, SECTION, default_standard().cut_rules(model)).faces
    return sum(f.polygon.area for f in faces if model.elements[f.element].kind == "ground") / 1e6


def test_a_section_cuts_level_ground_beside_and_under_the_house() -> None:
    model = grounded(LevelGround(height=-0.2), reach=5)
    assert model.elements[-1].guid == EXISTING
    assert model.materials[model.elements[-1].material].name == "Earth"
    assert not len(model.mesh.open_elements)
    wide = 22 - 2 * (8 - 5.3)  # metres that it reaches over
    deep = 0.6 + 2.0 - 0.2  # from its surface to below the footing
    assert ground_cut(model) == pytest.approx(wide * deep - 6.6 * 0.4, rel=1e-6)


def test_lines_are_those_of_a_model_that_has_the_same_ground() -> None:
    model = grounded(SLOPE)
    mesh = model.mesh
    anew = build_mesh(mesh.vertices, mesh.triangles, mesh.triangle_element, np.full(len(mesh.triangles), -1, np.int32))

    def ends(m: object) -> np.ndarray:
        segments = np.sort(np.round(m.vertices[m.edges], 6), axis=1)  # type: ignore[attr-defined]
        return np.unique(segments.reshape(-1, 6), axis=0)

    assert np.array_equal(ends(mesh), ends(anew))
    assert len(mesh.edge_element)
    assert (np.diff(mesh.edge_element) >= 0).all()


def test_ground_of_the_project_takes_the_place_of_that_of_the_model(demo: Model) -> None:
    flat = with_ground(demo, Grounds(existing=Ground(shape=LevelGround(height=-0.4))))
    spec = SectionCut(line=((-4, 3.1), (26, 3.1)), without=("ground",))
    old, new = cut_model(demo, spec), cut_model(flat, spec)
    assert np.array_equal(old.lines.points, new.lines.points)
    assert [f.polygon.wkb for f in old.faces] == [f.polygon.wkb for f in new.faces]
    own = next(k for k, e in enumerate(demo.elements) if e.kind == "ground")
    assert not len(flat.element_triangles(own))
    assert own not in flat.leaking


def test_floors_below_the_ground_are_free_of_it() -> None:
    cellar = (box((0, 0, -2.2), (6, 4, -2.0)), box((-0.3, 0, -2.2), (0, 4, 3)), box((6, 0, -2.2), (6.3, 4, 3)))
    plain = model_of(*cellar, kinds=["slab", "wall", "wall"])
    model = with_ground(plain, Grounds(existing=Ground(shape=LevelGround(height=0))))
    faces = cut_model(model, SECTION, default_standard().cut_rules(model)).faces
    ground = shapely.union_all([f.polygon for f in faces if model.elements[f.element].kind == "ground"])
    assert shapely.intersection(ground, shapely.box(8010, -1990, 13990, 3000)).area < 1
    assert shapely.contains_xy(ground, 11000, -2500)
    assert shapely.contains_xy(ground, 6000, -100)


def dashed(model: Model, hidden: str) -> set[tuple[int, ...]]:
    cut = ElevationCut(line=((-3, -3), (9, -3)), hidden=hidden)
    lines = cut_model(model, cut, default_standard().cut_rules(model)).lines
    rows = lines.points[lines.role == Role.HIDDEN].round().astype(int).tolist()
    return {tuple(sorted(((a, b), (c, d)))) for a, b, c, d in rows}


def test_what_ground_alone_hides_is_dashed_where_a_drawing_asks_for_it() -> None:
    model = grounded(LevelGround(height=0))
    found = dashed(model, "below ground")
    left, right, base = 2700, 9300, -600
    assert ((left, base), (right, base)) in found
    assert ((left, base), (left, 0)) in found
    assert {y for line in found for _, y in line} == {base, 0}
    assert dashed(model, "off") == set()
    behind = model_of(*HOUSE, box((1, 2, -1.5), (2, 3, -1)), kinds=["wall", "footing", "services"])
    buried = with_ground(behind, Grounds(existing=Ground(shape=LevelGround(height=0))))
    assert ((4000, -1500), (5000, -1500)) in dashed(buried, "below ground")
    inside = model_of(*HOUSE, box((1, 2, -0.5), (2, 3, -0.2)), kinds=["wall", "footing", "services"])
    covered = with_ground(inside, Grounds(existing=Ground(shape=LevelGround(height=0))))
    assert dashed(covered, "below ground") == found  # the footing before it hides it too


def test_proposed_ground_is_what_is_drawn_and_the_rest_stays_as_it_is() -> None:
    pad = Ground(shape=LevelGround(height=1.0), area=((-1, -1), (7, -1), (7, 5), (-1, 5)), material="Gravel")
    said = Grounds(existing=Ground(shape=LevelGround(height=0)), proposed=pad)
    model = with_ground(house(), said)
    assert [e.guid for e in model.elements[-2:]] == [EXISTING, PROPOSED]
    assert model.materials[model.elements[-1].material].name == "Gravel"
    both = reliefs_of(house(), said)
    assert both.drawn is not None
    assert both.drawn.heights(np.array([(3.0, 2.0), (9.0, 2.0)])) == pytest.approx([1, 0])


def test_a_section_shows_dashed_where_the_ground_was() -> None:
    pad = Ground(shape=LevelGround(height=-0.5), area=((-5, -1), (12, -1), (12, 5), (-5, 5)))
    model = with_ground(house(), Grounds(existing=Ground(shape=LevelGround(height=0.25)), proposed=pad))
    standard = default_standard()
    result = cut_model(model, SECTION, standard.cut_rules(model))
    drawn = compose_drawing(model, result, SECTION, DrawingSpec(scale=100), standard)
    dashed = [i for i in drawn.items if i.role == "hidden"]
    points = np.concatenate([i.points for i in dashed])
    assert points[:, 1] == pytest.approx(2.5)  # mm on paper
    assert (points[:, 0].min(), points[:, 0].max()) == pytest.approx((30, 200))
    alone = with_ground(house(), Grounds(existing=Ground(shape=LevelGround(height=0.25))))
    assert alone.former_ground is None


def test_a_model_without_the_element_that_its_ground_lies_on_says_so_and_stays() -> None:
    said = Grounds(existing=Ground(shape=ElementGround(guid="gone")))
    model = with_ground(house(), said)
    assert len(model.elements) == 2
    assert "has no element gone" in model.problems[-1]
    assert with_ground(house(), Grounds()).elements == house().elements


def test_ground_lies_on_an_element_with_an_offset(demo: Model) -> None:
    own = next(e for e in demo.elements if e.kind == "ground")
    shape = ElementGround(guid=own.guid, offset=0.25)
    raised, there = relief_of(demo, Ground(shape=shape)), model_ground(demo)
    assert there is not None
    at = np.array([(-3.0, -3.0), (25.0, 12.0), (10.0, -4.0)])
    assert raised.heights(at) == pytest.approx(there.heights(at) + 0.25)


@pytest.mark.parametrize(
    ("shape", "words"),
    [
        ({"kind": "points", "points": [(0, 0, 1), (1, 1, 2), (2, 2, 4), (5, 5, 0)]}, "on one line"),
        ({"kind": "points", "points": [(0, 0, 1), (4, 1, 2), (0, 0, 2), (5, 5, 0)]}, "1 and 3 lie over each other"),
        ({"kind": "profile", "start": (0, 0), "end": (1, 0), "heights": [(0, 1), (4, 2), (3, 1)]}, "must grow"),
        ({"kind": "profile", "start": (1, 1), "end": (1, 1), "heights": [(0, 1), (4, 2)]}, "has no length"),
        ({"kind": "hill"}, "hill"),
    ],
)
def test_ground_that_is_none_is_refused_in_words(shape: dict, words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        Ground.model_validate({"shape": shape})


def test_points_in_other_coordinates_and_areas_of_nothing_are_told() -> None:
    far = PointsGround(points=((500_000, 0, 1), (500_010, 0, 1), (500_000, 9, 1)))
    with pytest.raises(GroundProblem, match="500 km from the building"):
        relief_of(house(), Ground(shape=far))
    with pytest.raises(GroundProblem, match="outline"):
        relief_of(house(), Ground(shape=LevelGround(), area=((0, 0), (5, 5), (5, 0), (0, 5))))
    near = PointsGround(points=((0, 0, 1), (9, 0, 1), (0, 9, 1)))
    with pytest.raises(GroundProblem, match="nothing of the ground"):
        relief_of(house(), Ground(shape=near, area=((90, 90), (95, 90), (95, 95))))


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        ("1 2 3\n\n# survey\n4 5 6", [(1, 2, 3), (4, 5, 6)]),
        ("1,5 2,5 3,0\n4 5 6", [(1.5, 2.5, 3), (4, 5, 6)]),
        ("1, 2, 3\r\n4,5,6", [(1, 2, 3), (4, 5, 6)]),
        ("P1;1,5;2,5;3,0;edge\nP2;4;5;6;", [(1.5, 2.5, 3), (4, 5, 6)]),
        ("Height\tEasting (m)\tNorthing\n3\t1\t2", [(1, 2, 3)]),
        ("1 2 3 tree\n1 2 3 tree\n4 5 6 kerb", [(1, 2, 3), (4, 5, 6)]),
    ],
)
def test_points_are_read_however_people_have_them(text: str, rows: list) -> None:
    assert list(typed_points(text, "points").rows) == rows


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no points in this text"),
        ("1 2 3\n4 five 6", "Line 2: “4 five 6” gives no x, y, height"),
        ("1 2\n4 5", "Line 1: “1 2” gives no x"),
        ("left;right;up\n1;2;3", "names no columns"),
        ("1 2 3\n" * 20_001, "20,000 at most"),
    ],
)
def test_text_that_gives_no_points_says_which_line_and_why(text: str, words: str) -> None:
    with pytest.raises(Untyped, match=words):
        typed_points(text, "points")


def test_a_profile_is_read_as_distances_and_heights() -> None:
    read = typed_points("distance;height\n0;1,2\n5;1,4\n5;1,4", "profile")
    assert read.rows == ((0, 1.2), (5, 1.4))
    assert any("1 of 3 lines" in note for note in read.notes)
