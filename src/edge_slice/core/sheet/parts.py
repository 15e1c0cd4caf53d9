"""The parts of a sheet design as they are drawn: title block, tables, north sign, scale bar, key plan, texts, logo."""

from __future__ import annotations

import io
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Box, Image, Item, Label, Link, Pen, paths_of
from edge_slice.core.drawing.measures import FOOT
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.texts.text_lines import STEP, Fitted, fitted
from edge_slice.core.sheet.design import (
    KeyPlan,
    ListOfDrawings,
    ListOfSheets,
    Logo,
    NorthSign,
    Part,
    RevisionTable,
    ScaleBar,
    SheetText,
    TitleBlock,
    filled,
)
from edge_slice.core.sheet.spec import SheetSpec
from edge_slice.core.sheet.tables import Column, Look, table

F64 = NDArray[np.float64]
GROUND, LIT, PALE = "#ffffff", "#6f7b74", "#e3e5e2"
PAD = 2.5  # mm between the edge of a field and its text
LINE_STEP = 1.7  # of the height of a text, from one line to the next
REVISIONS = (Column("Rev.", 14), Column("Date", 24), Column("Purpose"), Column("By", 16))
DRAWINGS = (Column("Drawing", 30), Column("Title"), Column("Scale", 26))
LISTED = (Column("Sheet", 26), Column("Title"), Column("Rev.", 18))
UNDER = 1.5  # mm under the last line of a field
STEPS = (1.0, 2.0, 5.0)  # of a decade, that a division of a scale bar may be long
DIVISIONS = 4


@dataclass
class Drawn:
    """What the parts of a sheet add to it."""

    items: list[Item] = field(default_factory=list)
    links: list[Link] = field(default_factory=list)
    images: list[Image] = field(default_factory=list)
    cut: list[str] = field(default_factory=list)  # texts that did not fit


@dataclass(frozen=True)
class Hand:
    """What a part is drawn with: the sheet, its scales, the texts of its fields, pens and lettering."""

    spec: SheetSpec
    scales: list[float]
    values: dict[str, str]
    standard: DrawingStandard
    heavy: Pen
    fine: Pen

    def height(self, lettering: str) -> float:
        return float(getattr(self.standard.text, lettering))


def draw_part(part: Part, hand: Hand, drawn: Drawn) -> None:
    """Add a part to what is drawn."""
    box = part.region.box(hand.spec.frame)
    look = Look(hand.standard, hand.heavy, hand.fine)
    if isinstance(part, TitleBlock):
        drawn.items += _title_block(part, box, hand, drawn.cut)
    elif isinstance(part, RevisionTable):
        rows = [(list(row), "") for row in hand.spec.issued]
        items, _ = table(REVISIONS, rows, box, look, drawn.cut)
        drawn.items += items
    elif isinstance(part, ListOfSheets):
        listed = [([s.number, s.title, s.revision], s.target) for s in hand.spec.register]
        items, links = table(LISTED, listed, box, look, drawn.cut)
        drawn.items += items
        drawn.links += links
    elif isinstance(part, ListOfDrawings):
        drawings = [([d.number, d.title, d.scale], d.target) for d in hand.spec.drawings]
        items, links = table(DRAWINGS, drawings, box, look, drawn.cut)
        drawn.items += items
        drawn.links += links
    elif isinstance(part, NorthSign):
        drawn.items += _north(box, hand)
    elif isinstance(part, ScaleBar):
        drawn.items += _scale_bar(box, hand)
    elif isinstance(part, KeyPlan):
        drawn.items += _key_plan(box, hand)
    elif isinstance(part, SheetText):
        drawn.items += _text(part, box, hand, drawn.cut)
    else:
        drawn.images += _logo(part, box, hand)


def _title_block(part: TitleBlock, box: Box, hand: Hand, cut: list[str]) -> list[Item]:
    left, base, _, _ = box
    small, ink = hand.standard.text.small, hand.standard.ink
    items: list[Item] = [paths_of("title block", [_ring(box)], hand.heavy, GROUND, True)]
    rings = [_ring((left + c.left, base + c.base, left + c.left + c.wide, base + c.base + c.high)) for c in part.cells]
    if rings:
        items.append(paths_of("title block line", rings, hand.fine, None, True))
    for cell in part.cells:
        x, y = left + cell.left, base + cell.base
        if cell.caption:
            at = (x + 2, y + cell.high - 2 - small)
            items.append(Label("field caption", cell.caption, *at, small, hand.standard.hatch_ink))
        said = filled(cell.says, hand.values).strip() or ("–" if cell.says else "")
        if said:
            room = cell.high - (small + 4 if cell.caption else 0) - UNDER
            text = fitted(said, cell.wide - 2 * PAD, max(room, small), hand.height(cell.lettering))
            role = f"field {cell.caption.lower()}" if cell.caption else "field"
            up = min(3.5, max(UNDER, (cell.high - small - 4 - text.high) / 2))
            items += _lines(role, text, x + PAD, y + up + text.high - text.height, ink)
            cut += [said] if text.cut else []
    return items


def _lines(role: str, text: Fitted, x: float, y: float, ink: str) -> list[Item]:
    """The lines of a text, the first with its foot at y."""
    return [Label(role, line, x, y - k * STEP * text.height, text.height, ink) for k, line in enumerate(text.lines)]


