"""Sheets as they are plotted: reduced true to scale onto another paper, clear of what a printer can't reach."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.drawing import DisplayList
from edge_slice.core.drawing.display import Box, Label
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.drawing.texts.typesetting import text_width
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize

Colours = Literal["as drawn", "grey", "black"]
TRUE = (100.0, 50.0, 25.0, 20.0, 10.0, 5.0)  # per cent by which scales stay those of ISO 5455, or nearly
ALMOST = 0.01  # mm by which a frame may be larger than its paper: rounding of sizes
LETTERS = 1.8  # mm; what stands beside the frame is no smaller than the smallest lettering of ISO 3098
BAND = 2.0 * LETTERS  # mm, what that takes


class PlotSpec(BaseModel):
    """How sheets are plotted. `paper`: the size that they are printed on, each its own where none is named; `margin`:
    mm along the edges of the paper that the printer can't reach; `percent`: of their size, where none is said the
    largest of 100, 50, 25, 20, 10 and 5 by which the frame fits."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    paper: SheetSize | Literal[""] = ""
    margin: Annotated[float, Field(ge=0, le=40, allow_inf_nan=False)] = 5.0
    percent: Annotated[float, Field(ge=1, le=100, allow_inf_nan=False)] | None = None
    colours: Colours = "as drawn"
    archival: bool = Field(default=False, description="As PDF/A-2b (ISO 19005-2), to be kept for long")


class DoesNotFit(ValueError):
    """A sheet that its paper does not hold."""


@dataclass(frozen=True)
class Plot:
    """Where a sheet lies on paper: `paper` its width and height, mm; a point (x, y) of the sheet lies at
    (x, y) · factor + shift. What lies outside `printable` (left, base, right, top) is not printed."""

    paper: tuple[float, float]
    printable: Box
    factor: float
    shift: tuple[float, float]

    @property
    def box(self) -> Box:
        return (0.0, 0.0, *self.paper)

    def on_paper(self, box: Box) -> Box:
        (dx, dy), f = self.shift, self.factor
        return (box[0] * f + dx, box[1] * f + dy, box[2] * f + dx, box[3] * f + dy)


def plot_of(spec: PlotSpec, size: SheetSize, frame: Box, name: str) -> Plot:
    """Where a sheet lies on its paper. Its `frame` (left, base, right, top), mm, must be printed whole, and what says
    the reduction beside it; marks outside the frame may be lost. Raises `DoesNotFit`."""
    on, m = spec.paper or size, spec.margin
    paper = SHEET_SIZES[on]
    printable = (m, m, paper[0] - m, paper[1] - m)
    for percent in TRUE if spec.percent is None else (spec.percent,):
        found = _laid(percent / 100.0, paper, printable, frame)
        if found is not None:
            return found
    room = (paper[0] - 2 * m - BAND, paper[1] - 2 * m)
    most = int(100.0 * min(room[0] / (frame[2] - frame[0]), room[1] / (frame[3] - frame[1])))
    said = f"{name} does not fit {on} with margins of {m:g} mm"
    if spec.percent is None or most < 1:
        raise DoesNotFit(f"{said}; choose a larger paper or smaller margins.")
    raise DoesNotFit(f"{said} at {spec.percent:g} %; {most} % would.")


def _laid(factor: float, paper: tuple[float, float], printable: Box, frame: Box) -> Plot | None:
    """The sheet in the middle of the paper, or as near to it as its frame is printed whole; None where it does not
    fit."""
    low = (printable[0] + (BAND if factor < 1.0 else 0.0), printable[1])
    shift = []
    for k in (0, 1):
        a, b = frame[k] * factor, frame[k + 2] * factor
        if low[k] + b - a > printable[k + 2] + ALMOST:
            return None
        middle = (paper[k] - a - b) / 2.0
        shift.append(min(max(middle, low[k] - a), printable[k + 2] - b))
    return Plot(paper, printable, factor, (shift[0], shift[1]))


def said_of(plot: Plot, name: str, scales: Iterable[float]) -> str:
    """What a reduced plot says of itself: "A-301 Sections · printed at 50 %: 1:50 is 1:100"."""
    now = ", ".join(f"{scale_text(s)} is {scale_text(s / plot.factor)}" for s in sorted(set(scales)))
    percent = f"{name} · printed at {plot.factor * 100.0:g} %"
    whole = f"{percent}: {now}" if now else percent
    return whole if text_width(whole, LETTERS) <= plot.printable[3] - plot.printable[1] else percent


def plotted(display: DisplayList, plot: Plot, says: str, ink: str) -> DisplayList:
    """A sheet on the paper of its plot: everything on it is smaller alike, pens and letters too. What a reduced one
    `says` stands along the left edge of what is printed."""
    found = replace(display.scaled(plot.factor).moved(*plot.shift), frame=plot.box)
    if plot.factor == 1.0:
        return found
    left, base = plot.printable[:2]
    return replace(found, items=(*found.items, Label("text", says, left + LETTERS, base, LETTERS, ink, angle=90.0)))
