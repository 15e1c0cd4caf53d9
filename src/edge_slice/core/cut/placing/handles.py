"""Where the flat faces of an element can be gripped in a drawing: those that are seen edge-on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.result import CutResult
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.pushing import of_layers
from edge_slice.core.model.corrections.sides import Body, flat_sides

F64 = NDArray[np.float64]
Spot = tuple[float, float]
EDGE_ON = 1e-3  # cosine between a face and the way one looks
SHORT = 0.02  # metres; a shorter edge has no grip
SAME = 1e-3  # metres; faces nearer to one plane are one
MOST = 40


@dataclass(frozen=True)
class Handle:
    """A face by its plane: the unit vector that it looks along, and how far along that it lies, metres as surveyed; its
    edge in the drawing, from `start` to `end`, and the unit vector `out` that it is pulled along there, mm."""

    looks: tuple[float, float, float]
    at: float
    start: Spot
    end: Spot
    out: Spot


def handles_of(model: Model, result: CutResult, element: int, of_its_layers: bool = False) -> list[Handle]:
    """The faces of an element that a drawing shows edge-on, the longest first; of one that is cut those that are, of
    its layers only where asked for. None in a perspective."""
    if result.lens is not None:
        return []
    axes, body = result.axes, Body.of(model, element)
    normals, away = body.normals, (body.corners - axes.origin) @ axes.w
    is_cut = bool(away.size) and float(away.min()) < 0.0 < float(away.max())
    planes: dict[tuple[float, ...], list[NDArray[np.int64]]] = {}
    for rows in flat_sides(body):
        looks = normals[rows].sum(axis=0)
        looks = looks / np.linalg.norm(looks)
        if abs(looks @ axes.w) > EDGE_ON or (of_layers(model, element, looks) and not of_its_layers):
            continue
        if is_cut and not away[rows].min() <= SAME <= away[rows].max() + 2 * SAME:
            continue
        offset = float(body.corners[rows].reshape(-1, 3).mean(axis=0) @ looks)
        planes.setdefault((*np.round(looks, 6).tolist(), round(offset / SAME)), []).append(rows)
    found = [_handle(model, result, body, np.concatenate(rows)) for rows in planes.values()]
    long = [h for h in found if _length(h) >= SHORT * 1000.0]
    return sorted(long, key=lambda h: (-round(_length(h), 3), h.start))[:MOST]


def _handle(model: Model, result: CutResult, body: Body, rows: NDArray[np.int64]) -> Handle:
    looks = body.normals[rows].sum(axis=0)
    looks = looks / np.linalg.norm(looks)
    corners = body.corners[rows].reshape(-1, 3)
    at = float((corners @ looks).mean() + looks @ np.array(model.origin))
    out = np.array((looks @ result.axes.u, looks @ result.axes.v))
    out = out / np.linalg.norm(out)
    along = np.array((-out[1], out[0]))
    flat = result.axes.to_drawing(corners)[:, :2]
    least, most = float((flat @ along).min()), float((flat @ along).max())
    foot = out * float((flat @ out).mean())
    (x, y, z), start, end = looks.tolist(), foot + along * least, foot + along * most
    return Handle((x, y, z), at, _spot(start), _spot(end), _spot(out))


def _spot(point: F64) -> Spot:
    u, v = point.tolist()
    return u, v


def _length(handle: Handle) -> float:
    return float(np.hypot(handle.end[0] - handle.start[0], handle.end[1] - handle.start[1]))
