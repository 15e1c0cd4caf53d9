"""What is drawn as the bytes of a file."""

from __future__ import annotations

from typing import Literal

from edge_slice.core.drawing.display import Box, DisplayList
from edge_slice.core.render.svg import to_svg

Form = Literal["svg", "pdf", "dxf"]


def file_bytes(form: Form, display: DisplayList, box: Box, scale: float | None, title: str) -> bytes:
    """The paper box (left, base, right, top), mm, of what is drawn; `scale`: that of a drawing, None of a sheet."""
    if form == "svg":
        return to_svg(display, box, title).encode()
    # the libraries of the others take a while to load, which is left until somebody wants them
    if form == "dxf":
        from edge_slice.core.render.dxf import to_dxf

        return to_dxf(display, box, scale, title)
    from edge_slice.core.render.pdf import Page, to_pdf

    return to_pdf([Page(display, box, title)], title)
