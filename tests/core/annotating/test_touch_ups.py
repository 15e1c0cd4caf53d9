"""Touch-ups change what they were made on and nothing else, at any scale, and through changes of the model."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

from edge_slice.core.cut import CutResult, Extents, SectionCut, cut_model
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.drawing import DisplayList, DrawingSpec, Paths, Surroundings, compose_drawing, default_standard
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.drawing.touching.touched_bodies import (
    Pointed,
    Targets,
    cut_back_at,
    targets_at,
    targets_in,
    touched_up,
)
from edge_slice.core.model import Model
from tests.bodies import box, model_of
from tests.walls import Wall, house, with_thickness

STANDARD = default_standard()
SECTION = SectionCut(line=((-5, 0), (30, 0)), depth=5, extents=Extents(base=-1, top=5))
WALL = Wall("wall-0", 1.0)


def cut(model: Model) -> CutResult:
    return cut_model(model, SECTION, STANDARD.cut_rules(model))


def drawn(model: Model, *touch_ups: TouchUp, scale: float = 10.0) -> DisplayList:
    spec = DrawingSpec(scale=scale, levels=False)
    told = [(f"touch-up:{k}", one) for k, one in enumerate(touch_ups)]
    return compose_drawing(model, cut(model), SECTION, spec, STANDARD, Surroundings(touch_ups=told))


def length(display: DisplayList, *roles: str) -> float:
    """Millimetres of ink of some roles; all but hatches where none are named."""
    total = 0.0
    for item in display.items:
        if (
            isinstance(item, Paths)
            and item.pen is not None
            and (item.role in roles or (not roles and item.role != "hatch"))
        ):
            for a, b in zip(item.starts[:-1], item.starts[1:], strict=True):
                total += float(np.hypot(*np.diff(item.points[a:b], axis=0).T).sum())
    return total


def touch(act: str, found: Targets, **more: object) -> TouchUp:
    return TouchUp.model_validate(
        {"act": act, "lines": found.lines, "sides": found.sides, "faces": found.faces, **more}
    )


def seen() -> Model:
    """A box of 2 by 1 m beyond the cut, and one that is cut."""
    return model_of(box((1, 2, 0), (3, 3, 1)), box((6, -1, 0), (7, 1, 1)))


def at(model: Model, u: float, v: float, faces: bool = False) -> Targets:
    return targets_at(Features(model, cut(model)), u, v, 20.0, faces)


def test_a_hidden_line_is_gone_and_nothing_else() -> None:
    model = seen()
    before = length(drawn(model))
    top = at(model, 7000, 1000)
    assert len(top.lines) == 1
    after = drawn(model, touch("hide", top))
    assert before - length(after) == pytest.approx(200.0)
    (told,) = after.touched
    assert (told.source, told.state) == ("touch-up:0", "exact")
    assert sum(float(np.hypot(*np.diff(g, axis=0).T).sum()) for g in told.ghost) == pytest.approx(200.0)


def test_a_line_cut_back_loses_that_stretch() -> None:
    model = seen()
    before = length(drawn(model))
    found = cut_back_at(Features(model, cut(model)), (6500, 1000), (7200, 1050), 20.0)
    after = drawn(model, touch("cut back", found))
    assert before - length(after) == pytest.approx(70.0, abs=0.01)
    ghost = after.touched[0].ghost[0]
    assert sorted(ghost[:, 0].tolist()) == pytest.approx([650, 720])


def test_a_restyled_line_is_drawn_in_its_own_pen() -> None:
    model = seen()
    before = drawn(model)
    after = drawn(model, touch("restyle", at(model, 7000, 1000), width=0.7, ink="#aa0000", dash=()))
    assert length(after) == pytest.approx(length(before))
    red = [i for i in after.items if isinstance(i, Paths) and i.pen is not None and i.pen.colour == "#aa0000"]
    assert [i.pen.width for i in red if i.pen is not None] == [0.7]
    assert float(np.ptp(red[0].points[:, 0])) == pytest.approx(200)


def test_a_side_of_a_cut_face_is_hidden_cut_back_and_restyled() -> None:
    model = seen()
    roles = ("cut structure", "cut other")
    before = length(drawn(model), *roles)
    side = at(model, 11500, 1000)
    assert side.sides
    assert before - length(drawn(model, touch("hide", side)), *roles) == pytest.approx(100.0, abs=0.1)
    part = cut_back_at(Features(model, cut(model)), (11200, 1000), (11500, 1000), 20.0)
    assert before - length(drawn(model, touch("cut back", part)), *roles) == pytest.approx(30.0, abs=0.1)
    grey = drawn(model, touch("restyle", side, ink="#888888"))
    assert length(grey, *roles) == pytest.approx(before, abs=0.1)


def test_another_hatch_for_one_face_leaves_the_others() -> None:
    model = house((WALL, Wall("wall-1", 5.0)), True)
    brick = at(model, 6050, 1000, faces=True)
    assert [f.material for f in brick.faces] == ["Brick"]
    usual, other = drawn(model), drawn(model, touch("hatch", brick, hatch="none"))
    here = shapely.box(600, 0, 610, 250)

    def strokes(display: DisplayList, area: shapely.Polygon) -> int:
        points = np.concatenate([i.points for i in display.items if isinstance(i, Paths) and i.role == "hatch"])
        return int(shapely.contains_xy(area, points).sum())

    assert strokes(usual, here) > 0
    assert strokes(other, here) == 0
    elsewhere = shapely.box(1000, 0, 1010, 250)
    assert strokes(usual, elsewhere) == strokes(other, elsewhere) > 0


def test_a_hidden_face_leaves_no_fill() -> None:
    model = seen()
    face = at(model, 11500, 500, faces=True)
    after = drawn(model, touch("hide", face))
    assert not any(isinstance(i, Paths) and i.role == "cut fill" for i in after.items)
    assert len(after.touched[0].ghost) == 1


def test_a_mask_covers_what_lies_under_it_and_moves_with_what_it_is_tied_to() -> None:
    model = seen()
    mask = TouchUp(act="mask", ring=((6000, 0), (7000, 0), (7000, 500)))
    items = drawn(model, mask).items
    k = next(k for k, item in enumerate(items) if item.role == "touch-up mask")
    assert all(item.role not in ("seen near", "cut structure") for item in items[k:])


def test_window_takes_what_it_touches_or_encloses() -> None:
    model = seen()
    f = Features(model, cut(model))
    touched = targets_in(f, (7900, -100, 8100, 1100), whole=False)
    enclosed = targets_in(f, (7900, -100, 8100, 1100), whole=True)
    assert (len(touched.lines), len(enclosed.lines)) == (3, 1)
    sides = targets_in(f, (10900, -50, 12100, 1050), whole=True).sides
    assert len(sides) == 4


def test_touch_ups_stay_at_another_scale_and_with_an_element_that_moved() -> None:
    model = seen()
    hide = touch("hide", at(model, 7000, 1000))
    small = drawn(model, hide, scale=50)
    assert length(drawn(model, scale=50)) - length(small) == pytest.approx(40.0)
    moved = model_of(box((1.5, 2, 0), (3.5, 3, 1)), box((6, -1, 0), (7, 1, 1)))
    after = drawn(moved, hide)
    assert after.touched[0].state == "exact"
    assert length(drawn(moved)) - length(after) == pytest.approx(200.0)


def test_touch_up_of_what_is_gone_is_kept_and_told() -> None:
    model = seen()
    hide = touch("hide", at(model, 7000, 1000))
    gone = replace(model, elements=(replace(model.elements[0], guid="x"), model.elements[1]))
    after = drawn(gone, hide)
    assert (after.touched[0].state, length(after)) == ("lost", pytest.approx(length(drawn(model))))
    assert after.touched[0].finding


def test_side_of_a_layer_follows_a_thicker_wall() -> None:
    model = house((WALL,), True)
    side = at(model, 6220, 1000)
    assert side.sides
    thicker = house((with_thickness(WALL, 1, 0.2),), True)
    after = drawn(thicker, touch("hide", side))
    assert after.touched[0].state == "near"
    assert after.touched[0].ghost[0][:, 0].tolist() == pytest.approx([630, 630])


@pytest.mark.parametrize("whole", [True, False])
def test_what_a_window_hides_leaves_neither_lines_nor_fills(whole: bool) -> None:
    model = model_of(box((1, 2, 0), (3, 3, 1)), box((6, -1, 0), (7, 1, 1)), box((9, -1, 0), (10, 1, 1)))
    pointed = Pointed(act="hide", box=(10900, -100, 12100, 1100), whole=whole)
    after = drawn(model, touched_up(Features(model, cut(model)), pointed))
    cut_items = [i for i in after.items if isinstance(i, Paths) and i.role.startswith(("cut", "hatch"))]
    assert {i.role for i in cut_items} >= {"cut fill", "hatch"}
    assert min(i.points[:, 0].min() for i in cut_items) == pytest.approx(1400.0)
    alone = drawn(model, touched_up(Features(model, cut(model)), pointed.model_copy(update={"faces": True})))
    assert length(alone, "cut other", "cut structure") < length(drawn(model), "cut other", "cut structure") + 1e-6


@pytest.mark.parametrize(
    ("document", "word"),
    [
        ({"act": "hide"}, "nothing to touch up"),
        ({"act": "hatch", "hatch": "brick"}, "neither a cut face"),
        ({"act": "mask", "ring": [(0, 0), (1, 1)]}, "three corners"),
        ({"act": "mask", "ring": [(0, 0), (9, 9), (9, 0), (0, 9)]}, "must not cross"),
        ({"act": "restyle", "faces": [{}]}, "how the lines shall look"),
    ],
)
def test_impossible_touch_ups_are_refused(document: dict[str, object], word: str) -> None:
    with pytest.raises(ValidationError, match=word):
        TouchUp.model_validate(document)


def test_a_window_gives_several_faces_another_hatch() -> None:
    model = house((WALL, Wall("wall-1", 5.0)), True)
    f = Features(model, cut(model))
    faces = targets_in(f, (5900, -100, 6500, 2600), whole=True, faces=True).faces
    assert [a.material for a in faces] == ["Brick", "Insulation", "Block", "Plaster"]
    assert {a.name for a in faces} == {"wall-0"}
    assert len(targets_in(f, (6150, 1000, 6160, 1100), whole=False, faces=True).faces) == 1
