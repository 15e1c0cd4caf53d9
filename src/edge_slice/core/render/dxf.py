"""Display list to DXF, release 2018: layers by ISO 13567, pens as line weights and line types, fills as hatches, texts
as texts, symbols as blocks.

A drawing lies in model space at the building's size, in millimetres, and a layout shows it at its scale; a sheet has no
one scale and lies in model space as it is on paper.
"""

from __future__ import annotations

import io
import math
from collections import Counter
from typing import Any

import numpy as np
from ezdxf import options
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Box, DisplayList, Image, Label, Paths, Pattern, PatternLine, Pen
from edge_slice.core.drawing.faces import DRAWING, FACES
from edge_slice.core.drawing.texts.typesetting import is_plain, runs_of_text
from edge_slice.core.render.layers import element_of

options.write_fixed_meta_data_for_testing = True  # no date and no number that would be another one every time
F64 = NDArray[np.float64]
AGENT = "A-"  # ISO 13567-2: who is responsible, the architect
TEXT, HATCHING, DIMENSION, ELEMENT = "T-", "H-", "D-", "E-"  # ISO 13567-2: what is presented
# hundredths of a millimetre that the format knows
WEIGHTS = (0, 5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211)
STYLE, FACE = "LETTERING", "routed-gothic.ttf"
OTHER_FACES = {  # by the names under which they are usually installed
    "sans": "NotoSans-Regular.ttf", "hebrew": "NotoSansHebrew-Regular.ttf", "arabic": "NotoSansArabic-Regular.ttf",
    "thai": "NotoSansThai-Regular.ttf", "devanagari": "NotoSansDevanagari-Regular.ttf",
    "cjk": "NotoSansCJK-Regular.ttc",
}  # fmt: skip
ALIGNED = {
    "left": TextEntityAlignment.LEFT, "centre": TextEntityAlignment.CENTER, "right": TextEntityAlignment.RIGHT,
}  # fmt: skip
# what is the same wherever it stands
SYMBOLS = (
    "marker head", "marker wedge", "callout bubble", "grid bubble", "level mark", "title bubble", "north", "symbol",
)  # fmt: skip
NO_PICTURE = "Picture: not in this file"
NO_PICTURE_HEIGHT = 2.5  # mm on paper


def to_dxf(display: DisplayList, box: Box, scale: float | None, title: str) -> bytes:
    """A DXF document of the paper box (left, base, right, top), mm; `scale`: that of a drawing, None of a sheet.
    Pictures are left out, which is said in their place. The same drawing gives the same bytes."""
    size = scale or 1.0
    document = new("R2018", units=4)  # millimetres
    document.header["$LWDISPLAY"] = 1
    document.header.custom_vars.append("Title", title)
    document.styles.add(STYLE, font=FACE)
    writer = _Writer(document, size)
    for image in display.images:
        writer.missing(image)
    for item in display.items:
        if isinstance(item, Paths):
            writer.paths(item)
        else:
            writer.label(item)
    _layout(document, box, size)
    for name in sorted(document.entitydb.dxf_types_in_use()):  # else in an order by chance
        document.classes.add_class(name)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode(document.output_encoding)


def layer_name(item: Paths | Label | Image) -> str:
    """The layer of an item by ISO 13567-2: agent, element, presentation."""
    element = element_of(item.role)
    if isinstance(item, Label):
        shown = TEXT
    elif element == "CUTHAT" or (isinstance(item, Paths) and item.pen is None):
        shown = HATCHING
    else:
        shown = DIMENSION if element == "DIMENS" else ELEMENT
    return f"{AGENT}{element}{shown}"


