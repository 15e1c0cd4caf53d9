"""Elements that shall stand elsewhere, or not be there: as modelled so by hand, wherever a newer file has them."""

from __future__ import annotations

import uuid
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.cut import PlanCut, cut_model
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.becoming import boxes_as_surveyed
from edge_slice.core.model.corrections.documents import BuildUpCorrection, Correction, LeftOut, MovedElements, wish_of
from edge_slice.core.model.corrections.layers import layers_of, why_not
from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.core.model.parts.places import turning
from edge_slice.core.model.revisions import revised
from tests.core.model.test_corrections import HOUSE, LAYERS, SLAB, TABLE, WALL, X, Z, boxes, modelled, wanted

PARTITION_MOVED = ((0.3, 1.5, 0.0), (3.0, 1.6, 3.0))


def moved(by: tuple[float, float, float], *elements: str, of: Model | None = None, turn: float = 0.0) -> MovedElements:
    """As it is said of a model, which tells where elements stand, or of any."""
    stood = () if of is None else boxes_as_surveyed(of, elements).tolist()
    return MovedElements(elements=elements, by=by, turn=turn, stood=stood)


def elsewhere(model: Model, shift: tuple[float, float, float], *elements: int) -> Model:
    """A newer file in which elements stand elsewhere."""
    vertices = model.mesh.vertices.copy()
    for k in elements:
        vertices[np.unique(model.mesh.triangles[model.mesh.of_element(k)])] += shift
    mesh = model.mesh
    return replace(model, mesh=build_mesh(vertices, mesh.triangles, mesh.triangle_element, mesh.triangle_material))


def test_a_moved_wall_is_as_it_would_be_modelled_there_with_its_layers() -> None:
    found, told = corrected(HOUSE, [moved((0.0, 0.5, 0.0), "e1", of=HOUSE)])
    hand = modelled(
        ("wall", WALL, X, LAYERS), ("wall", PARTITION_MOVED, (0.0, 1.0, 0.0), (("Board", 0.1),)),
        ("slab", SLAB, Z, (("Concrete", 0.2),)), ("furniture", TABLE, None, ()),
    )  # fmt: skip
    assert (told[0].elements, told[0].already, told[0].changed, told[0].refused) == (1, 0, 0, ())
    assert boxes(found) == boxes(hand)
    assert found.elements[1].frame == hand.elements[1].frame
    cuts = [cut_model(model, PlanCut(storey="s", height=1.0)) for model in (found, hand)]
    faces = [sorted((f.element, f.layer, round(f.polygon.area, 3)) for f in cut.faces) for cut in cuts]
    assert faces[0] == faces[1]


def test_several_are_turned_together_round_the_middle_between_them() -> None:
    found, _ = corrected(HOUSE, [moved((0.0, 0.0, 0.0), "e0", "e3", turn=90.0)])
    pivot = np.array([(0.15 + 0.65) / 2, (2.0 + 2.5) / 2])
    for k, (x, y) in ((0, (0.15, 2.0)), (3, (0.65, 2.5))):
        middle = pivot + np.array([-(y - pivot[1]), x - pivot[0]])
        assert found.boxes[k].mean(axis=0)[:2] == pytest.approx(middle)
    assert found.boxes[1].tolist() == HOUSE.boxes[1].tolist()
    frame = found.elements[0].frame
    assert frame is not None
    assert frame.direction == pytest.approx((0.0, 1.0, 0.0))


def test_what_is_left_out_is_not_there_and_the_rest_is_as_it_was() -> None:
    found, told = corrected(HOUSE, [LeftOut(elements=("e1",), left_out=True)])
    assert [e.guid for e in found.elements] == ["e0", "e2", "e3"]
    assert boxes(found) == [box for k, box in enumerate(boxes(HOUSE)) if k != 1]
    assert (told[0].elements, told[0].already) == (1, 0)
    assert corrected(found, [LeftOut(elements=("e1",), left_out=True)])[1][0].already == 1


