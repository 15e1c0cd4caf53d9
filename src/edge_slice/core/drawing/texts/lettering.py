"""Lettering as others use it: sizes by text heights, widths, and the lines that texts are set in."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from edge_slice.core.drawing.display import Box, Item, Label
from edge_slice.core.drawing.faces import DRAWING, FACES, face_size, font_bytes
from edge_slice.core.drawing.texts.typesetting import missing_letters, spelled_out, text_width

__all__ = ["FAMILY", "box_of", "font_bytes", "font_size", "missing_letters", "spelled_out_in", "text_width"]

FAMILY = FACES[DRAWING].family


def font_size(height: float) -> float:
    """Size of the em of the drawing face for a text height, which is that of its capitals (ISO 3098)."""
    return face_size(DRAWING, height)


def spelled_out_in(items: Iterable[Item]) -> list[str]:
    """What is wrong with texts that have letters which no face has."""
    said = [spelled_out(item.text) for item in items if isinstance(item, Label)]
    return list(dict.fromkeys(one for one in said if one))


def box_of(label: Label) -> Box:
    """What a text takes up (left, base, right, top), mm; of a turned one the box around it."""
    wide = text_width(label.text, label.height)
    shift = {"left": 0.0, "centre": -wide / 2, "right": -wide}[label.align]
    low, high = -0.3 * label.height, 1.1 * label.height
    corners = np.array([(shift, low), (shift + wide, low), (shift + wide, high), (shift, high)])
    turn = np.radians(label.angle)
    c, s = np.cos(turn), np.sin(turn)
    turned = corners @ np.array([(c, s), (-s, c)]) + np.array([label.x, label.y])
    (x0, y0), (x1, y1) = turned.min(axis=0).tolist(), turned.max(axis=0).tolist()
    return x0, y0, x1, y1
