"""One look at the model: what is in view, which way its faces turn, and what conceals."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.pieces import MaterialRules
from edge_slice.core.cut.planes.leaves import Leaf, Lens, Window
from edge_slice.core.cut.shown import see_through_elements
from edge_slice.core.cut.spec import AnyCut
from edge_slice.core.model import Mesh, Model
from edge_slice.core.model.mesh.joints import Joints

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
Flags = NDArray[np.bool_]
EDGE_ON = 1e-7  # sine of the angle under which a face counts as seen edge-on
STEEP, NARROW = 0.05, 3e-5  # so does one seen under such an angle where its width in view is less than that, metres:
# its outline would lie within the touch margin of the face beside it, and neither would show


@dataclass(frozen=True)
class Sight:
    """points (n, 3): the mesh's vertices in drawing mm; `conceals` (materials + 2,): by material index, what
    hides what is behind it; `material` (m,): of each triangle; `leaking` (elements,); `joints`: stretches of
    edges that need no line while none of their other faces is seen."""

    mesh: Mesh
    leaf: Leaf
    points: F64
    material: NDArray[np.int64]
    conceals: Flags
    leaking: Flags
    lens: Lens | None
    joints: Joints

    @cached_property
    def seen(self) -> NDArray[np.int8]:
        """Per triangle: 1 seen from outside, -1 from behind, 0 edge-on."""
        axes = self.leaf.axes
        if self.lens is None:
            return facing(self.mesh, axes.w)
        at = (self.lens.u * axes.u + self.lens.v * axes.v - self.lens.distance * axes.w) / 1000.0
        found: NDArray[np.int8] = _facing(
            self.mesh.vertices, self.mesh.triangles, axes.w, axes.origin + at, self.lens.distance / 1000.0
        )
        return found

    @cached_property
    def boxes(self) -> F64:
        """Low and high corner of every element (elements, 2, 3) in drawing mm; empty elements lie nowhere."""
        boxes: F64 = _boxes(self.points, self.mesh.triangles, self.mesh.triangle_element, len(self.leaking))
        return boxes

    def in_view(self, far: float) -> Flags:
        """Elements that reach into the view: beyond the cut or through it, nearer than `far`, in the window."""
        low, high = self.boxes[:, 0], self.boxes[:, 1]
        found: Flags = (high[:, 2] >= 0) & (low[:, 2] <= far)
        if self.lens is None:
            found &= _meets(self.boxes, self.leaf.window)
        return found

    def through(self) -> Flags:
        """Elements that the plane of the cut passes through, in the window."""
        found: Flags = (self.boxes[:, 0, 2] < 0) & (self.boxes[:, 1, 2] >= 0) & _meets(self.boxes, self.leaf.window)
        return found


def concealing(model: Model, spec: AnyCut, rules: MaterialRules) -> tuple[NDArray[np.int64], Flags]:
    """The material that each triangle (m,) counts as where it may hide something, and which of these hide
    (materials + 2,): the last one is what see-through elements count as."""
    hides = ~rules.clear if spec.glass == "clear" else np.ones(len(rules.clear), dtype=bool)
    clear, material = see_through_elements(model, spec), model.triangle_materials
    if clear.any():
        material = np.where(clear[model.mesh.triangle_element], len(hides), material)
    return material, np.append(hides, False)


def facing(mesh: Mesh, look: F64) -> NDArray[np.int8]:
    """Per triangle: 1 seen from outside, -1 from behind, 0 edge-on; `look` (3,) is the view direction."""

    def found() -> NDArray[np.int8]:
        facing: NDArray[np.int8] = _facing(mesh.vertices, mesh.triangles, look, look, 0.0)
        return facing

    return mesh.looks.get(look.tobytes(), found)  # a cut that is moved looks the same way


@njit(cache=True, nogil=True)
def _facing(vertices: F64, triangles: I32, look: F64, eye: F64, picture: float):  # type: ignore[no-untyped-def]
    """`picture`: metres from the eye to the picture plane, 0 for a parallel view. What is far behind the plane is
    smaller in the picture, so a perspective asks how wide a face is there."""
    out = np.empty(triangles.shape[0], np.int8)
    x, y, z = look[0], look[1], look[2]
    size = 1.0
    for t in range(triangles.shape[0]):
        a, b, c = vertices[triangles[t, 0]], vertices[triangles[t, 1]], vertices[triangles[t, 2]]
        p0, p1, p2 = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        q0, q1, q2 = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        n0, n1, n2 = p1 * q2 - p2 * q1, p2 * q0 - p0 * q2, p0 * q1 - p1 * q0
        narrow = NARROW
        if picture > 0.0:
            x, y, z = a[0] - eye[0], a[1] - eye[1], a[2] - eye[2]
            size = np.sqrt(x * x + y * y + z * z)
            narrow *= max(1.0, (x * look[0] + y * look[1] + z * look[2]) / picture)
        across = n0 * x + n1 * y + n2 * z
        normal = np.sqrt(n0 * n0 + n1 * n1 + n2 * n2)
        r0, r1, r2 = c[0] - b[0], c[1] - b[1], c[2] - b[2]
        longest = np.sqrt(
            max(p0 * p0 + p1 * p1 + p2 * p2, max(q0 * q0 + q1 * q1 + q2 * q2, r0 * r0 + r1 * r1 + r2 * r2))
        )
        limit = size * max(EDGE_ON * normal, min(STEEP * normal, narrow * longest))
        out[t] = 1 if across < -limit else (-1 if across > limit else 0)
    return out


@njit(cache=True, nogil=True)
def _boxes(points: F64, triangles: I32, element: I32, count: int):  # type: ignore[no-untyped-def]
    boxes = np.empty((count, 2, 3))
    boxes[:, 0, :] = np.inf
    boxes[:, 1, :] = -np.inf
    for t in range(triangles.shape[0]):
        e = element[t]
        for k in range(3):
            p = points[triangles[t, k]]
            for d in range(3):
                boxes[e, 0, d] = min(boxes[e, 0, d], p[d])
                boxes[e, 1, d] = max(boxes[e, 1, d], p[d])
    return boxes


def _meets(boxes: F64, window: Window) -> Flags:
    found: Flags = (
        (boxes[:, 1, 0] >= window[0])
        & (boxes[:, 1, 1] >= window[1])
        & (boxes[:, 0, 0] <= window[2])
        & (boxes[:, 0, 1] <= window[3])
    )
    return found
