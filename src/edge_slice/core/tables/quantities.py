"""What bodies measure: volumes of elements, of their layers and of parts of one material, from their faces.

The volume of a closed body before a plane follows from the faces before it alone (Gauss's theorem with the distance
from the plane, which is nought where the plane closes the body), so layers need no bodies of their own."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.model import Element, Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]


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
        if e.frame is not None and e.build_up >= 0 and e.frame.radius == 0 and closed[k] and shaped[k]
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
    direction = np.array(element.frame.direction)
    triangles = model.element_triangles(model.element_by_guid[element.guid])
    deep = (triangles - np.array(element.frame.origin)) @ direction
    ends = np.cumsum([layer.thickness for layer in model.build_ups[element.build_up].layers])
    bounds = np.concatenate((ends[:-1], [max(float(deep.max()), float(ends[-1]))]))  # the last has what is beyond it
    before = _before(triangles, deep, direction, bounds)
    found: F64 = np.diff(before, prepend=0.0)
    return found


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
