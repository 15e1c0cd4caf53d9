"""Sections that add nothing to another one, and where one more would explain most."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.cut.advice.repeated import cut_through, repeated
from edge_slice.core.cut.advice.sweep import sweeps
from edge_slice.core.cut.advice.uncut import met_by
from edge_slice.core.cut.placing.report import things
from edge_slice.core.model import Model
from tests.bodies import box, model_of

# 12 long: two walls along it, a door in one of them, a stair, a step in the wall at 9
HOUSE = model_of(
    box((4, 0, 0), (5, 0.3, 2.1)), box((6.5, 2, 0), (7.5, 5, 2.8)),
    box((0, 0, 0), (12, 0.3, 3)), box((0, 5.7, 0), (9, 6, 3)), box((9, 5.7, 0), (12, 6, 4)),
    kinds=["door", "stair", "wall", "wall", "wall"],
)  # fmt: skip

DOOR = HOUSE.elements[0].name


def across(x: float, look: str = "left") -> SectionCut:
    return SectionCut.model_validate({"line": ((x, -1), (x, 7)), "look": look, "depth": 3.0})


def pairs(*cuts: SectionCut) -> list[tuple[int, int]]:
    return repeated(HOUSE, [cut_through(HOUSE, cut_model(HOUSE, cut)) for cut in cuts])


def test_a_section_that_shows_what_another_one_shows_adds_nothing() -> None:
    assert pairs(across(1), across(2)) == [(0, 1)]
    assert pairs(across(1), across(2), across(3)) == [(0, 1), (0, 2)]  # each is told of once
    moved = SectionCut(line=((2, -1.5), (2, 8)), look="left", depth=3.0)  # drawn from another place on
    assert pairs(across(1), moved) == [(0, 1)]


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (across(1), across(2, "right")),  # it looks the other way
        (across(1), across(4.5)),  # through the door
        (across(1), across(10)),  # the wall is higher there
        (across(1), across(8)),  # the door and the stair stand between
        (across(1), SectionCut(line=((-1, 2), (13, 2)), look="left")),
        (across(1), SectionCut(line=((2, -1), (2, 3), (2.5, 3), (2.5, 7)), look="left")),  # it has a step
    ],
)
def test_one_that_shows_anything_else_adds_something(one: SectionCut, other: SectionCut) -> None:
    assert pairs(one, other) == []


def test_a_sweep_goes_where_most_is_explained_and_elsewhere_once_that_is_cut() -> None:
    _, along_y = sweeps(HOUSE, [])
    assert along_y.best == pytest.approx(7.0)
    assert along_y.through == (HOUSE.elements[1].name,)
    assert along_y.explains[np.abs(along_y.places - 7.0).argmin()] == 1.0
    at = along_y.line
    _, then = sweeps(HOUSE, [SectionCut(line=at)])
    assert (then.best, then.through, then.standing) == (pytest.approx(4.5), (f"{DOOR} (way in)",), (7.0,))
    _, at_last = sweeps(HOUSE, [SectionCut(line=at), SectionCut(line=then.line)])
    assert (at_last.best, at_last.through) == (None, ())


def test_what_changes_is_where_things_begin_and_end() -> None:
    _, along_y = sweeps(HOUSE, [])
    changes = along_y.places[along_y.changes > 0]
    step = along_y.places[1] - along_y.places[0]
    for edge in (4.0, 5.0, 6.5, 7.5, 9.0):
        assert np.abs(changes - edge).min() <= step
    assert not ((changes > 1.0) & (changes < 3.5)).any()


@settings(max_examples=20, deadline=None)
@given(st.lists(st.floats(0.5, 11.5), max_size=4))
def test_what_a_sweep_says_no_section_goes_through_none_goes_through(places: list[float]) -> None:
    sections = [across(x) for x in places]
    met = met_by(HOUSE, sections)
    names = {name or kind for guid, kind, name, *_ in things(HOUSE) if guid in met}
    for sweep in sweeps(HOUSE, sections):
        assert not {name.removesuffix(" (way in)") for name in sweep.through} & names
        assert (sweep.explains >= 0).all()
        assert sweep.explains.max() <= 1.0


def test_the_demo_is_explained_by_ever_fewer_new_places(demo: Model) -> None:
    sections: list[SectionCut] = []
    left = len(things(demo))
    for _ in range(4):
        best = max(sweeps(demo, sections), key=lambda s: (s.best is not None, float(s.explains.max())))
        assert best.best is not None
        sections.append(SectionCut(line=best.line))
        now = len(things(demo)) - len(met_by(demo, sections))
        assert now < left
        left = now