def _text(part: SheetText, box: Box, hand: Hand, cut: list[str]) -> list[Item]:
    """Lines one below the other from the top on, those that are too long broken."""
    left, base, right, top = box
    height = hand.height(part.lettering)
    items: list[Item] = []
    at = top - height
    for line in filled(part.says, hand.values).splitlines():
        if line.strip():
            text = fitted(line, right - left, max(at + height - base, height), height)
            items += _lines("field text", text, left, at, hand.standard.ink)
            cut += [line] if text.cut else []
            at -= text.high - text.height
        at -= LINE_STEP * height
    return items


def _north(box: Box, hand: Hand) -> list[Item]:
    """A needle to true north, for plans drawn with the model's axes."""
    (nx, ny), r = hand.spec.north, min(box[2] - box[0], box[3] - box[1]) * 0.43
    x, y, waist = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2, r * 0.28
    tip, left, tail = (x + nx * r, y + ny * r), (x - ny * waist, y + nx * waist), (x - nx * r, y - ny * r)
    right = (x + ny * waist, y - nx * waist)
    return [
        paths_of("north", [[tip, left, right]], None, hand.standard.ink, True),
        paths_of("north", [[tip, left, tail, right]], hand.fine, None, True),
    ]


def division_of(scale: float, wide: float, feet: bool) -> float:
    """How long a division of a scale bar is, metres: the longest of the series 1, 2, 5 with which four of them are no
    longer than `wide` mm on paper."""
    most = wide * scale / 1000 / DIVISIONS / (FOOT if feet else 1.0)
    decade = 10.0 ** np.floor(np.log10(most))
    step = max(s for s in STEPS if s * decade <= most * (1 + 1e-9))
    return float(step * decade * (FOOT if feet else 1.0))


def _scale_bar(box: Box, hand: Hand) -> list[Item]:
    """Four divisions, filled by turns, with the distances of three of their ends."""
    if len(hand.scales) != 1:
        return []
    scale, feet = hand.scales[0], hand.spec.lengths == "ft-in"
    small, ink = hand.standard.text.small, hand.standard.ink
    left, base = box[0] + 2, box[1]
    division = division_of(scale, box[2] - box[0] - 12, feet)
    step, high = division * 1000 / scale, 1.8
    rings = [_ring((left + k * step, base, left + (k + 1) * step, base + high)) for k in range(DIVISIONS)]
    items: list[Item] = [
        paths_of("scale bar", rings[::2], None, ink, True),
        paths_of("scale bar", rings, hand.fine, None, True),
    ]
    unit = division / FOOT if feet else division
    for k in (0, DIVISIONS // 2, DIVISIONS):
        said = f"{k * unit:g}" + ((" ft" if feet else " m") if k == DIVISIONS else "")
        items.append(Label("scale bar text", said, left + k * step, base + high + 1.4, small, ink, "centre"))
    return items


def _key_plan(box: Box, hand: Hand) -> list[Item]:
    """The outline of the building, pale; what the sheet shows of it dark, its cuts as lines."""
    key = hand.spec.key
    if key is None or not key.rings:
        return []
    points = np.concatenate(key.rings)
    low, high = points.min(axis=0), points.max(axis=0)
    air = 4.0
    size = min((box[2] - box[0] - 2 * air) / max(high[0] - low[0], 1e-6),
               (box[3] - box[1] - 2 * air) / max(high[1] - low[1], 1e-6))  # fmt: skip
    middle = np.array([(box[0] + box[2]) / 2, (box[1] + box[3]) / 2])

    def on_paper(ring: F64) -> F64:
        return np.asarray((ring - (low + high) / 2) * size + middle)

    frame = (box[0] + 1, box[1] + 1, box[2] - 1, box[3] - 1)
    items: list[Item] = [paths_of("key plan", [on_paper(r) for r in key.rings], None, PALE, True)]
    if key.lit:
        items.append(paths_of("key plan lit", [on_paper(r) for r in key.lit], None, LIT, True))
    items.append(paths_of("key plan", [on_paper(r) for r in key.rings], hand.fine, None, True))
    lines = [np.clip(on_paper(line), frame[:2], frame[2:]) for line in key.lines]
    if lines:
        items.append(paths_of("key plan cut", lines, Pen(hand.heavy.width, hand.standard.ink)))
    return items


def _logo(part: Logo, box: Box, hand: Hand) -> list[Image]:
    """As large as it fits, in the middle of its region."""
    from PIL import Image as Picture  # not needed by sheets without one

    data = hand.spec.pictures.get(part.picture, b"")
    if not data:
        return []
    with Picture.open(io.BytesIO(data)) as picture:
        wide, high = picture.size
    size = min((box[2] - box[0]) / wide, (box[3] - box[1]) / high)
    x, y = (box[0] + box[2] - wide * size) / 2, (box[1] + box[3] - high * size) / 2
    return [Image("logo", part.picture, (x, y, x + wide * size, y + high * size), data=data)]


def _ring(box: Box) -> list[tuple[float, float]]:
    left, base, right, top = box
    return [(left, base), (right, base), (right, top), (left, top)]
