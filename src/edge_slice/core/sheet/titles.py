"""Titles of drawings on sheets, as the standard of the drawing has them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from edge_slice.core.drawing.display import DisplayList, Item, Label, Link, Pen, circle, paths_of
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.texts.lettering import box_of, text_width
from edge_slice.core.drawing.texts.text_lines import STEP, fitted, wrapped
from edge_slice.core.sheet.spec import PlacedDrawing, placement_box

DROP = 19.0  # mm from the drawing's frame down to the middle of its title, where nothing stands there
AIR = 2.0  # mm between a title and what hangs below its drawing
HIGH = 30.0  # mm that a name takes at most
LEAST, SHORTEST = 40.0, 12.0  # mm that the line of a title is long at least; where it was set, too


def role_pen(standard: DrawingStandard, role: str) -> Pen:
    """The pen of a role on a sheet."""
    rule = standard.pens[role]
    return Pen(rule.width["middle"], standard.ink, rule.dash)


@dataclass(frozen=True)
class Title:
    """A title as it is drawn, where it leads, and the name where not all of it could be written."""

    items: list[Item]
    link: Link
    cut: str = ""


def drawing_title(p: PlacedDrawing, drawn: DisplayList, standard: DrawingStandard, room: float) -> Title:
    """Number, name over a line, scale under it; clear of what hangs below the drawing, as it is `drawn` on the sheet,
    unless it was moved by hand. A name that is longer than the `room` from the drawing's left side on (mm) is broken
    into lines."""
    pen, ink, text, rule = role_pen(standard, "title"), standard.ink, standard.text, standard.titles
    r, source = rule.size, f"placement:{p.placement}"
    if p.title.wide:
        name_wide = max(p.title.wide, SHORTEST)
    else:
        most = max(room - p.title.dx - 2 * r, SHORTEST)
        name_wide = min(max(text_width(p.name, text.title), LEAST) + 6, most)
    name = fitted(p.name, name_wide - 6, HIGH, text.title)
    left, base, _, _ = placement_box(p)
    x, y = left + p.title.dx + r, base + p.title.dy - DROP - max(0.0, name.high - text.title)
    if not (p.title.dx or p.title.dy):
        above = max(r, 1.8 + name.high)
        y = min(y, _lowest(drawn, left, left + 2 * r + name_wide, base) - AIR - above)
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
        *(
            Label("title name", line, x + r + 3, y + 1.8 + k * STEP * name.height, name.height, ink, source=source)
            for k, line in enumerate(reversed(name.lines))
        ),
    ]
    if rule.scale or p.called_from:
        said = scale_text(p.scale) if rule.scale else ""
        said += f"   for {', '.join(p.called_from)}" if p.called_from else ""
        at = y - 2.0 - text.heading
        items += [
            Label("title scale", line, x + r + 3, at - k * STEP * text.heading, text.heading, ink, source=source)
            for k, line in enumerate(wrapped(said.strip(), max(name_wide - 6, LEAST), text.heading, parted=True))
        ]
    link = Link((x - r, y - r, x + r + name_wide, y + max(r, 1.8 + name.high)), f"drawing:{p.drawing}")
    return Title(items, link, p.name if name.cut else "")


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
