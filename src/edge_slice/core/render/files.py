"""What is drawn as the bytes of a file."""

from __future__ import annotations

import unicodedata
from dataclasses import replace
from typing import Literal, TypeVar

from edge_slice.core.drawing.display import Box, DisplayList, Image, Label, Paths
from edge_slice.core.render.svg import to_svg

Form = Literal["svg", "pdf", "dxf", "png"]
LONGEST = 200  # bytes of a name; with what is put behind it, less than the 255 that file systems allow
DPI = 150.0  # dots an inch of pictures


class TooManyPixels(ValueError):
    """More pixels than a picture may have."""


def file_bytes(form: Form, display: DisplayList, box: Box, scale: float | None, title: str, dpi: float = DPI) -> bytes:
    """The paper box (left, base, right, top), mm, of what is drawn; `scale`: that of a drawing, None of a sheet. `dpi`:
    of pictures. Raises `TooManyPixels` where a picture would be too large."""
    if form == "svg":
        return to_svg(_numbered_anew(display), box, title).encode()
    # the libraries of the others take a while to load, which is left until somebody wants them
    if form == "dxf":
        from edge_slice.core.render.dxf import to_dxf

        return to_dxf(display, box, scale, title)
    if form == "png":
        from edge_slice.core.render.png import MOST_PIXELS, pixels, to_png

        count = pixels(box, dpi)
        if count > MOST_PIXELS:
            fits = int(dpi * (MOST_PIXELS / count) ** 0.5)
            raise TooManyPixels(f"{dpi:g} dots an inch give {count / 1e6:.0f} million pixels; take {fits} at most.")
        return to_png(display, box, dpi)
    from edge_slice.core.render.pdf import Page, to_pdf

    return to_pdf([Page(display, box, title)], title)


def plain_name(title: str) -> str:
    """A title as the name of a file, in its own script, as long as file systems take it."""
    kept = [
        c if c in "._-" or unicodedata.category(c)[0] in "LMN" else " " for c in unicodedata.normalize("NFC", title)
    ]
    name = "-".join("".join(kept).split())
    short = name.encode()[:LONGEST].decode(errors="ignore")
    return short.strip("-") or "drawing"


Sourced = TypeVar("Sourced", bound=Paths | Label | Image)


def _numbered_anew(display: DisplayList) -> DisplayList:
    """The numbers in sources ("annotation:1234") count from 1 in each file: those of a database say nothing in it."""
    known: dict[str, str] = {}
    counts: dict[str, int] = {}

    def anew(item: Sourced) -> Sourced:
        kind, colon, number = item.source.rpartition(":")
        if not colon or not number.isdigit():
            return item
        if item.source not in known:
            counts[kind] = counts.get(kind, 0) + 1
            known[item.source] = f"{kind}:{counts[kind]}"
        return replace(item, source=known[item.source])

    items = tuple(anew(i) for i in display.items)
    return replace(display, items=items, images=tuple(anew(i) for i in display.images))
