"""Display list to SVG 1.1: true to scale in millimetres, with the lettering embedded."""

from __future__ import annotations

import base64
from dataclasses import replace
from html import escape
from typing import TypeVar

import numpy as np

from edge_slice.core.drawing.display import Box, DisplayList, Image, Label, Paths
from edge_slice.core.drawing.faces import DRAWING, FACES, font_bytes
from edge_slice.core.drawing.texts.lettering import FAMILY, font_size
from edge_slice.core.drawing.texts.typesetting import is_plain
from edge_slice.core.render.lettered import face_subset, letters_by_face, placed_runs

ANCHOR = {"left": "start", "centre": "middle", "right": "end"}


def number(value: float) -> str:
    """Three decimals of a millimetre, no trailing zeros."""
    text = f"{value:.3f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def to_svg(display: DisplayList, box: Box, title: str) -> str:
    """An SVG document of the paper box (left, base, right, top) in mm."""
    left, base, right, top = box
    wide, high = right - left, top - base
    letters = letters_by_face(item for item in display.items if isinstance(item, Label))
    face = "".join(_face(name, letters[name]) for name in FACES if name in letters)
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{number(wide)}mm" height="{number(high)}mm" '
        f'viewBox="0 0 {number(wide)} {number(high)}"><title>{escape(title)}</title>'
        f"<style>{face}text{{font-family:'{FAMILY}',sans-serif}}"
        "path{stroke-linecap:round;stroke-linejoin:round;fill-rule:evenodd}</style>"
    )
    images = [_image(image, left, top) for image in display.images]
    body = images + [_paths(i, left, top) if isinstance(i, Paths) else _label(i, left, top) for i in display.items]
    return "\n".join([head, *body, "</svg>", ""])


def _paths(item: Paths, left: float, top: float) -> str:
    points = np.column_stack((item.points[:, 0] - left, top - item.points[:, 1])).tolist()
    parts = []
    for a, b in zip(item.starts[:-1].tolist(), item.starts[1:].tolist(), strict=True):
        parts.append("M" + "L".join(f"{number(x)} {number(y)}" for x, y in points[a:b]) + ("Z" if item.closed else ""))
    stroke = "none"
    style = ""
    if item.pen is not None:
        stroke = item.pen.colour
        style = f' stroke-width="{number(item.pen.width)}"'
        if item.pen.dash:
            style += f' stroke-dasharray="{" ".join(number(d) for d in item.pen.dash)}"'
    fill = item.fill or "none"
    return f'<path{_attributes(item)} fill="{fill}" stroke="{stroke}"{style} d="{"".join(parts)}"/>'


def _image(image: Image, left: float, top: float) -> str:
    x0, y0, x1, y1 = image.box
    place = f'x="{number(x0 - left)}" y="{number(top - y1)}" width="{number(x1 - x0)}" height="{number(y1 - y0)}"'
    data = base64.b64encode(image.data).decode()
    shown = f' opacity="{number(1 - image.fade)}"' if image.fade else ""
    return f'<image{_attributes(image)} {place} preserveAspectRatio="none"{shown} href="data:image/png;base64,{data}"/>'


def _attributes(item: Paths | Label | Image) -> str:
    source = f' data-source="{escape(item.source)}"' if item.source else ""
    return f' class="{item.role.replace(" ", "-")}"{source}'


def _face(name: str, letters: frozenset[str]) -> str:
    """The drawing face is whole: words that somebody edits in the file still find their letters."""
    data = font_bytes(name, "woff") if name == DRAWING else face_subset(name, letters)
    source = f"url(data:font/woff;base64,{base64.b64encode(data).decode()})"
    return f"@font-face{{font-family:'{FACES[name].family}';src:{source}}}"


def _label(item: Label, left: float, top: float) -> str:
    if not is_plain(item.text):
        return _set_label(item, left, top)
    x, y = number(item.x - left), number(top - item.y)
    turn = f' transform="rotate({number(-item.angle)} {x} {y})"' if item.angle else ""
    head = f'<text{_attributes(item)} x="{x}" y="{y}" font-size="{number(font_size(item.height))}"'
    return f'{head} text-anchor="{ANCHOR[item.align]}" fill="{item.colour}"{turn}>{escape(item.text)}</text>'


def _set_label(item: Label, left: float, top: float) -> str:
    """A text in several faces: each run in its place, so that it is as wide as it was measured, whoever shows it."""
    x, y = number(item.x - left), number(top - item.y)
    turn = f' transform="rotate({number(-item.angle)} {x} {y})"' if item.angle else ""
    runs = []
    for placed in placed_runs(item):
        family, size = FACES[placed.run.face].family, number(placed.size)
        start = number(item.x - left + placed.x)
        runs.append(f'<tspan x="{start}" font-family="{family}" font-size="{size}">{escape(placed.run.text)}</tspan>')
    head = f'<text{_attributes(item)} x="{x}" y="{y}" xml:space="preserve" fill="{item.colour}"{turn}>'
    return f"{head}{''.join(runs)}</text>"


Sourced = TypeVar("Sourced", bound=Paths | Label | Image)


def numbered_anew(display: DisplayList) -> DisplayList:
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