class _Writer:
    """Enters items into the model space of a document, `size` times as large as on paper."""

    def __init__(self, document: Any, size: float) -> None:
        self._document, self._space, self._size = document, document.modelspace(), size
        self._blocks: dict[tuple[object, ...], str] = {}
        self._patterns: list[list[Any]] = []

    def paths(self, item: Paths) -> None:
        points = item.points * self._size
        runs = [points[a:b] for a, b in zip(item.starts[:-1], item.starts[1:], strict=True) if b - a > 1]
        if item.pattern is not None and len(item.pattern.points):
            self._hatch(item, item.pattern)
        elif item.role in SYMBOLS:
            for run in runs:
                middle = (run.min(axis=0) + run.max(axis=0)) / 2
                shape = np.round(run - middle, 6) + 0.0  # no minus zero
                self._space.add_blockref(self._block(item, shape), middle.tolist(), {"layer": self._layer(item)})
        elif runs:
            self._draw(self._space, item, [run.tolist() for run in runs])

    def _block(self, item: Paths, shape: F64) -> str:
        """The block of a symbol (n, 2) about its middle, made where it is the first of its shape."""
        key = (item.role, item.pen, item.fill, item.closed, shape.tobytes())
        if key not in self._blocks:
            self._blocks[key] = f"SYMBOL-{len(self._blocks) + 1}"
            self._draw(self._document.blocks.new(self._blocks[key]), item, [shape.tolist()])
        return self._blocks[key]

    def _draw(self, space: Any, item: Paths, runs: list[list[list[float]]]) -> None:
        if item.fill is not None:
            hatch = space.add_hatch(dxfattribs=self._on(item, item.fill))
            hatch.set_solid_fill(color=7, style=0, rgb=_rgb(item.fill))
            for run in runs:
                hatch.paths.add_polyline_path(run, is_closed=True)
        pen = item.pen
        if pen is not None:
            drawn = self._on(item, pen.colour) | {
                "lineweight": _weight(pen),
                "linetype": self._line_type(pen),
            }
            for run in runs:
                space.add_lwpolyline(run, close=item.closed, dxfattribs=drawn)

    def _hatch(self, item: Paths, pattern: Pattern) -> None:
        """Lines of a hatch as a hatch: its shape and its pattern."""
        assert item.pen is not None
        hatch = self._space.add_hatch(dxfattribs=self._on(item, item.pen.colour) | {"lineweight": _weight(item.pen)})
        lines = [self._pattern_line(line, pattern.origin) for line in pattern.lines]
        if lines not in self._patterns:
            self._patterns.append(lines)
        name = f"PATTERN-{self._patterns.index(lines) + 1}"
        hatch.set_pattern_fill(name, color=256, style=0, pattern_type=2, definition=lines)
        hatch.rgb = _rgb(item.pen.colour)
        for a, b in zip(pattern.starts[:-1], pattern.starts[1:], strict=True):
            hatch.paths.add_polyline_path((pattern.points[a:b] * self._size).tolist(), is_closed=True)

    def _pattern_line(self, line: PatternLine, origin: tuple[float, float]) -> list[Any]:
        """Angle, a place on the first line, the way from one to the next, dashes; every other line's dashes stand half
        a pattern further on."""
        angle, size = math.radians(line.angle), self._size
        along, across = np.array([math.cos(angle), math.sin(angle)]), np.array([-math.sin(angle), math.cos(angle)])
        base = (np.array(origin) + line.shift * across) * size
        step = (line.spacing * across + sum(line.dash) / 2 * along) * size
        dash = [d * size * (-1 if k % 2 else 1) for k, d in enumerate(line.dash)]
        return [line.angle, tuple(base.tolist()), tuple(step.tolist()), dash]

    def label(self, item: Label) -> None:
        said = self._on(item, item.colour) | {"style": self._style(item.text), "rotation": item.angle}
        text = self._space.add_text(item.text, height=item.height * self._size, dxfattribs=said)
        text.set_placement((item.x * self._size, item.y * self._size), align=ALIGNED[item.align])

    def _style(self, text: str) -> str:
        """The style of a text, in the face of most of its letters, made where it is the first."""
        if is_plain(text):
            return STYLE
        letters = Counter({face: 0 for face in FACES})
        for run in runs_of_text(text):
            letters[run.face] += sum(c.isalpha() for c in run.text)
        face = letters.most_common(1)[0][0]
        name = STYLE if face == DRAWING else f"{STYLE}-{face.upper()}"
        if name not in self._document.styles:
            self._document.styles.add(name, font=OTHER_FACES[face])
        return name

    def missing(self, image: Image) -> None:
        """The place of a picture."""
        left, base, right, top = image.box
        ring = np.array([(left, base), (right, base), (right, top), (left, top)])
        self.paths(Paths(image.role, ring, np.array([0, 4]), True, Pen(0.18, "#000000")))
        middle, height = ((left + right) / 2, (base + top) / 2), NO_PICTURE_HEIGHT
        self.label(Label(image.role, NO_PICTURE, *middle, height, "#000000", "centre"))

    def _on(self, item: Paths | Label | Image, colour: str) -> dict[str, Any]:
        """Its layer and its colour."""
        return {"layer": self._layer(item), "true_color": int(colour[1:], 16)}

    def _layer(self, item: Paths | Label | Image) -> str:
        """Its layer, made where it is the first there."""
        name = layer_name(item)
        if name not in self._document.layers:
            self._document.layers.add(name)
        return name

    def _line_type(self, pen: Pen) -> str:
        if not pen.dash:
            return "CONTINUOUS"
        name = "DASH-" + "-".join(f"{d:.3f}".rstrip("0").rstrip(".") for d in pen.dash)
        if name not in self._document.linetypes:
            parts = [d * self._size * (-1 if k % 2 else 1) for k, d in enumerate(pen.dash)]
            self._document.linetypes.add(name, [sum(map(abs, parts)), *parts])
        return name


def _weight(pen: Pen) -> int:
    return min(WEIGHTS, key=lambda w: abs(w - pen.width * 100))


def _rgb(colour: str) -> tuple[int, int, int]:
    red, green, blue = bytes.fromhex(colour[1:])
    return red, green, blue


def _layout(document: Any, box: Box, size: float) -> None:
    """The paper with one view of the model space, true to scale."""
    left, base, right, top = box
    wide, high = right - left, top - base
    paper = document.paperspace()
    paper.page_setup(size=(wide, high), margins=(0, 0, 0, 0), units="mm")
    middle = ((left + right) / 2 * size, (base + top) / 2 * size)
    paper.add_viewport((wide / 2, high / 2), (wide, high), view_center_point=middle, view_height=high * size)
