"""A drawing over its earlier state: what went, what came, what moved, and where."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from edge_slice.core.cut import CutResult, Extents, SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.comparison import Compared, CutModel, States, compared, differences, revision_regions
from edge_slice.core.model import Model
from edge_slice.core.model.revisions import revised
from tests.walls import Wall, house

STANDARD = default_standard()
SECTION = SectionCut(line=((-5, 0), (40, 0)), depth=5, extents=Extents(base=-1, top=5))
WALLS = tuple(Wall(f"wall-{k}", 8.0 * k + 1) for k in range(4))


def cut(model: Model) -> CutResult:
    return cut_model(model, SECTION, STANDARD.cut_rules(model))


def over(before: Model, after: Model, scale: float = 50.0) -> Compared:
    known, changes = revised(before, after)
    spec = DrawingSpec(scale=scale)
    new = cut(known)
    display = compose_drawing(known, new, SECTION, spec, STANDARD)
    fold = Fold.of(new.extents, SECTION.extents, scale, STANDARD.breaks)
    return compared(States(CutModel(before, cut(before)), CutModel(known, new)), display, changes, fold, scale)


def ink(found: Compared, role: str) -> float:
    total = 0.0
    for item in found.display.items:
        if isinstance(item, Paths) and item.role == role:
            for a, b in zip(item.starts[:-1], item.starts[1:], strict=True):
                total += float(np.hypot(*np.diff(item.points[a:b], axis=0).T).sum())
    return total


def test_the_same_model_differs_in_nothing() -> None:
    model = house(WALLS, True)
    gone, _, came, _ = differences(cut(model), cut(model), 1.0)
    assert (len(gone), len(came)) == (0, 0)
    assert over(model, model).places == ()


def test_a_wall_that_came_and_one_that_went_are_told_with_their_places() -> None:
    found = over(house(WALLS[:3], True), house((*WALLS[:2], WALLS[3]), True))
    assert {(p.guid, p.what) for p in found.places} == {("wall-2", "removed"), ("wall-3", "added")}
    came = next(p for p in found.places if p.what == "added")
    left, base, right, top = came.box
    assert (left, right) == pytest.approx(((WALLS[3].x + 5) * 20 - 3, (WALLS[3].x + 5 + WALLS[3].thick) * 20 + 3))
    assert (base, top) == pytest.approx((-3, 2500 / 50 + 3))


def test_a_wall_that_became_higher_shows_only_what_differs() -> None:
    taller = (replace(WALLS[0], top=3.0), *WALLS[1:])
    before, after = house(WALLS, True), house(taller, True)
    gone, _, came, owners = differences(cut(before), cut(after), 1.0)
    sides = 5  # of its four layers
    assert np.hypot(*(came[:, 2:] - came[:, :2]).T).sum() == pytest.approx(sides * 500 + 380, abs=2)
    assert np.hypot(*(gone[:, 2:] - gone[:, :2]).T).sum() == pytest.approx(380, abs=2)
    assert set(owners) == {0}
    assert [(p.guid, p.what) for p in over(before, after).places] == [("wall-0", "changed")]


def test_what_moved_has_an_arrow_from_where_it_was() -> None:
    moved = (replace(WALLS[0], x=WALLS[0].x + 1.0), *WALLS[1:])
    found = over(house(WALLS, True), house(moved, True))
    assert [(p.guid, p.what) for p in found.places] == [("wall-0", "moved")]
    arrow = next(i for i in found.display.items if isinstance(i, Paths) and i.role == "moved" and i.pen is not None)
    assert (arrow.points[1] - arrow.points[0]).tolist() == pytest.approx([20, 0], abs=1e-6)
    assert ink(found, "added") > 0
    assert ink(found, "removed") > 0


def test_removed_and_added_differ_by_more_than_colour() -> None:
    found = over(house(WALLS[:3], True), house((*WALLS[:2], WALLS[3]), True))
    pens = {i.role: i.pen for i in found.display.items if isinstance(i, Paths) and i.role in ("added", "removed")}
    assert pens["added"].width > pens["removed"].width  # type: ignore[union-attr]
    removed = next(i for i in found.display.items if isinstance(i, Paths) and i.role == "removed")
    assert len(removed.starts) > 20  # dashes


def test_regions_for_revision_marks_join_what_lies_together() -> None:
    found = over(house(WALLS[:3], True), house((*WALLS[:2], WALLS[3]), True))
    assert len(revision_regions(found.places)) == 2
    near = over(house(WALLS[:1], True), house((WALLS[0], Wall("n", 1.6), Wall("m", 2.1)), True))
    assert len(revision_regions(near.places)) == 1
