"""Sheets: sizes, frame, title block, drawing titles."""

import numpy as np
import pytest

from edge_slice.core.drawing import DisplayList, Label, Paths, Pen, default_standard
from edge_slice.core.drawing.display import paths_of
from edge_slice.core.drawing.rules.standard import TitleRule
from edge_slice.core.drawing.texts.lettering import box_of, text_width
from edge_slice.core.sheet import SHEET_SIZES, PlacedDrawing, SheetSize, SheetSpec, TitleStyle, compose_sheet

STANDARD = default_standard()


def blank(wide: float, high: float) -> DisplayList:
    """A drawing that is only its frame, drawn away from the origin as drawings are."""
    left, base = -35.0, 12.0
    ring = [(left, base), (left + wide, base), (left + wide, base + high), (left, base + high)]
    return DisplayList(
        (paths_of("seen near", [ring], Pen(0.25, "#000000"), None, True),), (left, base, left + wide, base + high)
    )


def composed(size: SheetSize = "A1", *placed: PlacedDrawing, **fields: str) -> DisplayList:
    return compose_sheet(
        SheetSpec(number="A-101", title="Plans", size=size, project="Test", **fields), placed, STANDARD
    )


def paths(display: DisplayList, role: str) -> list[Paths]:
    return [i for i in display.items if isinstance(i, Paths) and i.role == role]


@pytest.mark.parametrize("size", list(SHEET_SIZES))
def test_frame_and_title_block_lie_within_every_size(size: SheetSize) -> None:
    wide, high = SHEET_SIZES[size]
    display = composed(size)
    assert display.frame == (0, 0, wide, high)
    frame = paths(display, "frame")[0].points
    assert (frame[:, 0].min(), frame[:, 1].min()) == (20, 10)  # ISO 5457: binding edge 20 mm, others 10 mm
    assert (wide - frame[:, 0].max(), high - frame[:, 1].max()) == pytest.approx((10, 10))
    block = paths(display, "title block")[0].points
    assert block[:, 0].max() == pytest.approx(wide - 10)
    assert block[:, 1].min() == pytest.approx(10)
    assert block[:, 0].min() >= 20


def test_a_sizes_halve() -> None:
    for large, small in (("A0", "A1"), ("A1", "A2"), ("A2", "A3"), ("A3", "A4")):
        assert SHEET_SIZES[small][0] == SHEET_SIZES[large][1]  # type: ignore[index]


def test_centring_marks_stand_at_the_middles() -> None:
    marks = paths(composed("A1"), "centring mark")[0].points
    assert {round(float(x), 1) for x in marks[:4, 0]} == {420.5}
    assert {round(float(y), 1) for y in marks[4:, 1]} == {297.0}


def test_drawing_and_its_title_stand_where_placed() -> None:
    display = composed("A1", PlacedDrawing(5, 9, "3", "Lower plan", 100, blank(240, 130), 100, 200))
    drawn = paths(display, "seen near")[0].points
    assert drawn.min(axis=0).tolist() == pytest.approx([100, 200])
    assert drawn.max(axis=0).tolist() == pytest.approx([340, 330])
    labels = {i.role: i for i in display.items if isinstance(i, Label) and i.source == "placement:9"}
    assert labels["title number"].text == "3"
    assert labels["title name"].text == "Lower plan"
    assert labels["title scale"].text == "1:100"
    assert all(label.y < 200 for label in labels.values())
    assert [link.target for link in display.links] == ["drawing:5"]


LONG = (
    "Section through the wet laboratory, the specimen store and the stair to the lookout, as it will be after the "
    "second phase of the works has been carried out",
    "Längsschnittdurchdiegesamteforschungsstationmitallennebengebäudenundaußenanlagenbiszurwasserlinie" * 2,
    "潮湿实验室与标本库以及通往瞭望台的楼梯剖面图" * 8,
    "مقطع عبر المختبر الرطب ومخزن العينات والدرج المؤدي إلى برج المراقبة"
    " بعد المرحلة الثانية من الأعمال وما يتبعها من تعديلات",
)


