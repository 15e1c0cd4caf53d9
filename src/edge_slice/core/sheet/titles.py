"""Titles of drawings on sheets, as the standard of the drawing has them."""

from __future__ import annotations

import numpy as np

from edge_slice.core.drawing.annotations.clear_places import box_of
from edge_slice.core.drawing.display import DisplayList, Item, Label, Link, Pen, circle, paths_of
from edge_slice.core.drawing.lettering import text_width
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.sheet.spec import PlacedDrawing, placement_box

DROP = 19.0  # mm from the drawing's frame down to the middle of its title, where nothing stands there
AIR = 2.0  # mm between a title and what hangs below its drawing
LEAST, SHORTEST = 40.0, 12.0  # mm that the line of a title is long at least; where it was set, too


def role_pen(standard: DrawingStandard, role: str) -> Pen:
    """The pen of a role on a sheet."""
    rule = standard.pens[role]
    return Pen(rule.width["middle"], standard.ink, rule.dash)


def drawing_title(p: PlacedDrawing, drawn: DisplayList, standard: DrawingStandard) -> tuple[list[Item], Link]:
    """Number, name over a line, scale under it; clear of what hangs below the drawing, as it is `drawn` on the sheet,
    unless it was moved by hand."""
    pen, ink, text, rule = role_pen(standard, "title"), standard.ink, standard.text, standard.titles
    r, source = rule.size, f"placement:{p.placement}"
    name_wide = max(p.title.wide, SHORTEST) if p.title.wide else max(text_width(p.name, text.title), LEAST) + 6
    height = min(text.title, text.title * (name_wide - 6) / max(text_width(p.name, text.title), 1e-6))
    left, base, _, _ = placement_box(p)
    x, y = left + p.title.dx + r, base + p.title.dy - DROP
    if not (p.title.dx or p.title.dy):
        y = min(y, _lowest(drawn, left, left + 2 * r + name_wide, base) - AIR - r)
    on_line = rule.form == "line"
    start = x - r if on_line else x + r
    line = [(start, y), (x + r + name_wide, y)]
    number_at = y + 1.8 if on_line else y - text.title / 2
    items: list[Item] = [paths_of("title line", [line], pen, source=source)]
    if not on_line:
        ring = (
            circle(x, y, r)
            if rule.form == "bubble"
            else [(x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r)]
        )
        items.insert(0, paths_of("title bubble", [ring], pen, None, True, source))
    items += [
        Label("title number", p.number, x, number_at, text.title, ink, "centre", source=source),
        Label("title name", p.name, x + r + 3, y + 1.8, height, ink, source=source),
    ]
    if rule.scale or p.called_from:
        said = scale_text(p.scale) if rule.scale else ""
        said += f"   for {', '.join(p.called_from)}" if p.called_from else ""
        at = y - 2.0 - text.heading
        items.append(Label("title scale", said.strip(), x + r + 3, at, text.heading, ink, source=source))
    return items, Link((x - r, y - r, x + r + name_wide, y + r), f"drawing:{p.drawing}")


def _lowest(drawn: DisplayList, left: float, right: float, base: float) -> float:
    """How far down it hangs from a drawing's base between two places across, mm; its base where nothing does."""
    lowest = base
    for item in drawn.items:
        if isinstance(item, Label):
            x0, y0, x1, _ = box_of(item)
            lowest = min(lowest, y0) if x0 < right and x1 > left else lowest
        elif len(item.points) and item.points[:, 1].min() < lowest:
            starts = item.starts[:-1][np.diff(item.starts) > 0]
            low, high = np.minimum.reduceat(item.points, starts), np.maximum.reduceat(item.points, starts)
            under = (low[:, 0] < right) & (high[:, 0] > left)
            lowest = min(lowest, float(low[under, 1].min())) if under.any() else lowest
    return lowest