def test_layers_a_place_and_leaving_out_are_corrected_at_once() -> None:
    thicker = wanted(*LAYERS[:2], ("Block", 0.2))
    said: list[Correction] = [thicker, moved((0.0, 0.0, 1.0), "e0"), LeftOut(elements=("e3",), left_out=True)]
    found, told = corrected(HOUSE, said)
    assert [one.elements for one in told] == [1, 1, 1]
    assert boxes(found)[0] == [0.0, 0.0, 1.0, 0.4, 4.0, 4.0]
    assert boxes(found)[1][0] == 0.4  # the partition still ends at the face that moved
    assert len(found.elements) == 3


def test_a_newer_file_that_has_it_so_and_one_that_has_it_elsewhere() -> None:
    one = moved((0.0, 0.5, 0.0), "e1", of=HOUSE)
    there = elsewhere(HOUSE, (0.0, 0.5, 0.0), 1)
    same, told = corrected(there, [one])
    assert same is there
    assert (told[0].elements, told[0].already) == (0, 1)
    found, told = corrected(elsewhere(HOUSE, (0.0, -0.3, 0.0), 1), [one])
    assert (told[0].elements, told[0].changed) == (1, 1)
    assert boxes(found) == boxes(there)  # where it was said that it shall stand
    gone, told = corrected(corrected(HOUSE, [LeftOut(elements=("e1",), left_out=True)])[0], [one])
    assert told[0].lost
    assert len(gone.elements) == 3


def test_who_asks_why_and_what_is_answered_is_no_other_wish() -> None:
    one = moved((0.0, 0.5, 0.0), "e1", of=HOUSE)
    said = {"author": "Ada", "reason": "light", "asked": "2026-05-04", "topic": str(uuid.UUID(int=1))}
    assert wish_of(one.model_copy(update=said)) == wish_of(one) != wish_of(moved((0.0, 0.6, 0.0), "e1", of=HOUSE))


def test_layers_that_a_newer_file_has_changed_are_told() -> None:
    one = wanted(*LAYERS[:2], ("Block", 0.2)).model_copy(update={"instead_of": wanted(*LAYERS).layers})
    assert corrected(HOUSE, [one])[1][0].changed == 0
    newer, _ = corrected(HOUSE, [wanted(*LAYERS[:2], ("Block", 0.15))])
    told = corrected(newer, [one])[1][0]
    assert (told.elements, told.changed) == (1, 1)


def test_one_that_is_turned_in_its_file_is_not_turned_again() -> None:
    one = moved((0.0, 0.0, 0.0), "e3", of=HOUSE, turn=30.0)
    turned, _ = corrected(HOUSE, [one])
    same, told = corrected(turned, [one])
    assert same is turned
    assert told[0].already == 1


@settings(max_examples=40, deadline=None)
@given(
    by=st.tuples(*[st.integers(-2000, 2000)] * 3),
    turn=st.integers(-359, 359),
    drift=st.tuples(*[st.integers(-500, 500)] * 3),
    elements=st.lists(st.sampled_from(["e0", "e1", "e2", "e3"]), min_size=1, unique=True),
)
def test_any_move_is_rigid_and_comes_to_the_same_place_wherever_the_file_has_it(
    by: tuple[int, int, int], turn: int, drift: tuple[int, int, int], elements: list[str]
) -> None:
    shift = (by[0] / 1000 or 0.001, by[1] / 1000, by[2] / 1000)
    one = moved(shift, *elements, of=HOUSE, turn=float(turn))
    numbers = [int(guid[1]) for guid in elements]
    newer = elsewhere(HOUSE, (drift[0] / 1000, drift[1] / 1000, drift[2] / 1000), *numbers)
    found, told = corrected(newer, [one])
    first, _ = corrected(HOUSE, [one])
    assert found.mesh.volumes(4) == pytest.approx(HOUSE.mesh.volumes(4), rel=1e-6)
    assert found.boxes == pytest.approx(first.boxes, abs=1.1e-3 if told[0].already else 1e-6)
    back = np.linalg.inv(turning(float(turn)))
    for k in range(4):
        if f"e{k}" not in elements:
            assert found.boxes[k].tolist() == HOUSE.boxes[k].tolist()
        elif len(elements) == 1:
            points = found.element_triangles(k).reshape(-1, 3)
            middle = HOUSE.boxes[k].mean(axis=0)
            again = (points - middle - np.array(shift)) @ back.T + middle
            assert [again.min(axis=0), again.max(axis=0)] == pytest.approx(
                HOUSE.boxes[k], abs=1.1e-3 if told[0].already else 2e-5
            )