@pytest.mark.parametrize("name", LONG)
@pytest.mark.parametrize("wide", [60.0, 240.0])
@pytest.mark.parametrize("size", ["A1", "A3"])
def test_long_names_are_broken_into_lines_on_the_paper(name: str, wide: float, size: SheetSize) -> None:
    """In titles of drawings and fields: legible, within the frame, beside what stands there; whole, or a finding says
    what was cut off."""
    first = PlacedDrawing(5, 9, "3", name, 100, blank(wide, 60), 60, 120)
    second = PlacedDrawing(6, 10, "4", "Beside", 100, blank(60, 60), 60 + wide + 30, 120)
    placed = (first, second) if size == "A1" else (first,)
    display = compose_sheet(
        SheetSpec(number="A-101", title=name, size=size, project=name, client=name), placed, STANDARD
    )
    page_wide, page_high = SHEET_SIZES[size]
    cut = {f.split("”")[0].removeprefix("“") for f in display.findings}
    for label in (i for i in display.items if isinstance(i, Label)):
        assert label.height >= 1.8
        left, base, right, top = box_of(label)
        assert left >= 10
        assert right <= page_wide - 10 + 1e-6
        assert base >= 0
        assert top <= page_high
    own = [i for i in display.items if isinstance(i, Label) and i.source == "placement:9" and i.role == "title name"]
    assert len(own) > 1
    if size == "A1":
        assert max(box_of(i)[2] for i in own) <= 60 + wide + 30
    assert max(box_of(i)[3] for i in own) < 120
    said = "".join(i.text for i in sorted(own, key=lambda i: -i.y)).replace(" ", "")
    assert said == name.replace(" ", "") or name in cut
    assert {i.text for i in display.items if isinstance(i, Label) and i.text.endswith("…")} == set() or cut


def test_long_values_fit_into_their_fields() -> None:
    display = compose_sheet(
        SheetSpec(number="A-101-EXTENSION-NORTH-EAST", title="A title that is far longer than its field is wide",
                  size="A1", project="P"), (), STANDARD,
    )  # fmt: skip
    for label in display.items:
        if isinstance(label, Label) and label.role == "field sheet number":
            assert label.x + text_width(label.text, label.height) <= 841 - 10
        if isinstance(label, Label) and label.role == "field sheet title":
            assert text_width(label.text, label.height) <= 120 - 5 + 1e-9


def test_needle_points_to_true_north() -> None:
    display = compose_sheet(SheetSpec(number="1", title="T", size="A1", project="P", north=(0.6, 0.8)), (), STANDARD)
    needle = paths(display, "north")[-1].points
    tip, tail = needle[0], needle[2]
    assert ((tip - tail) / np.hypot(*(tip - tail))).tolist() == pytest.approx([0.6, 0.8])


def test_a_title_stands_clear_of_what_hangs_below_its_drawing_unless_it_was_moved() -> None:
    drawing = blank(200, 100)
    left, base, _, _ = drawing.frame
    pen = Pen(0.25, "#000000")
    head = paths_of("marker head", [[(left + 20, base - 18), (left + 30, base - 18), (left + 25, base - 8)]], pen)
    aside = paths_of("marker head", [[(left + 170, base - 60), (left + 180, base - 60)]], pen)
    hanging = DisplayList((*drawing.items, head, aside), drawing.frame)

    def bubble(**title: float) -> tuple[float, float]:
        """Top and middle of the bubble, mm below the drawing."""
        placed = PlacedDrawing(5, 9, "3", "Plan", 100, hanging, 100, 300, title=TitleStyle(**title))
        points = paths(composed("A1", placed), "title bubble")[0].points
        return 300 - float(points[:, 1].max()), 300 - float(points[:, 1].mean())

    top, middle = bubble()
    assert 18 < top < 21  # just below the head; what hangs beside the title does not matter
    assert bubble(dx=1.0)[1] == pytest.approx(19.0)
    assert bubble(wide=160.0)[0] > 60
    assert middle == pytest.approx(top + 6, abs=0.1)


@pytest.mark.parametrize("form", ["bubble", "box", "line"])
def test_titles_have_the_form_of_the_standard_of_their_drawing(form: str) -> None:
    own = STANDARD.model_copy(update={"titles": TitleRule(form=form, size=8.0, scale=False)})  # type: ignore[arg-type]
    placed = PlacedDrawing(5, 9, "3", "Plan", 100, blank(200, 100), 100, 300, standard=own)
    display = composed("A1", placed)
    rings = [i.points for i in paths(display, "title bubble")]
    assert [len(ring) for ring in rings] == {"bubble": [48], "box": [4], "line": []}[form]
    assert all(np.ptp(ring, axis=0) == pytest.approx([16, 16], abs=0.1) for ring in rings)
    line = paths(display, "title line")[0].points
    assert line[0, 0] == pytest.approx(100 if form == "line" else 116)
    texts = {i.role: i.text for i in display.items if isinstance(i, Label) and i.role.startswith("title ")}
    assert (texts["title number"], texts["title name"]) == ("3", "Plan")
    assert "title scale" not in texts
