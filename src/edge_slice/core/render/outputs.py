"""The kinds of file that drawings and sheets become: the one list of which routes, commands, menus and documents are
made. A new kind is a class here with what draws it in a file of its own."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import Annotated, ClassVar

from pydantic import AfterValidator, WithJsonSchema

from edge_slice.core.drawing.display import Box, DisplayList

DPI = 150.0  # dots an inch of pictures


class TooManyPixels(ValueError):
    """More pixels than a picture may have."""


@dataclass(frozen=True)
class Drawn:
    """What goes into a file: the paper `box` (left, base, right, top), mm, of what is drawn; `scale`: that of a
    drawing, None of a sheet; `dpi`: of pictures."""

    display: DisplayList
    box: Box
    title: str
    scale: float | None = None
    dpi: float = DPI


class Output(ABC):
    """A kind of file: the ending of its names, what people call it, its media type. `bound`: whether all sheets go into
    one, linked; `dots`: whether it is a picture, of so many dots an inch."""

    form: ClassVar[str]
    name: ClassVar[str]
    media_type: ClassVar[str]
    bound: ClassVar[bool] = False
    dots: ClassVar[bool] = False

    @abstractmethod
    def file(self, drawn: Drawn) -> bytes:
        """The bytes of the file. The libraries that it takes are loaded now, not before somebody wants them. Raises
        `TooManyPixels` where a picture would be too large."""


class PdfOutput(Output):
    form, name, media_type, bound = "pdf", "PDF", "application/pdf", True

    def file(self, drawn: Drawn) -> bytes:
        from edge_slice.core.render.pdf import Page, to_pdf

        return to_pdf([Page(drawn.display, drawn.box, drawn.title)], drawn.title)


class SvgOutput(Output):
    form, name, media_type = "svg", "SVG", "image/svg+xml"

    def file(self, drawn: Drawn) -> bytes:
        from edge_slice.core.render.svg import numbered_anew, to_svg

        return to_svg(numbered_anew(drawn.display), drawn.box, drawn.title).encode()


class DxfOutput(Output):
    form, name, media_type = "dxf", "DXF", "image/vnd.dxf"

    def file(self, drawn: Drawn) -> bytes:
        from edge_slice.core.render.dxf import to_dxf

        return to_dxf(drawn.display, drawn.box, drawn.scale, drawn.title)


class PngOutput(Output):
    form, name, media_type, dots = "png", "PNG", "image/png", True

    def file(self, drawn: Drawn) -> bytes:
        from edge_slice.core.render.png import MOST_PIXELS, pixels, to_png

        count = pixels(drawn.box, drawn.dpi)
        if count > MOST_PIXELS:
            fits = int(drawn.dpi * (MOST_PIXELS / count) ** 0.5)
            said = f"{drawn.dpi:g} dots an inch give {count / 1e6:.0f} million pixels; take {fits} at most."
            raise TooManyPixels(said)
        return to_png(drawn.display, drawn.box, drawn.dpi)


OUTPUTS: dict[str, Output] = {one.form: one for one in (PdfOutput(), SvgOutput(), DxfOutput(), PngOutput())}
CUT = "json"  # a cut as data is no drawing; see `cut_json`
CUT_MEDIA = "application/json"


def _known(form: str) -> str:
    if form not in OUTPUTS:
        raise ValueError(f"drawings become files of {', '.join(OUTPUTS)}; {form} is none of them")
    return form


def _known_or_cut(form: str) -> str:
    return form if form == CUT else _known(form)


Form = Annotated[str, AfterValidator(_known), WithJsonSchema({"type": "string", "enum": [*OUTPUTS]})]
FormOrCut = Annotated[str, AfterValidator(_known_or_cut), WithJsonSchema({"type": "string", "enum": [*OUTPUTS, CUT]})]
