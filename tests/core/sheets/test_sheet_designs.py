"""Sheet designs: room, fields, tables, scale bars, zones; numbers of sheets by a pattern."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.drawing import Label, Paths, default_standard
from edge_slice.core.sheet import (
    SHEET_SIZES,
    IssuedRow,
    KeyOutline,
    ListedDrawing,
    ListedSheet,
    SheetDesign,
    SheetSize,
    SheetSpec,
    compose_sheet,
    design_problems,
    shipped_designs,
)
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.sheet.parts import division_of

STANDARD = default_standard()
DESIGNS = shipped_designs()


def changed(key: str, **fields: object) -> SheetDesign:
    return SheetDesign.model_validate({**DESIGNS[key].model_dump(), **fields})


@pytest.mark.parametrize("key", list(DESIGNS))
def test_shipped_designs_have_room_on_all_sizes_and_come_back_from_json(key: str) -> None:
    assert [p for size in SHEET_SIZES for p in design_problems(DESIGNS[key], size)] == []
    assert SheetDesign.model_validate_json(DESIGNS[key].model_dump_json()) == DESIGNS[key]


@pytest.mark.parametrize("size", list(SHEET_SIZES))
def test_all_that_a_design_draws_lies_on_the_sheet_and_areas_meet_no_part(size: SheetSize) -> None:
    wide, high = SHEET_SIZES[size]
    for design in DESIGNS.values():
        spec = SheetSpec("A-1", "Title", size, "Project", design=design,
                         issued=(IssuedRow("P1", "2026-01-01", "Permit", "EF"),))  # fmt: skip
        for item in compose_sheet(spec, (), STANDARD).items:
            points = item.points if isinstance(item, Paths) else np.array([(item.x, item.y)])
            assert (points >= -1e-9).all()
            assert (points <= (wide + 1e-9, high + 1e-9)).all()


def test_what_a_design_cannot_be_is_said() -> None:
    area = {"name": "A", "region": DESIGNS["side-strip"].areas[0].region.model_dump()}
    with pytest.raises(ValidationError, match="two of the drawing area"):
        changed("side-strip", areas=[area, area])
    with pytest.raises(ValidationError, match="two of the field"):
        changed("side-strip", own_fields=[{"key": "title", "caption": "T"}])
    text = {"kind": "text", "region": area["region"], "says": "By {whom}"}
    with pytest.raises(ValidationError, match="whom"):
        changed("side-strip", parts=[text])
    assert "margins" in design_problems(changed("cover", margins={"left": 200, "right": 60}), "A4")[0]
    beyond = {"left": {"mm": -5}, "base": {}, "right": {"share": 1}, "top": {"share": 1}}
    assert "beyond the frame" in design_problems(changed("cover", areas=[{"name": "A", "region": beyond}]), "A1")[0]
    over = changed("side-strip", areas=[{"name": "A", "region": {**beyond, "left": {}}}])
    assert "overlap" in design_problems(over, "A1")[0]


def test_own_fields_and_the_newest_issue_fill_the_title_block() -> None:
    block = DESIGNS["corner-block"].model_dump()["parts"][0]
    block["cells"] = [*block["cells"][:9], {**block["cells"][9], "says": "{stage} {number} {sheet}/{sheets}"}]
    design = changed("corner-block", parts=[block], own_fields=[{"key": "stage", "caption": "Stage", "value": "S1"}])
    issued = (IssuedRow("P02", "2026-02-01", "Tender", "EF"), IssuedRow("P01", "2026-01-01", "Permit", "EF"))
    spec = SheetSpec("A-101", "T", "A1", "P", revision="typed", design=design, own={"stage": "S2"}, issued=issued,
                     sheet=3, sheets=9)  # fmt: skip
    said = {i.role: i.text for i in compose_sheet(spec, (), STANDARD).items if isinstance(i, Label)}
    assert said["field sheet number"] == "S2 A-101 3/9"
    assert (said["field revision"], said["field date"]) == ("P02", "2026-02-01")


def test_a_register_longer_than_its_room_says_how_many_are_missing() -> None:
    sheets = tuple(ListedSheet(f"A-{k}", "T", "", f"sheet:{k}") for k in range(100))
    display = compose_sheet(SheetSpec("1", "T", "A4", "P", design=DESIGNS["cover"], register=sheets), (), STANDARD)
    rows = [i.text for i in display.items if isinstance(i, Label) and i.role == "table text" and i.text[:2] == "A-"]
    rest = next(i.text for i in display.items if isinstance(i, Label) and i.text.startswith("and "))
    assert rest == f"and {100 - len(rows)} more"
    assert [link.target for link in display.links] == [f"sheet:{k}" for k in range(len(rows))]


def test_drawings_are_listed_with_their_numbers() -> None:
    region = {"left": {"mm": 10}, "base": {"mm": 60}, "right": {"share": 1, "mm": -10}, "top": {"share": 1, "mm": -10}}
    design = changed("cover", parts=[{"kind": "drawing list", "region": region}])
    drawings = (ListedDrawing("1/A-101", "Lower plan", "1:100", "drawing:4"),)
    display = compose_sheet(SheetSpec("1", "T", "A3", "P", design=design, drawings=drawings), (), STANDARD)
    texts = [i.text for i in display.items if isinstance(i, Label) and i.role == "table text"]
    assert texts == ["1/A-101", "Lower plan", "1:100"]
    assert [link.target for link in display.links] == ["drawing:4"]


@given(st.floats(0.1, 5000), st.floats(20, 400), st.booleans())
def test_a_scale_bar_is_as_long_as_fits_and_round(scale: float, wide: float, feet: bool) -> None:
    division = division_of(scale, wide, feet) / (0.3048 if feet else 1)
    on_paper = division * (0.3048 if feet else 1) * 1000 / scale
    assert on_paper * 4 <= wide * (1 + 1e-9)
    assert on_paper * 4 * 2.5 >= wide * (1 - 1e-9)
    mantissa = division / 10 ** np.floor(np.log10(division * (1 + 1e-9)))
    assert min(abs(mantissa - k) for k in (1, 2, 5)) < 1e-6


def test_a_key_plan_lies_in_its_place_and_lights_what_is_shown() -> None:
    ring = np.array([(0.0, 0), (40, 0), (40, 10), (0, 10)])
    key = KeyOutline((ring,), (ring / 2,), (np.array([(-5.0, 5), (45, 5)]),))
    design = DESIGNS["side-strip"]
    display = compose_sheet(SheetSpec("1", "T", "A1", "P", design=design, key=key), (), STANDARD)
    box = next(p for p in design.parts if p.kind == "key plan").region.box(design.frame("A1"))
    for role in ("key plan", "key plan lit", "key plan cut"):
        found = [i for i in display.items if isinstance(i, Paths) and i.role == role]
        assert found
        for item in found:
            assert (item.points >= box[:2]).all()
            assert (item.points <= box[2:]).all()


def test_zones_are_counted_from_the_upper_left_with_letters_that_are_no_figures() -> None:
    display = compose_sheet(SheetSpec("1", "T", "A0", "P", design=DESIGNS["side-strip"]), (), STANDARD)
    zones = [i for i in display.items if isinstance(i, Label) and i.role == "zone"]
    up = sorted((z for z in zones if z.text.isalpha() and z.x < 100), key=lambda z: -z.y)
    along = sorted((z for z in zones if z.text.isdigit() and z.y < 100), key=lambda z: z.x)
    assert "".join(z.text for z in up) == "ABCDEFGHJKLMNPQRSTUVWXYZ"[: len(up)]
    assert [int(z.text) for z in along] == list(range(1, len(along) + 1))
    assert min(b.x - a.x for a, b in pairwise(along[1:-1])) == pytest.approx(50)


@given(st.integers(0, 99_999), st.sampled_from(["general", "plans", "sections", "details"]))
def test_a_number_says_its_counter_again(counter: int, folder: str) -> None:
    for pattern in ("{discipline}-{series}{counter:02}", "{counter} {folder}", "{series}.{counter:04}{discipline}"):
        register = Register(pattern=pattern)
        assert register.counter(folder, register.number(folder, counter)) == counter
    assert Register().next_number(folder, {Register().number(folder, counter)}) == Register().number(
        folder, counter + 1
    )


def test_a_number_that_is_too_long_is_refused() -> None:
    with pytest.raises(ValueError, match="more than 20"):
        Register(pattern="A long beginning of it {counter}").number("plans", 1)
