"""Remarks laid over what they are on: a flag with a number at each place, the sketch about it, and what is said in a
margin beside the sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from edge_slice.core.drawing.display import DisplayList, Item, Label, Pen, paths_of
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.sheet.remark_list import LINE, ListedRemark, lines_of

INK = "#b5341c"
POLE, OF_FLAG, OF_SKETCH = 6.0, Pen(0.5, INK), Pen(0.5, INK)  # mm that a flag stands over its place
NUMBER, AROUND, PALE = 2.5, 1.2, "#ffffff"  # mm: height of figures, and what of the flag is around them
COLUMN, EDGE, GAP = 80.0, 8.0, 4.0  # mm: a column of words, around it, between remarks
Spot = tuple[float, float]


@dataclass(frozen=True)
class Marked:
    """A remark on paper, mm: its number, its place, and the lines of its sketch."""

    number: int
    at: Spot
    sketch: Sequence[Sequence[Spot]] = ()


def marks_of(marked: Sequence[Marked]) -> list[Item]:
    """What is drawn for remarks."""
    found: list[Item] = []
    for one in marked:
        x, y = one.at
        if one.sketch:
            found.append(paths_of("remark", [list(stroke) for stroke in one.sketch], OF_SKETCH))
        number = Label("remark", str(one.number), x + AROUND, y + POLE + AROUND, NUMBER, PALE)
        right, up = box_of(number)[2] + AROUND, number.y + NUMBER + AROUND
        found.append(paths_of("remark", [[(x, y), (x, up)]], OF_FLAG))
        flag = [(x, y + POLE), (right, y + POLE), (right, up), (x, up)]
        found.append(paths_of("remark", [flag], OF_FLAG, INK, closed=True))
        found.append(number)
    return found


def with_remarks(sheet: DisplayList, marked: Sequence[Marked], said: Sequence[ListedRemark]) -> DisplayList:
    """A sheet with its remarks over it. The paper is wider by the columns in which they are said, from the top on."""
    left, base, right, top = sheet.frame
    words: list[Item] = []
    x, y = right + EDGE, top - EDGE
    for one in said:
        lines = lines_of(one, COLUMN)
        high = sum(height * LINE for _, height, _ in lines)
        if y - high < base + EDGE and y < top - EDGE:
            x, y = x + COLUMN + EDGE, top - EDGE
        for text, height, colour in lines:
            if y - height * LINE < base + EDGE:
                x, y = x + COLUMN + EDGE, top - EDGE
            y -= height * LINE
            words.append(Label("note", text, x, y + height * 0.4, height, colour))
        y -= GAP
    beside = paths_of("remark", [[(right, base), (right, top)]], OF_SKETCH)
    frame = (left, base, x + COLUMN + EDGE, top)
    return replace(sheet, items=(*sheet.items, *marks_of(marked), beside, *words), frame=frame)
