"""Sets that a rule places: complete, clear of everything where there is room, renewed without what was moved."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import composed
from edge_slice.core.annotating.documents import AnyAnnotation, Dimension, LabelNote
from edge_slice.core.annotating.sets import Rule, proposed, renewed
from edge_slice.core.cut import AnyCut, Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, Label, compose_drawing, default_standard
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.model import Model
from tests.bodies import box, model_of, moved, pierced_box

STANDARD = default_standard()


def drawing(model: Model, cut: AnyCut, scale: float) -> tuple[Board, DisplayList]:
    result = cut_model(model, cut, STANDARD.cut_rules(model))
    spec = DrawingSpec(scale=scale, lengths="mm", rooms=False)
    display = compose_drawing(model, result, cut, spec, STANDARD)
    return Board.of(model, result, cut, spec, STANDARD), display


def storey(model: Model, name: str) -> str:
    return next(s.guid for s in model.storeys if s.name == name)


def plan(model: Model, scale: float = 100.0) -> tuple[Board, DisplayList]:
    return drawing(model, PlanCut(storey=storey(model, "Lower"), depth=1.5, without=("planting",)), scale)


def said(board: Board, documents: tuple[AnyAnnotation, ...]) -> list[list[str]]:
    found = (composed(board, d, "a") for d in documents)
    return [[i.text for i in c.items if isinstance(i, Label)] for c in found]


def test_every_room_door_and_window_is_labelled(demo: Model) -> None:
    board, display = plan(demo)
    rooms = proposed(board, "rooms", display.items).annotations
    assert sorted(words[0] for words in said(board, rooms)) == ["0.01", "1.01", "1.02", "1.03", "1.04"]
    doors = proposed(board, "doors", display.items).annotations
    cut = {demo.elements[k].guid for k in board.features.cut_elements if demo.elements[k].kind == "door"}
    assert {d.subject for d in doors} == cut
    assert proposed(board, "windows", display.items).annotations


@pytest.mark.parametrize("scale", [50.0, 100.0])
def test_labels_of_a_set_overlap_no_text_and_no_cut_face(demo: Model, scale: float) -> None:
    board, display = plan(demo, scale)
    texts = [shapely.box(*box_of(i)) for i in display.items if isinstance(i, Label)]
    faces = shapely.union_all([shapely.transform(f.polygon, lambda p: p / scale) for f in board.result.faces])
    drawn = list(display.items)
    rules: tuple[Rule, ...] = ("rooms", "doors", "windows")
    for rule in rules:
        made = proposed(board, rule, drawn)
        assert made == proposed(board, rule, drawn)
        assert not made.findings
        for document in made.annotations:
            labels = [i for i in composed(board, document, "a").items if isinstance(i, Label)]
            boxes = [shapely.box(*box_of(i)) for i in labels]
            for one in boxes:
                assert not any(one.intersects(other) for other in texts)
                assert one.intersection(faces).area < 1e-6
            texts += boxes
            drawn += labels


def test_grid_and_levels_are_dimensioned(demo: Model) -> None:
    board, display = plan(demo)
    chains = proposed(board, "grid", display.items).annotations
    assert said(board, chains)[0] == ["7200", "7200", "7200"]
    section, shown = drawing(demo, SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5), 50)
    (levels,) = proposed(section, "levels", shown.items).annotations
    assert said(section, (levels,))[0][:2] == ["900", "3300"]


@pytest.mark.parametrize("scale", [50.0, 100.0])
@pytest.mark.parametrize("name", ["Boat bay", "Lower", "Upper", "Lookout"])
def test_dimensions_outside_add_up_and_are_clear_of_everything(demo: Model, name: str, scale: float) -> None:
    cut = PlanCut(storey=storey(demo, name), depth=1.5, without=("planting",))
    board, display = drawing(demo, cut, scale)
    made = proposed(board, "outside", display.items)
    assert made == proposed(board, "outside", display.items)
    assert not made.findings
    taken = [shapely.box(*box_of(i)) for i in display.items if isinstance(i, Label)]
    sums: dict[str, set[float]] = {}
    for document, words in zip(made.annotations, said(board, made.annotations), strict=True):
        assert isinstance(document, Dimension)
        along = np.sort(np.array([a.at for a in document.anchors]) @ document.way)
        assert [int(w) for w in words] == pytest.approx(np.diff(along), abs=0.5)
        assert {a.to for a in document.anchors} == {"corner"}
        sums.setdefault(document.subject.split()[0], set()).add(round(float(np.ptp(along)), 3))
        boxes = [shapely.box(*box_of(i)) for i in composed(board, document, "a").items if isinstance(i, Label)]
        assert not any(one.intersects(other) for one in boxes for other in taken)
        taken += boxes
        assert all(board.within(np.array(one.centroid.coords[0])) for one in boxes)
    assert sorted(sums) == ["base", "left", "right", "top"]
    assert all(len(whole) == 1 for whole in sums.values()), "the tiers of a side measure the same whole"


def test_dimensions_outside_of_a_house_with_a_break_and_a_window() -> None:
    """An L of 10 x 8 m whose right part stands 2 m back; without a grid; and the same house turned by 30°."""
    parts = [
        box((0, 0, 0), (6, 0.3, 3)), box((6, 2, 0), (10, 2.3, 3)), box((0, 0.3, 0), (0.3, 8, 3)),
        box((9.7, 2.3, 0), (10, 8, 3)), box((0.3, 7.7, 0), (9.7, 8, 3)), box((5.7, 0.3, 0), (6, 2.3, 3)),
    ]  # fmt: skip
    parts[0] = pierced_box((0, 0, 0), (6, 0.3, 3), (1, 0.9, 2.2, 2.2))
    parts.append(box((1, 0.1, 0.9), (2.2, 0.2, 2.2)))
    for degrees, across in ((0.0, 90.0), (30.0, -60.0)):
        c, i = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
        turn = np.array([[c, -i, 0.0], [i, c, 0.0], [0.0, 0.0, 1.0]])
        model = model_of(*(moved(part, turn, np.zeros(3)) for part in parts), kinds=[*["wall"] * 6, "window"])
        board, display = drawing(model, PlanCut(storey=model.storeys[0].guid, height=1.2), 100)
        made = proposed(board, "outside", display.items).annotations
        values = {d.subject: words for d, words in zip(made, said(board, made), strict=True)}
        right = ["2000", "6000"] if degrees == 0 else ["6000", "2000"]  # as they are read
        assert values == {
            "base 0": ["1000", "1200", "3800", "4000"], "base 1": ["6000", "4000"], "base 2": ["10000"],
            "right 0": right, "right 1": ["8000"], "top 0": ["10000"], "left 0": ["8000"],
        }  # fmt: skip
        assert {round(d.direction, 4) for d in made if isinstance(d, Dimension)} == {degrees, across}


def test_openings_of_a_wall_are_dimensioned_from_end_to_end(demo: Model) -> None:
    board, display = plan(demo)
    wall = next(e for e in demo.elements if e.kind == "wall" and e.name == "Lower outer wall 1")
    (chain,) = proposed(board, "openings", display.items, wall.guid).annotations
    values = [int(v) for v in said(board, (chain,))[0]]
    corners = board.features.corners(demo.element_by_guid[wall.guid]).at
    assert sum(values) == pytest.approx(np.ptp(corners, axis=0).max(), abs=len(values))
    assert len(values) >= 3
    assert not proposed(board, "openings", display.items, "no such wall").annotations


def test_layer_notes_stand_in_columns_apart_from_each_other(demo: Model) -> None:
    cut = SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5, extents=Extents(left=23, right=26.5, base=-2.2, top=5))
    board, display = drawing(demo, cut, 20)
    notes = proposed(board, "layers", display.items).annotations
    assert {n.subject for n in notes} >= {"Lower outer wall", "Upper outer wall", "Ground floor"}
    boxes = []
    for note in notes:
        found = composed(board, note, "a")
        boxes.append(shapely.union_all([shapely.box(*box_of(i)) for i in found.items if isinstance(i, Label)]).envelope)
    for k, one in enumerate(boxes):
        assert not any(one.intersects(other) for other in boxes[k + 1 :])
        left, _, right, _ = board.fold.frame
        assert one.bounds[2] < left or one.bounds[0] > right


def test_renewing_leaves_what_was_moved_and_drops_what_is_gone(demo: Model) -> None:
    board, display = plan(demo)
    wanted = proposed(board, "rooms", display.items).annotations
    moved = wanted[0].model_copy(update={"points": ((1.0, 2.0),), "by_hand": True})
    old = wanted[1].model_copy(update={"points": ((5.0, 5.0),)})
    gone = wanted[2].model_copy(update={"subject": "no room any more"})
    kept = gone.model_copy(update={"subject": "nor this", "by_hand": True})
    existing = [(1, moved), (2, old), (3, gone), (4, kept)]
    renewal = renewed(existing, wanted)
    assert renewal.changed == {2: wanted[1]}
    assert renewal.removed == (3,)
    assert renewal.added == wanted[2:]
    assert renewed([(k, d) for k, d in enumerate(wanted)], wanted).changed == {}
    assert all(isinstance(d, LabelNote) for d in wanted)
