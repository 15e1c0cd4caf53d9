"""What is wrong with a sheet as it is drawn: texts over texts and beyond the frame, drawings beyond their places."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from edge_slice.core.drawing.display import Box, DisplayList, Label
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.drawing.texts.typesetting import spelled_out
from edge_slice.core.sheet.design import SheetDesign, overlap
from edge_slice.core.sheet.sizes import SheetSize

LEAST_SHARE = 0.15  # of the smaller of two texts that must be covered
OWN = ("field", "table", "zone", "scale bar")  # roles of the design's own texts begin so
BEYOND = 0.5  # mm


@dataclass(frozen=True)
class SheetFinding:
    """What is wrong, in words, and where on the sheet (mm)."""

    rule: str
    says: str
    box: Box


def text_findings(display: DisplayList, frame: Box) -> list[SheetFinding]:
    """Texts of drawings that stand over each other or over the title block, those beyond the frame of the sheet, and
    those of which something had to be left out."""
    found = [SheetFinding("text cut off", says, frame) for says in display.findings]
    labels = [i for i in display.items if isinstance(i, Label) and i.text.strip()]
    if not labels:
        return found
    boxes = [box_of(label) for label in labels]
    for label, box in zip(labels, boxes, strict=True):
        outside = max(frame[0] - box[0], frame[1] - box[1], box[2] - frame[2], box[3] - frame[3])
        spelled = spelled_out(label.text)
        if spelled:
            found.append(SheetFinding("letters without a face", spelled, box))
        if outside > BEYOND and not label.role.startswith(OWN):
            found.append(SheetFinding("text beyond the frame", f"“{_short(label)}” stands beyond the frame.", box))
    shapes = shapely.box(*np.array(boxes).T)
    tree = shapely.STRtree(shapes)
    one, two = tree.query(shapes, predicate="intersects")
    for a, b in zip(one.tolist(), two.tolist(), strict=True):
        if a >= b or (labels[a].role.startswith(OWN) and labels[b].role.startswith(OWN)):
            continue
        if labels[a].text == labels[b].text and labels[a].source == labels[b].source:
            continue
        shared = float(shapes[a].intersection(shapes[b]).area)
        if shared > LEAST_SHARE * min(float(shapes[a].area), float(shapes[b].area)):
            says = f"“{_short(labels[a])}” and “{_short(labels[b])}” stand over each other."
            found.append(SheetFinding("text over text", says, _around(boxes[a], boxes[b])))
    return found


def place_findings(
    design: SheetDesign, size: SheetSize, placed: Sequence[tuple[str, Box]]
) -> list[tuple[int, SheetFinding]]:
    """Drawings (number, box on the sheet) that reach beyond the frame, over the design's parts, out of their drawing
    area, or over each other; each with the index of the drawing."""
    frame, parts = design.frame(size), design.taken(size)
    areas = design.area_boxes(size)
    found = []
    for k, (number, box) in enumerate(placed):
        said = f"Drawing {number}"
        if not _within(box, frame):
            found.append((k, SheetFinding("drawing beyond its place", f"{said} reaches beyond the frame.", box)))
        elif any(overlap(box, part) for part in parts):
            found.append((k, SheetFinding("drawing beyond its place", f"{said} lies over the title block.", box)))
        elif areas and not any(_within(box, area) for area in areas.values()):
            name = max(areas, key=lambda n: _shared(box, areas[n]))
            found.append(
                (k, SheetFinding("drawing beyond its place", f"{said} reaches beyond the area “{name}”.", box))
            )
        for other, second in placed[:k]:
            if overlap(box, second):
                says = f"Drawings {other} and {number} lie over each other."
                found.append((k, SheetFinding("drawing over drawing", says, _around(box, second))))
    return found


def _short(label: Label) -> str:
    return label.text if len(label.text) <= 40 else f"{label.text[:38]} …"


def _around(a: Box, b: Box) -> Box:
    return (min(a[0], b[0]), min(a[1], b[1]), max(a[2], b[2]), max(a[3], b[3]))


def _within(box: Box, area: Box) -> bool:
    low, high = area[0] - BEYOND <= box[0] and area[1] - BEYOND <= box[1], box[2] <= area[2] + BEYOND
    return low and high and box[3] <= area[3] + BEYOND


def _shared(a: Box, b: Box) -> float:
    wide, high = min(a[2], b[2]) - max(a[0], b[0]), min(a[3], b[3]) - max(a[1], b[1])
    return max(wide, 0.0) * max(high, 0.0)
