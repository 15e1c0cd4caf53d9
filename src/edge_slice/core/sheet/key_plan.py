"""The building from above in a few rings, and what a drawing shows of it, for key plans."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, ImpossibleCut, PlanCut, SectionCut
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.model import Model
from edge_slice.core.sheet.spec import KeyOutline

F64 = NDArray[np.float64]
KINDS = ("wall", "slab", "roof", "column")
CLOSED = 0.4  # metres; gaps narrower than twice this are filled
FINE = 0.05  # metres, by which the outline may be off


def building_outline(model: Model) -> tuple[F64, ...]:
    """Rings (n, 2), metres, about all walls, slabs and roofs, seen from above; holes are left out."""
    kinds = np.array([e.kind in KINDS for e in model.elements], dtype=bool)
    mesh = model.mesh
    triangles = mesh.vertices[mesh.triangles[kinds[mesh.triangle_element]]][:, :, :2]
    if not len(triangles):
        triangles = mesh.vertices[mesh.triangles][:, :, :2]
    flat = np.concatenate((triangles, triangles[:, :1]), axis=1)
    shapes = shapely.polygons(flat)
    shapes = shapes[shapely.area(shapes) > 1e-4]
    whole = shapely.union_all(shapely.buffer(shapely.union_all(shapes, grid_size=0.01), CLOSED, quad_segs=1))
    whole = shapely.simplify(shapely.buffer(whole, -CLOSED, quad_segs=1, join_style="mitre"), FINE)
    parts = [p for p in shapely.get_parts(whole) if not p.is_empty]
    return tuple(np.asarray(p.exterior.coords)[:-1] for p in parts)


def key_outline(model: Model, outline: tuple[F64, ...], cuts: list[AnyCut]) -> KeyOutline:
    """The building with what cuts show of it: the part of plans within their extents lit, sections as lines."""
    building = shapely.union_all([shapely.Polygon(ring) for ring in outline])
    lit: list[F64] = []
    lines: list[F64] = []
    for cut in cuts:
        if isinstance(cut, PlanCut):
            try:
                leaves = leaves_of(model, cut)
            except ImpossibleCut:
                continue
            left, base, right, top = whole_window(leaves)
            corners = np.array([(left, base), (right, base), (right, top), (left, top)], dtype=np.float64)
            shown = shapely.Polygon(leaves[0].axes.to_model(corners)[:, :2]).intersection(building)
            lit += [np.asarray(p.exterior.coords)[:-1] for p in shapely.get_parts(shown) if p.geom_type == "Polygon"]
        elif isinstance(cut, SectionCut):
            lines.append(np.array(cut.line, dtype=np.float64))
    return KeyOutline(outline, tuple(lit), tuple(lines))
