"""`composed`: an annotation as a small display list of its own, with its grips and what became of its anchors."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.annotating import dimensions, linework, notes
from edge_slice.core.annotating.board import Board, Grip, Sketcher, Stand, spot_grip
from edge_slice.core.annotating.documents import AnyAnnotation
from edge_slice.core.cut.anchors.anchor import Held, State, held
from edge_slice.core.drawing.display import Box, DisplayList, Image, Item, Label, Pen, circle, paths_of
from edge_slice.core.drawing.texts.lettering import box_of, spelled_out_in

F64 = NDArray[np.float64]
LOST_SIGN = 3.0  # mm, radius of the sign at an anchor that is lost
# how each kind of annotation is drawn, by the class of its document
SKETCHES: dict[type[AnyAnnotation], Sketcher] = {**notes.SKETCHES, **dimensions.SKETCHES, **linework.SKETCHES}
ORDER: dict[State, int] = {"exact": 0, "near": 1, "lost": 2}


@dataclass(frozen=True)
class Composed:
    """`source` is "annotation:12"; `box` (left, base, right, top) and `grips` mm on paper; `held` says of each anchor
    where it is now, `state` is that of the worst; `shown`: it stands within the note margin; `layers`: of a layer
    note what the model says, line by line, with the number of the layer."""

    source: str
    items: tuple[Item, ...]
    box: Box
    grips: tuple[Grip, ...]
    state: State
    held: tuple[Held, ...]
    findings: tuple[str, ...]
    by_hand: bool
    shown: bool
    images: tuple[Image, ...] = ()
    layers: tuple[tuple[int, str], ...] = ()


def stand_of(board: Board, document: AnyAnnotation) -> Stand:
    """Where the anchors and points of an annotation are now."""
    found = tuple(held(board.features, anchor) for anchor in document.anchors)
    spots = np.array([h.at for h in found])
    points = np.array(document.points) + (spots[0] - np.array(document.anchors[0].at))
    return Stand(document.anchors, found, spots, points)


def composed(board: Board, document: AnyAnnotation, source: str) -> Composed:
    """One annotation on a drawing. A lost anchor keeps its place, and a sign says so."""
    stand = stand_of(board, document)
    sketch = SKETCHES[type(document)](board, document, stand)
    state = max((h.state for h in stand.held), key=lambda s: ORDER[s])
    items = [*sketch.items, *_lost_signs(board, stand)]
    findings = [
        *sketch.findings,
        *spelled_out_in(sketch.items),
    ]
    if state == "lost":
        findings.append("What this annotation is tied to is not there any more; it stays where it was.")
    shown = board.within(board.paper(stand.points[0]))
    if not shown:
        findings.append("This annotation stands outside the note margin of its drawing; it is not shown.")
    marked = tuple(replace(item, source=source) for item in items)
    grips = sketch.grips or [spot_grip("point 0", board.paper(stand.points[0]))]
    images = tuple(replace(image, source=source) for image in sketch.images)
    box = box_around(marked, images, grips)
    return Composed(
        source,
        marked,
        box,
        tuple(grips),
        state,
        stand.held,
        tuple(findings),
        sketch.by_hand,
        shown,
        images,
        sketch.layers,
    )


def _lost_signs(board: Board, stand: Stand) -> list[Item]:
    """A crossed ring where a lost anchor was."""
    items: list[Item] = []
    pen = Pen(0.25, board.standard.ink)
    for now in stand.held:
        if now.state == "lost":
            x, y = board.paper(now.at).tolist()
            r = LOST_SIGN * 0.6
            items.append(paths_of("lost sign", [circle(x, y, LOST_SIGN, 24)], pen, None, True))
            items.append(
                paths_of("lost sign", [[(x - r, y - r), (x + r, y + r)], [(x - r, y + r), (x + r, y - r)]], pen)
            )
    return items


def box_around(items: Iterable[Item], images: Iterable[Image], grips: Iterable[Grip]) -> Box:
    """What items and pictures take up, mm on paper; where there are none, grips."""
    boxes: list[Box] = [image.box for image in images]
    for item in items:
        if isinstance(item, Label):
            boxes.append(box_of(item))
        elif len(item.points):
            (x0, y0), (x1, y1) = item.points.min(axis=0).tolist(), item.points.max(axis=0).tolist()
            boxes.append((x0, y0, x1, y1))
    boxes += [(g.at[0], g.at[1], g.at[0], g.at[1]) for g in grips] if not boxes else []
    low, high = np.array(boxes)[:, :2].min(axis=0), np.array(boxes)[:, 2:].max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def text_box(found: Composed) -> Box:
    """What the words of an annotation take up, or all of one that has none: leaders do not count when it is aligned."""
    texts = [item for item in found.items if isinstance(item, Label)]
    return box_around(texts, (), found.grips) if texts else found.box


def with_annotations(display: DisplayList, found: Sequence[Composed]) -> DisplayList:
    """A drawing with its annotations, as it is printed; those outside the note margin are left out."""
    shown = [c for c in found if c.shown]
    items = [item for c in shown for item in c.items]
    images = [image for c in shown for image in c.images]
    findings = dict.fromkeys(f for c in found for f in c.findings)
    return replace(
        display,
        items=(*display.items, *items),
        images=(*display.images, *images),
        findings=(*display.findings, *findings),
    )
