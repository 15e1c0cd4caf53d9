"""Drawings in greys, or in black alone, for printers and copies."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Callable
from dataclasses import replace
from functools import cache
from typing import Literal

from PIL import Image as Picture

from edge_slice.core.drawing import DisplayList
from edge_slice.core.drawing.display import Image, Item, Label

PAPER = 0.98  # what is as light as this is the paper, and stays so
DARK = 0.35  # a fill as dark as this is black where there is black alone; others leave the paper to their hatches


def coloured(display: DisplayList, colours: Literal["as drawn", "grey", "black"]) -> DisplayList:
    """A display list in other colours; as drawn it is the same."""
    if colours == "as drawn":
        return display
    line, fill = (_grey, _grey) if colours == "grey" else (_inked, _filled)
    mode: Literal["L", "1"] = "L" if colours == "grey" else "1"
    return replace(
        display,
        items=tuple(_item(item, line, fill) for item in display.items),
        images=tuple(_image(image, mode) for image in display.images),
    )


def _item(item: Item, line: Callable[[str], str], fill: Callable[[str], str]) -> Item:
    if isinstance(item, Label):
        return replace(item, colour=line(item.colour))
    pen = item.pen and replace(item.pen, colour=line(item.pen.colour))
    return replace(item, pen=pen, fill=item.fill and fill(item.fill))


@cache
def _luma(colour: str) -> float:
    """How light a colour (#rrggbb) is, 0 to 1 (ITU-R BT.709, 3.2)."""
    red, green, blue = (int(colour[k : k + 2], 16) / 255.0 for k in (1, 3, 5))
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def _grey(colour: str) -> str:
    return "#" + f"{round(255 * _luma(colour)):02x}" * 3


def _inked(colour: str) -> str:
    return "#ffffff" if _luma(colour) >= PAPER else "#000000"


def _filled(colour: str) -> str:
    return "#000000" if _luma(colour) < DARK else "#ffffff"


def _image(image: Image, mode: Literal["L", "1"]) -> Image:
    """A picture in greys, or in black dots; clear places stay clear."""
    found = Picture.open(io.BytesIO(image.data)).convert("RGBA")
    told = found.convert("RGB").convert(mode).convert("RGBA")
    told.putalpha(found.getchannel("A"))
    stream = io.BytesIO()
    told.save(stream, "PNG")
    return replace(image, name=hashlib.sha256(stream.getvalue()).hexdigest(), data=stream.getvalue())
