"""Level markers at the edge of an upright drawing."""

from __future__ import annotations

from edge_slice.core.drawing.display import Item, Label, Pen, paths_of
from edge_slice.core.drawing.lettering import text_width
from edge_slice.core.drawing.measures import Lengths, height_text
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.model import Model

STAND_OFF = 3.0  # mm between the extents and what stands at their edge


def fan_out(heights: list[float], gap: float) -> list[float]:
    """Places for texts at ascending heights, at least `gap` apart, moved as little as possible together
    (pool adjacent violators)."""
    blocks: list[tuple[float, int]] = []  # (mean of height - index * gap, size)
    for i, h in enumerate(heights):
        mean, size = h - i * gap, 1
        while blocks and blocks[-1][0] > mean:
            other, n = blocks.pop()
            mean, size = (mean * size + other * n) / (size + n), size + n
        blocks.append((mean, size))
    flat = [mean for mean, size in blocks for _ in range(size)]
    return [m + i * gap for i, m in enumerate(flat)]


def level_markers(
    model: Model,
    scale: float,
    standard: DrawingStandard,
    pens: dict[str, Pen],
    frame: tuple[float, ...],
    lengths: Lengths = "m",
) -> list[Item]:
    """Level markers at the right edge of the extents; crowded ones fan out with a kinked line."""
    _, base, right, top = frame
    inside = sorted((s.elevation * 1000 / scale, s) for s in model.storeys if base <= s.elevation * 1000 / scale <= top)
    if not inside:
        return []
    text = standard.text.label
    places = fan_out([h for h, _ in inside], text * 3.2)
    x = right + STAND_OFF
    items: list[Item] = []
    lines, marks = [], []
    for (height, storey), y in zip(inside, places, strict=True):
        wide = max(text_width(storey.name, text), text_width(height_text(storey.elevation, lengths), text)) + 4
        lines.append([(right - 4, height), (x, height), (x + 5, y), (x + 5 + wide, y)])
        marks.append([(x + 5.2, y + 0.2), (x + 7.2, y + 2.4), (x + 3.2 + 0.0, y + 2.4)])
        items.append(
            Label("level name", storey.name, x + 8.2, y + 0.9, text, standard.ink, source=f"storey:{storey.guid}")
        )
        items.append(
            Label(
                "level height",
                height_text(storey.elevation, lengths),
                x + 8.2,
                y - 0.9 - text,
                text,
                standard.ink,
                source=f"storey:{storey.guid}",
            )
        )
    return [paths_of("level", lines, pens["level"]), paths_of("level mark", marks, pens["level"], None, True), *items]
