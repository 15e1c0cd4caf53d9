"""Flights with other steps: as they would be modelled so by hand, in one piece and of boards between strings."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.model import Model, Storey
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import OtherFlight
from edge_slice.core.model.corrections.steps import NO_FLIGHT, TOO_FEW, TURNS, said_of, steps_of
from edge_slice.core.model.corrections.wanted import LEAKS
from edge_slice.core.model.mesh.pieces import solids
from tests.bodies import Body, box, extruded, model_of, moved, rotation
from tests.core.model.test_corrected_faces import corners, volume

GOING, RISE, RISERS = 0.27, 0.18, 8


def solid(risers: int = RISERS, going: float = GOING, rise: float = RISE) -> Body:
    """A flight along x, 1.1 m wide, from x = 1 and z = 0.5: steps above, and a soffit from a foot 0.3 m deep that
    comes out 0.25 m under the last step."""
    ring = [p for k in range(risers) for p in ((1 + k * going, 0.5 + k * rise), (1 + k * going, 0.5 + (k + 1) * rise))]
    end, top = 1 + risers * going, 0.5 + risers * rise
    return extruded(shapely.Polygon([*ring, (end, top), (end, top - rise - 0.25), (1.3, 0.5)]), 2.0, 3.1)


def boards(risers: int = RISERS, going: float = GOING, rise: float = RISE) -> list[Body]:
    """The same of treads of 40 mm, risers of 18 mm, and a string of 0.3 m at one side."""
    found = []
    for k in range(risers):
        x, z = 1 + k * going, 0.5 + k * rise
        found.append(box((x - 0.02, 2.05, z + rise - 0.04), (x + going, 3.1, z + rise)))
        found.append(box((x, 2.05, z), (x + 0.018, 3.1, z + rise - 0.04)))
    run, up = (risers - 1) * going, (risers - 1) * rise
    string = [(0.98, 0.5), (0.98, 0.6), (0.98 + run, 0.6 + up), (0.98 + run, 0.3 + up)]  # as far as the treads
    return [*found, extruded(shapely.Polygon(string), 2.0, 2.04)]


def joined(bodies: list[Body]) -> Body:
    counts = np.cumsum([0, *(len(points) for points, _ in bodies)])
    return np.concatenate([p for p, _ in bodies]), np.concatenate(
        [t + c for (_, t), c in zip(bodies, counts, strict=False)]
    )


def stair(body: Body) -> Model:
    return model_of(body, kinds=["stair"])


def other(risers: int, going: float, **more: object) -> OtherFlight:
    return OtherFlight.model_validate({"element": "element-0", "risers": risers, "going": going, **more})


@pytest.mark.parametrize("made", [solid, lambda *a: joined(boards(*a))], ids=["in one piece", "of boards"])
@pytest.mark.parametrize(
    ("risers", "going", "rise"), [(9, 0.27, None), (8, 0.30, None), (6, 0.25, 0.2), (12, 0.24, 0.15), (10, 0.28, None)]
)
def test_other_steps_are_as_modelled_by_hand(made: object, risers: int, going: float, rise: float | None) -> None:
    model = stair(made())  # type: ignore[operator]
    found, (told,) = corrected(model, [other(risers, going, rise=rise)])
    assert (told.elements, told.refused) == (1, ())
    hand = stair(made(risers, going, rise or RISE * RISERS / risers))  # type: ignore[operator]
    assert corners(found) == pytest.approx(np.array(corners(hand)), abs=1e-5)
    assert volume(found) == pytest.approx(volume(hand), rel=1e-6)
    assert found.leaking == ()
    again, (told,) = corrected(found, [other(risers, going, rise=rise or RISE * RISERS / risers)])
    assert again is found  # a newer file that has it
    assert told.already == 1


@settings(max_examples=40, deadline=None)
@given(turn=st.floats(-3.0, 3.0), risers=st.integers(5, 15), going=st.floats(0.2, 0.5), way=st.booleans())
def test_however_a_flight_lies_it_stays_closed_and_as_high(turn: float, risers: int, going: float, way: bool) -> None:
    body = moved(solid(), rotation(0.0, 0.0, turn), np.array((5.0, -3.0, 2.0)))
    model = stair(body)
    found, (told,) = corrected(model, [other(risers, going, other_way=way)])
    if told.refused:  # a soffit that is too near to steep steps
        assert found is model
        return
    assert found.leaking == ()
    assert np.ptp(found.boxes[0][:, 2]) == pytest.approx(np.ptp(model.boxes[0][:, 2]), abs=1e-6)
    now, before = steps_of(found, 0), steps_of(model, 0)
    assert not isinstance(now, str)
    assert not isinstance(before, str)
    assert (now.risers, now.going) == (risers, pytest.approx(going))
    assert now.way @ before.way == pytest.approx(-1.0 if way else 1.0)
    back, _ = corrected(found, [other(RISERS, GOING, other_way=way)])
    assert volume(back) == pytest.approx(volume(model), rel=1e-5)


def test_what_a_newer_file_makes_of_steps_is_asked_about_or_taken() -> None:
    model = stair(solid())
    steps = steps_of(model, 0)
    assert not isinstance(steps, str)
    said = other(9, 0.27, other_way=True, had=said_of(steps))
    assert said_of(steps) == (8, pytest.approx(0.18), pytest.approx(0.27), 0.0)
    turned, _ = corrected(model, [said])
    _, (told,) = corrected(turned, [said])
    assert (told.already, told.elements) == (1, 0)
    _, (told,) = corrected(stair(solid(10)), [said])
    assert (told.elements, told.changed) == (1, 1)


def test_what_is_no_straight_flight_says_so() -> None:
    def why(body: Body, one: OtherFlight, kind: str = "stair") -> str:
        found, (told,) = corrected(model_of(body, kinds=[kind]), [one])
        assert told.elements == 0
        assert found.elements[0].guid == "element-0"
        return told.refused[0][0]

    one = other(9, 0.27)
    assert why(box((0, 0, 0), (1, 1, 1)), one) == NO_FLIGHT
    assert why(solid(), one, "slab") == NO_FLIGHT
    turning = [
        box((k % 4 * 0.3, k // 4 * 1.2, 0), (k % 4 * 0.3 + 0.3, k // 4 * 1.2 + 1, 0.2 * (k + 1))) for k in range(8)
    ]
    assert why(joined(turning), one) == TURNS
    points, triangles = solid()
    assert why((points, triangles[1:]), one) == LEAKS
    up_to_a_floor = replace(stair(solid(7)), storeys=(Storey("s", "Upper", 0.5 + 8 * RISE),))
    assert corrected(up_to_a_floor, [other(2, 0.3)])[1][0].refused == ((TOO_FEW, 1),)


def test_bodies_that_touch_by_their_sides_are_told_apart() -> None:
    body = joined([box((0, 0, 0), (1, 1, 1)), box((1, 0, 0), (2, 1, 1)), box((1, 1, 1), (2, 2, 2))])
    model = stair(body)
    number = solids(model.mesh.vertices, model.mesh.triangles)
    assert sorted(np.unique(number, return_counts=True)[1].tolist()) == [12, 12, 12]
