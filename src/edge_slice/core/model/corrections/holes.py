"""Openings of their own for copies of windows and doors, in the walls and roofs that these come to stand in."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.corners import body_as_wanted
from edge_slice.core.model.corrections.documents import CopiedElements
from edge_slice.core.model.corrections.fillings import FILLS, HELD_BY
from edge_slice.core.model.corrections.openings import OUTSIDE, THICK, axes_of, looks_at, reveals_of
from edge_slice.core.model.corrections.sides import Body, bounds, divided, flat_sides
from edge_slice.core.model.corrections.wanted import LEAKS, Copy, Hole, Sides, Told, Wanted
from edge_slice.core.model.mesh.boxes import boxes_of

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
ALONG = 0.9999  # cosine between a side of a wall and the way one looks through it
SMALL = 1e-8  # m² that a side may share with an opening that doesn't go through it
NO_WALL = "There is no wall and no roof where the copy comes to stand."


def sort_openings(model: Model, one: CopiedElements, wanted: Wanted, vertices: F64, say: Told) -> None:
    """Cut openings for the copies of windows and doors; a copy that can have none is not there. `vertices`: those of
    the model in the end."""
    boxes = boxes_of(vertices, model.mesh.triangles, model.mesh.triangle_element, len(model.elements))
    holds = np.array([element.kind in HELD_BY for element in model.elements], dtype=bool)
    holds[list(wanted.left_out)] = False
    for guid in one.elements:
        k = model.element_by_guid.get(guid, -1)
        if k < 0 or model.elements[k].kind not in FILLS:
            continue
        copies = [copy for copy in wanted.copies if copy.of == k and _is_of(copy, one)]
        for copy in copies:
            if why := _cut(model, wanted, copy, vertices, np.where(holds[:, None, None], boxes, np.inf)):
                wanted.copies.remove(copy)
                say.refused.append(why)
        say.elements -= bool(copies) and not any(copy in wanted.copies for copy in copies)


def _is_of(copy: Copy, one: CopiedElements) -> bool:
    return any(np.array_equal(copy.by, by) for by in one.copies)


def _cut(model: Model, wanted: Wanted, copy: Copy, vertices: F64, boxes: F64) -> str:
    """Cut the opening of a copy into all that it goes through; why that can't be, empty where it can. `boxes` (n, 2, 3)
    of what may hold it, infinite for all else."""
    opening = _opening(model, wanted, copy)
    if opening is None:
        return NO_WALL
    axes, sides, deep = opening
    points = body_as_wanted(model, wanted, copy.of, vertices).points + copy.by
    low, high = points.min(axis=0) - THICK, points.max(axis=0) + THICK
    found: list[tuple[Hole, Body]] = []
    near = (boxes[:, 0] <= high).all(axis=1) & (boxes[:, 1] >= low).all(axis=1)
    for n in np.flatnonzero(near).tolist():
        made = carved(body_as_wanted(model, wanted, n, vertices), axes, sides, deep)
        if made is None:
            continue
        if n in model.leaking:
            return LEAKS
        if isinstance(made, str):
            return made
        found.append((Hole(n, copy.guid, axes, sides, made[1]), made[0]))
    for hole, body in found:
        wanted.holes.append(hole)
        wanted.rebuilt[hole.into] = body
    return "" if found else NO_WALL


def _opening(model: Model, wanted: Wanted, copy: Copy) -> tuple[F64, Sides, tuple[float, float]] | None:
    """Of the opening that a copy shall have the directions, the sides along the first two, and how deep its window
    reaches along the third; as large as that in which the window stands that it is a copy of."""
    looks = looks_at(model, copy.of)
    if looks is None:
        return None
    axes = axes_of(looks)
    window = model.element_triangles(copy.of).reshape(-1, 3) @ axes.T
    (left, sill, near), (right, head, far) = window.min(axis=0).tolist(), window.max(axis=0).tolist()
    if (around := reveals_of(model, copy.of, axes, (left, right, sill, head), (near, far))) is not None:
        left, right, sill, head = around
    if (stretch := wanted.openings.get(copy.of)) is not None:
        left, right, sill, head = (a + b for a, b in zip((left, right, sill, head), stretch.by, strict=True))
    shift = copy.by
    if (motion := wanted.moved.get(copy.of)) is not None:
        axes, shift = axes @ motion.turn.T, shift + motion.shift
    across, up, deep = (axes @ shift).tolist()
    return axes, (left + across, right + across, sill + up, head + up), (near + deep, far + deep)


def carved(
    body: Body, axes: F64, sides: Sides, deep: tuple[float, float]
) -> tuple[Body, tuple[float, float]] | str | None:
    """A body with an opening of these sides through all of it that lies near to where a window is `deep`, and from
    where to where that goes; why that can't be, None where the opening doesn't meet it."""
    left, right, sill, head = sides
    hole, local, normals = shapely.box(left, sill, right, head), body.points @ axes.T, body.normals @ axes.T
    size = np.maximum(np.linalg.norm(normals, axis=1), 1e-300)
    across = np.abs(normals[:, 2]) > ALONG * size
    depth = local[body.triangles][:, :, 2]
    near = (depth.max(axis=1) > deep[0] - THICK) & (depth.min(axis=1) < deep[1] + THICK)
    met: list[tuple[float, bool, I64, shapely.Geometry]] = []
    for rows in flat_sides(body):
        if not across[rows[0]] or not near[rows[0]]:
            continue
        outline = shapely.build_area(shapely.multilinestrings(local[bounds(body.triangles[rows])][:, :, :2]))
        if outline.intersection(hole).area > SMALL:
            met.append((float(depth[rows].mean()), bool(normals[rows[0], 2] < 0), rows, outline))
    if not met:
        return None
    met.sort(key=lambda side: side[0])
    first, last = met[0][0], met[-1][0]
    in_turn = [towards for _, towards, _, _ in met] == [True, False] * (len(met) // 2)
    if not in_turn or not all(outline.contains_properly(hole) for *_, outline in met):
        return OUTSIDE
    between = ~across & (depth.max(axis=1) > first) & (depth.min(axis=1) < last)
    seen = shapely.convex_hull(shapely.multipoints(local[body.triangles[between]][:, :, :2]))
    if shapely.intersects(seen, hole).any():
        return OUTSIDE
    return _with_hole(body, axes, hole, met), (first, last)


def _with_hole(
    body: Body, axes: F64, hole: shapely.Polygon, met: list[tuple[float, bool, I64, shapely.Geometry]]
) -> Body:
    """A body with a hole between each two of the sides that it meets, which come in their order."""
    corners = np.asarray(hole.exterior.coords)[:4]
    if not hole.exterior.is_ccw:
        corners = corners[::-1]
    kept = np.ones(len(body.triangles), dtype=bool)
    points, triangles, materials = [body.points], [], []
    count = len(body.points)
    for place, (_, towards, rows, outline) in enumerate(met):
        kept[rows] = False
        looks = body.normals[rows].sum(axis=0)
        flat = corners @ axes[:2]
        far = ((body.points[body.triangles[rows[0], 0]] - flat) @ looks) / float(axes[2] @ looks)
        points.append(flat + far[:, None] * axes[2])
        own = np.unique(body.triangles[rows])
        local = np.concatenate(((body.points[own] @ axes.T)[:, :2], corners))
        holed = shapely.multipolygons([_less(part, corners) for part in shapely.get_parts(outline)])
        numbers = np.concatenate((own, count + np.arange(4)))
        made = numbers[divided(holed, local)]
        triangles.append(made if towards else made[:, ::-1])
        materials.append(np.full(len(made), body.materials[rows[0]]))
        if not towards:  # it comes out of what the side before it went into
            here, following = np.arange(4), np.roll(np.arange(4), -1)
            front, back = count - 4, count
            reveal = [
                np.column_stack((front + here, front + following, back + following)),
                np.column_stack((front + here, back + following, back + here)),
            ]
            triangles += reveal
            materials.append(np.full(8, body.materials[met[place - 1][2][0]]))
        count += 4
    return replace(
        body, points=np.concatenate(points), triangles=np.concatenate((body.triangles[kept], *triangles)),
        materials=np.concatenate((body.materials[kept], *materials)),
    )  # fmt: skip


def _less(part: shapely.Polygon, corners: F64) -> shapely.Polygon:
    """A part of a side with the hole in it, if it is the one that holds it; its corners stay what they are."""
    if not part.contains_properly(shapely.Point(corners[0])):
        return part
    return shapely.Polygon(part.exterior, [*part.interiors, corners])
