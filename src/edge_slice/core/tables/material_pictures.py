"""Small pictures of a material for tables: where it lies in a build-up, else the element that is of it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import PlaneCut, cut_model
from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from edge_slice.core.remembered import Remembered
from edge_slice.core.tables.pictures import Picture, element_alone, picture_of

F64 = NDArray[np.float64]
LEVEL = 0.7  # sine of the tilt of layers to the plumb line, from which they lie rather than stand
AROUND = 1.5  # sides of the picture as multiples of the thickness of the build-up
LEAST = 0.1  # metres that a picture shows at least


@dataclass(frozen=True)
class MaterialPicture:
    """`picture`: lines; `filled`: rings (n, 2) of what is of the material, in the same mm."""

    picture: Picture
    filled: tuple[F64, ...]


_kept: Remembered[MaterialPicture] = Remembered("pictures of materials", 400_000, lambda p: len(p.picture.lines) + 1)


def picture_of_material(model: Model, element: int, material: int) -> MaterialPicture:
    """A piece of the build-up of an element across its layers, those of a material (`Model.materials` index) filled;
    of an element without layers its front."""
    key = (model.digests[element], model.materials[material].name)
    return _kept.get(key, lambda: _made(model, element, material))


def _made(model: Model, element: int, material: int) -> MaterialPicture:
    of = model.elements[element]
    if of.build_up < 0 or of.frame is None:
        return MaterialPicture(picture_of(model, element, "front"), ())
    alone = element_alone(model, element, layers=True)
    low, high = alone.boxes[0]
    lies = abs(of.frame.direction[2]) > LEVEL
    normal = (1.0, 0.0, 0.0) if lies else (0.0, 0.0, 1.0)
    middle = ((low + high) / 2).tolist()
    cut = PlaneCut(point=(middle[0], middle[1], middle[2]), normal=normal)
    faces = cut_model(alone, cut, default_standard().cut_rules(alone)).faces
    own = [f.polygon for f in faces if f.material == material]
    if not own:
        return MaterialPicture(picture_of(model, element, "front"), ())
    thick = model.build_ups[of.build_up].thickness
    half = max(AROUND * thick, LEAST) * 500.0
    at = max(own, key=lambda p: p.area).representative_point()
    whole = shapely.union_all([f.polygon for f in faces])
    centre = _middle_of(shapely.intersection(whole, at.buffer(2 * half)))
    window = shapely.box(centre[0] - half, centre[1] - half, centre[0] + half, centre[1] + half)
    corner = np.array([centre[0] - half, centre[1] - half])
    rings = [ring - corner for f in faces for ring in _rings(shapely.intersection(f.polygon, window))]
    filled = [ring - corner for p in own for ring in _rings(shapely.intersection(p, window))]
    lines = np.concatenate([np.column_stack((ring[:-1], ring[1:])) for ring in rings])
    return MaterialPicture(Picture(lines, 2 * half, 2 * half), tuple(filled))


def _middle_of(shape: shapely.Geometry) -> tuple[float, float]:
    x0, y0, x1, y1 = shapely.bounds(shape).tolist()
    return (x0 + x1) / 2, (y0 + y1) / 2


def _rings(shape: shapely.Geometry) -> list[F64]:
    return [np.asarray(ring.coords) for p in polygons_in(shape) for ring in (p.exterior, *p.interiors)]
