"""Cut faces that stand in a view: in another plane than that of the drawing."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.lines.caps import CAP_DEPTH, cap_triangles
from edge_slice.core.cut.pieces import CutFace
from edge_slice.core.cut.planes.leaves import Axes, Lens

F64 = NDArray[np.float64]
EDGE_ON = 1e-6  # sine of the angle under which faces are seen edge-on


@dataclass(frozen=True)
class StandingFaces:
    """The faces in one plane that looks at what is left of the model: in mm in its `axes`, and `shape`, all of them."""

    axes: Axes
    faces: tuple[CutFace, ...]
    shape: shapely.Geometry

    def as_seen(self, axes: Axes, lens: Lens | None) -> F64:
        """The faces as triangles (k, 3, 3) as a drawing sees them, mm: a little before their plane, so that what is
        flush with it lies behind; none where they are seen from behind, within what they close."""
        if not self.turned_to(axes, lens):
            return np.zeros((0, 3, 3))
        flat = cap_triangles(list(self.faces))
        points = flat.reshape(-1, 3)
        found = axes.to_drawing(self.axes.to_model(points) + points[:, 2:] * self.axes.w / 1000.0).reshape(-1, 3, 3)
        return found if lens is None else lens.project(found)

    def turned_to(self, axes: Axes, lens: Lens | None) -> bool:
        """Whether a viewer looks at them from before."""
        normal, offset = self.plane(axes)
        if lens is None:
            return bool(normal[2] < -EDGE_ON)
        return float(normal @ np.array([lens.u, lens.v, -lens.distance])) - offset > 0

    def plane(self, axes: Axes) -> tuple[F64, float]:
        """The plane in which they hide, normal · x = offset in a drawing's axes, mm; the normal (3,) points to what was
        taken."""
        normal = -np.array([self.axes.w @ axes.u, self.axes.w @ axes.v, self.axes.w @ axes.w])
        at = axes.to_drawing(self.axes.origin[None])[0]
        return normal, float(normal @ at) - CAP_DEPTH

    def placed(self, axes: Axes) -> F64:
        """The corners (n, 3) of `shape` in a drawing's axes, mm."""
        return axes.to_drawing(self.axes.to_model(shapely.get_coordinates(self.shape)))


@dataclass(frozen=True)
class SeenFaces:
    """Standing faces in a view: `seen` of them, mm of the drawing, which has these `axes` and this `lens`."""

    standing: StandingFaces
    seen: shapely.Geometry
    axes: Axes
    lens: Lens | None

    @property
    def smaller(self) -> float:
        """How many times smaller the middle of what is seen is than in the plane of the drawing."""
        if self.lens is None:
            return 1.0
        normal, offset = self.standing.plane(self.axes)
        middle = self.seen.representative_point()
        way = np.array([middle.x - self.lens.u, middle.y - self.lens.v, self.lens.distance])
        eye = np.array([self.lens.u, self.lens.v, -self.lens.distance])
        return float((offset - normal @ eye) / (normal @ way))

    def to_drawing(self, points: F64) -> F64:
        """Points (n, 2) in the plane of the faces, mm, as the drawing shows them (n, 2), mm."""
        at = self.axes.to_drawing(self.standing.axes.to_model(points))
        return (at if self.lens is None else self.lens.project(at))[:, :2]
