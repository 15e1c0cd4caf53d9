"""Heights inside of sections of the demo: rooms, windows and doors, tied to what they measure."""

from __future__ import annotations

import numpy as np
import pytest

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.annotating.sets import proposed
from edge_slice.core.cut import PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.model import Model


def chains(demo: Model, cut: SectionCut | PlanCut, **spec: object) -> dict[str, Dimension]:
    """The set's chains by the name of their room, window or door."""
    standard, style = default_standard(), DrawingSpec.model_validate({"scale": 50, **spec})
    result = cut_model(demo, cut, standard.cut_rules(demo))
    drawn = compose_drawing(demo, result, cut, style, standard)
    names = {s.guid: s.name for s in demo.spaces} | {e.guid: e.name for e in demo.elements}
    found = proposed(Board.of(demo, result, cut, style, standard), "heights", drawn.items).annotations
    return {names[d.subject]: d for d in found if isinstance(d, Dimension)}


def heights(chain: Dimension) -> list[float]:
    return np.diff(sorted(a.at[1] for a in chain.anchors)).round(0).tolist()


@pytest.fixture(scope="module")
def across(demo: Model) -> dict[str, Dimension]:
    return chains(demo, SectionCut(line=((18.8, -2.5), (18.8, 12.0)), depth=6.0))


def test_each_room_that_is_cut_has_its_clear_height(demo: Model, across: dict[str, Dimension]) -> None:
    assert heights(across["Kitchen"]) == [2703]
    assert heights(across["Plant"]) == [2975]
    for name, chain in across.items():
        room = next((s for s in demo.spaces if s.name == name), None)
        if room is not None and name != "Lookout":  # whose ceiling slopes
            assert chain.anchors[0].at[1] == pytest.approx(room.floor * 1000, abs=1)


def test_windows_and_doors_have_sill_head_and_what_is_left(demo: Model, across: dict[str, Dimension]) -> None:
    windows = {e.name: e for e in demo.elements if e.kind == "window"}
    cut = [name for name in across if name in windows]
    assert cut
    for name in cut:
        storey = demo.storeys[windows[name].storey].elevation * 1000
        low, high = demo.boxes[demo.element_by_guid[windows[name].guid]][:, 2] * 1000
        chain = sorted(a.at[1] for a in across[name].anchors)
        assert len(chain) == 4
        assert chain[0] == pytest.approx(storey, abs=1)
        assert chain[1] == pytest.approx(low, abs=30)  # a sill board lies over the opening's foot
        assert chain[2] == pytest.approx(high, abs=30)
    door = next(chain for name, chain in across.items() if name.endswith("door"))
    assert heights(door)[0] == 2100
    assert len(heights(door)) == 2  # its foot is the floor


def test_all_are_tied_to_cut_faces_and_stay_when_the_cut_moves(demo: Model, across: dict[str, Dimension]) -> None:
    assert {a.to for chain in across.values() for a in chain.anchors} <= {"side", "corner"}
    moved = chains(demo, SectionCut(line=((18.9, -2.5), (18.9, 12.0)), depth=6.0))
    assert {n: heights(c) for n, c in moved.items() if n == "Kitchen"} == {"Kitchen": [2703]}


def test_a_plan_has_none(demo: Model) -> None:
    assert chains(demo, PlanCut(storey=demo.storeys[1].guid)) == {}
