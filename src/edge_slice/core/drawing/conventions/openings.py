"""Windows as sill, frame and glass lines; shafts, voids and rooflights crossed."""

from __future__ import annotations

import re

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import Role
from edge_slice.core.drawing.conventions.sheet import Drawn, PlanView
from edge_slice.core.drawing.display import paths_of, run_of
from edge_slice.core.drawing.strokes.dashes import stroked

F64 = NDArray[np.float64]
FRAME, DEEP = 0.05, 0.07  # metres: width and depth of a window frame as it is drawn
LEAST_VOID = 0.25  # square metres
AROUND = 0.35  # metres above and below the floor in which its slabs end
SHAFT = re.compile(
    r"\b(lift|elevator|shaft|riser|aufzug|schacht|ascenseur|gaine|ascensor|ascensore|hiss|heis|hissi)", re.I
)


def windows(view: PlanView, drawn: Drawn) -> None:
    """At small scales a window that the plan cuts is its frame at both sides and one line of glass between the sill's
    edges, instead of all its parts."""
    if view.scale < view.standard.conventions.windows_plain_from:
        return
    for element in view.crossed("window"):
        frame = view.frame_of(element)
        if frame is None:
            continue
        origin, along, across = frame
        points = view.model.element_triangles(element).reshape(-1, 3)[:, :2] - origin
        x, y = points @ along, float(np.median(points @ across))
        low, high = float(x.min()), float(x.max())
        wide = min(FRAME, (high - low) / 6)

        def line(*corners: tuple[float, float], o: F64 = origin, a: F64 = along, c: F64 = across) -> F64:
            return view.on_paper(np.array([o + u * a + v * c for u, v in corners]))

        low_y, high_y = y - DEEP / 2, y + DEEP / 2
        frames = [line((a, low_y), (a + wide, low_y), (a + wide, high_y), (a, high_y)) for a in (low, high - wide)]
        source = f"element:{view.model.elements[element].guid}"
        drawn.items += [
            paths_of("window frame", frames, view.pens["seen near"], "#ffffff", True, source),
            paths_of("window glass", [line((low + wide, y), (high - wide, y))], view.pens["seen near"], source=source),
        ]
        drawn.faces |= view.faces_of(element)
        drawn.lines |= view.result.lines.element == element


def heads(view: PlanView, drawn: Drawn) -> None:
    """Of what hangs above the cut, doors, windows and the heads of openings in walls that are cut are not drawn."""
    lines = view.result.lines
    through = np.zeros(len(view.model.elements), dtype=bool)
    through[view.crossed("wall")] = True
    through |= np.array([e.kind in ("door", "window") for e in view.model.elements], dtype=bool)
    drawn.lines |= (lines.role == Role.OVERHEAD) & through[lines.element]


def shafts(view: PlanView, drawn: Drawn) -> None:
    """A cross over every lift and shaft, by the names of rooms and by lifts themselves."""
    rings = []
    for space in view.model.spaces:
        named = SHAFT.search(f"{space.number} {space.name}")
        if named and len(space.outline) > 2 and space.floor - 0.01 <= view.height <= space.ceiling + 0.01:
            rings.append(shapely.Polygon(space.outline))
    for k in view.crossed("lift"):
        (x0, y0, _), (x1, y1, _) = view.model.boxes[k].tolist()
        rings.append(shapely.box(x0, y0, x1, y1))
    lines = [line for ring in rings for line in _cross(view, ring)]
    if lines:
        drawn.items.append(paths_of("shaft cross", lines, view.pens["seen far"]))


def voids(view: PlanView, drawn: Drawn) -> None:
    """A dashed cross over every opening in the floor that no stair fills, and over every rooflight above."""
    rooflights = _rooflights(view)
    lines = [line for shape in (*_floor_openings(view), *rooflights) for line in _cross(view, shape)]
    outlines = [view.on_paper(np.asarray(s.exterior.coords)) for s in rooflights]
    if lines:
        drawn.items += stroked("void cross", [run_of(lines + outlines)], view.pens["overhead"])


def _floor_openings(view: PlanView) -> list[shapely.Polygon]:
    """Holes in what the floor's slabs cover together."""
    model, found = view.model, []
    for k, element in enumerate(model.elements):
        top = model.boxes[k, 1, 2]
        if element.kind == "slab" and abs(top - view.floor) <= AROUND:
            found.append(_seen_from_above(model.element_triangles(k)))
    cover = shapely.union_all(found) if found else shapely.Polygon()
    holes = [
        shapely.Polygon(ring)
        for part in shapely.get_parts(cover)
        if part.geom_type == "Polygon"
        for ring in part.interiors
    ]
    if not holes:
        return []
    filled = shapely.union_all(
        [
            _seen_from_above(model.element_triangles(k))
            for k, e in enumerate(model.elements)
            if e.kind in ("stair", "wall", "column")
            and model.boxes[k, 0, 2] < view.height
            and model.boxes[k, 1, 2] > view.floor - 3.0
        ]
    )
    return [h for h in holes if h.area >= LEAST_VOID and shapely.intersection(h, filled).area < 0.3 * h.area]


def _rooflights(view: PlanView) -> list[shapely.Polygon]:
    """Windows that lie rather than stand, over the storey's rooms and under no further floor."""
    model, found = view.model, []
    for k, element in enumerate(model.elements):
        low, high = model.boxes[k]
        flat = element.kind == "window" and high[2] - low[2] < 0.6 * min(high[0] - low[0], high[1] - low[1])
        if not flat or low[2] < view.height:
            continue
        between = any(
            e.kind == "slab"
            and view.height < model.boxes[i, 1, 2] <= low[2]
            and (model.boxes[i, 0, :2] < high[:2]).all()
            and (model.boxes[i, 1, :2] > low[:2]).all()
            for i, e in enumerate(model.elements)
        )
        if not between:
            found.append(shapely.box(low[0], low[1], high[0], high[1]))
    return found


def _seen_from_above(triangles: F64) -> shapely.Geometry:
    normal = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    upper = triangles[normal[:, 2] > 1e-9][:, :, :2]
    return shapely.union_all(shapely.polygons(upper), grid_size=1e-4) if len(upper) else shapely.Polygon()


def _cross(view: PlanView, shape: shapely.Polygon) -> list[F64]:
    """Both diagonals of the least rectangle around a shape, within it and the extents."""
    box = shapely.minimum_rotated_rectangle(shape)
    if box.geom_type != "Polygon":
        return []
    corners = np.asarray(box.exterior.coords)
    left, base, right, top = (x / 1000.0 for x in view.result.extents)
    inside = shapely.intersection(shape, shapely.box(left, base, right, top))
    found = []
    for i, j in ((0, 2), (1, 3)):
        for piece in shapely.get_parts(shapely.intersection(shapely.LineString([corners[i], corners[j]]), inside)):
            if piece.geom_type == "LineString":
                found.append(view.on_paper(np.asarray(piece.coords)))
    return found
