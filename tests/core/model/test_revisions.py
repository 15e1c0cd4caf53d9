"""A newer state of a model: what is known again, what changed."""

from __future__ import annotations

from dataclasses import replace

import pytest

from edge_slice.core.model import Model, Space, Storey
from edge_slice.core.model.revisions import ModelChanges, revised
from tests.walls import Wall, house, with_thickness

WALLS = tuple(Wall(f"wall-{k}", 10.0 * k) for k in range(6))


def said(changes: ModelChanges) -> set[tuple[str, str, tuple[str, ...]]]:
    return {(c.guid, c.what, c.how) for c in changes.elements}


def test_what_came_went_moved_grew_and_was_made_of_something_else() -> None:
    new = (
        replace(WALLS[0], x=0.7),
        replace(WALLS[1], top=3.0),
        replace(with_thickness(WALLS[2], 0, 0.12), layers=(("Stone", 0.1), *WALLS[2].layers[1:])),
        WALLS[3],
        WALLS[4],
        Wall("new", 70.0),
    )
    model, changes = revised(house(WALLS, True), house(new, True))
    assert said(changes) == {
        ("wall-0", "changed", ("moved",)),
        ("wall-1", "changed", ("shape",)),
        ("wall-2", "changed", ("material",)),
        ("wall-5", "removed", ()),
        ("new", "added", ()),
    }
    assert (changes.same, changes.another) == (2, False)
    assert changes.changed_guids == {"wall-0", "wall-1", "wall-2", "wall-5", "new"}
    assert [e.guid for e in model.elements] == ["wall-0", "wall-1", "wall-2", "wall-3", "wall-4", "new"]


def renamed(walls: tuple[Wall, ...]) -> tuple[Wall, ...]:
    return tuple(replace(w, guid=f"other-{k}") for k, w in enumerate(walls))


def test_elements_with_new_ids_are_known_by_kind_place_and_shape() -> None:
    new = renamed((WALLS[0], replace(WALLS[1], top=3.1), replace(WALLS[2], x=WALLS[2].x + 1.5), *WALLS[3:]))
    model, changes = revised(house(WALLS, True), house(new, True))
    assert [e.guid for e in model.elements] == [w.guid for w in WALLS]
    assert said(changes) == {
        ("wall-0", "renamed", ()), ("wall-1", "changed", ("shape",)), ("wall-2", "changed", ("moved",)),
        ("wall-3", "renamed", ()), ("wall-4", "renamed", ()), ("wall-5", "renamed", ()),
    }  # fmt: skip


def test_the_next_revision_knows_the_ids_of_the_file_before() -> None:
    first, second = house(WALLS, True), house(renamed(WALLS), True)
    known, _ = revised(first, second)
    third, changes = revised(known, house(renamed(WALLS), True))
    assert [e.guid for e in third.elements] == [w.guid for w in WALLS]
    assert (changes.elements, changes.same) == ((), len(WALLS))


def test_another_building_is_noticed() -> None:
    other = house(tuple(Wall(f"z-{k}", 500.0 + 7 * k, layers=(("Steel", 0.3),)) for k in range(6)), True)
    assert revised(house(WALLS, True), other)[1].another


def with_rooms(model: Model, number: str, guid: str) -> Model:
    outline = ((1.0, -1.0), (6.0, -1.0), (6.0, 2.0), (1.0, 2.0))
    return replace(model, spaces=(Space(guid, number, "Studio", 0, outline, 0.0, 2.5),))


def test_rooms_are_known_by_their_outline_and_storeys_by_name() -> None:
    before = with_rooms(house(WALLS, True), "1.01", "room-1")
    after = with_rooms(house(WALLS, True), "1.07", "room-other")
    after = replace(after, storeys=(Storey("another", "Ground", 0.1), Storey("roof", "Roof", 3.0)))
    model, changes = revised(before, after)
    assert [(r.guid, r.what, r.how) for r in changes.rooms] == [("room-1", "changed", ("number",))]
    assert [s.guid for s in model.storeys] == ["storey-0", "roof"]
    assert changes.lost_storeys == ()
    assert revised(after, before)[1].lost_storeys == ("roof",)


def test_a_rebased_model_is_the_same() -> None:
    old = house(WALLS, True)
    model, changes = revised(old, house(WALLS, True, origin=(1000.0, -500.0, 20.0)))
    assert changes.elements == ()
    # cuts of the older model lie in the newer one where they lay
    assert model.origin == old.origin
    assert model.mesh.vertices == pytest.approx(old.mesh.vertices)
    assert model.elements[2].frame == old.elements[2].frame
    assert [s.elevation for s in model.storeys] == [s.elevation for s in old.storeys]
