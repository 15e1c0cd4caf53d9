"""The junctions of a wall section: what is called out of it by rule, and where nothing happens in between."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.following.callouts import Region
from edge_slice.core.cut.placing.report import Passage, things
from edge_slice.core.cut.placing.wall_section import built, wall_section
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.cut.spec import Break, ImpossibleCut, Place, PlanCut, SectionCut
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
NEAR = 0.5  # metres from a wall within which a click is meant for it
BESIDE = 0.6  # metres that the line across a wall runs on at both of its sides
AIR = 0.3  # metres above and below what is called out
OPENING = 0.35  # metres above and below the head or the sill of an opening
LEAST_BREAK = 0.6  # metres; less is not worth a break
KEPT = 0.1  # metres that stay at both sides of a break
TOGETHER = 0.3  # share of the smaller one by which two junctions overlap that are one
OPENINGS = ("window", "door")


@dataclass(frozen=True)
class Junction:
    """Something that a wall section explains: its name, and its region in the drawing."""

    name: str
    region: Region


def line_across(model: Model, at: Place) -> tuple[Place, Place]:
    """A line square across the wall at or nearest to a place on plan, metres. Raises `ImpossibleCut` where there is
    none near."""
    point = shapely.Point(at)
    walls = [k for k, e in enumerate(model.elements) if e.kind == "wall" and np.isfinite(model.boxes[k]).all()]
    best = min(walls, key=lambda k: (model.footprint(k).distance(point), k), default=None)
    if best is None or model.footprint(best).distance(point) > NEAR:
        raise ImpossibleCut("There is no wall here; click on one in the plan.")
    ring = np.asarray(shapely.minimum_rotated_rectangle(model.footprint(best)).exterior.coords)
    sides = np.diff(ring[:3], axis=0)
    lengths = np.hypot(*sides.T)
    along = sides[int(lengths.argmax())] / lengths.max()
    across = np.array([-along[1], along[0]])
    middle = ring[:4].mean(axis=0)
    on_axis = middle + along * float((np.array(at) - middle) @ along)
    reach = float(lengths.min()) / 2 + BESIDE
    (x0, y0), (x1, y1) = (on_axis - across * reach).tolist(), (on_axis + across * reach).tolist()
    return (round(x0, 3), round(y0, 3)), (round(x1, 3), round(y1, 3))


def whole_wall_section(
    model: Model, at: Place, look: str, without: tuple[str, ...] = ()
) -> tuple[SectionCut, tuple[Junction, ...]]:
    """The section of the wall at a place on plan from under its foundation to over the edge of its roof, broken where
    nothing happens; and its junctions from the bottom to the top. Raises `ImpossibleCut`."""
    cut = wall_section(model, line_across(model, at), look, without)
    found = junctions(model, cut)
    breaks = _breaks([j.region.bounds for j in found])
    extents = cut.extents.model_copy(update={"breaks": breaks})
    return cut.model_copy(update={"extents": extents}), found


def junctions(model: Model, cut: SectionCut) -> tuple[Junction, ...]:
    """Foundation, edges of floors, heads and sills of openings, and the edge of the roof, from the bottom to the top;
    those that lie together are one."""
    passages = built(model, cut)
    left, base, right, top = (x / 1000.0 for x in whole_window(leaves_of(model, cut)))
    found = sorted((x for p in passages for x in _of(model, p)), key=lambda row: (row[2] + row[3], row[0]))
    merged: list[tuple[dict[str, str], float, float]] = []  # what, and where it is; from, to
    for what, where, low, high in found:
        last = merged[-1] if merged else None
        if last is not None and last[2] - low > TOGETHER * min(last[2] - last[1], high - low):
            merged[-1] = ({**last[0], what: where}, min(last[1], low), max(last[2], high))
        else:
            merged.append(({what: where}, low, high))
    return tuple(
        Junction(_said(parts), Region(points=((left, round(max(low, base), 3)), (right, round(min(high, top), 3)))))
        for parts, low, high in merged
        if min(high, top) - max(low, base) > AIR
    )


def _said(parts: dict[str, str]) -> str:
    words = [f"{what}{where}" for what, where in parts.items()]
    return " and ".join([words[0], *(word[:1].lower() + word[1:] for word in words[1:])])


def _of(model: Model, passage: Passage) -> list[tuple[str, str, float, float]]:
    """What there is to explain in a passage: what, where, from which height to which."""
    base, top = passage.base, passage.top
    if passage.kind == "footing":
        return [("Foundation", "", base - AIR / 2, top + AIR)]
    if passage.kind == "slab":
        storey = min(model.storeys, key=lambda s: abs(s.elevation - top), default=None)
        return [("Floor edge", "" if storey is None else f", {storey.name}", base - AIR, top + AIR)]
    if passage.kind == "roof":
        return [("Roof edge", "", base - AIR, top + AIR)]
    if passage.kind in OPENINGS:
        name = f" of {passage.name or passage.kind}"
        found = [("Head", name, top - OPENING, top + OPENING)]
        if passage.kind == "window":
            found.append(("Sill", name, base - OPENING, base + OPENING))
        return found
    return []


def _breaks(bounds: Sequence[tuple[float, float, float, float]]) -> tuple[Break, ...]:
    """The stretches between junctions that are long enough to be taken out."""
    spans = sorted((base, top) for _, base, _, top in bounds)
    found = []
    for (_, end), (start, _) in pairwise(spans):
        if start - end - 2 * KEPT >= LEAST_BREAK:
            found.append(Break(axis="v", start=round(end + KEPT, 3), end=round(start - KEPT, 3)))
    return tuple(found)


def enlargement(model: Model, plan: PlanCut, guid: str) -> tuple[str, Region]:
    """The name and the region, in a plan, of a stair, room or other thing that is enlarged. Raises `ImpossibleCut` for
    one that the model or the plan does not have."""
    thing = next((t for t in things(model) if t[0] == guid), None)
    if thing is None:
        raise ImpossibleCut(f"{guid} is no stair, room, opening or column of this model.")
    _, kind, name, outline, foot, head = thing
    (leaf,) = leaves_of(model, plan)
    at = float(leaf.axes.origin[2])
    low, high = (at - leaf.far / 1000.0, at + plan.overhead) if plan.look == "down" else (at, at + leaf.far / 1000.0)
    shown = shapely.box(*(x / 1000.0 for x in leaf.window))
    if head <= low or foot >= high or not shapely.intersects(outline, shown):
        said = f"{kind.capitalize()} {name}".strip() if name else kind.capitalize()
        raise ImpossibleCut(f"{said} is not on this plan; choose the plan of its storey.")
    left, base, right, top = outline.bounds
    corners = ((round(left - AIR, 3), round(base - AIR, 3)), (round(right + AIR, 3), round(top + AIR, 3)))
    return name or kind.capitalize(), Region(points=corners)
