"""How a drawing on its own becomes a page: its frame with room for what stands at its edge."""

from __future__ import annotations

import numpy as np

from edge_slice.core.drawing.display import Box, DisplayList, Label, Paths
from edge_slice.core.drawing.texts.lettering import text_width

EDGE = 10.0  # mm of empty paper around everything


def page_box(display: DisplayList) -> Box:
    """The paper box (left, base, right, top) in mm that holds every stroke and text of the drawing."""
    left, base, right, top = display.frame
    boxes = [(left, base, right, top)]
    for item in display.items:
        if isinstance(item, Label):
            wide = text_width(item.text, item.height)
            start = item.x - {"left": 0.0, "centre": wide / 2, "right": wide}[item.align]
            boxes.append((start, item.y - item.height, start + wide, item.y + item.height))
    points = [np.array(boxes).reshape(-1, 2), *(i.points for i in display.items if isinstance(i, Paths))]
    u, v = np.concatenate(points).T  # two long rows are searched much faster than many short pairs
    return (float(u.min()) - EDGE, float(v.min()) - EDGE, float(u.max()) + EDGE, float(v.max()) + EDGE)
