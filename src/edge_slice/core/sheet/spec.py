"""What a sheet shows: its fields, what the register and the issues say, and the drawings on it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Box, DisplayList
from edge_slice.core.drawing.measures import Lengths, scale_text
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.sheet.design import SheetDesign
from edge_slice.core.sheet.placed_tables import TableOnSheet
from edge_slice.core.sheet.shipped import CORNER, shipped_designs
from edge_slice.core.sheet.sizes import SheetSize

F64 = NDArray[np.float64]
LEAST_LEFT = 1.0  # mm of a drawing that trimming leaves


class IssuedRow(NamedTuple):
    """A row of the revision table."""

    code: str
    date: str
    purpose: str
    by: str


class ListedSheet(NamedTuple):
    """A row of the register as sheets show it; `target` is what it leads to."""

    number: str
    title: str
    revision: str
    target: str


class ListedDrawing(NamedTuple):
    """A row of the list of drawings; `target` is what it leads to."""

    number: str
    title: str
    scale: str
    target: str


@dataclass(frozen=True)
class KeyOutline:
    """The building from above, metres: `rings` (n, 2) of its outline, `lit`: rings (n, 2) of what a sheet shows, and
    `lines` (n, 2) of its cuts."""

    rings: tuple[F64, ...]
    lit: tuple[F64, ...] = ()
    lines: tuple[F64, ...] = ()


@dataclass(frozen=True)
class SheetSpec:
    """What a sheet says about itself; ISO 7200 data fields, and the design's own. `issued`: the newest first."""

    number: str
    title: str
    size: SheetSize
    project: str
    client: str = ""
    revision: str = ""
    date: str = ""
    drawn: str = ""
    checked: str = ""
    folder: str = ""
    sheet: int = 1
    sheets: int = 1
    north: tuple[float, float] = (0.0, 1.0)
    lengths: Lengths = "mm"
    design: SheetDesign = field(default_factory=lambda: shipped_designs()[CORNER])
    own: dict[str, str] = field(default_factory=dict)
    issued: tuple[IssuedRow, ...] = ()
    register: tuple[ListedSheet, ...] = ()
    drawings: tuple[ListedDrawing, ...] = ()
    key: KeyOutline | None = None
    pictures: dict[str, bytes] = field(default_factory=dict)
    tables: tuple[TableOnSheet, ...] = ()

    @property
    def frame(self) -> Box:
        return self.design.frame(self.size)

    def values(self, scales: list[float]) -> dict[str, str]:
        """The fields that texts may name; `scales`: those of the drawings on the sheet."""
        shown = scale_text(scales[0]) if len(scales) == 1 else "as shown" if scales else ""
        newest = self.issued[0] if self.issued else None
        own = {f.key: self.own.get(f.key) or f.value for f in self.design.own_fields}
        return own | {
            "project": self.project,
            "client": self.client,
            "title": self.title,
            "number": self.number,
            "size": self.size,
            "scale": shown,
            "revision": newest.code if newest else self.revision,
            "date": newest.date if newest else self.date,
            "drawn": self.drawn,
            "checked": self.checked,
            "folder": self.folder,
            "sheet": str(self.sheet),
            "sheets": str(self.sheets),
        }


@dataclass(frozen=True)
class TitleStyle:
    """The title of a placement: whether it is shown, how far it was moved (mm), and the length of its line (mm; 0: as
    long as its words)."""

    shown: bool = True
    dx: float = 0.0
    dy: float = 0.0
    wide: float = 0.0


@dataclass(frozen=True)
class PlacedDrawing:
    """A drawing on the sheet: its frame's lower left corner stands at (x, y) mm. `called_from` names the places that a
    typical detail is used in; `trim`: mm taken off at the left, base, right, top; `standard`: the drawing's own, by
    which its title is drawn."""

    drawing: int
    placement: int
    number: str
    name: str
    scale: float
    display: DisplayList
    x: float
    y: float
    called_from: tuple[str, ...] = ()
    trim: Box = (0.0, 0.0, 0.0, 0.0)
    title: TitleStyle = TitleStyle()
    standard: DrawingStandard | None = None


def placement_box(placed: PlacedDrawing) -> Box:
    """What is shown of a placement on the sheet (left, base, right, top)."""
    left, base, right, top = placed.display.frame
    return trimmed_box((placed.x, placed.y, placed.x + right - left, placed.y + top - base), placed.trim)


def trimmed_box(box: Box, trim: Box) -> Box:
    """A box less what is taken off at its left, base, right, top. Of a box that has become smaller than that (its
    drawing has another scale now) so much less is taken that something is left."""
    left, right = _less(trim[0], trim[2], box[2] - box[0])
    base, top = _less(trim[1], trim[3], box[3] - box[1])
    return (box[0] + left, box[1] + base, box[2] - right, box[3] - top)


def _less(one: float, other: float, whole: float) -> tuple[float, float]:
    share = min(1.0, max(whole - LEAST_LEFT, 0.0) / max(one + other, 1e-9))
    return one * share, other * share
