"""Loose things that a cut leaves whole: drawn as if they stood behind it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import CutResult, SectionCut, cut_model
from edge_slice.core.cut.advice.halved import halved
from edge_slice.core.cut.placing.picking import pick_at
from edge_slice.core.cut.shown import ShownRule, following
from edge_slice.core.cut.surfaces.regions import seen_anew
from edge_slice.core.model import Model
from tests.bodies import box, model_of

CUT = SectionCut(line=((-1, 1.0), (7, 1.0)), look="left", depth=4.0)  # looks to greater y


def room(desk: float, chair: float = 2.0) -> Model:
    """A floor and a wall behind, with a desk that begins at `desk` along y and is 0.8 deep, and a chair behind it."""
    return model_of(
        box((0, 0, -0.2), (6, 4, 0)), box((0, 3.8, 0), (6, 4, 3)), box((1, desk, 0), (2.6, desk + 0.8, 0.75)),
        box((1.5, chair, 0), (2, chair + 0.5, 0.9)),
        kinds=["slab", "wall", "furniture", "furniture"],
    )  # fmt: skip


def drawn(result: CutResult) -> set[tuple[int, ...]]:
    """Its lines, whichever way round, to a hundredth of a millimetre, with their elements."""
    ends = np.rint(result.lines.points * 100).astype(int)
    turned = np.where((ends[:, :2] <= ends[:, 2:]).all(axis=1)[:, None], ends, ends[:, [2, 3, 0, 1]])
    return {(*row, e) for row, e in zip(turned.tolist(), result.lines.element.tolist(), strict=True)}


@settings(max_examples=30, deadline=None)
@given(desk=st.floats(0.25, 0.95), chair=st.floats(1.0, 2.5))
def test_what_is_left_whole_is_drawn_as_if_it_stood_just_behind(desk: float, chair: float) -> None:
    model = room(desk, chair)
    guid = model.elements[2].guid
    whole = cut_model(model, CUT.model_copy(update={"whole": (guid,)}))
    behind = cut_model(room(1.0, chair), CUT)
    assert halved(model, cut_model(model, CUT)) == (guid,)
    assert halved(model, whole) == ()
    assert drawn(whole) == drawn(behind)


def test_what_stands_clear_of_the_cut_stays_where_it_is() -> None:
    for desk in (0.1, 1.4):  # before it, and behind it
        model = room(desk)
        plain = cut_model(model, CUT)
        assert drawn(cut_model(model, CUT.model_copy(update={"whole": (model.elements[2].guid,)}))) == drawn(plain)


def test_seen_surfaces_and_what_is_pointed_at_follow() -> None:
    model = room(0.6)
    result = cut_model(model, CUT.model_copy(update={"whole": (model.elements[2].guid,)}))
    seen, there = seen_anew(result), seen_anew(cut_model(room(1.0), CUT))
    areas = [sorted(round(r.shape.area) for r in found.regions) for found in (seen, there)]
    assert areas[0] == areas[1]
    (first, *_) = pick_at(model, result, [True] * 4, 2800.0, 500.0, 1.0)  # 1.8 m along x
    assert (first.element, first.depth) == (2, pytest.approx(0.0, abs=1e-6))


def test_all_of_a_kind_are_drawn_whole_by_the_drawing_or_by_the_set_that_it_follows() -> None:
    model = room(0.6, 0.8)
    single = CUT.model_copy(update={"whole": (model.elements[2].guid, model.elements[3].guid)})
    by_kind = CUT.model_copy(update={"whole_kinds": ("furniture",)})
    by_set = following(model, CUT, ShownRule(whole_kinds=("furniture",)))
    wanted = drawn(cut_model(model, single))
    assert drawn(cut_model(model, CUT)) != wanted
    assert drawn(cut_model(model, by_kind)) == drawn(cut_model(model, by_set)) == wanted
    out = following(model, by_kind, ShownRule(without_kinds=("furniture",)))
    bare = CUT.model_copy(update={"without": ("furniture",)})
    assert drawn(cut_model(model, out)) == drawn(cut_model(model, bare))
    walls = CUT.model_copy(update={"whole_kinds": ("slab", "wall")})
    assert {face.element for face in cut_model(model, walls).faces} == {2, 3}


@settings(max_examples=25, deadline=None)
@given(st.lists(st.sampled_from([(), (2,), (3,), (2, 3), "furniture"]), min_size=2, max_size=5))
def test_in_whatever_order_things_become_whole_the_cut_is_as_one_anew(orders: list[tuple[int, ...] | str]) -> None:
    model = room(0.6, 0.8)
    earlier: CutResult | None = None
    for chosen in orders:
        if isinstance(chosen, str):
            cut = CUT.model_copy(update={"whole_kinds": (chosen,)})
        else:
            cut = CUT.model_copy(update={"whole": tuple(model.elements[k].guid for k in chosen)})
        earlier = cut_model(model, cut, None, earlier)
        anew = cut_model(model, cut)
        assert drawn(earlier) == drawn(anew)
        assert sorted(f.polygon.wkb for f in earlier.faces) == sorted(f.polygon.wkb for f in anew.faces)
