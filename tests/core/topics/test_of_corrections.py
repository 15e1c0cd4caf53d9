"""Corrections as topics: in words, seen from where they are in their own file, with what goes and what comes."""

from __future__ import annotations

import io
import uuid

import numpy as np
import pytest
from PIL import Image

from edge_slice.core.drawing import default_standard
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import LeftOut, MovedElements
from edge_slice.core.model.parts.places import PartPlace, taken_back
from edge_slice.core.model.revisions import revised
from edge_slice.core.topics.documents import Topic, Triple
from edge_slice.core.topics.of_corrections import Asking, topic_of
from tests.core.model.test_corrections import HOUSE, LAYERS, wanted
from tests.core.topics.test_topics import CREATED

PLACE = PartPlace(x=100.0, y=-20.0, z=3.0, turn=90.0)


def asked(said, place: PartPlace = PartPlace()) -> Topic:
    one = said.model_copy(update={"topic": str(uuid.UUID(int=1)), "reason": "too cold"})
    after, (told,) = corrected(HOUSE, [one])

    def in_file(_: int, point: Triple) -> Triple:
        return taken_back(point, place)

    asking = Asking(HOUSE, after, revised(HOUSE, after)[1], default_standard(), "mm", in_file)
    return topic_of(asking, told, CREATED)


REMOVED, ADDED = (0xA8, 0x44, 0x2A), (0x1F, 0x6B, 0x4F)


def shows(topic: Topic, ink: tuple[int, int, int]) -> bool:
    """Whether a picture has lines of an ink, of which thin ones are paler."""
    assert topic.picture is not None
    pixels = np.asarray(Image.open(io.BytesIO(topic.picture)), dtype=np.float64)
    return bool((np.abs(pixels - np.array(ink)).max(axis=2) < 40.0).any())


def test_layers_are_said_with_those_that_they_take_the_place_of() -> None:
    one = wanted(*LAYERS, ("Cork", 0.06)).model_copy(update={"instead_of": wanted(*LAYERS).layers})
    found = asked(one)
    assert found.title == "Layers of all of “Outer”"
    assert "4. Cork 60 mm\nInstead of: 1. Brick 100 mm" in found.text
    assert found.text.endswith("Because: too cold")
    assert shows(found, REMOVED)
    assert shows(found, ADDED)


def test_a_move_and_what_is_taken_out() -> None:
    found = asked(MovedElements(elements=("e3",), by=(0.5, 0.0, 0.0), turn=15.0))
    assert found.text.startswith("Please move furniture 3: 500 mm along x, turned by 15° anticlockwise.")
    assert shows(found, REMOVED)
    assert shows(found, ADDED)
    gone = asked(LeftOut(elements=("e3",), left_out=True))
    assert shows(gone, REMOVED)
    assert not shows(gone, ADDED)


@pytest.mark.parametrize("place", [PartPlace(), PLACE])
def test_the_eye_looks_at_what_is_meant_in_the_coordinates_of_its_file(place: PartPlace) -> None:
    view = asked(LeftOut(elements=("e3",), left_out=True), place).viewpoint
    assert view is not None
    eye, looks, up = (np.array(one) for one in (view.eye, view.looks, view.up))
    assert [np.linalg.norm(looks), np.linalg.norm(up), looks @ up] == pytest.approx([1.0, 1.0, 0.0])
    meant = np.array(taken_back(tuple(HOUSE.boxes[3].mean(axis=0).tolist()), place))
    along = (meant - eye) @ looks
    assert along > 0
    assert eye + along * looks == pytest.approx(meant)
    assert view.elements == ()  # GlobalIds of this model are none of an IFC file
