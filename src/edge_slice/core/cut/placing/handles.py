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
LEAST = 0.001  # m²; a smaller face has no grip where one looks at the model
NARROW = 0.004  # metres; neither has one that is no wider: pieces of what is rounded
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


@dataclass(frozen=True)
class FlatFace:
    """A face by its plane, as in `Handle`, and its middle (3,), metres of the model."""

    looks: tuple[float, float, float]
    at: float
    middle: tuple[float, float, float]


def flat_faces(model: Model, element: int) -> list[FlatFace]:
    """The flat faces of an element but those of its layers, the largest first."""
    body = Body.of(model, element)
    normals, found = body.normals, []
    for rows in flat_sides(body):
        whole = normals[rows].sum(axis=0)
        area = float(np.linalg.norm(whole))
        looks = whole / max(area, 1e-300)
        long = float(np.ptp(body.corners[rows].reshape(-1, 3), axis=0).max())
        if area / 2 < max(LEAST, NARROW * long) or of_layers(model, element, looks):
            continue
        share = np.linalg.norm(normals[rows], axis=1)
        middle = (body.corners[rows].mean(axis=1) * share[:, None]).sum(axis=0) / share.sum()
        x, y, z = (np.round(looks, 9) + 0.0).tolist()
        at = float(middle @ looks + np.array(model.origin) @ looks)
        a, b, c = middle.tolist()
        found.append((area, FlatFace((x, y, z), at, (a, b, c))))
    return [face for _, face in sorted(found, key=lambda pair: (-round(pair[0], 6), pair[1].middle))][:MOST]


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
