"""What is drawn by rule, cropped to the extents of its drawing, whatever their shape."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely

from edge_slice.core.drawing.display import Item, Label, Paths, run_of, runs_of


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
            found += [item] if shapely.covers(frame, whole) else _paths(item, frame)
    return found


def _paths(item: Paths, frame: shapely.Geometry) -> list[Paths]:
    runs = [run for run in np.split(item.points, item.starts[1:-1]) if len(run)]
    found: list[Paths] = []
    if item.fill is not None:
        shapes = [shapely.intersection(shapely.Polygon(run), frame) for run in runs if len(run) > 2]
        parts = [p for p in shapely.get_parts(shapes) if p.geom_type == "Polygon" and not p.is_empty]
        rings = [np.asarray(ring.coords)[:-1] for p in parts for ring in (p.exterior, *p.interiors)]
        if rings:
            points, starts = run_of(rings)
            found.append(replace(item, points=points, starts=starts, closed=True, pen=None, pattern=None))
    if item.pen is not None:
        ended = [np.concatenate((run, run[:1])) if item.closed else run for run in runs]
        dots = [run[:1].repeat(2, axis=0) for run in ended if (run == run[0]).all()]
        kept = [dot for dot in dots if shapely.intersects_xy(frame, *dot[0])]
        lines = [shapely.LineString(run) for run in ended if not (run == run[0]).all()]
        points, starts = runs_of(shapely.intersection(np.array(lines, dtype=object), frame))
        rows = [*np.split(points, starts[1:-1]), *kept] if len(points) else kept
        if rows:
            points, starts = run_of(rows)
            found.append(replace(item, points=points, starts=starts, closed=False, fill=None, pattern=None))
    return found
