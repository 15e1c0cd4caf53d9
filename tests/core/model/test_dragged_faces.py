"""What is dragged by a face, alone: as it is once the hand rests."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut.placing.handles import flat_faces
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import Correction, FaceElsewhere, LeftOut
from edge_slice.core.model.corrections.in_hand import dragged_alone, dragged_faces
from edge_slice.core.model.corrections.saying import FacePlane
from tests.bodies import box, model_of
from tests.core.model.test_corrected_faces import EAST, UP, corners
from tests.walls import Wall, house

HOUSE = model_of(box((0, 0, 0), (1, 1, 1)), box((2, 0, 0), (3, 1, 1)), kinds=["slab", "slab"])


def pushed(element: int, looks: tuple[float, float, float], at: float, by: float) -> FaceElsewhere:
    face, to = FacePlane(looks=looks, at=at), FacePlane(looks=looks, at=at + by)
    return FaceElsewhere(element=f"element-{element}", face=face, to=to)


@settings(max_examples=30, deadline=None)
@given(by=st.floats(-0.9, 5.0).filter(lambda far: abs(far) > 1e-3), sideways=st.booleans())
def test_it_is_what_it_will_be_and_nothing_else_is_there(by: float, sideways: bool) -> None:
    kept = [pushed(1, EAST, 3.0, 0.5)]
    said: list[Correction] = [*kept, pushed(1, UP, 1.0, by) if sideways else pushed(0, UP, 1.0, by)]
    drawn, _ = corrected(HOUSE, kept)
    faces = dragged_faces(said, kept)
    assert faces == said[1:]
    alone = dragged_alone(drawn, HOUSE, said, faces)
    assert [e.guid for e in alone.elements] == [faces[0].element]
    whole, _ = corrected(HOUSE, said)
    assert np.allclose(corners(alone, 0), corners(whole, whole.element_by_guid[faces[0].element]))


def test_nothing_is_alone_where_anything_else_is_said() -> None:
    kept = [pushed(1, EAST, 3.0, 0.5)]
    out = LeftOut(elements=("element-0",), left_out=True)
    assert dragged_faces([*kept, pushed(0, UP, 1.0, 0.5), out], kept) == []
    assert dragged_faces([pushed(0, UP, 1.0, 0.5)], kept) == []  # and the other one is taken back
    assert dragged_faces(kept, kept) == []
    farther = pushed(1, EAST, 3.0, 0.7)
    assert dragged_faces([farther], kept) == [farther]  # the same face, elsewhere yet


def test_faces_that_can_be_gripped_in_the_model_are_flat_wide_and_none_of_layers() -> None:
    (top, under, *ends) = flat_faces(house((Wall("wall", 0.0),), True), 0)
    assert {face.looks for face in (top, under)} <= {(0.0, 1.0, 0.0), (0.0, -1.0, 0.0), UP, (0.0, 0.0, -1.0)}
    assert len(ends) == 2  # those of its layers look along x
    sheet = replace(model_of(box((0, 0, 0), (2, 1, 0.003)), kinds=["covering"]), origin=(10.0, 20.0, 30.0))
    faces = flat_faces(sheet, 0)
    assert [face.looks for face in faces] == [(0.0, 0.0, -1.0), UP]
    assert [face.at for face in faces] == pytest.approx([-30.0, 30.003])
    assert faces[1].middle == pytest.approx((1.0, 0.5, 0.003))
