"""How seen surfaces show: what a standard says of an appearance, and what one drawing does differently."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from edge_slice.core.drawing.rules.hatch_rules import Data
from edge_slice.core.drawing.spec import (
    FROM_ZERO,
    Colour,
    PatternStart,
    Shade,
    Shadow,
    Share,
    SurfaceFill,
    SurfaceStyle,
)
from edge_slice.core.drawing.sunlight import BY_VIEW, Sun


class Appearance(Data):
    """`fill`: by what seen surfaces are coloured; `strength`: how much of that is left on paper, `fade`: how much of it
    is lost in the far distance; `patterns`: of their materials, and where they begin (`pattern_start`); `shade`: by the
    angle of the light; `shadow`: how what the sun does not reach shows, how dark, and towards which colour;
    `glass_strength`: how much of its tint clear glass lays over what shows through it; `profile`: width of the line
    round the building, mm on paper, 0 for none; `outline`: of lines beyond which the view goes on deeper by
    `outline_gap` metres."""

    fill: SurfaceFill = "none"
    colour: Colour = "#efece4"
    strength: Share = 1.0
    fade: Share = 0.0
    patterns: bool = False
    pattern_start: PatternStart = FROM_ZERO
    shade: Shade = "none"
    shadow: Shadow = "none"
    shadow_strength: Share = 0.3
    shadow_colour: Colour = "#2b3440"
    sun: Sun = BY_VIEW
    glass_strength: Share = 0.35
    profile: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] = 0.0
    outline: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] = 0.0
    outline_gap: Annotated[float, Field(ge=0.05, le=1000, allow_inf_nan=False)] = 1.0

    @property
    def shows(self) -> bool:
        """Whether anything of seen surfaces shows."""
        return self.fill != "none" or self.patterns or self.shadow != "none" or self.profile > 0 or self.outline > 0

    def changed(self, style: SurfaceStyle) -> Appearance:
        """With what one drawing does differently."""
        said = {name: getattr(style, name) for name in type(style).model_fields}
        return self.model_copy(update={name: value for name, value in said.items() if value is not None})


LINES = Appearance()
PRESENTATION = Appearance(
    fill="material", strength=0.85, fade=0.3, patterns=True, shade="steps", shadow="tint", profile=0.5, outline=0.35
)
SHIPPED_APPEARANCES = {"lines": LINES, "presentation": PRESENTATION}
