"""What comes beside what the file has: copies, and bodies of an outline; where a newer file has them, nothing comes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.cut import PlaneCut, cut_model
from edge_slice.core.model import Storey
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import CopiedElements, LeftOut, MovedElements
from edge_slice.core.model.corrections.new_bodies import TIGHT, guid_of_copy, new_guid
from edge_slice.core.model.corrections.new_documents import NewBody, NewRun
from edge_slice.core.model.corrections.wanted import LEAKS
from edge_slice.core.model.ground.made import model_ground
from tests.bodies import box, model_of
from tests.core.model.test_corrected_faces import volume
from tests.core.model.test_corrections import HOUSE

NEW = "n" * 22
ANGLE = ((0.0, 0.0), (0.3, 0.0), (0.3, 0.1), (0.1, 0.1), (0.1, 0.2), (0.0, 0.2))  # m; 0.04 m²


def upstand(**other: object) -> NewBody:
    said = {
        "body": NEW, "name": "Upstand", "kind": "covering", "material": "Cork", "is_a": "rigid insulation",
        "outline": ANGLE, "at": (1.0, 1.0, 0.5), "x": (1.0, 0.0, 0.0), "y": (0.0, 0.0, 1.0), "start": -0.5, "end": 1.5,
    }  # fmt: skip
    return NewBody.model_validate({**said, **other})


def test_an_outline_is_extruded_square_to_its_plane() -> None:
    found, (told,) = corrected(HOUSE, [upstand()])
    assert (told.elements, told.already, told.found) == (1, 0, ())
    new = found.elements[found.element_by_guid[NEW]]
    assert (new.guid, new.name, new.kind, new.storey) == (NEW, "Upstand", "covering", 0)
    assert (found.materials[new.material].name, found.materials[new.material].said) == ("Cork", "rigid insulation")
    assert found.boxes[-1].tolist() == pytest.approx(np.array([[1.0, -0.5, 0.5], [1.3, 1.5, 0.7]]))
    assert volume(found, 4) == pytest.approx(0.04 * 2.0)
    assert found.leaking == ()
    cut = cut_model(found, PlaneCut(point=(0.0, 0.2, 0.0), normal=(0.0, 1.0, 0.0), depth=1.0))
    face = next(f.polygon for f in cut.faces if f.element == 4)
    assert face.area == pytest.approx(0.04e6)
    again, (told,) = corrected(found, [upstand(body="o" * 22)])
    assert again is found  # a newer file that has it
    assert told.already == 1
    again, (told,) = corrected(found, [upstand(end=2.5)])
    assert again is found  # or has made something else of it since
    assert (told.already, told.found) == (1, (4,))


@settings(max_examples=40, deadline=None)
@given(
    spots=st.lists(st.tuples(st.integers(-30, 30), st.integers(-30, 30)), min_size=3, max_size=9, unique=True),
    turn=st.floats(0.0, 6.0),
    length=st.integers(1, 90),
    clockwise=st.booleans(),
)
def test_any_outline_becomes_a_closed_body_of_its_area_times_its_length(
    spots: list[tuple[int, int]], turn: float, length: int, clockwise: bool
) -> None:
    middle = np.mean(spots, axis=0)
    ring = sorted(spots, key=lambda p: float(np.arctan2(*(np.array(p) - middle)[::-1])))
    area = shapely.Polygon(ring)
    assume(area.is_valid and area.area > 1.0)
    outline = tuple((x / 10, y / 10) for x, y in (ring[::-1] if clockwise else ring))
    way = (float(np.cos(turn)), float(np.sin(turn)), 0.0)
    one = upstand(outline=outline, x=way, start=0.0, end=length / 10, at=(2e5, 3e5, 0.0))
    found, _ = corrected(replace(HOUSE, origin=(2e5, 3e5, 10.0)), [one])
    assert volume(found, 4) == pytest.approx(area.area / 100 * length / 10, rel=1e-4, abs=1e-6)
    assert found.leaking == ()


def drain(*path: tuple[float, float, float], **other: object) -> NewRun:
    said = {"body": NEW, "name": "Drain", "kind": "object", "material": "Steel", "wide": 0.2, "high": 0.1}
    return NewRun.model_validate({**said, "path": path, **other})


@settings(max_examples=40, deadline=None)
@given(
    steps=st.lists(st.tuples(st.integers(1, 4), st.integers(-3, 3), st.integers(-2, 2)), min_size=1, max_size=6),
    round_=st.booleans(),
)
def test_any_run_has_the_volume_of_its_outline_along_its_middle(
    steps: list[tuple[int, int, int]], round_: bool
) -> None:
    path = np.vstack(((0, 0, 0), np.cumsum(steps, axis=0))).astype(float)
    length = float(np.linalg.norm(np.diff(path, axis=0), axis=1).sum())
    area = 12 * 0.1 * 0.05 * np.sin(2 * np.pi / 24) if round_ else 0.2 * 0.1
    found, (told,) = corrected(HOUSE, [drain(*[(x, y, z) for x, y, z in path.tolist()], round=round_)])
    assert told.elements == 1
    k = found.element_by_guid[NEW]
    assert volume(found, k) == pytest.approx(area * length, rel=1e-6)
    assert found.leaking == ()


def test_a_run_is_as_wide_and_high_as_it_is_said_and_its_bends_have_room() -> None:
    found, _ = corrected(HOUSE, [drain((0, 0, 1), (3, 0, 1), (3, 2, 1))])
    assert found.boxes[found.element_by_guid[NEW]] == pytest.approx(
        np.array([[0.0, -0.1, 0.95], [3.1, 2.0, 1.05]]), abs=1e-9
    )
    upright, _ = corrected(HOUSE, [drain((1, 1, 0), (1, 1, 2))])
    assert np.ptp(upright.boxes[upright.element_by_guid[NEW]], axis=0).tolist() == pytest.approx([0.2, 0.1, 2.0])
    tight = [drain((0, 0, 1), (3, 0, 1), (3, 0.15, 1), (0, 0.15, 1))]
    assert corrected(HOUSE, tight)[1][0].refused == ((TIGHT, 1),)
    with pytest.raises(ValidationError, match="turns back"):
        drain((0, 0, 1), (3, 0, 1), (0, 0.1, 1))
    with pytest.raises(ValidationError, match="lie on each other"):
        drain((0, 0, 1), (0, 0, 1))


def test_copies_stand_in_the_storey_that_is_as_far_above() -> None:
    house = replace(HOUSE, storeys=tuple(Storey(f"s{k}", f"{k}", 3.0 * k) for k in range(3)))
    one = CopiedElements(elements=("e0", "e3"), copies=((0.0, 0.0, 3.0), (0.0, 0.0, 6.0)))
    found, (told,) = corrected(house, [one])
    assert (told.elements, told.already) == (2, 0)
    assert len(found.elements) == 8
    for of, up, storey in ((0, 3.0, 1), (0, 6.0, 2), (3, 3.0, 1), (3, 6.0, 2)):
        n = found.element_by_guid[guid_of_copy(f"e{of}", (0.0, 0.0, up))]
        assert found.boxes[n] == pytest.approx(house.boxes[of] + (0, 0, up))
        assert found.elements[n].storey == storey
        assert found.elements[n].build_up == house.elements[of].build_up
    wall = found.elements[found.element_by_guid[guid_of_copy("e0", (0.0, 0.0, 3.0))]].frame
    assert wall is not None
    assert wall.origin == (0.0, 0.0, 3.0)
    again, (told,) = corrected(found, [one])
    assert again is found
    assert told.already == 2


def test_a_copy_is_of_what_an_element_shall_be() -> None:
    said = [
        MovedElements(elements=("e3",), by=(0.0, 0.5, 0.0)),
        CopiedElements(elements=("e3",), copies=((2.0, 0.0, 0.0),)),
        LeftOut(elements=("e1",), left_out=True),
    ]
    found, told = corrected(HOUSE, said)
    assert [one.elements for one in told] == [1, 1, 1]
    copy = guid_of_copy("e3", (2.0, 0.0, 0.0))
    assert found.boxes[found.element_by_guid[copy]] == pytest.approx(HOUSE.boxes[3] + (2.0, 0.5, 0.0))
    assert [e.guid for e in found.elements] == sorted(["e0", "e2", "e3", copy])  # as a reader has them


def test_what_is_not_closed_is_not_copied() -> None:
    points, faces = box((0, 0, 0), (1, 1, 1))
    one = CopiedElements(elements=("element-0",), copies=((2.0, 0.0, 0.0),))
    assert corrected(model_of((points, faces[1:])), [one])[1][0].refused == ((LEAKS, 1),)


def test_names_of_what_is_new_are_no_others() -> None:
    names = {
        new_guid(),
        new_guid(),
        *(guid_of_copy("e", (0.0, 0.0, float(k))) for k in range(3)),
        guid_of_copy("f", (0.0, 0.0, 0.0)),
    }
    assert len(names) == 6
    assert {len(name) for name in names} == {22}


@pytest.mark.parametrize(
    "other",
    [
        {"outline": ((0, 0), (1, 1), (1, 0), (0, 1))},
        {"outline": ((0, 0), (1, 0), (2, 0))},
        {"outline": ((0, 0), (1, 0))},
        {"end": -0.5},
        {"x": (0, 0, 1)},
        {"x": (2, 0, 0)},
        {"kind": "window"},
        {"material": ""},
        {"body": "new"},
    ],
)
def test_bodies_that_mean_nothing_are_refused(other: dict) -> None:
    with pytest.raises(ValidationError):
        upstand(**other)


@pytest.mark.parametrize("copies", [(), ((0, 0, 0),), ((1, 0, 0), (1, 0, 0)), ((1e9, 0, 0),)])
def test_copies_that_mean_nothing_are_refused(copies: tuple) -> None:
    with pytest.raises(ValidationError):
        CopiedElements(elements=("e0",), copies=copies)


def test_a_pad_is_ground_of_the_model() -> None:
    pad = upstand(kind="ground", material="Earth", outline=((0, 0), (4, 0), (4, 3), (0, 3)), at=(10.0, 0.0, 0.0),
                  y=(0.0, 1.0, 0.0), start=0.0, end=0.4)  # fmt: skip
    assert model_ground(HOUSE) is None
    found, _ = corrected(HOUSE, [pad])
    ground = model_ground(found)
    assert ground is not None
    assert ground.span == pytest.approx((0.4, 0.4))
    assert shapely.union_all(ground.cells).area == pytest.approx(12.0)
