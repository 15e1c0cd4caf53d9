"""Tables on sheets: their lines in one place and the next, and their pictures."""

from __future__ import annotations

import numpy as np
import pytest

from edge_slice.core.drawing import default_standard
from edge_slice.core.drawing.display import Label, Paths, Pen
from edge_slice.core.model import Model
from edge_slice.core.sheet.placed_tables import TableOnSheet, draw_placed, lines_that_fit, missing_in
from edge_slice.core.sheet.tables import Look
from edge_slice.core.tables.content import TableContent, content_of
from edge_slice.core.tables.documents import TableDocument
from edge_slice.core.tables.fields import usual_table
from edge_slice.core.tables.pictures import picture_of
from edge_slice.core.tables.rows import Measured

LOOK = Look(default_standard(), Pen(0.35, "#000000"), Pen(0.13, "#000000"))
HEIGHT = default_standard().text.label


@pytest.fixture(scope="module")
def walls(demo: Model) -> TableContent:
    return content_of(TableDocument(spec=usual_table("Walls", "walls")), Measured(demo).rows(usual_table("W", "walls")))


def texts(placed: TableOnSheet) -> list[str]:
    return [i.text for i in draw_placed(placed, LOOK, [])[0] if isinstance(i, Label) and i.role == "table text"]


def test_a_table_stays_in_its_place_and_goes_on_in_the_next_one(walls: TableContent) -> None:
    boxes = [(10.0, 10.0, 200.0, 90.0), (220.0, 30.0, 400.0, 110.0), (10.0, 150.0, 500.0, 260.0)]
    start, seen = 0, []
    for box in boxes:
        room = lines_that_fit(walls, box, HEIGHT)
        lines = walls.lines[start : start + room]
        start += room
        items, _ = draw_placed(TableOnSheet(walls, box, lines), LOOK, [])
        seen += [i.text for i in items if isinstance(i, Label) and i.role == "table text"]
        for item in items:
            if isinstance(item, Paths):
                low, high = item.points.min(axis=0), item.points.max(axis=0)
                assert (low >= np.array(box[:2]) - 1e-6).all()
                assert (high <= np.array(box[2:]) + 1e-6).all()
    assert start >= len(walls.lines)
    names = [line.cells[1].text for line in walls.lines if line.what == "row"]
    assert [t for t in seen if t in set(names)] == [n for n in names if n in seen]


def test_what_finds_no_place_is_told(walls: TableContent) -> None:
    box = (0.0, 0.0, 190.0, 60.0)
    room = lines_that_fit(walls, box, HEIGHT)
    (says,) = missing_in(TableOnSheet(walls, box, walls.lines[:room], missing=len(walls.lines) - room))
    assert says.startswith(f"{len(walls.lines) - room} lines find no place in table “Walls”")
    assert missing_in(TableOnSheet(walls, box, walls.lines[:room])) == []


def test_the_second_part_says_which_one_it_is(walls: TableContent) -> None:
    items, _ = draw_placed(TableOnSheet(walls, (0, 0, 190, 60), walls.lines[:3], part=2, parts=3), LOOK, [])
    assert [i.text for i in items if isinstance(i, Label) and i.role == "table name"] == ["Walls (2 of 3)"]


def test_a_place_smaller_than_a_row_holds_none(walls: TableContent) -> None:
    assert lines_that_fit(walls, (0, 0, 190, 15), HEIGHT) == 0


def test_pictures_have_the_size_of_their_element(demo: Model) -> None:
    for name, wide, high in (("D01 boat-bay door", 3600, 3000), ("D04 door", 1000, 2100)):
        number = next(k for k, e in enumerate(demo.elements) if e.name == name)
        front = picture_of(demo, number, "front")
        assert (front.wide, front.high) == pytest.approx((wide, high), abs=1.0)
        assert front.lines.min() >= 0
        plan = picture_of(demo, number, "plan")
        assert plan.wide == pytest.approx(wide, abs=1.0) or plan.high == pytest.approx(wide, abs=1.0)


def test_pictures_stand_in_their_cells(demo: Model) -> None:
    spec = usual_table("Doors", "doors")
    content = content_of(TableDocument(spec=spec), Measured(demo).rows(spec))
    line = next(one for one in content.lines if one.cells[0].text == "D04")
    picture = picture_of(demo, demo.element_by_guid[line.target.removeprefix("element:")], "front")
    placed = TableOnSheet(content, (0, 0, 300, 100), (line,), pictures={(line.target, "picture"): picture})
    items, _ = draw_placed(placed, LOOK, [])
    drawn = next(i for i in items if isinstance(i, Paths) and i.role == "table picture")
    size = drawn.points.max(axis=0) - drawn.points.min(axis=0)
    assert size[0] / size[1] == pytest.approx(picture.wide / picture.high, rel=1e-6)
    assert size.max() == pytest.approx(18.0, abs=0.1)
