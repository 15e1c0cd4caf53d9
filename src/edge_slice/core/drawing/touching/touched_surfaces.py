"""Seen surfaces that people touch up: named by their place in their element, so that they are found again."""

from __future__ import annotations

from typing import Annotated

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.cut import CutResult
from edge_slice.core.cut.anchors.anchor import State, triple
from edge_slice.core.cut.anchors.references import own_frame
from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.cut.surfaces.regions import seen_surfaces
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
TURNED = 0.98  # cosine of the angle by which a face may have turned and still be the same
EXACT = 0.5  # mm that a face may have moved and still stand where it was
NEAR = 400.0  # mm that it may have moved at most
_Mm = Annotated[float, Field(allow_inf_nan=False, ge=-1e9, le=1e9)]


class TouchedSurface(BaseModel):
    """A flat face of an element that is seen: the direction that it looks in, and a place on it (mm), in the element's
    own frame."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    element: Annotated[str, Field(max_length=64)]
    normal: tuple[Annotated[float, Field(ge=-1.01, le=1.01)], Annotated[float, Field(ge=-1.01, le=1.01)],
                  Annotated[float, Field(ge=-1.01, le=1.01)]]  # fmt: skip
    at: tuple[_Mm, _Mm, _Mm]


def surface_at(model: Model, result: CutResult, u: float, v: float) -> TouchedSurface | None:
    """The surface that is seen at a place of the drawing, mm; None where there is none."""
    place = shapely.Point(u, v)
    region = next((r for r in seen_surfaces(result).regions if r.shape.intersects(place)), None)
    if region is None:
        return None
    origin, axes = own_frame(model, region.element)
    on = region.to_face(np.array([[u, v]]))[0] / 1000.0
    at = region.frame.origin + on[0] * region.frame.s + on[1] * region.frame.t
    normal = axes @ model.flats.normal[region.flat]
    return TouchedSurface(
        element=model.elements[region.element].guid,
        normal=triple(normal, 6),
        at=triple(axes @ (at - origin) * 1000.0),
    )


def surface_now(model: Model, surface: TouchedSurface) -> tuple[State, int | None]:
    """The flat face that a surface is now, by its number: the one of its element that looks the same way and is nearest
    to its place."""
    element = model.element_by_guid.get(surface.element, -1)
    flats = model.flats
    own = np.flatnonzero(model.mesh.triangle_element[flats.first] == element)
    if element < 0 or not len(own):
        return "lost", None
    origin, axes = own_frame(model, element)
    normal = axes.T @ np.array(surface.normal)
    place = origin + axes.T @ np.array(surface.at) / 1000.0
    alike = own[flats.normal[own] @ normal > TURNED]
    if not len(alike):
        return "lost", None
    away = [_distance(model, int(flat), place) for flat in alike.tolist()]
    best = int(np.argmin(away))
    if away[best] > NEAR:
        return "lost", None
    return ("exact" if away[best] <= EXACT else "near"), int(alike[best])


def outlines_of(result: CutResult, flat: int) -> list[F64]:
    """The outlines of what is seen of a flat face, mm in the drawing."""
    shapes = [p for r in seen_surfaces(result).regions if r.flat == flat for p in polygons_in(r.shape)]
    return [np.asarray(p.exterior.coords) for p in shapes]


def _distance(model: Model, flat: int, place: F64) -> float:
    """From a place to a flat face, mm: square to its plane and, beside it, along that."""
    mesh, normal = model.mesh, model.flats.normal[flat]
    square = float(normal @ place - model.flats.offset[flat])
    corners = mesh.vertices[mesh.triangles[model.flats.of == flat]]
    across = np.linalg.svd(normal[None, :])[2][1:]
    cover = shapely.polygons(corners @ across.T)
    aside = float(shapely.distance(cover, shapely.Point(across @ place)).min())
    return float(np.hypot(square, aside)) * 1000.0
