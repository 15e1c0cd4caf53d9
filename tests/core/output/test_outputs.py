"""SVG, PDF, screen form and JSON: true to scale, complete, the same twice."""

import io
import json
import re
from pathlib import Path

import jsonschema
import numpy as np
import PIL.Image
import pypdf
import pytest
from fontTools.ttLib import TTFont

from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, Label, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.display import paths_of
from edge_slice.core.drawing.texts.lettering import font_bytes, text_width
from edge_slice.core.model import Model
from edge_slice.core.render.cut_json import cut_document, cut_schema
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import OUTPUTS, Drawn, TooManyPixels
from edge_slice.core.render.page import page_box
from edge_slice.core.render.pdf import Page, to_pdf
from edge_slice.core.render.screen import screen_arrays, to_screen
from edge_slice.core.render.svg import to_svg
from edge_slice.core.sheet import PlacedDrawing, SheetSpec, compose_sheet, placement_box

STANDARD = default_standard()
CUT = SectionCut(line=((10.6, -2), (10.6, 12)), depth=6)


@pytest.fixture(scope="module")
def display(demo: Model) -> DisplayList:
    result = cut_model(demo, CUT, STANDARD.cut_rules(demo))
    return compose_drawing(demo, result, CUT, DrawingSpec(scale=50), STANDARD)


def test_svg_is_true_to_scale(display: DisplayList) -> None:
    svg = to_svg(display, display.frame, "Section")
    wide, high = (float(v) for v in re.search(r'width="([\d.]+)mm" height="([\d.]+)mm"', svg).groups())
    assert wide == pytest.approx(14_000 / 50)
    assert f'viewBox="0 0 {wide:g} {high:g}"' in svg
    d = re.search(r'class="earth-line"[^>]* d="([^"]+)"', svg).group(1)
    xs = [float(x) for x in re.findall(r"[ML]([-\d.]+)", d)]
    assert (min(xs), max(xs)) == pytest.approx((0, wide), abs=0.01)


def test_svg_carries_its_lettering(display: DisplayList) -> None:
    assert "data:font/woff;base64," in to_svg(display, display.frame, "Section")


def test_lettering_is_measured_as_its_font_says() -> None:
    for form in ("ttf", "woff"):
        font = TTFont(io.BytesIO(font_bytes(form=form)))
        em, widths = font["head"].unitsPerEm, font["hmtx"]
        capitals = font["OS/2"].sCapHeight / em
        for code, name in font.getBestCmap().items():
            assert text_width(chr(code), capitals) == pytest.approx(widths[name][0] / em)


def test_outputs_are_the_same_twice(demo: Model, display: DisplayList) -> None:
    result = cut_model(demo, CUT, STANDARD.cut_rules(demo))
    again = compose_drawing(demo, result, CUT, DrawingSpec(scale=50), STANDARD)
    assert to_svg(display, display.frame, "a") == to_svg(again, again.frame, "a")
    pages = [[Page(d, d.frame, "a")] for d in (display, again)]
    assert to_pdf(pages[0], "a") == to_pdf(pages[1], "a")


def test_page_holds_every_text(display: DisplayList) -> None:
    left, base, right, top = page_box(display)
    for item in display.items:
        if isinstance(item, Label):
            assert left <= item.x <= right - text_width(item.text, item.height) / 2
            assert base <= item.y <= top


def sheet(display: DisplayList) -> DisplayList:
    spec = SheetSpec(number="A-301", title="Sections", size="A1", project="Curlew Point Field Station")
    return compose_sheet(spec, (PlacedDrawing(1, 1, "2", "Section A", 50, display, 60, 200),), STANDARD)


def test_sheet_pdf_has_its_size_vector_lines_and_embedded_font(display: DisplayList) -> None:
    page = pypdf.PdfReader(io.BytesIO(to_pdf([Page(sheet(display), (0, 0, 841, 594), "A-301")], "A-301"))).pages[0]
    assert [float(v) * 25.4 / 72 for v in page.mediabox[2:]] == pytest.approx([841, 594], abs=0.01)
    fonts = [f.get_object() for f in page["/Resources"]["/Font"].values()]
    assert fonts
    assert all("/FontFile2" in f["/FontDescriptor"] for f in fonts)
    assert "/XObject" not in page["/Resources"]  # no picture: lines all through
    text = page.extract_text()
    assert "A-301" in text
    assert "Section A" in text
    assert "Curlew Point Field Station" in text


def test_sheet_pdf_is_true_to_scale(display: DisplayList) -> None:
    """The earth line runs over the whole section: 14 m at 1:50 are 280 mm on paper."""
    only = DisplayList(tuple(i for i in sheet(display).items if i.role == "earth line"), (0, 0, 841, 594))
    raw = (
        pypdf.PdfReader(io.BytesIO(to_pdf([Page(only, only.frame, "x")], "x")))
        .pages[0]
        .get_contents()
        .get_data()
        .decode()
    )
    xs = [float(x) for x in re.findall(r"([-\d.]+) [-\d.]+ [ml]\b", raw)]
    assert max(xs) - min(xs) == pytest.approx(280, abs=0.02)
    assert f"{72 / 25.4:.4f}"[:5] in raw  # user space is millimetres


