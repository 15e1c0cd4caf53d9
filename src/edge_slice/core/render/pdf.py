"""Display list to PDF: vector, true to scale, fonts embedded, links to other pages."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
from reportlab import rl_config
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from edge_slice.core.drawing.display import Box, DisplayList, Image, Paths
from edge_slice.core.render.binding import LAYER, POINT, Leaf, bound, with_layers
from edge_slice.core.render.layers import layer_of
from edge_slice.core.render.pdf_text import draw_label, font_of

rl_config.useA85 = 0  # compressed text as it is: as letters it would be a quarter longer, and takes long to make


@dataclass(frozen=True)
class Page:
    """One page: its display list and paper box in mm."""

    display: DisplayList
    box: Box
    title: str


def to_pdf(pages: list[Page], title: str) -> bytes:
    """A PDF with one page per sheet or drawing. The same input gives the same bytes."""
    return bound([Leaf(page_pdf(p.display, p.box), p.title, p.box) for p in pages], title)


class _GreyCanvas(Canvas):  # type: ignore[misc]
    """Says colours as shares of one ink: a printer takes no other to mix a grey."""

    def setFillColor(self, aColor: Color, alpha: float | None = None) -> None:
        self.setFillGray(aColor.red, alpha)

    def setStrokeColor(self, aColor: Color, alpha: float | None = None) -> None:
        self.setStrokeGray(aColor.red, alpha)


def page_pdf(display: DisplayList, box: Box, printable: Box | None = None, grey: bool = False) -> bytes:
    """One page with its layers, for `bound`; nothing of it outside what is `printable`, where that is less. `grey`: all
    colours are greys already, and said as such."""
    stream = io.BytesIO()
    canvas = (_GreyCanvas if grey else Canvas)(stream, invariant=1, pageCompression=1, initialFontName=font_of())
    left, base, right, top = box
    canvas.setPageSize(((right - left) * POINT, (top - base) * POINT))
    canvas.saveState()
    canvas.scale(POINT, POINT)
    canvas.translate(-left, -base)
    canvas.setLineCap(1)
    canvas.setLineJoin(1)
    if printable is not None:
        x0, y0, x1, y1 = printable
        border = canvas.beginPath()
        border.rect(x0, y0, x1 - x0, y1 - y0)
        canvas.clipPath(border, stroke=0, fill=0)
    layers = _Layers(canvas)
    for image in display.images:
        layers.begin(image.role)
        _image(canvas, image)
    for item in display.items:
        layers.begin(item.role)
        _paths(canvas, item) if isinstance(item, Paths) else draw_label(canvas, item)
    layers.end()
    canvas.restoreState()
    canvas.showPage()
    canvas.save()
    return with_layers(stream.getvalue(), layers.names)


class _Layers:
    """Marks what is drawn from here on as part of a layer (ISO 32000-1, 8.11.3.2)."""

    def __init__(self, canvas: Canvas) -> None:
        self.names: list[str] = []
        self._canvas, self._open = canvas, ""

    def begin(self, role: str) -> None:
        layer = layer_of(role)
        if layer == self._open:
            return
        self.end()
        if layer not in self.names:
            self.names.append(layer)
        self._canvas._code.append(f"/OC /{LAYER}{self.names.index(layer)} BDC")
        self._open = layer

    def end(self) -> None:
        if self._open:
            self._canvas._code.append("EMC")
        self._open = ""


def _image(canvas: Canvas, image: Image) -> None:
    x0, y0, x1, y1 = image.box
    canvas.saveState()
    canvas.setFillAlpha(1 - image.fade)
    canvas.drawImage(ImageReader(io.BytesIO(image.data)), x0, y0, x1 - x0, y1 - y0, mask="auto")
    canvas.restoreState()


def _paths(canvas: Canvas, item: Paths) -> None:
    if not len(item.points):
        return
    if item.pen is not None:
        canvas.setStrokeColor(HexColor(item.pen.colour))
        canvas.setLineWidth(item.pen.width)
        canvas.setDash(list(item.pen.dash) if item.pen.dash else [])
    if item.fill is not None:
        canvas.setFillColor(HexColor(item.fill))
    # a path of the library is built point by point, which takes ten times as long as its text
    stroke, fill = item.pen is not None, item.fill is not None
    canvas._code.append(f"n {_path_text(item)} {'B*' if stroke and fill else 'f*' if fill else 'S'}")


def _path_text(item: Paths) -> str:
    """The path in the operators of PDF (ISO 32000-1, 8.5.2), to a ten-thousandth of a millimetre."""
    words = np.full(len(item.points), "%.4f %.4f l", dtype="<U15")
    words[item.starts[:-1]] = "%.4f %.4f m"
    if item.closed:
        words[item.starts[1:] - 1] = "%.4f %.4f l h"
    return str("\n".join(words.tolist()) % tuple(item.points.ravel().tolist()))
