"""`compose_sheet`: frame, centring marks, zones (ISO 5457), the parts of its design, placements with titles."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from edge_slice.core.drawing.annotations.clear_places import box_of
from edge_slice.core.drawing.display import DisplayList, Image, Item, Label, Link, Pen, circle, paths_of
from edge_slice.core.drawing.lettering import text_width
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.sheet.parts import Drawn, Hand, draw_part
from edge_slice.core.sheet.sizes import SHEET_SIZES
from edge_slice.core.sheet.spec import PlacedDrawing, SheetSpec, placement_box
from edge_slice.core.sheet.trimming import trimmed

TITLE_DROP = 19.0  # mm from the drawing's frame down to the middle of its title bubble, where nothing stands there
TITLE_RADIUS = 6.0
TITLE_AIR = 2.0  # mm between a title and what hangs below its drawing
LEAST_TITLE, SHORTEST_TITLE = 40.0, 12.0  # mm that the line of a title is long at least; where it was set, too
ZONE, LEAST_ZONE = 50.0, 10.0  # mm, length of a zone; a shorter rest at an end goes to the next one
LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"  # of zones: I and O look like figures


def compose_sheet(spec: SheetSpec, placed: tuple[PlacedDrawing, ...], standard: DrawingStandard) -> DisplayList:
    """Everything on the sheet, origin at its lower left corner; the drawings in their order, the last on top."""
    wide, high = SHEET_SIZES[spec.size]
    items: list[Item] = []
    links: list[Link] = []
    images: list[Image] = []
    for p in placed:
        left, base, _, _ = p.display.frame
        moved = trimmed(p.display, p.trim).moved(p.x - left, p.y - base)
        items += moved.items
        links += moved.links
        images += moved.images
        if p.title.shown:
            title, link = _drawing_title(p, moved, standard)
            items += title
            links.append(link)
    items += _frame(spec, standard)
    scales = sorted({p.scale for p in placed})
    heavy, fine = _pen(standard, "frame"), _pen(standard, "frame fine")
    hand, drawn = Hand(spec, scales, spec.values(scales), standard, heavy, fine), Drawn()
    for part in spec.design.parts:
        draw_part(part, hand, drawn)
    return DisplayList(
        (*items, *drawn.items), (0.0, 0.0, wide, high), (*links, *drawn.links), images=(*images, *drawn.images)
    )


def _pen(standard: DrawingStandard, role: str) -> Pen:
    rule = standard.pens[role]
    return Pen(rule.width["middle"], standard.ink, rule.dash)


def _frame(spec: SheetSpec, standard: DrawingStandard) -> list[Item]:
    wide, high = SHEET_SIZES[spec.size]
    left, base, right, top = spec.frame
    pen = _pen(standard, "frame")
    ring = [(left, base), (right, base), (right, top), (left, top)]
    items: list[Item] = [paths_of("frame", [ring], pen, None, True)]
    if spec.design.centring:
        middle_x, middle_y = wide / 2, high / 2
        marks = [
            [(middle_x, 0.0), (middle_x, base + 5)],
            [(middle_x, high), (middle_x, top - 5)],
            [(0.0, middle_y), (left + 5, middle_y)],
            [(wide, middle_y), (right - 5, middle_y)],
        ]
        items.append(paths_of("centring mark", marks, pen))
    return items + (_zones(spec, standard) if spec.design.zones else [])


def _zones(spec: SheetSpec, standard: DrawingStandard) -> list[Item]:
    """Fields of 50 mm counted from the middles of the sides: figures from the left, letters from the top. A margin too
    narrow for them stays empty."""
    wide, high = SHEET_SIZES[spec.size]
    left, base, right, top = spec.frame
    height, ink, fine = standard.text.label, standard.ink, _pen(standard, "frame fine")
    room = height + 3.0
    items: list[Item] = []
    ticks = []
    sides = (
        (base, base, -1, False),
        (top, high - top, 1, False),
        (left, left, -1, True),
        (right, wide - right, 1, True),
    )
    for near, margin, sign, upright in sides:
        if margin < room:
            continue
        start, end, middle = (base, top, high / 2) if upright else (left, right, wide / 2)
        cuts = [c for k in range(-30, 31) if start + LEAST_ZONE < (c := middle + k * ZONE) < end - LEAST_ZONE]
        bounds = [start, *cuts, end]
        for k, (a, b) in enumerate(pairwise(bounds)):
            said = LETTERS[(len(cuts) - k) % len(LETTERS)] if upright else str(k + 1)
            across, along = near + sign * room / 2, (a + b) / 2
            x, y = (across, along) if upright else (along, across)
            items.append(Label("zone", said, x, y - height / 2, height, ink, "centre"))
        for cut in cuts:
            ends = [(near, cut), (near + sign * room, cut)]
            ticks.append(ends if upright else [(y, x) for x, y in ends])
    return [*items, paths_of("zone line", ticks, fine)] if ticks else items


def _drawing_title(p: PlacedDrawing, drawn: DisplayList, standard: DrawingStandard) -> tuple[list[Item], Link]:
    """Number in a bubble, name over a line, scale under it; clear of what hangs below the drawing, as it is `drawn` on
    the sheet, unless it was moved by hand."""
    pen, ink, text = _pen(standard, "title"), standard.ink, standard.text
    source = f"placement:{p.placement}"
    said = scale_text(p.scale)
    if p.called_from:
        said += f"   for {', '.join(p.called_from)}"
    name_wide = (
        max(p.title.wide, SHORTEST_TITLE) if p.title.wide else max(text_width(p.name, text.title), LEAST_TITLE) + 6
    )
    left, base, _, _ = placement_box(p)
    x, y, r = left + p.title.dx + TITLE_RADIUS, base + p.title.dy - TITLE_DROP, TITLE_RADIUS
    if not (p.title.dx or p.title.dy):
        y = min(y, _lowest(drawn, left, left + 2 * r + name_wide, base) - TITLE_AIR - r)
    left = x - r
    height = min(text.title, text.title * (name_wide - 6) / max(text_width(p.name, text.title), 1e-6))
    items: list[Item] = [
        paths_of("title bubble", [circle(x, y, r)], pen, None, True, source),
        paths_of("title line", [[(x + r, y), (x + r + name_wide, y)]], pen, source=source),
        Label("title number", p.number, x, y - text.title / 2, text.title, ink, "centre", source=source),
        Label("title name", p.name, x + r + 3, y + 1.8, height, ink, source=source),
        Label("title scale", said, x + r + 3, y - 2.0 - text.heading, text.heading, ink, source=source),
    ]
    return items, Link((left, y - r, x + r + name_wide, y + r), f"drawing:{p.drawing}")


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
