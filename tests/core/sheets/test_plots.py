"""Plots: reduced true to scale, clear of the printer's margins, in greys or black alone, to be kept for long."""

from __future__ import annotations

import io
import re

import numpy as np
import pikepdf
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image as Picture

from edge_slice.core.drawing import DisplayList
from edge_slice.core.drawing.display import Box, Image, Label, Link, Paths, Pen
from edge_slice.core.render.binding import Leaf, bound
from edge_slice.core.render.colours import coloured
from edge_slice.core.render.pdf import page_pdf
from edge_slice.core.sheet.plots import BAND, DoesNotFit, Plot, PlotSpec, plot_of, plotted, said_of
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize

MM = 10.0  # pixels
A1: Box = (20.0, 10.0, 831.0, 584.0)  # its frame by ISO 5457


def line(x0: float, y0: float, x1: float, y1: float, colour: str = "#203040") -> Paths:
    return Paths("cut structure", np.array([[x0, y0], [x1, y1]]), np.array([0, 2]), False, Pen(0.5, colour, (3.0, 1.0)))


def page(display: DisplayList, plot: Plot, grey: bool = False, archival: bool = False) -> bytes:
    made = page_pdf(display, display.frame, plot.printable, grey)
    return bound([Leaf(made, "A-301", display.frame)], "Set", "", archival)


def ink(data: bytes) -> np.ndarray:
    """The inked pixels (rows from the top, columns) of a page, ten to a millimetre."""
    image = pypdfium2.PdfDocument(data)[0].render(scale=25.4 * MM / 72.0).to_pil().convert("L")
    return np.asarray(image) < 160


def test_half_of_a_sheet_is_half_of_everything_on_it() -> None:
    plot = plot_of(PlotSpec(paper="A3"), "A1", A1, "A-301")
    assert (plot.paper, plot.factor) == ((420.0, 297.0), 0.5)
    sheet = DisplayList(
        (line(100, 100, 300, 100), Label("text", "ROOM", 100, 200, 5.0, "#000000")), (0, 0, 841, 594),
        (Link((100, 90, 300, 110), "drawing:1"),),
    )  # fmt: skip
    found = plotted(sheet, plot, "says", "#000000")
    stroke, label, said = found.items
    assert isinstance(stroke, Paths)
    assert isinstance(label, Label)
    assert isinstance(said, Label)
    assert stroke.pen == Pen(0.25, "#203040", (1.5, 0.5))
    assert (label.height, said.height) == (2.5, 1.8)
    assert float(np.ptp(stroke.points[:, 0])) == pytest.approx(100.0)
    assert found.links[0].box == pytest.approx(plot.on_paper((100, 90, 300, 110)))
    printed = ink(page(DisplayList((stroke,), found.frame), plot))
    columns = np.flatnonzero(printed.any(axis=0)) / MM
    assert printed.shape == (2971, 4200)  # rounded up
    assert columns[0] == pytest.approx(float(stroke.points[0, 0]) - 0.125, abs=0.15)
    assert columns[-1] - columns[0] == pytest.approx(100.25, abs=0.25)


@given(
    size=st.sampled_from([*SHEET_SIZES]), paper=st.sampled_from([*SHEET_SIZES]), margin=st.floats(0, 30),
    percent=st.none() | st.floats(1, 100), border=st.floats(5, 25),
)  # fmt: skip
def test_the_frame_is_printed_whole_or_it_is_said_what_would_fit(
    size: SheetSize, paper: SheetSize, margin: float, percent: float | None, border: float
) -> None:
    wide, high = SHEET_SIZES[size]
    frame = (border, border, wide - border, high - border)
    try:
        plot = plot_of(PlotSpec(paper=paper, margin=margin, percent=percent), size, frame, "A-1")
    except DoesNotFit as error:
        told = re.search(r"; (\d+) % would", str(error))
        if told is not None:
            fits = PlotSpec(paper=paper, margin=margin, percent=float(told[1]))
            assert plot_of(fits, size, frame, "A-1").factor == float(told[1]) / 100.0
        return
    if percent is not None:
        assert plot.factor == percent / 100.0
    left, base, right, top = plot.on_paper(frame)
    room = BAND if plot.factor < 1.0 else 0.0
    assert left >= margin + room - 0.02
    assert base >= margin - 0.02
    assert right <= SHEET_SIZES[paper][0] - margin + 0.02
    assert top <= SHEET_SIZES[paper][1] - margin + 0.02


def test_the_largest_true_reduction_is_taken_and_said() -> None:
    plot = plot_of(PlotSpec(paper="A4", margin=4), "A1", A1, "A-301")
    assert plot.factor == 0.25
    assert said_of(plot, "A-301 Sections", [50, 20, 50]) == (
        "A-301 Sections · printed at 25 %: 1:20 is 1:80, 1:50 is 1:200"
    )
    assert plot_of(PlotSpec(), "A1", A1, "A-301").factor == 1.0
    with pytest.raises(DoesNotFit, match=r"A-301 does not fit A3 with margins of 5 mm at 70 %; 50 % would\."):
        plot_of(PlotSpec(paper="A3", percent=70), "A1", A1, "A-301")
    with pytest.raises(DoesNotFit, match="larger paper or smaller margins"):
        plot_of(PlotSpec(paper="A4", margin=40), "A0", (0, 0, 1e5, 1e5), "A-301")


