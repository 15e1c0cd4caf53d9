"""Insulation that goes round a building, and where it does not."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.cut.advice.interrupted import Interruption, interruptions
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Element, Material, Model, Space
from edge_slice.core.model.mesh.triangles import build_mesh
from tests.bodies import Body, box
from tests.walls import USUAL, Wall, house, without_layer

WANTED = ("rigid insulation", "soft insulation", "membrane")
HIGH = 3.0  # metres of a storey
CUT = SectionCut(line=((-3, 0), (6, 0)), look="left", depth=1.0)


def storeys(count: int, layers: tuple[tuple[str, float], ...] = USUAL) -> list[Wall]:
    return [Wall(f"wall-{k}", 0.0, k * HIGH, (k + 1) * HIGH, layers) for k in range(count)]


def flats(walls: list[Wall], behind: float | None = 4.0) -> Model:
    """The walls with a room at the right of each, from the first wall's inner face on; none: an inner wall, with rooms
    on both sides."""
    thick = max(w.thick for w in walls)
    rooms = [
        Space(f"room {k} {x}", str(k), "Room", 0, ((x, -2.0), (x + 4.0, -2.0), (x + 4.0, 2.0), (x, 2.0)), w.base, w.top)
        for k, w in enumerate(walls)
        for x in ((thick,) if behind is not None else (thick, -4.0))
    ]
    return replace(house(tuple(walls), True), spaces=tuple(rooms))


def joined(model: Model, body: Body, kind: str, material: str) -> Model:
    """The model with one more element."""
    points, faces = body
    mesh = model.mesh
    count, number = len(mesh.vertices), len(model.elements)
    owner = np.r_[mesh.triangle_element, np.full(len(faces), number)].astype(np.int32)
    grown = build_mesh(
        np.concatenate((mesh.vertices, points)), np.concatenate((mesh.triangles, faces + count)).astype(np.int32),
        owner, np.full(len(owner), -1, np.int32),
    )  # fmt: skip
    element = Element(f"{kind}-{number}", kind.title(), kind, 0, len(model.materials))
    materials = (*model.materials, Material(material))
    return replace(model, mesh=grown, elements=(*model.elements, element), materials=materials)


def found(model: Model) -> list[Interruption]:
    standard = default_standard()
    return interruptions(
        model, cut_model(model, CUT, standard.cut_rules(model)), standard.classes(model), WANTED
    )  # fmt: skip


def test_a_wall_that_is_whole_says_nothing() -> None:
    assert found(flats(storeys(4))) == []


@pytest.mark.parametrize("bare", range(10))
def test_insulation_taken_out_of_one_of_ten_walls_is_found_with_its_place(bare: int) -> None:
    walls = storeys(10)
    walls[bare] = without_layer(walls[bare], 1)
    (one,) = found(flats(walls))
    assert one.material == "rigid insulation"
    assert one.length == pytest.approx(HIGH)
    assert one.at[1] == pytest.approx((bare + 0.5) * HIGH)
    assert 3.0 < one.at[0] < 3.0 + walls[0].thick
    neighbours = {f"wall-{k}" for k in (bare - 1, bare + 1) if 0 <= k < 10}
    assert set(one.of) <= neighbours
    assert set(one.by) <= {f"wall-{bare}"}


@settings(max_examples=20, deadline=None)
@given(base=st.floats(0.3, 2.4), high=st.floats(0.05, 0.4))
def test_a_beam_through_the_insulation_is_named(base: float, high: float) -> None:
    beam = box((-0.3, -1.0, base), (1.0, 1.0, base + high))
    (one,) = found(joined(flats(storeys(1)), beam, "beam", "Steel"))
    assert one.by == ("beam-1",)
    assert one.at[1] == pytest.approx(base + high / 2, abs=2e-3)
    assert one.length == pytest.approx(high, abs=2e-3)


def test_an_opening_is_no_interruption_and_a_lintel_is_one() -> None:
    low, high = Wall("low", 0.0, 0.0, 0.9), Wall("high", 0.0, 2.1, 3.0)
    room = Space("room", "1", "Room", 0, ((0.38, -2.0), (4.0, -2.0), (4.0, 2.0), (0.38, 2.0)), 0.0, 3.0)
    model = replace(house((low, high), True), spaces=(room,))
    assert found(model) == []
    lintel = joined(model, box((0.0, -1.0, 1.95), (0.38, 1.0, 2.1)), "beam", "Concrete")
    (one,) = found(lintel)
    assert (one.by, one.length) == (("beam-2",), pytest.approx(0.15))


def test_between_rooms_and_against_the_ground_nothing_is_missing() -> None:
    walls = storeys(3)
    walls[1] = without_layer(walls[1], 1)
    assert found(flats(walls, behind=None)) == []
    walls = storeys(2)
    walls[0] = without_layer(walls[0], 1)
    ground = joined(flats(walls), box((-3.0, -2.0, -1.0), (0.0, 2.0, 3.0)), "ground", "Earth")
    assert found(ground) == []


def test_a_body_of_its_own_is_followed_too() -> None:
    bricks = replace(house((Wall("inner", 0.2, 0.0, 6.0, (("Block", 0.2),)),), True))
    room = Space("room", "1", "Room", 0, ((0.4, -2.0), (4.0, -2.0), (4.0, 2.0), (0.4, 2.0)), 0.0, 6.0)
    model = replace(bricks, spaces=(room,))
    for base, top in ((0.0, 2.6), (2.85, 6.0)):
        model = joined(model, box((0.06, -1.0, base), (0.2, 1.0, top)), "covering", "Mineral wool")
    (one,) = found(model)
    assert one.by == ()
    assert (one.at[1], one.length) == (pytest.approx(2.725), pytest.approx(0.25))


def test_the_demo_has_one_alone_a_lintel_that_goes_through_the_wall(demo: Model) -> None:
    standard = default_standard()
    rules, classes = standard.cut_rules(demo), standard.classes(demo)
    (left, front, _), (right, back, _) = (b.tolist() for b in demo.bounds)
    lines = [((left - 1, y), (right + 1, y)) for y in np.linspace(front + 0.7, back - 0.7, 4).tolist()]
    lines += [((x, front - 1), (x, back + 1)) for x in np.linspace(left + 0.7, right - 0.7, 5).tolist()]
    names = set()
    for line in lines:
        result = cut_model(demo, SectionCut(line=line, depth=0.5), rules)
        for one in interruptions(demo, result, classes, WANTED):
            names |= {demo.elements[demo.element_by_guid[guid]].name for guid in one.by}
    assert names == {"Boat-bay door lintel"}
