"""Copies of windows with openings of their own: walls as they would be modelled so by hand."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.model import Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import CopiedElements, MovedElements, OtherOpening
from edge_slice.core.model.corrections.holes import NO_WALL
from edge_slice.core.model.corrections.new_bodies import guid_of_copy
from edge_slice.core.model.corrections.openings import OUTSIDE
from tests.bodies import Body, box, extruded, model_of, moved, rotation
from tests.core.model.test_corrected_faces import corners, volume

HOLE = (1.0, 1.0, 2.0, 2.0)  # least x and z, greatest x and z of what the window stands in


def holed(*holes: tuple[float, float, float, float], deep: tuple[float, float] = (0.0, 0.3)) -> Body:
    """A wall of 6 x 3 m with holes."""
    return extruded(shapely.box(0, 0, 6, 3) - shapely.union_all([shapely.box(*hole) for hole in holes]), *deep)


def measures(model: Model, k: int) -> tuple[float, list[float], list[float]]:
    """Volume, box, and where the middle of the volume lies: alike for bodies that are divided otherwise."""
    a, b, c = np.moveaxis(model.element_triangles(k), 1, 0)
    parts = np.einsum("ij,ij->i", a, np.cross(b, c)) / 6.0
    middle = ((a + b + c) / 4.0 * parts[:, None]).sum(axis=0) / parts.sum()
    return float(parts.sum()), model.boxes[k].ravel().tolist(), middle.tolist()


def house(*walls: Body, turn: float = 0.0) -> Model:
    """Walls, and a window 10 mm smaller all round in the hole of the first."""
    left, sill, right, head = HOLE
    bodies = [*walls, box((left + 0.01, 0.1, sill + 0.01), (right - 0.01, 0.17, head - 0.01))]
    matrix = rotation(0.0, 0.0, turn)
    there = [moved(body, matrix, np.array((3.0, -2.0, 1.0)) if turn else np.zeros(3)) for body in bodies]
    return model_of(*there, kinds=[*["wall"] * len(walls), "window"])


def wall_of(model: Model, k: int = 0) -> float:
    """The volume of a wall: copies may come before it."""
    return volume(model, model.element_by_guid[f"element-{k}"])


def copied(model: Model, *by: tuple[float, float, float]) -> CopiedElements:
    return CopiedElements(elements=(model.elements[-1].guid,), copies=by, openings=True)


@pytest.mark.parametrize(
    ("by", "hand"),
    [
        ((1.5, 0.0, 0.0), (2.5, 1.0, 3.5, 2.0)),
        ((3.9, 0.0, 0.5), (4.9, 1.5, 5.9, 2.5)),
        ((2.0, 0.0, -0.9), (3.0, 0.1, 4.0, 1.1)),
    ],
)
def test_a_copy_stands_in_a_hole_as_modelled_by_hand(
    by: tuple[float, float, float], hand: tuple[float, float, float, float]
) -> None:
    model = house(holed(HOLE))
    found, (told,) = corrected(model, [copied(model, by)])
    assert (told.elements, told.refused) == (1, ())
    assert found.leaking == ()
    hand_made = measures(house(holed(HOLE, hand)), 0)
    assert np.hstack(measures(found, found.element_by_guid["element-0"])) == pytest.approx(np.hstack(hand_made))
    new = found.element_by_guid[guid_of_copy(model.elements[-1].guid, by)]
    assert corners(found, new) == pytest.approx(np.array(corners(model, 1)) + by)


@settings(max_examples=40, deadline=None)
@given(turn=st.floats(-3.0, 3.0), x=st.integers(11, 39), z=st.integers(-9, 9))
def test_however_a_wall_stands_its_copy_takes_away_what_the_opening_is_large(turn: float, x: int, z: int) -> None:
    model = house(holed(HOLE), turn=turn)
    along = rotation(0.0, 0.0, turn) @ np.array((x / 10, 0.0, z / 10))
    found, (told,) = corrected(model, [copied(model, tuple(along.tolist()))])  # type: ignore[arg-type]
    assert told.refused == ()
    assert found.leaking == ()
    assert wall_of(found) == pytest.approx(volume(model, 0) - 0.3, abs=1e-6)


def test_every_leaf_of_a_wall_is_cut_and_several_copies_stand_beside_each_other() -> None:
    model = house(holed(HOLE), holed(HOLE, deep=(0.35, 0.5)))
    found, (told,) = corrected(model, [copied(model, (1.5, 0.0, 0.0), (3.0, 0.0, 0.0))])
    assert told.elements == 1
    hand = house(holed(HOLE, (2.5, 1.0, 3.5, 2.0), (4.0, 1.0, 5.0, 2.0)))
    assert wall_of(found) == pytest.approx(volume(hand, 0))
    assert wall_of(found, 1) == pytest.approx(volume(hand, 0) / 2)
    again, (told,) = corrected(found, [copied(model, (1.5, 0.0, 0.0), (3.0, 0.0, 0.0))])
    assert again is found
    assert told.already == 1


def test_a_copy_follows_what_else_is_said_of_its_window_and_its_wall() -> None:
    model = house(holed(HOLE))
    wider = OtherOpening(element="element-1", looks=(0.0, 1.0, 0.0), right=0.5)
    found, _ = corrected(model, [copied(model, (2.0, 0.0, 0.0)), wider])
    assert wall_of(found) == pytest.approx(volume(house(holed((1.0, 1.0, 2.5, 2.0), (3.0, 1.0, 4.5, 2.0))), 0))
    away = MovedElements(elements=("element-0", "element-1"), by=(0.0, 5.0, 0.0), turn=90.0)
    found, told = corrected(model, [copied(model, (0.0, 2.0, 0.0)), away])
    assert [one.refused for one in told] == [(), ()]
    assert wall_of(found) == pytest.approx(volume(model, 0) - 0.3)
    assert found.leaking == ()


@pytest.mark.parametrize(
    ("by", "why"),
    [
        ((0.5, 0.0, 0.0), OUTSIDE), ((4.5, 0.0, 0.0), OUTSIDE), ((2.0, 0.0, 1.0), OUTSIDE),
        ((0.0, 5.0, 0.0), NO_WALL), ((0.0, 0.0, 4.0), NO_WALL),
    ],
)  # fmt: skip
def test_a_copy_that_can_have_no_opening_says_why_and_changes_nothing(by: tuple[float, float, float], why: str) -> None:
    model = house(holed(HOLE))
    found, (told,) = corrected(model, [copied(model, by)])
    assert (told.elements, told.refused) == (0, ((why, 1),))
    assert found is model


def test_a_wall_that_is_not_closed_gets_no_opening() -> None:
    points, triangles = holed(HOLE)
    model = house((points, triangles[:-1]))
    assert replace(model).leaking == (0,)
    _, (told,) = corrected(model, [copied(model, (1.5, 0.0, 0.0))])
    assert told.elements == 0
    assert told.refused
