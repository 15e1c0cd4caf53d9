"""A wall section: a short cut through one wall, with its foundation and the edge of its roof, and no more."""

from __future__ import annotations

import math

from edge_slice.core.cut.cutting import cut_model
from edge_slice.core.cut.placing.report import Passage, cut_report
from edge_slice.core.cut.spec import Extents, ImpossibleCut, Place, SectionCut
from edge_slice.core.model import Model

LOOK_AROUND = 2.0  # metres beyond the drawn line in which a footing or roof edge is looked for
ALONG = 2.0  # metres; a passage longer than this runs along the wall
EDGE = 1.5  # metres at most from the wall to the edge of its roof
AIR = 0.4  # metres around what is shown
DEPTH = 1.0  # metres that are drawn behind the cut
WALL = ("wall", "footing")
OVER = ("roof", "slab")


def wall_section(model: Model, line: tuple[Place, Place], look: str, without: tuple[str, ...] = ()) -> SectionCut:
    """The section along a line that is drawn across a wall: extents tight to the wall, from under its foundation to
    over the edge of its roof. Raises `ImpossibleCut` where the line crosses no wall."""
    (x0, y0), (x1, y1) = line
    long = math.hypot(x1 - x0, y1 - y0)
    cut = SectionCut.model_validate(
        {"line": line, "look": look, "depth": DEPTH, "without": without, "of": "wall",
         "extents": {"left": -LOOK_AROUND, "right": long + LOOK_AROUND}}
    )  # fmt: skip
    passages = built(model, cut)
    across = [p for p in passages if p.kind in WALL and p.end - p.start <= ALONG]
    walls = [p for p in across if p.kind == "wall" and p.start <= long and p.end >= 0]
    if not walls:
        raise ImpossibleCut("The line crosses no wall; draw it from one side of a wall to the other.")
    main = min(walls, key=lambda p: abs((p.start + p.end) / 2 - long / 2))
    stack = [p for p in across if _over(p, main.start, main.end)]
    left, right = min(p.start for p in stack), max(p.end for p in stack)
    above = [p for p in passages if p.kind in OVER and _over(p, left, right)]
    roofs = [p for p in above if p.kind == "roof"]
    left = min([left, *(p.start for p in roofs if left - p.start <= EDGE)])
    right = max([right, *(p.end for p in roofs if p.end - right <= EDGE)])
    shown = [*stack, *above]
    extents = Extents(
        left=round(left - AIR, 3),
        right=round(right + AIR, 3),
        base=round(min(p.base for p in shown) - AIR, 3),
        top=round(max(p.top for p in [*stack, *roofs]) + AIR, 3),
    )
    return cut.model_copy(update={"extents": extents})


def built(model: Model, cut: SectionCut) -> tuple[Passage, ...]:
    """What is built that a cut passes through. Ground is left out: without the rules of a standard it may take the
    place of what stands in it."""
    bare = cut.model_copy(update={"without": (*cut.without, "ground")})
    return cut_report(model, cut_model(model, bare)).passages


def _over(passage: Passage, start: float, end: float) -> bool:
    return passage.start < end and passage.end > start