def test_twenty_corrections_come_through_a_file_with_new_names_and_moved_elements(demo: Model) -> None:
    rng = np.random.default_rng(7)
    standing = [k for k, e in enumerate(demo.elements) if e.kind not in ("ground", "planting")]
    chosen = [int(k) for k in rng.choice(standing, 12, replace=False)]
    layered = [k for k, e in enumerate(demo.elements) if not why_not(demo, k)][:6]
    said: list[Correction] = [moved((0.2, 0.0, 0.1), demo.elements[k].guid, of=demo) for k in chosen]
    said += [
        BuildUpCorrection(
            element=demo.elements[k].guid,
            layers=(*(own := layers_of(demo, demo.build_ups[demo.elements[k].build_up])), own[0]),
            instead_of=own,
        )
        for k in layered
    ]
    said += [LeftOut(elements=(demo.elements[k].guid,), left_out=True) for k in standing[:2]]
    assert len(said) == 20
    renamed = replace(demo, elements=tuple(replace(e, guid=f"new {k}") for k, e in enumerate(demo.elements)))
    aside = [chosen[0], *(int(k) for k in rng.choice(standing, len(standing) // 20, replace=False))]
    newer, changes = revised(demo, elsewhere(renamed, (0.3, 0.0, 0.0), *sorted(set(aside))))
    model, told = corrected(newer, said)
    for one in told:
        asked = getattr(one.of, "elements", ("",))
        others = sum(count for _, count in one.refused)
        assert one.elements + one.already + others == len(asked)  # each is drawn so, in the file, or says why not
        gone = not any(guid in newer.element_by_guid for guid in (*asked, getattr(one.of, "element", "")))
        assert gone == (one.lost or bool(one.already))
    known = {demo.elements[k].guid for k in aside} & set(newer.element_by_guid)
    moved_both = [one for one in told if known & set(getattr(one.of, "elements", ()))]
    assert moved_both
    assert all(one.changed for one in moved_both if isinstance(one.of, MovedElements))
    assert sum(one.elements > 0 for one in told) >= 18
    before, _ = corrected(demo, said)
    for one in told:  # and stands where it was said that it shall
        for guid in getattr(one.of, "elements", ()) if isinstance(one.of, MovedElements) and one.elements else ():
            stood = before.boxes[before.element_by_guid[guid]]
            assert model.boxes[model.element_by_guid[guid]] == pytest.approx(stood, abs=1e-6)
    assert not changes.another


@pytest.mark.parametrize(
    "said",
    [
        {"elements": ["e0"]},
        {"elements": ["e0"], "by": [0, 0, 0], "turn": 360.0},
        {"elements": ["e0", "e0"], "by": [1, 0, 0]},
        {"elements": [], "by": [1, 0, 0]},
        {"elements": ["e0"], "by": [1e9, 0, 0]},
        {"elements": ["e0"], "by": [float("nan"), 0, 0]},
        {"elements": ["e0"], "by": [1, 0, 0], "stood": [[[0, 0, 0], [1, 1, 1]]] * 2},
    ],
)
def test_moves_that_mean_nothing_are_refused(said: dict) -> None:
    with pytest.raises(ValidationError):
        MovedElements.model_validate(said)
