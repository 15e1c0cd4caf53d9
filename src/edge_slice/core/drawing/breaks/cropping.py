"""What is drawn, cropped to the extents of its drawing, whatever their shape, or with a place in it left out."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Item, Label, Paths, run_of, runs_of
from edge_slice.core.drawing.texts.lettering import box_of

Shapes = NDArray[np.object_]


def cropped(items: Sequence[Item], frame: shapely.Geometry) -> list[Item]:
    """Items within `frame`, mm on paper. What lies in it is left as it is; texts stay where their point lies in it."""
    shapely.prepare(frame)
    found: list[Item] = []
    for item in items:
        if isinstance(item, Label):
            if shapely.intersects_xy(frame, item.x, item.y):
                found.append(item)
        elif len(item.points):
            whole = shapely.box(*item.points.min(axis=0), *item.points.max(axis=0))
            found += [item] if shapely.covers(frame, whole) else _paths(item, lambda s: shapely.intersection(s, frame))
    return found


def without(items: Sequence[Item], hole: shapely.Geometry) -> list[Item]:
    """Items outside of `hole`, mm on paper. Texts that reach into it are left out."""
    if shapely.is_empty(hole):
        return list(items)
    shapely.prepare(hole)
    x0, y0, x1, y1 = shapely.bounds(hole).tolist()
    found: list[Item] = []
    for item in items:
        if isinstance(item, Label):
            if not shapely.intersects(hole, shapely.box(*box_of(item))):
                found.append(item)
        elif len(item.points):
            runs = [run for run in np.split(item.points, item.starts[1:-1]) if len(run)]
            low = np.array([run.min(axis=0) for run in runs])
            high = np.array([run.max(axis=0) for run in runs])
            near = np.asarray((low <= (x1, y1)).all(axis=1) & (high >= (x0, y0)).all(axis=1))
            found += _picked(item, runs, ~near)
            for part in _picked(item, runs, near):
                found += _paths(part, lambda s: shapely.difference(s, hole))
    return found


def _picked(item: Paths, runs: list[NDArray[np.float64]], chosen: NDArray[np.bool_]) -> list[Paths]:
    if chosen.all():
        return [item]
    if not chosen.any():
        return []
    points, starts = run_of([run for run, wanted in zip(runs, chosen, strict=True) if wanted])
    return [replace(item, points=points, starts=starts, pattern=None)]


def _paths(item: Paths, kept: Callable[[Shapes], Shapes]) -> list[Paths]:
    runs = [run for run in np.split(item.points, item.starts[1:-1]) if len(run)]
    found: list[Paths] = []
    if item.fill is not None:
        shapes = kept(np.array([shapely.Polygon(run) for run in runs if len(run) > 2], dtype=object))
        parts = [p for p in shapely.get_parts(shapes) if p.geom_type == "Polygon" and not p.is_empty]
        rings = [np.asarray(ring.coords)[:-1] for p in parts for ring in (p.exterior, *p.interiors)]
        if rings:
            points, starts = run_of(rings)
            found.append(replace(item, points=points, starts=starts, closed=True, pen=None, pattern=None))
    if item.pen is not None:
        ended = [np.concatenate((run, run[:1])) if item.closed else run for run in runs]
        dots = [run[:1].repeat(2, axis=0) for run in ended if (run == run[0]).all()]
        left = kept(np.array([shapely.Point(dot[0]) for dot in dots], dtype=object))
        dots = [dot for dot, point in zip(dots, left, strict=True) if not shapely.is_empty(point)]
        lines = [shapely.LineString(run) for run in ended if not (run == run[0]).all()]
        points, starts = runs_of(kept(np.array(lines, dtype=object)))
        rows = [*np.split(points, starts[1:-1]), *dots] if len(points) else dots
        if rows:
            points, starts = run_of(rows)
            found.append(replace(item, points=points, starts=starts, closed=False, fill=None, pattern=None))
    return found
