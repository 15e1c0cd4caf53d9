"""`compose_sheet`: frame and centring marks (ISO 5457), title block (ISO 7200), placements with their titles."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.drawing.display import Box, DisplayList, Image, Label, Link, Paths, Pen, circle, paths_of
from edge_slice.core.drawing.lettering import text_width
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize

Item = Paths | Label
BINDING, EDGE = 20.0, 10.0  # mm, ISO 5457: frame from the left edge, and from the others
BLOCK = (180.0, 54.0)  # mm, width and height of the title block
TITLE_DROP = 19.0  # mm from the drawing's frame down to the middle of its title bubble
TITLE_RADIUS = 6.0
Row = tuple[float, float, float, float, str, str]


@dataclass(frozen=True)
class SheetSpec:
    """What a sheet says about itself; ISO 7200 data fields."""

    number: str
    title: str
    size: SheetSize
    project: str
    client: str = ""
    revision: str = ""
    date: str = ""
    drawn: str = ""
    checked: str = ""
    north: tuple[float, float] = (0.0, 1.0)


@dataclass(frozen=True)
class PlacedDrawing:
    """A drawing on the sheet: its frame's lower left corner stands at (x, y) mm. `called_from` names the places that a
    typical detail is used in."""

    drawing: int
    placement: int
    number: str
    name: str
    scale: float
    display: DisplayList
    x: float
    y: float
    called_from: tuple[str, ...] = ()


def placement_box(placed: PlacedDrawing) -> Box:
    """The frame of a placement on the sheet (left, base, right, top)."""
    left, base, right, top = placed.display.frame
    return (placed.x, placed.y, placed.x + right - left, placed.y + top - base)


def compose_sheet(spec: SheetSpec, placed: tuple[PlacedDrawing, ...], standard: DrawingStandard) -> DisplayList:
    """Everything on the sheet, origin at its lower left corner."""
    wide, high = SHEET_SIZES[spec.size]
    items: list[Item] = []
    links: list[Link] = []
    images: list[Image] = []
    for p in placed:
        left, base, _, _ = p.display.frame
        moved = p.display.moved(p.x - left, p.y - base)
        items += moved.items
        links += moved.links
        images += moved.images
        title, link = _drawing_title(p, standard)
        items += title
        links.append(link)
    items += _frame(wide, high, standard)
    items += _title_block(spec, placed, wide, standard)
    return DisplayList(tuple(items), (0.0, 0.0, wide, high), tuple(links), images=tuple(images))


def _pen(standard: DrawingStandard, role: str) -> Pen:
    rule = standard.pens[role]
    return Pen(rule.width["middle"], standard.ink, rule.dash)


def _frame(wide: float, high: float, standard: DrawingStandard) -> list[Item]:
    left, right, base, top = BINDING, wide - EDGE, EDGE, high - EDGE
    middle_x, middle_y = wide / 2, high / 2
    marks = [
        [(middle_x, 0.0), (middle_x, base + 5)],
        [(middle_x, high), (middle_x, top - 5)],
        [(0.0, middle_y), (left + 5, middle_y)],
        [(wide, middle_y), (right - 5, middle_y)],
    ]
    ring = [(left, base), (right, base), (right, top), (left, top)]
    pen = _pen(standard, "frame")
    return [paths_of("frame", [ring], pen, None, True), paths_of("centring mark", marks, pen)]


def _drawing_title(p: PlacedDrawing, standard: DrawingStandard) -> tuple[list[Item], Link]:
    """Number in a bubble, name over a line, scale under it."""
    left, base, _, _ = placement_box(p)
    x, y, r = left + TITLE_RADIUS, base - TITLE_DROP, TITLE_RADIUS
    pen, ink, text = _pen(standard, "title"), standard.ink, standard.text
    source = f"placement:{p.placement}"
    said = scale_text(p.scale)
    if p.called_from:
        said += f"   for {', '.join(p.called_from)}"
    name_wide = max(text_width(p.name, text.title), 40.0)
    items: list[Item] = [
        paths_of("title bubble", [circle(x, y, r)], pen, None, True, source),
        paths_of("title line", [[(x + r, y), (x + r + name_wide + 6, y)]], pen, source=source),
        Label("title number", p.number, x, y - text.title / 2, text.title, ink, "centre", source=source),
        Label("title name", p.name, x + r + 3, y + 1.8, text.title, ink, source=source),
        Label("title scale", said, x + r + 3, y - 2.0 - text.heading, text.heading, ink, source=source),
    ]
    return items, Link((left, y - r, x + r + name_wide + 6, y + r), f"drawing:{p.drawing}")


def _title_block(
    spec: SheetSpec, placed: tuple[PlacedDrawing, ...], wide: float, standard: DrawingStandard
) -> list[Item]:
    right, base = wide - EDGE, EDGE
    left, top = right - BLOCK[0], base + BLOCK[1]
    scales = sorted({p.scale for p in placed})
    shown = scale_text(scales[0]) if len(scales) == 1 else "as shown" if scales else "–"
    rows: list[Row] = [
        (0, 36, 120, 18, "Project", spec.project),
        (120, 36, 60, 18, "Client", spec.client or "–"),
        (0, 18, 120, 18, "Sheet title", spec.title),
        (120, 18, 30, 18, "Revision", spec.revision or "–"),
        (150, 18, 30, 18, "Scale", shown),
        (0, 0, 30, 18, "Date", spec.date or "–"),
        (30, 0, 30, 18, "Drawn", spec.drawn or "–"),
        (60, 0, 30, 18, "Checked", spec.checked or "–"),
        (90, 0, 30, 18, "North", ""),
        (120, 0, 60, 18, "Sheet number", spec.number),
    ]
    heavy, fine, text = _pen(standard, "frame"), _pen(standard, "frame fine"), standard.text
    outline = [(left, base), (right, base), (right, top), (left, top)]
    items: list[Item] = [paths_of("title block", [outline], heavy, "#ffffff", True)]
    cells = [
        [(left + x, base + y), (left + x + w, base + y), (left + x + w, base + y + h), (left + x, base + y + h)]
        for x, y, w, h, _, _ in rows
    ]
    items.append(paths_of("title block line", cells, fine, None, True))
    for x, y, w, h, caption, value in rows:
        big = text.title if caption in ("Sheet title", "Sheet number", "Project") else text.label
        big = min(big, big * (w - 5) / max(text_width(value, big), 1e-6))
        items.append(
            Label("field caption", caption, left + x + 2, base + y + h - 2 - text.small, text.small, standard.hatch_ink)
        )
        items.append(Label(f"field {caption.lower()}", value, left + x + 2.5, base + y + 3.5, big, standard.ink))
    items += _north(left + 108, base + 8.5, spec.north, fine, standard)
    return items


def _north(x: float, y: float, north: tuple[float, float], pen: Pen, standard: DrawingStandard) -> list[Item]:
    """A needle to true north, for plans drawn with the model's axes."""
    (nx, ny), r = north, 6.5
    tip, left, tail = (x + nx * r, y + ny * r), (x - ny * 1.8, y + nx * 1.8), (x - nx * r, y - ny * r)
    right = (x + ny * 1.8, y - nx * 1.8)
    return [
        paths_of("north", [[tip, left, right]], None, standard.ink, True),
        paths_of("north", [[tip, left, tail, right]], pen, None, True),
    ]
