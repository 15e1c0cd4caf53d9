"""Ground of a project by hand: its points where an upright drawing can move them, and profiles drawn there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.planes.leaves import Axes, leaves_of
from edge_slice.core.cut.spec import AnyCut, ImpossibleCut
from edge_slice.core.model import Model
from edge_slice.core.model.ground.documents import (
    Ground,
    GroundRole,
    Grounds,
    LevelGround,
    PointsGround,
    ProfileGround,
)

F64 = NDArray[np.float64]
ROLES: tuple[GroundRole, ...] = ("existing", "proposed")
ALONG = 0.999  # cosine between a profile's line and a drawing, under which its points can't be moved there
BESIDE = 2.0  # metres from the plane of a drawing to points that it moves
ROUND = 3  # decimals of metres that hands give
MOST_HANDLES = 300


@dataclass(frozen=True)
class GroundHandle:
    """A point of a ground in a drawing: `index` among the points of its shape, (u, v) metres, and what moves it: its
    height alone, or its place too."""

    role: GroundRole
    index: int
    u: float
    v: float
    moves: Literal["height", "place"]


def upright_axes(model: Model, cut: AnyCut) -> Axes:
    """The axes of an upright drawing in one plane. Raises `ImpossibleCut` for another one."""
    leaves = leaves_of(model, cut) if cut.kind in ("section", "elevation", "interior elevation") else ()
    if len(leaves) != 1 or getattr(cut, "perspective", None) is not None:
        raise ImpossibleCut("Ground is drawn in a section or elevation along one straight line, without perspective.")
    return leaves[0].axes


def profile_of(model: Model, cut: AnyCut, points: list[tuple[float, float]]) -> ProfileGround:
    """A profile drawn through points (u, v), metres, of an upright drawing. Raises `ImpossibleCut`."""
    axes = upright_axes(model, cut)
    start, end = axes.origin[:2], (axes.origin + axes.u)[:2]
    heights = [(round(u, ROUND), round(v + float(axes.origin[2]), ROUND)) for u, v in points]
    once = tuple(sorted(set(heights)))  # a click twice on one place says no more than one
    return ProfileGround(start=_place(start), end=_place(end), heights=once)


def handles_of(model: Model, cut: AnyCut, grounds: Grounds) -> list[GroundHandle]:
    """What of the grounds an upright drawing can move: a level at its middle, the points of a profile that runs along
    it, and of points those near its plane, nearest first. Raises `ImpossibleCut`."""
    axes = upright_axes(model, cut)
    found: list[GroundHandle] = []
    for role in ROLES:
        ground = getattr(grounds, role)
        if ground is not None:
            found += _handles(model, axes, role, ground)
    return found


def _handles(model: Model, axes: Axes, role: GroundRole, ground: Ground) -> list[GroundHandle]:
    shape, base = ground.shape, float(axes.origin[2])
    if isinstance(shape, LevelGround):
        low, high = model.bounds
        edges = axes.to_drawing(np.array([low, high]))[:, 0] / 1000.0
        return [GroundHandle(role, 0, float(edges.min()) - 1.0, shape.height - base, "height")]
    if isinstance(shape, ProfileGround):
        if abs(float(shape.along @ axes.u[:2])) < ALONG:
            return []
        s, z = np.array(shape.heights).T
        places = shape.start + s[:, None] * shape.along
        u = (places - axes.origin[:2]) @ axes.u[:2]
        return [GroundHandle(role, k, float(u[k]), float(z[k] - base), "place") for k in range(len(u))]
    if isinstance(shape, PointsGround):
        points = np.array(shape.points)
        u, v, w = (axes.to_drawing(points) / 1000.0).T
        near = np.flatnonzero(np.abs(w) <= BESIDE)
        near = near[np.argsort(np.abs(w[near]), kind="stable")][:MOST_HANDLES]
        return [GroundHandle(role, int(k), float(u[k]), float(v[k]), "height") for k in near]
    return []


def moved(
    model: Model, cut: AnyCut, grounds: Grounds, which: tuple[GroundRole, int], to: tuple[float, float]
) -> Grounds:
    """The grounds with one point moved to (u, v), metres, in an upright drawing. Raises `ImpossibleCut` for a point
    that the drawing can't move, and ValueError for one that would leave no ground."""
    role, index = which
    axes = upright_axes(model, cut)
    held = next((h for h in handles_of(model, cut, grounds) if (h.role, h.index) == which), None)
    ground: Ground | None = getattr(grounds, role)
    if held is None or ground is None:
        raise ImpossibleCut("This point of the ground is not there any more, or lies too far from this drawing.")
    u, z = to[0], round(to[1] + float(axes.origin[2]), ROUND)
    shape = ground.shape
    if isinstance(shape, LevelGround):
        return _with(grounds, role, {"height": z})
    if isinstance(shape, PointsGround):
        return _with(grounds, role, {"points": shape.raised(index, z).points})
    assert isinstance(shape, ProfileGround)
    place = axes.origin[:2] + u * axes.u[:2]
    s = round(float((place - shape.start) @ shape.along), ROUND)
    return _with(grounds, role, {"heights": (*shape.heights[:index], (s, z), *shape.heights[index + 1 :])})


def _with(grounds: Grounds, role: GroundRole, change: dict[str, object]) -> Grounds:
    """The grounds with another shape of one, checked like any that is said."""
    document = grounds.model_dump()
    document[role]["shape"] |= change
    return Grounds.model_validate(document)


def _place(p: F64) -> tuple[float, float]:
    return round(float(p[0]), 6), round(float(p[1]), 6)
