"""How a drawing on its own becomes a page: its frame with room for what stands at its edge."""

from __future__ import annotations

from edge_slice.core.drawing.display import Box, DisplayList, Label
from edge_slice.core.drawing.lettering import text_width

EDGE = 10.0  # mm of empty paper around everything


def page_box(display: DisplayList) -> Box:
    """The paper box (left, base, right, top) in mm that holds every stroke and text of the drawing."""
    left, base, right, top = display.frame
    for item in display.items:
        if isinstance(item, Label):
            wide = text_width(item.text, item.height)
            start = item.x - {"left": 0.0, "centre": wide / 2, "right": wide}[item.align]
            box = (start, item.y - item.height, start + wide, item.y + item.height)
        elif len(item.points):
            low, high = item.points.min(axis=0), item.points.max(axis=0)
            box = (float(low[0]), float(low[1]), float(high[0]), float(high[1]))
        else:
            continue
        left, base, right, top = min(left, box[0]), min(base, box[1]), max(right, box[2]), max(top, box[3])
    return (left - EDGE, base - EDGE, right + EDGE, top + EDGE)
