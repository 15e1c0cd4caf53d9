"""A state of a model in which some elements are as another state has them."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.model import Model
from edge_slice.core.model.merging import with_elements
from tests.walls import USUAL, Wall, house, with_thickness

CUT = SectionCut(line=((-1, 0), (12, 0)), look="left", depth=3.0)
ROW = tuple(Wall(f"wall-{k}", 2.0 * k) for k in range(5))
NEWER = (
    ROW[0],
    with_thickness(ROW[1], 1, 0.2),
    replace(ROW[2], top=3.0),
    ROW[4],
    Wall("wall-9", 10.0, layers=USUAL[:2]),
)


def drawn(model: Model) -> list[tuple[str, int, str, bytes]]:
    """The cut faces, each with its element, layer and material by their names."""
    faces = cut_model(model, CUT).faces
    return sorted(
        (model.elements[f.element].guid, f.layer, model.materials[f.material].name, f.polygon.normalize().wkb)
        for f in faces
    )


@settings(max_examples=40, deadline=None)
@given(st.sets(st.sampled_from([w.guid for w in {*ROW, *NEWER}])))
def test_each_element_is_as_the_state_has_it_that_it_was_taken_from(guids: set[str]) -> None:
    old, new = house(ROW, True), house(NEWER, True)
    found = with_elements(old, new, guids)
    other = {w.guid: w for w in NEWER}
    walls = [other.get(w.guid) if w.guid in guids else w for w in ROW]
    walls += [w for w in NEWER if w.guid in guids and w.guid not in {r.guid for r in ROW}]
    made = house(tuple(w for w in walls if w is not None), True)
    assert [e.guid for e in found.elements] == [e.guid for e in made.elements]
    assert drawn(found) == drawn(made)
    assert found.leaking == made.leaking


def test_nothing_taken_is_the_model_and_all_of_it_the_other() -> None:
    old, new = house(ROW, True), house(NEWER, True)
    assert drawn(with_elements(old, new, ())) == drawn(old)
    every = {e.guid for e in (*old.elements, *new.elements)}
    assert drawn(with_elements(old, new, every)) == drawn(new)


def test_materials_of_both_are_there_once() -> None:
    old, new = house(ROW, True), house((replace(ROW[0], layers=(("Timber", 0.1), ("Brick", 0.1))),), True)
    found = with_elements(old, new, {"wall-0"})
    names = [m.name for m in found.materials]
    assert len(names) == len(set(names))
    assert "Timber" in names
    layers = found.build_ups[found.elements[0].build_up].layers
    assert [names[layer.material] for layer in layers] == ["Timber", "Brick"]
