"""Openings of another size or elsewhere: walls and windows as they would be modelled so by hand."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.model import Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.becoming import became
from edge_slice.core.model.corrections.documents import FaceElsewhere, OtherOpening
from edge_slice.core.model.corrections.openings import (
    NO_FILLING,
    NO_OPENING,
    NOTHING_LEFT,
    OUTSIDE,
    axes_of,
    looks_at,
    sides_of,
)
from edge_slice.core.model.corrections.saying import FacePlane
from edge_slice.core.model.corrections.sides import divided
from tests.bodies import Body as Plain
from tests.bodies import box, model_of, moved, pierced_box, rotation
from tests.core.model.test_corrected_faces import corners, volume

NORTH = (0.0, 1.0, 0.0)


def walled(left: float = 1.0, right: float = 2.0, sill: float = 1.0, head: float = 2.0) -> list[Plain]:
    """A wall of 4 x 3 m, a window 10 mm smaller all round in its hole, a board under it that stands out to both
    sides."""
    return [
        pierced_box((0, 0, 0), (4, 0.3, 3), (left, sill, right, head)),
        box((left + 0.01, 0.1, sill + 0.01), (right - 0.01, 0.17, head - 0.01)),
        box((left - 0.05, -0.05, sill - 0.03), (right + 0.05, 0.1, sill)),
    ]


def house(bodies: list[Plain], turn: float = 0.0) -> Model:
    matrix = rotation(0.0, 0.0, turn)
    there = [moved(body, matrix, np.array((3.0, -2.0, 1.0)) if turn else np.zeros(3)) for body in bodies]
    return model_of(*there, kinds=["wall", "window", "covering", *["wall"] * (len(bodies) - 3)])


def other(**by: float) -> OtherOpening:
    return OtherOpening.model_validate({"element": "element-1", "looks": NORTH, **by})


@pytest.mark.parametrize(
    ("by", "hand"),
    [
        ({"right": 0.5}, (1.0, 2.5, 1.0, 2.0)),
        ({"left": -0.3, "right": 0.3}, (0.7, 2.3, 1.0, 2.0)),
        ({"left": 1.2, "right": 1.2}, (2.2, 3.2, 1.0, 2.0)),
        ({"sill": -0.4}, (1.0, 2.0, 0.6, 2.0)),
        ({"sill": 0.4, "head": 0.4}, (1.0, 2.0, 1.4, 2.4)),
        ({"left": -0.5, "right": 0.25, "sill": -0.2, "head": 0.6}, (0.5, 2.25, 0.8, 2.6)),
    ],
)
def test_an_opening_is_as_it_is_modelled_so_by_hand(
    by: dict[str, float], hand: tuple[float, float, float, float]
) -> None:
    found, (told,) = corrected(house(walled()), [other(**by)])
    assert (told.elements, told.already, told.changed, told.refused) == (1, 0, 0, ())
    by_hand = house(walled(*hand))
    assert [corners(found, k) for k in range(3)] == [corners(by_hand, k) for k in range(3)]
    assert [volume(found, k) for k in range(3)] == pytest.approx([volume(by_hand, k) for k in range(3)], rel=1e-9)
    assert found.leaking == ()


@pytest.mark.parametrize(
    ("by", "why"),
    [
        ({"right": 2.0}, OUTSIDE),  # to the end of the wall
        ({"left": 2.5, "right": 2.5}, OUTSIDE),  # beyond it
        ({"head": 1.5}, OUTSIDE),
        ({"right": -0.9}, NOTHING_LEFT),
        ({"sill": 0.9}, NOTHING_LEFT),
    ],
)
def test_an_opening_that_can_not_be_says_why(by: dict[str, float], why: str) -> None:
    model = house(walled())
    found, (told,) = corrected(model, [other(**by)])
    assert found is model
    assert told.refused == ((why, 1),)


def test_what_is_no_window_and_what_stands_in_no_opening_say_why() -> None:
    one = other(right=0.1).model_copy(update={"element": "element-2"})
    assert became(house(walled()), [one])[0].refused == ((NO_FILLING, 1),)
    lone = [box((0, 0, 0), (4, 0.3, 3)), *walled()[1:]]
    assert became(house(lone), [other(right=0.1)])[0].refused == ((NO_OPENING, 1),)


def test_an_opening_ends_before_its_wall_does() -> None:
    _, window, board = walled()
    a, b = pierced_box((0, 0, 0), (2.2, 0.3, 3), (1, 1, 2, 2)), box((2.2, 0, 0), (4, 0.3, 3))
    model = house([a, window, board, b])
    assert became(model, [other(right=0.3)])[0].refused == ((OUTSIDE, 1),)  # the wall ends before
    assert became(model, [other(right=0.1)])[0].elements == 1


def test_a_door_that_stands_on_the_floor_has_no_sill() -> None:
    ring = [(0.0, 0.0), (1.0, 0.0), (1.0, 2.0), (2.0, 2.0), (2.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0)]
    flat = divided(shapely.Polygon(ring), np.array(ring))
    points = np.array([(x, y, z) for y in (0.0, 0.3) for x, z in ring])
    sides = [(k, (k + 1) % 8, 8 + (k + 1) % 8) for k in range(8)] + [(k, 8 + (k + 1) % 8, 8 + k) for k in range(8)]
    faces = np.concatenate((flat, flat[:, ::-1] + 8, sides))
    model = house([(points, faces), box((1.01, 0.1, 0.0), (1.99, 0.17, 1.99))])
    model = replace(model, elements=(model.elements[0], replace(model.elements[1], kind="door")))
    assert model.leaking == ()
    assert became(model, [other(sill=-0.1)])[0].refused == ((OUTSIDE, 1),)
    found, (told,) = corrected(model, [other(left=-0.5, right=-0.5, head=0.2)])
    assert told.elements == 1
    assert volume(found) == pytest.approx((4 * 3 - 2.2) * 0.3)
    assert [0.5, 0.0, 0.0] in corners(found)
    assert [1.0, 0.0, 0.0] not in corners(found)


def test_a_newer_file_that_has_it_so_and_one_that_has_it_elsewhere() -> None:
    model = house(walled())
    one = other(right=0.5).model_copy(update={"stood": sides_of(model, 1, NORTH)})
    there = house(walled(right=2.5))
    same, (told,) = corrected(there, [one])
    assert same is there
    assert told.already == 1
    found, (told,) = corrected(house(walled(left=1.2, right=2.2)), [one])
    assert (told.elements, told.changed) == (1, 1)
    assert corners(found, 0) == corners(there, 0)  # where it was said that it shall be


def test_the_order_in_which_they_are_said_does_not_matter() -> None:
    east = FacePlane(looks=(1.0, 0.0, 0.0), at=4.0)
    longer = FaceElsewhere(element="element-0", face=east, to=FacePlane(looks=(1.0, 0.0, 0.0), at=6.0))
    beyond = other(left=3.2, right=3.2)  # where the wall is only once it is longer
    model = house(walled())
    first, told = corrected(model, [longer, beyond])
    assert [one.elements for one in told] == [1, 1]
    second, told = corrected(model, [beyond, longer])
    assert [(one.elements, one.refused) for one in told] == [(1, ()), (1, ())]
    assert corners(first) == corners(second)
    assert corrected(model, [beyond])[1][0].refused == ((OUTSIDE, 1),)


@settings(max_examples=40, deadline=None)
@given(
    sides=st.tuples(*[st.integers(-60, 60)] * 4).filter(any),
    turn=st.integers(-314, 314),
    around=st.booleans(),
)
def test_any_opening_in_a_wall_turned_anyhow(sides: tuple[int, int, int, int], turn: int, around: bool) -> None:
    angle, by = turn / 100, [v / 100 for v in sides]
    model = house(walled(), angle)
    x, y, z = (rotation(0.0, 0.0, angle) @ NORTH).tolist()
    looks, (left, right, sill, head) = (x, y, z), by
    if around:  # seen from the other side, left is right
        looks, left, right = (-x, -y, -z), -right, -left
    one = OtherOpening(element="element-1", looks=looks, left=left, right=right, sill=sill, head=head)
    found, (told,) = corrected(model, [one])
    shall = (1 + by[0], 2 + by[1], 1 + by[2], 2 + by[3])
    fits = shall[1] - shall[0] - 0.02 >= 0.15 and shall[3] - shall[2] - 0.02 >= 0.15
    if told.elements:
        assert fits
        hand = house(walled(*shall), angle)
        assert np.abs(np.array(corners(found)) - np.array(corners(hand))).max() < 2e-5
        assert volume(found) == pytest.approx(volume(hand), rel=1e-6)
    else:
        assert told.refused == ((NOTHING_LEFT, 1),)
        assert not fits


def test_every_opening_of_the_demo_can_be_lower_and_leaves_its_walls_closed(demo: Model) -> None:
    fills = [k for k, e in enumerate(demo.elements) if e.kind in ("window", "door")]
    assert len(fills) > 20
    said = [other(head=-0.1).model_copy(update={"element": demo.elements[k].guid, "looks": looks_at(demo, k)})
            for k in fills]  # fmt: skip
    found, told = corrected(demo, said)
    assert [one.refused for one in told] == [()] * len(fills)
    assert found.leaking == demo.leaking
    more = found.mesh.volumes(len(demo.elements)) - demo.mesh.volumes(len(demo.elements))
    for k in fills:
        one = said[fills.index(k)]
        left, right, _, head = sides_of(demo, k, one.looks)
        assert sides_of(found, k, one.looks)[3] == pytest.approx(head - 0.1, abs=2e-5)
        assert more[k] < 0 < right - left
    walls = [k for k, e in enumerate(demo.elements) if e.kind in ("wall", "roof") and abs(more[k]) > 1e-9]
    assert walls
    assert all(more[k] > 0 for k in walls)  # there is more of what a lower opening goes through


def test_the_way_one_looks_through_a_window_of_a_roof(demo: Model) -> None:
    k = next(k for k, e in enumerate(demo.elements) if e.name == "Rooflight")
    looks = looks_at(demo, k)
    assert looks is not None
    assert 0.5 < abs(looks[2]) < 1.0
    right, up, way = axes_of(looks)
    assert abs(right[2]) < 1e-9
    assert up[2] > 0
    assert np.cross(right, up) @ way == pytest.approx(-1.0)


@pytest.mark.parametrize(
    "said",
    [
        {"looks": [0, 1, 0]},
        {"looks": [0, 2, 0], "left": 1},
        {"looks": [0, 1, 0], "left": float("inf")},
        {"looks": [0, 1, 0], "left": 1, "stood": [0, 1, 2]},
        {"left": 1},
    ],
)
def test_openings_that_mean_nothing_are_refused(said: dict) -> None:
    with pytest.raises(ValidationError):
        OtherOpening.model_validate({"element": "e", **said})
