"""What a drawing standard says about annotations: ends, gaps, line types with letters, symbols."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import Field

from edge_slice.core.drawing.rules.hatch_rules import Data

Mm = Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)]
Point = tuple[
    Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)],
    Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)],
]


class LineType(Data):
    """`width` mm; `dash` in widths (ISO 128-2), none for a continuous line; `letters` stand in the line every `spacing`
    mm on paper."""

    width: Annotated[float, Field(ge=0, le=5)] = 0.25
    dash: Annotated[tuple[Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)], ...], Field(max_length=8)] = ()
    letters: Annotated[str, Field(max_length=8)] = ""
    spacing: Annotated[float, Field(ge=5, le=500)] = 25.0
    colour: Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")] | None = None


class SymbolPath(Data):
    """Points in mm on paper about the point that the symbol is set at."""

    points: Annotated[tuple[Point, ...], Field(min_length=1, max_length=500)]
    closed: bool = False
    filled: bool = False
    width: Annotated[float, Field(ge=0, le=5)] | None = None


class SymbolForm(Data):
    """`text_at`: where its text stands, if it takes one; `text`: what it says where nothing else is said. `turns`: it
    points to true north of itself."""

    paths: Annotated[tuple[SymbolPath, ...], Field(min_length=1, max_length=100)]
    text_at: Point | None = None
    text: Annotated[str, Field(max_length=60)] = ""
    to_north: bool = False


class AnnotationRule(Data):
    """Sizes in mm on paper: `arrow` its length, `dot` its radius, `tick` the length of the oblique stroke at the ends
    of dimensions; `gap`: from a feature to its witness line; `over`: how far that runs on beyond the dimension line;
    `beside`: a text from its line; `elbow`: the level part of a leader; `line_spacing` in heights of the text;
    `margin`: how far beyond the extents annotations may stand where a drawing does not say it (ISO 129-1, 3098)."""

    arrow: Mm = 2.5
    dot: Mm = 0.6
    tick: Mm = 2.4
    ends: Literal["tick", "arrow", "dot"] = "tick"
    gap: Mm = 1.5
    over: Mm = 2.0
    beside: Mm = 0.9
    elbow: Mm = 5.0
    line_spacing: Annotated[float, Field(ge=1, le=5)] = 1.7
    margin: Mm = 60.0
    line_types: Annotated[dict[str, LineType], Field(max_length=200)]
    symbols: Annotated[dict[str, SymbolForm], Field(max_length=500)]
    library: Annotated[tuple[Annotated[str, Field(max_length=400)], ...], Field(max_length=2000)] = ()


@cache
def shipped_annotation_rule() -> AnnotationRule:
    """The rule that comes with every standard that has none of its own."""
    said = resources.files("edge_slice.core.drawing").joinpath("standards", "annotations.json").read_text("utf-8")
    return AnnotationRule.model_validate(json.loads(said))