def test_placement_stands_where_it_was_put(display: DisplayList) -> None:
    placed = PlacedDrawing(1, 1, "2", "Section A", 50, display, 60, 200)
    left, base, right, _ = placement_box(placed)
    assert (left, base, right) == pytest.approx((60, 200, 60 + 280))
    earth = next(i for i in sheet(display).items if isinstance(i, Paths) and i.role == "earth line")
    assert earth.points[:, 0].min() == pytest.approx(60, abs=0.01)


def test_title_block_says_as_shown_for_several_scales(display: DisplayList) -> None:
    spec = SheetSpec(number="A-1", title="T", size="A1", project="P")
    both = tuple(PlacedDrawing(i, i, str(i), f"D{i}", s, display, 60, 60) for i, s in ((1, 50.0), (2, 100.0)))
    texts = [
        i.text for i in compose_sheet(spec, both, STANDARD).items if isinstance(i, Label) and i.role == "field scale"
    ]
    assert texts == ["as shown"]
    texts = [
        i.text
        for i in compose_sheet(spec, both[:1], STANDARD).items
        if isinstance(i, Label) and i.role == "field scale"
    ]
    assert texts == ["1:50"]


def test_screen_form_keeps_every_point(display: DisplayList) -> None:
    head, arrays = screen_arrays(to_screen(display, {"scale": 50}))
    items = [i for i in display.items if isinstance(i, Paths)]
    assert len(arrays) == len(items) == len(head["items"])
    for (points, starts), item in zip(arrays, items, strict=True):
        assert np.abs(points - item.points).max(initial=0) < 1e-3
        assert starts.tolist() == item.starts.tolist()
    assert len(head["labels"]) == sum(isinstance(i, Label) for i in display.items)


def test_json_follows_its_schema_and_maps_back_into_the_model(demo: Model) -> None:
    result = cut_model(demo, CUT, STANDARD.cut_rules(demo))
    document = json.loads(json.dumps(cut_document(demo, result, 50, STANDARD)))
    jsonschema.validate(document, json.loads(cut_schema()))
    axes = {k: np.array(v) for k, v in document["axes"].items()}
    low, high = demo.mesh.vertices.min(axis=0), demo.mesh.vertices.max(axis=0)
    for face in document["faces"]:
        uv = np.array(face["rings"][0])
        points = axes["origin"] + (uv[:, :1] * axes["u"] + uv[:, 1:] * axes["v"]) / 1000
        assert np.abs(points[:, 0] - 10.6).max() < 1e-9
        assert (points >= low - 1e-6).all()
        assert (points <= high + 1e-6).all()
    roles = {line["role"] for line in document["lines"]}
    assert roles == {"cut", "seen"}


def test_schema_is_part_of_the_package() -> None:
    assert json.loads(cut_schema())["properties"]["schema"] == {"const": 1}
    assert Path(__file__).exists()


def test_a_picture_is_true_to_scale_and_no_larger_than_can_be_had() -> None:
    ring = [(10.0, 10.0), (60.0, 10.0), (60.0, 40.0), (10.0, 40.0)]
    display = DisplayList((paths_of("cut fill", [ring], None, "#000000", True),), (0, 0, 100, 50))
    data = OUTPUTS["png"].file(Drawn(display, display.frame, "T", None, 254))
    with PIL.Image.open(io.BytesIO(data)) as picture:
        assert picture.size == (1000, 500)
        dark = np.asarray(picture.convert("L")) < 128
    rows, columns = np.nonzero(dark)
    assert (columns.min(), columns.max() + 1) == pytest.approx((100, 600), abs=1)
    assert (rows.min(), rows.max() + 1) == pytest.approx((100, 400), abs=1)
    assert data == OUTPUTS["png"].file(Drawn(display, display.frame, "T", None, 254))
    with pytest.raises(TooManyPixels, match="million pixels; take"):
        OUTPUTS["png"].file(Drawn(display, (0, 0, 2000, 2000), "T", None, 1200))


@pytest.mark.parametrize(
    ("title", "name"),
    [
        ("A-101 Plans, lower", "A-101-Plans-lower"), ("ห้องน้ำ / 2", "ห้องน้ำ-2"), ("शयन कक्ष", "शयन-कक्ष"), ("…", "drawing"),
        ("../../etc/passwd", ".._..-etc-passwd".replace("_", "-")), ("Łazienka", "Łazienka"),
    ],
)  # fmt: skip
def test_files_are_named_in_the_script_of_their_title(title: str, name: str) -> None:
    assert plain_name(title) == name


@pytest.mark.parametrize("letter", ["a", "é", "实", "𓀀"])
def test_names_of_files_are_never_too_long(letter: str) -> None:
    name = plain_name("A-101 " + letter * 150)
    assert name.startswith("A-101-" + letter)
    assert len(f"{name}-pdf.zip".encode()) < 255
