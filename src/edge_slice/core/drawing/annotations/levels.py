"""Level markers at the edge of an upright drawing."""

from __future__ import annotations

from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import Item, Label, paths_of
from edge_slice.core.drawing.draft import Draft
from edge_slice.core.drawing.measures import height_text
from edge_slice.core.drawing.spec import EdgeEnds
from edge_slice.core.drawing.texts.lettering import text_width

USUAL = EdgeEnds()
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


def level_markers(draft: Draft, fold: Fold) -> list[Item]:
    """Level markers at the edge of the extents, usually at the right; crowded ones fan out with a kinked line. Those of
    levels that are taken out of a broken drawing are left out."""
    scale, ends, lengths = draft.scale, draft.spec.level_ends, draft.spec.written
    standard, pens = draft.standard, draft.pens
    left, base, right, top = fold.frame
    heights = [(fold.v(s.elevation * 1000 / scale), s) for s in draft.model.storeys if s.guid not in ends.hidden]
    inside = sorted(((h, s) for h, s in heights if h is not None and base <= h <= top), key=lambda row: row[0])
    if not inside:
        return []
    text = standard.text.label
    places = fan_out([h for h, _ in inside], text * 3.2)
    items: list[Item] = []
    lines, marks = [], []
    for out in {"start": (-1,), "both": (1, -1)}.get(ends.side, (1,)):
        edge = right if out > 0 else left
        x = edge + out * (STAND_OFF + ends.offset)
        for (height, storey), y in zip(inside, places, strict=True):
            said = height_text(storey.elevation, lengths)
            wide = max(text_width(storey.name, text), text_width(said, text)) + 4
            run = [(edge - out * 4, height), (x, height), (x + out * 5, y), (x + out * (5 + wide), y)]
            lines.append(run)
            tip = x + out * 5.2
            marks.append([(tip, y + 0.2), (tip + 2.0, y + 2.4), (tip - 2.0, y + 2.4)])
            place, align, source = x + out * 8.2, "left" if out > 0 else "right", f"storey:{storey.guid}"
            for role, words, at in (("level name", storey.name, y + 0.9), ("level height", said, y - 0.9 - text)):
                items.append(Label(role, words, place, at, text, standard.ink, align, source=source))  # type: ignore[arg-type]
    return [paths_of("level", lines, pens["level"]), paths_of("level mark", marks, pens["level"], None, True), *items]