def test_nothing_is_printed_where_the_printer_does_not_reach() -> None:
    plot = plot_of(PlotSpec(margin=8), "A3", (20, 10, 410, 287), "A-1")
    sheet = DisplayList((line(0, 100, 420, 100), line(100, 0, 100, 297)), (0, 0, 420, 297))
    printed = ink(page(plotted(sheet, plot, "", "#000000"), plot))
    rows, columns = np.flatnonzero(printed.any(axis=1)) / MM, np.flatnonzero(printed.any(axis=0)) / MM
    assert rows[0] >= 7.9
    assert rows[-1] <= 297 - 7.9
    assert columns[0] >= 7.9
    assert columns[-1] <= 420 - 7.9


def test_greys_and_black_are_said_as_one_ink() -> None:
    picture = io.BytesIO()
    Picture.new("RGBA", (8, 8), (200, 40, 40, 128)).save(picture, "PNG")
    area = Paths("cut fill", np.array([[0, 0], [50, 0], [50, 50.0]]), np.array([0, 3]), True, None, "#eeddcc")
    items = (area, line(10, 10, 90, 10, "#c02010"), Label("text", "A", 20, 60, 5.0, "#ffffff"))
    sheet = DisplayList(
        items, (0, 0, 420, 297), images=(Image("logo", "x", (100, 100, 120, 120), data=picture.getvalue()),)
    )
    plot = plot_of(PlotSpec(), "A3", (20, 10, 410, 287), "A-1")
    assert coloured(sheet, "as drawn") is sheet
    for colours, wanted in (("grey", {0.876, 0.2545, 1.0}), ("black", {0.0, 1.0})):
        with pikepdf.open(io.BytesIO(page(coloured(sheet, colours), plot, True))) as document:  # type: ignore[arg-type]
            steps = pikepdf.parse_content_stream(document.pages[0])
        names = {str(step.operator) for step in steps}
        assert not names & {"rg", "RG", "k", "K"}
        said = {round(float(step.operands[0]), 3) for step in steps if str(step.operator) in ("g", "G")}
        assert all(min(abs(s - w) for w in wanted) < 0.005 for s in said)
        assert len(said) == len(wanted)
    grey = Picture.open(io.BytesIO(coloured(sheet, "grey").images[0].data))
    assert np.ptp(np.asarray(grey)[0, 0, :3].astype(int)) == 0
    assert np.asarray(grey)[0, 0, 3] == 128
    black = Picture.open(io.BytesIO(coloured(sheet, "black").images[0].data))
    assert set(np.unique(np.asarray(black)[:, :, :3])) <= {0, 255}


def test_what_is_kept_for_long_says_so_and_has_all_that_it_needs() -> None:
    """ISO 19005-2, by structure: 6.1.3 an identifier, no encryption; 6.2.3 one output intent with a profile of its
    colours; 6.2.11 every face embedded; 6.3.2 annotations that print; 6.6 metadata, not compressed, that says so."""
    items = (line(10, 10, 90, 10), Label("text", "Ä 测试 ไทย", 20, 60, 5.0, "#000000"))
    sheet = DisplayList(items, (0, 0, 420, 297), (Link((0, 0, 9, 9), "drawing:1"),))
    plot = plot_of(PlotSpec(), "A3", (20, 10, 410, 287), "A-1")
    data = page(sheet, plot, archival=True)
    assert data == page(sheet, plot, archival=True)
    with pikepdf.open(io.BytesIO(data)) as document:
        assert document.check_pdf_syntax() == []
        assert not document.is_encrypted
        assert len(document.trailer.ID) == 2
        (intent,) = document.Root.OutputIntents  # type: ignore[misc]
        assert intent.S == pikepdf.Name.GTS_PDFA1
        profile = intent.DestOutputProfile.read_bytes()
        assert (profile[12:20], profile[36:40]) == (b"mntrRGB ", b"acsp")
        assert int.from_bytes(profile[:4], "big") == len(profile)
        said = document.Root.Metadata
        assert "/Filter" not in said
        assert b'part xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/">2<' in said.read_bytes()
        with document.open_metadata() as metadata:
            assert metadata["pdfaid:conformance"] == "B"
            assert metadata["dc:title"] == "Set" == str(document.docinfo["/Title"])
        fonts = list(document.pages[0].Resources.Font.values())
        assert len(fonts) > 2
        assert all("/FontFile2" in font.FontDescriptor and "/Encoding" not in font for font in fonts)
        assert all(int(a.F) & 4 for p in document.pages for a in p.obj.get("/Annots", []))
        names = {str(key) for value in document.objects if isinstance(value, pikepdf.Dictionary) for key in value}
        assert not names & {"/JavaScript", "/JS", "/EmbeddedFiles", "/TR", "/AA", "/OpenAction"}
