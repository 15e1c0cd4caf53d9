"""What bodies measure: volumes of elements, of their layers and of parts of one material, from their faces.

The volume of a closed body before a plane follows from the faces before it alone (Gauss's theorem with the distance
from the plane, which is nought where the plane closes the body), so layers need no bodies of their own. Within an
upright cylinder it follows from the faces in it likewise (with the height, as a cylinder's side faces neither up nor
down)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.model import Element, Layer, LayerFrame, Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
UPRIGHT = 1e-12  # faces that are steeper, as a share, have nothing over them


@dataclass(frozen=True)
class Quantities:
    """Of a model. `volume` (e,) m³ of each element, nan where its body is not closed; `layers`: by element the volumes
    of its layers, m³; `parts`: by element and material the volume, m³."""

    volume: F64
    layers: dict[int, F64]
    parts: dict[tuple[int, int], float]


def quantities_of(model: Model) -> Quantities:
    mesh = model.mesh
    count, materials = len(model.elements), len(model.materials)
    closed = np.ones(count, dtype=bool)
    closed[list(model.leaking)] = False
    key = mesh.triangle_element.astype(np.int64) * (materials + 1) + model.triangle_materials
    base = np.zeros((count, 3))
    shaped = np.isfinite(model.boxes[:, 0, 0])
    base[shaped] = model.boxes[shaped, 0]
    by_part: F64 = np.bincount(  # type: ignore[assignment]
        key, _solid(mesh.vertices, mesh.triangles, mesh.triangle_element, base), count * (materials + 1)
    )
    volume = by_part.reshape(count, materials + 1).sum(axis=1)
    volume[~closed] = np.nan
    layers = {
        k: _layer_volumes(model, e)
        for k, e in enumerate(model.elements)
        if e.frame is not None and e.build_up >= 0 and closed[k] and shaped[k]
    }
    return Quantities(volume, layers, _parts(model, by_part.reshape(count, materials + 1), closed, layers))


def _parts(
    model: Model, by_part: F64, closed: NDArray[np.bool_], layers: dict[int, F64]
) -> dict[tuple[int, int], float]:
    found: dict[tuple[int, int], float] = {}
    for k, element in enumerate(model.elements):
        if k in layers:
            of = [layer.material for layer in model.build_ups[element.build_up].layers]
            for material, volume in zip(of, layers[k].tolist(), strict=True):
                found[k, material] = found.get((k, material), 0.0) + volume
        elif closed[k]:
            for material in np.flatnonzero(np.abs(by_part[k, :-1]) > 0).tolist():
                found[k, material] = float(by_part[k, material])
    return found


def _layer_volumes(model: Model, element: Element) -> F64:
    assert element.frame is not None
    triangles = model.element_triangles(model.element_by_guid[element.guid])
    if element.frame.radius > 0:
        return _ring_volumes(triangles, element.frame, model.build_ups[element.build_up].layers)
    direction = np.array(element.frame.direction)
    deep = (triangles - np.array(element.frame.origin)) @ direction
    ends = np.cumsum([layer.thickness for layer in model.build_ups[element.build_up].layers])
    bounds = np.concatenate((ends[:-1], [max(float(deep.max()), float(ends[-1]))]))  # the last has what is beyond it
    before = _before(triangles, deep, direction, bounds)
    found: F64 = np.diff(before, prepend=0.0)
    return found


def _ring_volumes(triangles: F64, frame: LayerFrame, layers: Sequence[Layer]) -> F64:
    """Of layers round an upright axis; the first and the last have what is beyond them."""
    sign = 1.0 if frame.direction[0] > 0 else -1.0
    radii = frame.radius + sign * np.cumsum([layer.thickness for layer in layers])[:-1]
    centre = np.array([*frame.origin[:2], float(triangles[..., 2].min())])
    far = float(np.hypot(*np.moveaxis((triangles - centre)[..., :2], -1, 0)).max()) + 1.0
    within = _within(triangles - centre, np.append(radii, far))
    whole, inside = within[-1], within[:-1]
    found: F64 = np.diff(inside if sign > 0 else whole - inside, prepend=0.0, append=whole)
    return found


@njit(cache=True, nogil=True)
def _within(triangles: F64, radii: F64) -> F64:
    """The volume (b,) of a closed body within upright cylinders about the origin; triangles (n, 3, 3). Over each of
    them the height is summed up where it lies in the circle: for every side the triangle from the middle to what of it
    is inside, and the sector to what is outside."""
    out = np.zeros(len(radii))
    cuts = np.empty(4)
    for t in range(triangles.shape[0]):
        p = triangles[t]
        u, v = p[1] - p[0], p[2] - p[0]
        nx, ny, nz = u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]
        if abs(nz) <= UPRIGHT * (abs(nx) + abs(ny) + abs(nz)):
            continue
        gx, gy = -nx / nz, -ny / nz
        z = p[0, 2] - gx * p[0, 0] - gy * p[0, 1]
        for k in range(len(radii)):
            r = radii[k]
            for j in range(3):
                ax, ay = p[j, 0], p[j, 1]
                dx, dy = p[(j + 1) % 3, 0] - ax, p[(j + 1) % 3, 1] - ay
                long = dx * dx + dy * dy
                if long == 0:
                    continue
                b = (ax * dx + ay * dy) / long
                root = b * b - (ax * ax + ay * ay - r * r) / long
                count = 1
                cuts[0] = 0.0
                if root > 0:
                    for s in (-b - np.sqrt(root), -b + np.sqrt(root)):
                        if 0 < s < 1:
                            cuts[count] = s
                            count += 1
                cuts[count] = 1.0
                for i in range(count):
                    x0, y0 = ax + dx * cuts[i], ay + dy * cuts[i]
                    x1, y1 = ax + dx * cuts[i + 1], ay + dy * cuts[i + 1]
                    mx, my = (x0 + x1) / 2, (y0 + y1) / 2
                    across = x0 * y1 - x1 * y0
                    if mx * mx + my * my <= r * r:
                        out[k] += across / 2 * (z + (gx * (x0 + x1) + gy * (y0 + y1)) / 3)
                    else:
                        turn = np.arctan2(across, x0 * x1 + y0 * y1)
                        first = np.arctan2(y0, x0)
                        last = first + turn
                        out[k] += z * r * r / 2 * turn
                        out[k] += r**3 / 3 * (gx * (np.sin(last) - np.sin(first)) + gy * (np.cos(first) - np.cos(last)))
    return out


@njit(cache=True, nogil=True)
def _solid(points: F64, triangles, owner, base: F64) -> F64:  # type: ignore[no-untyped-def]
    """The volume between each triangle (m,) and the base (e, 3) of its element."""
    out = np.empty(triangles.shape[0])
    for t in range(triangles.shape[0]):
        o = base[owner[t]]
        a, b, c = points[triangles[t, 0]] - o, points[triangles[t, 1]] - o, points[triangles[t, 2]] - o
        out[t] = (
            a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0])
        ) / 6
    return out


@njit(cache=True, nogil=True)
def _before(triangles: F64, deep: F64, direction: F64, bounds: F64) -> F64:
    """The volume (b,) of a closed body before planes across a direction; triangles (n, 3, 3), their depths (n, 3)."""
    out = np.zeros(len(bounds))
    ring, depth = np.empty((4, 3)), np.empty(4)
    for t in range(triangles.shape[0]):
        for k in range(len(bounds)):
            count = 0
            for j in range(3):
                p, q = triangles[t, j], triangles[t, (j + 1) % 3]
                a, b = deep[t, j] - bounds[k], deep[t, (j + 1) % 3] - bounds[k]
                if a <= 0:
                    ring[count], depth[count] = p, a
                    count += 1
                if (a < 0 < b) or (b < 0 < a):
                    ring[count], depth[count] = p + a / (a - b) * (q - p), 0.0
                    count += 1
            for j in range(1, count - 1):
                u, v = ring[j] - ring[0], ring[j + 1] - ring[0]
                across = (
                    (u[1] * v[2] - u[2] * v[1]) * direction[0]
                    + (u[2] * v[0] - u[0] * v[2]) * direction[1]
                    + (u[0] * v[1] - u[1] * v[0]) * direction[2]
                )
                out[k] += across / 2 * (depth[0] + depth[j] + depth[j + 1]) / 3
    return out


@dataclass(frozen=True)
class Disagreement:
    """A quantity that the file says and its body has otherwise, in m² or m³."""

    element: Element
    what: str
    said: float
    found: float


def volumes_said(model: Model) -> dict[int, float]:
    """The net volumes that the file says, m³, by element."""
    found = {}
    for k, element in enumerate(model.elements):
        for name, value in element.properties:
            if name.endswith(": NetVolume"):
                try:
                    found[k] = float(value)
                except ValueError:
                    continue
    return found


def disagreements(model: Model, said: dict[int, float], quantities: Quantities) -> list[Disagreement]:
    """Of net volumes that are said those that bodies have otherwise, by more than SHARE and LEAST."""
    return [
        Disagreement(model.elements[k], "net volume", volume, found)
        for k, volume in said.items()
        if abs(volume - (found := float(quantities.volume[k]))) > max(SHARE * found, LEAST)
    ]


SHARE, LEAST = 0.01, 0.001  # of a volume, and m³, that a file may round by
