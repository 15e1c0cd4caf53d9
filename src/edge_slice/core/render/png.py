"""Display list to PNG, by way of its PDF."""

from __future__ import annotations

import io

import pypdfium2

from edge_slice.core.drawing.display import Box, DisplayList
from edge_slice.core.render.pdf import page_pdf

INCH = 25.4  # mm
ROUND = 1 - 1e-6  # sizes are rounded up: a page of a thousand pixels and a trace has a thousand
MOST_PIXELS = 160_000_000


def pixels(box: Box, dpi: float) -> float:
    """How many pixels a picture of a paper box (left, base, right, top), mm, has at so many dots an inch."""
    return (box[2] - box[0]) * (box[3] - box[1]) * (dpi / INCH) ** 2


def to_png(display: DisplayList, box: Box, dpi: float) -> bytes:
    """A picture of the paper box (left, base, right, top), mm, at so many dots an inch."""
    document = pypdfium2.PdfDocument(page_pdf(display, box))
    try:
        picture = document[0].render(scale=dpi / 72 * ROUND).to_pil()
    finally:
        document.close()
    stream = io.BytesIO()
    picture.convert("RGB").save(stream, "PNG", dpi=(dpi, dpi))
    return stream.getvalue()
