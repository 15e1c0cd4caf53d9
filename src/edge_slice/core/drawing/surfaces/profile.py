"""The line round the building."""

from __future__ import annotations

import numpy as np
import shapely

from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.cut.surfaces.overlay import joined, whole
from edge_slice.core.cut.surfaces.regions import SeenSurfaces
from edge_slice.core.drawing.draft import Draft

CLOSES = 2.0  # mm of the building; narrower gaps between its parts are none
SMALL, HOLE = 0.5, 0.02  # m²; smaller parts that stand alone, and smaller holes, have no line of their own


def profile_of(draft: Draft, seen: SeenSurfaces) -> list[shapely.Polygon]:
    """What is seen of the building as a whole, mm of the building: without ground, plants, and what stands about."""
    result, model = draft.result, draft.model
    loose = ("furniture", "person", "vehicle", "accessory")
    built = model.standing & np.array([e.kind not in loose for e in model.elements], dtype=bool)
    held = [(r.element, r.shape) for r in (*seen.regions, *seen.clear) if built[r.element]]
    held += [(f.element, f.polygon) for f in result.faces if built[f.element]]
    if not held:
        return []
    held.sort(key=lambda one: one[0])
    starts = np.unique([element for element, _ in held], return_index=True)[1]
    elements = joined(np.array([shape for _, shape in held], dtype=object), starts)
    grown = shapely.buffer(whole(elements), CLOSES, join_style="mitre")
    shrunk = shapely.buffer(grown, -CLOSES, join_style="mitre")
    return [_without_chinks(p) for p in polygons_in(shrunk) if p.area > SMALL * 1e6]


def _without_chinks(polygon: shapely.Polygon) -> shapely.Polygon:
    holes = [ring for ring in polygon.interiors if shapely.Polygon(ring).area > HOLE * 1e6]
    return shapely.Polygon(polygon.exterior, holes)
