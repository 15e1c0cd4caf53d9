"""Faces pushed and pulled: bodies as they would be modelled so, with the faces beside them in their planes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from pydantic import ValidationError

from edge_slice.core.cut import PlaneCut, cut_model
from edge_slice.core.cut.placing.handles import handles_of
from edge_slice.core.model import LayerFrame, Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import BuildUpCorrection, FaceElsewhere, WantedLayer
from edge_slice.core.model.corrections.pushing import BESIDE, NO_FACE, OF_LAYERS, THROUGH
from edge_slice.core.model.corrections.saying import FacePlane
from edge_slice.core.model.corrections.sides import Body, flat_sides
from edge_slice.core.model.corrections.wanted import GONE, LEAKS
from tests.bodies import Body as Plain
from tests.bodies import box, model_of, moved, pierced_box, polygon_ring, prism, rotation

F64 = NDArray[np.float64]
UP, EAST = (0.0, 0.0, 1.0), (1.0, 0.0, 0.0)
MITRED = [(0.0, 0.0), (4.0, 0.0), (3.0, 1.0), (1.0, 1.0)]  # a wall between two that meet it at 45 degrees


def pushed(
    looks: tuple[float, ...], at: float, by: float, to: tuple[float, ...] | None = None, element: str = "element-0"
) -> FaceElsewhere:
    x, y, z = looks
    a, b, c = to or looks
    return FaceElsewhere(
        element=element, face=FacePlane(looks=(x, y, z), at=at), to=FacePlane(looks=(a, b, c), at=at + by)
    )


def volume(model: Model, k: int = 0) -> float:
    return float(model.mesh.volumes(len(model.elements))[k])


def corners(model: Model, k: int = 0) -> list[list[float]]:
    """The corners of an element, sorted; those that only divide its sides are not among them."""
    return sorted(np.unique(np.round(model.element_triangles(k).reshape(-1, 3), 6) + 0.0, axis=0).tolist())


@pytest.mark.parametrize(
    ("body", "one", "hand"),
    [
        (box((0, 0, 0), (4, 1, 3)), pushed(UP, 3.0, 0.5), box((0, 0, 0), (4, 1, 3.5))),
        (box((0, 0, 0), (4, 1, 3)), pushed((0.0, 0.0, -1.0), 0.0, -0.5), box((0, 0, 0.5), (4, 1, 3))),
        (box((0, 0, 0), (4, 1, 3)), pushed(EAST, 4.0, -3.9), box((0, 0, 0), (0.1, 1, 3))),
        (prism(MITRED, 0, 3), pushed((0.0, -1.0, 0.0), 0.0, 0.5),
         prism([(-0.5, -0.5), (4.5, -0.5), (3, 1), (1, 1)], 0, 3)),
        (prism(MITRED, 0, 3), pushed((0.0, 1.0, 0.0), 1.0, 0.5), prism([(0, 0), (4, 0), (2.5, 1.5), (1.5, 1.5)], 0, 3)),
        (prism(MITRED, 0, 3), pushed(UP, 3.0, -1.0), prism(MITRED, 0, 2)),
        (prism(polygon_ring(24, 0.3), 0, 3), pushed(UP, 3.0, 1.0), prism(polygon_ring(24, 0.3), 0, 4)),
        (pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2)), pushed(EAST, 4.0, -1.5),
         pierced_box((0, 0, 0), (2.5, 0.3, 3), (1, 1, 2, 2))),
        (pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2)), pushed((0.0, 0.0, -1.0), -2.0, -0.4),
         pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2.4))),  # the head of its hole
    ],
)  # fmt: skip
def test_a_face_lies_where_it_is_modelled_so_by_hand(body: Plain, one: FaceElsewhere, hand: Plain) -> None:
    found, (told,) = corrected(model_of(body), [one])
    assert (told.elements, told.already, told.changed, told.refused) == (1, 0, 0, ())
    by_hand = model_of(hand)
    assert corners(found) == corners(by_hand)
    assert volume(found) == pytest.approx(volume(by_hand), rel=1e-9)
    assert found.leaking == ()
    again, (told,) = corrected(found, [one])
    assert again is found  # a newer file that has it so
    assert told.already == 1


def test_a_column_is_trimmed_to_a_roof() -> None:
    slope = (0.0, -0.6, 0.8)  # its underside rises towards y
    one = pushed(UP, 3.0, 0.0, slope)
    one = one.model_copy(update={"to": FacePlane(looks=slope, at=0.8 * 4.0)})  # 4 m high at y = 0
    found, (told,) = corrected(model_of(box((0, 0, 0), (1, 2, 3))), [one])
    assert told.elements == 1
    assert found.boxes[0].tolist() == pytest.approx(np.array([[0, 0, 0], [1, 2, 5.5]]))
    assert volume(found) == pytest.approx(2 * (4.0 + 5.5) / 2)
    assert corrected(found, [one])[1][0].already == 1


@pytest.mark.parametrize(
    ("body", "one", "why"),
    [
        (box((0, 0, 0), (4, 1, 3)), pushed(UP, 3.0, -3.0), THROUGH),
        (box((0, 0, 0), (4, 1, 3)), pushed(UP, 3.0, -5.0), THROUGH),
        (prism(MITRED, 0, 3), pushed((0.0, 1.0, 0.0), 1.0, 1.5), THROUGH),  # its ends would cross
        (pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2)), pushed(EAST, 4.0, -2.5), THROUGH),  # into its hole
        (pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2)), pushed(EAST, 4.0, -3.5), THROUGH),  # past its hole
        (box((0, 0, 0), (4, 1, 3)), pushed(UP, 9.0, 1.0), NO_FACE),
        (box((0, 0, 0), (4, 1, 3)), pushed((0.0, 0.6, 0.8), 3.0, 1.0), NO_FACE),
        (box((0, 0, 0), (4, 1, 3)), pushed(UP, 3.0, 1.0, element="nobody"), GONE),
    ],
)
def test_what_can_not_be_says_why_and_changes_nothing(body: Plain, one: FaceElsewhere, why: str) -> None:
    model = model_of(body)
    found, (told,) = corrected(model, [one])
    assert found is model
    assert told.refused == ((why, 1),)


def test_a_body_that_is_not_closed_and_the_faces_of_layers_say_why() -> None:
    points, faces = box((0, 0, 0), (4, 0.3, 3))
    assert corrected(model_of((points, faces[2:])), [pushed(UP, 3.0, 1.0)])[1][0].refused == ((LEAKS, 1),)
    wall = model_of((points, faces), layers=[("Brick", 0.3)], frame=LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0)))
    assert corrected(wall, [pushed((0.0, 1.0, 0.0), 0.3, 0.1)])[1][0].refused == ((OF_LAYERS, 1),)
    thicker = BuildUpCorrection(build_up="Wall", layers=(WantedLayer(material="Brick", thickness=0.4),))
    both, told = corrected(wall, [pushed(UP, 3.0, 0.5), thicker])
    assert [one.elements for one in told] == [1, 1]
    assert both.boxes[0].tolist() == pytest.approx(np.array([[0, 0, 0], [4, 0.4, 3.5]]))


def test_a_tip_between_faces_that_are_nearly_one_is_refused() -> None:
    flat = [(0.0, 0.0), (4.0, 0.0), (4.0, 1.0), (2.0, 1.001), (0.0, 1.0)]  # two faces that are nearly in one plane
    looks = np.array((0.001, 2.0, 0.0)) / np.hypot(0.001, 2.0)
    one = pushed(tuple(looks.tolist()), float(looks @ (4.0, 1.0, 0.0)), 0.2)
    assert corrected(model_of(prism(flat, 0, 3)), [one])[1][0].refused == ((BESIDE, 1),)


def test_a_newer_file_that_has_the_face_a_little_elsewhere_is_told_and_drawn_as_said() -> None:
    found, (told,) = corrected(model_of(box((0, 0, 0), (4, 1, 3.2))), [pushed(UP, 3.0, 0.5)])
    assert (told.elements, told.changed) == (1, 1)
    assert found.boxes[0, 1, 2] == pytest.approx(3.5)


@settings(max_examples=60, deadline=None)
@given(
    spots=st.lists(st.tuples(st.integers(-30, 30), st.integers(-30, 30)), min_size=4, max_size=12, unique=True),
    side=st.integers(0, 11),
    by=st.integers(-40, 40).filter(bool),
    angles=st.tuples(*[st.floats(-3.0, 3.0)] * 3),
)
def test_any_side_of_any_convex_prism_is_moved_as_its_plane_cuts_the_others(
    spots: list[tuple[int, int]], side: int, by: int, angles: tuple[float, float, float]
) -> None:
    hull = shapely.convex_hull(shapely.multipoints(spots))
    assume(isinstance(hull, shapely.Polygon) and hull.area > 1.0)
    ring = shapely.get_coordinates(shapely.orient_polygons(hull))[:-1]
    k = side % len(ring)
    far, turn = by / 20, rotation(*angles)
    a, b = ring[k], ring[(k + 1) % len(ring)]
    normal = np.array((b[1] - a[1], a[0] - b[0])) / np.hypot(*(b - a))
    model = model_of(moved(prism([(x, y) for x, y in ring.tolist()], 0.0, 3.0), turn, np.array((5.0, -3.0, 2.0))))
    looks = turn @ np.array((*normal, 0.0))
    at = float(normal @ a) + float(looks @ (5.0, -3.0, 2.0))
    found, (told,) = corrected(model, [pushed(tuple((looks / np.linalg.norm(looks)).tolist()), at, far)])
    shall = _cut_by_its_sides(ring, k, far)
    if shall is None:
        assert told.refused
        assert found is model
    elif told.elements:
        assert volume(found) == pytest.approx(3.0 * shall, rel=1e-6, abs=1e-6)
        assert found.leaking == ()
        back, _ = corrected(found, [pushed(tuple((looks / np.linalg.norm(looks)).tolist()), at + far, -far)])
        assert back.boxes == pytest.approx(model.boxes, abs=1e-4)


def _cut_by_its_sides(ring: F64, k: int, far: float) -> float | None:
    """The area of a convex ring whose side k is moved outwards between the lines of the two beside it; None where these
    meet before."""
    n = len(ring)
    before, a, b, after = (ring[(k + i) % n] for i in (-1, 0, 1, 2))
    normal = np.array((b[1] - a[1], a[0] - b[0])) / np.hypot(*(b - a))

    def met(p: F64, q: F64) -> F64:
        return np.asarray(q + (q - p) * (far / float((q - p) @ normal)))

    new = ring.copy()
    new[k], new[(k + 1) % n] = met(before, a), met(after, b)
    found = shapely.Polygon(new)
    turned = float((new[(k + 1) % n] - new[k]) @ (b - a)) <= 0
    return None if turned or not found.is_valid or not shapely.is_ccw(found.exterior) else float(found.area)


def test_faces_have_grips_where_they_are_seen_edge_on() -> None:
    wall = model_of(
        pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2)), layers=[("Brick", 0.3)],
        frame=LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    )  # fmt: skip
    wall = replace(wall, origin=(100.0, 200.0, 10.0))
    cut = PlaneCut(point=(0.0, 0.15, 0.0), normal=(0.0, 1.0, 0.0), depth=5.0)
    handles = handles_of(wall, cut_model(wall, cut), 0)
    planes = sorted((tuple(round(v, 6) + 0.0 for v in h.looks), round(h.at, 6)) for h in handles)
    across = PlaneCut(point=(0.5, 0.0, 0.0), normal=(1.0, 0.0, 0.0), depth=5.0)  # beside its hole
    assert sorted(h.at for h in handles_of(wall, cut_model(wall, across), 0)) == pytest.approx([-10.0, 13.0])
    assert len(handles_of(wall, cut_model(wall, across), 0, of_its_layers=True)) == 4
    assert planes == [
        ((-1.0, 0.0, 0.0), -102.0), ((-1.0, 0.0, 0.0), -100.0), ((0.0, 0.0, -1.0), -12.0), ((0.0, 0.0, -1.0), -10.0),
        ((0.0, 0.0, 1.0), 11.0), ((0.0, 0.0, 1.0), 13.0), ((1.0, 0.0, 0.0), 101.0), ((1.0, 0.0, 0.0), 104.0),
    ]  # fmt: skip
    top = next(h for h in handles if h.looks[2] > 0.9 and h.at > 12.0)
    assert top.out == pytest.approx((0.0, 1.0))
    assert abs(top.end[0] - top.start[0]) == pytest.approx(4000.0)


def test_each_side_is_one_piece() -> None:
    body = Body.of(model_of(pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2))), 0)
    assert sorted(len(rows) for rows in flat_sides(body)) == [2] * 8 + [8, 8]


@pytest.mark.parametrize(
    "said",
    [
        {"face": {"looks": [0, 0, 2], "at": 1}, "to": {"looks": [0, 0, 1], "at": 2}},
        {"face": {"looks": [0, 0, 1], "at": 1}, "to": {"looks": [0, 0, 1], "at": 1}},
        {"face": {"looks": [0, 0, 1], "at": 1}, "to": {"looks": [0, 0, -1], "at": 1}},
        {"face": {"looks": [0, 0, 1], "at": float("nan")}, "to": {"looks": [0, 0, 1], "at": 1}},
        {"face": {"looks": [0, 0, 1], "at": 1}},
    ],
)
def test_faces_that_mean_nothing_are_refused(said: dict) -> None:
    with pytest.raises(ValidationError):
        FaceElsewhere.model_validate({"element": "e", **said})
