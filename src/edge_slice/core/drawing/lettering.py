"""Lettering as others use it: sizes by text heights, widths, and the lines that texts are set in."""

from __future__ import annotations

from collections.abc import Iterable

from edge_slice.core.drawing.display import Item, Label
from edge_slice.core.drawing.faces import DRAWING, FACES, face_size, font_bytes
from edge_slice.core.drawing.typesetting import missing_letters, spelled_out, text_width

__all__ = ["FAMILY", "font_bytes", "font_size", "missing_letters", "spelled_out_in", "text_width"]

FAMILY = FACES[DRAWING].family


def font_size(height: float) -> float:
    """Size of the em of the drawing face for a text height, which is that of its capitals (ISO 3098)."""
    return face_size(DRAWING, height)


def spelled_out_in(items: Iterable[Item]) -> list[str]:
    """What is wrong with texts that have letters which no face has."""
    said = [spelled_out(item.text) for item in items if isinstance(item, Label)]
    return list(dict.fromkeys(one for one in said if one))
