"""The drawing face: one font file for screen, SVG and PDF, and its measures."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources
from typing import Literal

FAMILY = "Edge Slice Lettering"


def font_bytes(form: Literal["ttf", "woff"] = "ttf") -> bytes:
    """The font file (Routed Gothic, SIL Open Font License): as TrueType, or packed for pages."""
    return _file(f"routed-gothic.{form}")


def _file(name: str) -> bytes:
    return resources.files("edge_slice.core.drawing").joinpath("fonts", name).read_bytes()


@cache
def _metrics() -> tuple[dict[int, float], float]:
    """Advance by character code and height of capitals, in ems: read from a small file, since most drawings need no
    more of the font."""
    measures = json.loads(_file("measures.json"))
    em = float(measures["em"])
    advances = {ord(c): float(a) / em for a, letters in measures["advances"].items() for c in letters}
    return advances, measures["capitals"] / em


def font_size(height: float) -> float:
    """Size of the em for a text height, which is that of its capitals (ISO 3098)."""
    return height / _metrics()[1]


def text_width(text: str, height: float) -> float:
    """Width in the unit of `height`."""
    advances, _ = _metrics()
    return sum(advances.get(ord(c), 0.5) for c in text) * font_size(height)


def missing_letters(text: str) -> list[str]:
    """The letters of a text that the drawing face does not have, each once."""
    advances, _ = _metrics()
    return sorted({c for c in text if ord(c) not in advances and c not in "\n"})
