"""`compose_sheet`: frame, centring marks, zones (ISO 5457), the parts of its design, placements with titles."""

from __future__ import annotations

from itertools import pairwise

from edge_slice.core.drawing.display import DisplayList, Image, Item, Label, Link, paths_of
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.texts.text_lines import cut_short
from edge_slice.core.sheet.design import SheetText
from edge_slice.core.sheet.parts import Drawn, Hand, draw_part
from edge_slice.core.sheet.placed_tables import draw_placed, missing_in
from edge_slice.core.sheet.sizes import SHEET_SIZES
from edge_slice.core.sheet.spec import PlacedDrawing, SheetSpec, placement_box
from edge_slice.core.sheet.tables import Look
from edge_slice.core.sheet.titles import LEAST, drawing_title, role_pen
from edge_slice.core.sheet.trimming import trimmed

ZONE, LEAST_ZONE = 50.0, 10.0  # mm, length of a zone; a shorter rest at an end goes to the next one
AIR = 2.0  # mm between a title and what stands beside it
BELOW = 40.0  # mm under a drawing that its title may take
LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"  # of zones: I and O look like figures


def compose_sheet(spec: SheetSpec, placed: tuple[PlacedDrawing, ...], standard: DrawingStandard) -> DisplayList:
    """Everything on the sheet, origin at its lower left corner; the drawings in their order, the last on top."""
    wide, high = SHEET_SIZES[spec.size]
    items: list[Item] = []
    links: list[Link] = []
    images: list[Image] = []
    cut: list[str] = []
    for p in placed:
        left, base, _, _ = p.display.frame
        moved = trimmed(p.display, p.trim).moved(p.x - left, p.y - base)
        items += moved.items
        links += moved.links
        images += moved.images
        if p.title.shown:
            title = drawing_title(p, moved, p.standard or standard, _title_room(p, placed, spec))
            items += title.items
            links.append(title.link)
            cut += [title.cut] if title.cut else []
    items += _frame(spec, standard)
    scales = sorted({p.scale for p in placed})
    heavy, fine = role_pen(standard, "frame"), role_pen(standard, "frame fine")
    hand, drawn = Hand(spec, scales, spec.values(scales), standard, heavy, fine), Drawn()
    for part in spec.design.parts:
        draw_part(part, hand, drawn)
    for placed_table in spec.tables:
        more, led = draw_placed(placed_table, Look(standard, heavy, fine), drawn.cut)
        drawn.items += more
        drawn.links += led
    return DisplayList(
        (*items, *drawn.items),
        (0.0, 0.0, wide, high),
        (*links, *drawn.links),
        (
            *(cut_short(text) for text in dict.fromkeys([*cut, *drawn.cut])),
            *(says for placed_table in spec.tables for says in missing_in(placed_table)),
        ),
        images=(*images, *drawn.images),
    )


def _title_room(p: PlacedDrawing, placed: tuple[PlacedDrawing, ...], spec: SheetSpec) -> float:
    """From the left side of a drawing to what stands beside it or its title, mm; at least as wide as it is itself."""
    left, base, right, top = placement_box(p)
    ends = [spec.frame[2] - AIR]
    blocks = [part.region.box(spec.frame) for part in spec.design.parts if not isinstance(part, SheetText)]
    for x0, y0, x1, y1 in [*(placement_box(q) for q in placed if q is not p), *blocks]:
        if x0 >= left + LEAST and x1 > left and y0 < top and y1 > base - BELOW:
            ends.append(x0 - AIR)
    return max(min(ends), min(right, spec.frame[2] - AIR)) - left


def _frame(spec: SheetSpec, standard: DrawingStandard) -> list[Item]:
    wide, high = SHEET_SIZES[spec.size]
    left, base, right, top = spec.frame
    pen = role_pen(standard, "frame")
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
    height, ink, fine = standard.text.label, standard.ink, role_pen(standard, "frame fine")
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
