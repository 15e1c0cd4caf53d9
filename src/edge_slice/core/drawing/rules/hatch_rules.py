"""What a hatch is made of: line families, tiles, scattered shapes, and figures that know the shape they fill.

Lengths are millimetres on paper, unless a part is a model hatch (`model`): then they are millimetres of the building,
and the part is left out where it would be finer on paper than `least` (ISO 128-50).
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

Length = Annotated[float, Field(ge=0.01, le=10_000, allow_inf_nan=False)]
Number = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]
CLOSEST = 2.0  # mm on paper; spaced members are not drawn nearer to each other
Stroke = Annotated[tuple[tuple[Number, Number], ...], Field(min_length=2, max_length=1000)]
BEYOND = 2  # tiles; strokes from further off would have to be looked for everywhere
FINEST = 0.7  # mm on paper; finer model hatches are turned off


class Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class _Repeated(Data):
    model: bool = Field(default=False, description="Sizes are those of the building, not of the paper")
    least: Length = Field(default=FINEST, description="Finest size on paper at which a model hatch shows")
    upright: bool = Field(default=False, description="Only where up in the drawing is up in the building")

    def factor(self, scale: float, upright: bool) -> float:
        """What to multiply sizes with at a scale; 0 where this part does not show."""
        if self.upright and not upright:
            return 0.0
        if not self.model:
            return 1.0
        return 1.0 / scale if self.repeat / scale >= self.least else 0.0

    @property
    def repeat(self) -> float:
        raise NotImplementedError


class LineFamily(_Repeated):
    """Parallel lines: degrees, mm between lines, mm shift across, lengths of dashes and gaps along."""

    angle: Number
    spacing: Annotated[Length, Field(ge=0.1)]
    shift: Number = 0.0
    dash: Annotated[tuple[Length, ...], Field(max_length=8)] = ()

    @property
    def repeat(self) -> float:
        return self.spacing

    @model_validator(mode="after")
    def _even(self) -> LineFamily:
        if len(self.dash) % 2:
            raise ValueError("a dash pattern is pairs: length of the dash, length of the gap")
        return self


class Tile(_Repeated):
    """A small picture repeated on a lattice; every other row is moved by `stagger` of the width. `strokes` are
    polylines in it, from its lower left corner, and may reach `BEYOND` tiles out of it."""

    width: Annotated[Length, Field(ge=0.2)]
    height: Annotated[Length, Field(ge=0.2)]
    stagger: Annotated[float, Field(ge=0, le=1)] = 0.0
    strokes: Annotated[tuple[Stroke, ...], Field(min_length=1, max_length=100)]

    @model_validator(mode="after")
    def _near(self) -> Tile:
        shares = [(x / self.width, y / self.height) for stroke in self.strokes for x, y in stroke]
        if any(not -BEYOND <= share <= 1 + BEYOND for pair in shares for share in pair):
            raise ValueError(f"strokes reach {BEYOND} tiles beyond their tile at most; make the tile larger")
        return self

    @property
    def repeat(self) -> float:
        return min(self.width, self.height)


class Scatter(Data):
    """Small shapes on a jittered lattice, the same ones every time."""

    shape: Literal["dot", "triangle", "pebble"]
    spacing: Annotated[Length, Field(ge=0.3)]
    size: Length


class Fitted(Data):
    """A figure between the faces of a layer, also round corners. Across the layer: `batt` (rounded loops) and
    `lattice` (crossing lines), `pitch` as a share of the thickness, and `across` (joints `spacing` mm apart). Along it:
    `along` (even lines), `grain` (uneven ones) and `plies` (lines with short ticks in every other ply), about `spacing`
    mm apart. `members` are crossed rectangles `width` wide, `spacing` apart, in mm of the building with `model`."""

    figure: Literal["batt", "lattice", "across", "along", "grain", "plies", "members"]
    pitch: Annotated[Length, Field(ge=0.1, le=20)] = 0.5
    spacing: Annotated[Length, Field(ge=0.2)] = 1.0
    width: Length = 1.0
    model: bool = Field(default=False, description="Spacing and width are those of the building, not of the paper")

    def at(self, scale: float) -> Fitted:
        """As it is on paper at a scale; members never nearer to each other than `CLOSEST`."""
        if not self.model:
            return self
        change = {"spacing": max(self.spacing / scale, CLOSEST), "width": max(self.width / scale, CLOSEST / 5)}
        return self.model_copy(update={**change, "model": False})


class EdgeStrokes(Data):
    """Groups of slanting strokes under the surface of the ground: one group `every` so many mm along it, each of
    `strokes` lines `apart` mm from each other and `length` mm long; every other group slants the other way."""

    every: Annotated[Length, Field(ge=1)]
    length: Length
    strokes: Annotated[int, Field(ge=1, le=12)] = 3
    apart: Length = 1.0


class Rings(Data):
    """End grain: growth rings about a pith beside the piece, about `spacing` mm apart."""

    spacing: Annotated[Length, Field(ge=0.3)]


class Hatch(Data):
    """Everything given is drawn together; nothing given is a hatch of no lines."""

    solid: bool = False
    families: Annotated[tuple[LineFamily, ...], Field(max_length=12)] = ()
    tiles: Annotated[tuple[Tile, ...], Field(max_length=6)] = ()
    scatter: Annotated[tuple[Scatter, ...], Field(max_length=6)] = ()
    fitted: Fitted | None = None
    edge: EdgeStrokes | None = None
    rings: Rings | None = None
