"""A plane that somebody found in three dimensions as a cut of the kind that fits, and where it may come to rest."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, ElevationCut, ImpossibleCut, PlanCut, PlaneCut, SectionCut
from edge_slice.core.cut.planes.leaves import axes_square_to
from edge_slice.core.cut.planes.sets import plan_of
from edge_slice.core.cut.spec import Extents, Opening, Perspective
from edge_slice.core.model import Model
from edge_slice.core.solid.nearest import nearest_seen

F64 = NDArray[np.float64]
STRAIGHT = math.sin(math.radians(0.5))  # a plane that leans by less stands upright, or lies level
LEVEL = math.cos(math.radians(0.5))  # of its normal's height, from which a plane lies level
BESIDE = 1.0  # metres that a cutting line runs beyond the building
WIDE_ANGLE = 60.0  # degrees of view of a perspective
LEAST_FACE = 0.25  # square metres of faces in one plane for it to be a stop
NEAR = 0.002  # metres; stops nearer to each other are one
MOST_STOPS = 400
TIDY = 4  # decimals of a metre
AIR = 0.01  # metres between a parallel view's plane and the model
NEAREST = 0.3  # metres from the eye to the picture of a perspective, at least
BEFORE = 0.97  # of the way to the nearest thing


class View(NamedTuple):
    """Whence the model is looked at: the direction `towards` the viewer; of a perspective the `eye` (metres), how wide
    it sees (`angle`, degrees), and how many times wider than high."""

    towards: tuple[float, float, float]
    eye: tuple[float, float, float] | None = None
    angle: float = 60.0
    aspect: float = 1.5


class Plane(NamedTuple):
    """A point of a plane, metres in the model's axes, and its normal, which points to the viewer."""

    point: tuple[float, float, float]
    normal: tuple[float, float, float]


def cut_of_plane(
    model: Model,
    plane: Plane,
    reach: tuple[float, float],
    without: tuple[str, ...] = (),
    depth: float | None = None,
    perspective: bool = False,
) -> AnyCut:
    """A plan where the plane lies level, a section where it stands upright, an elevation where it stands clear before
    the building, else a cut in a free plane. `reach` as of `plans_of`; `depth`:
    metres, None for what is usual. Raises `ImpossibleCut` where nothing of the building lies behind it."""
    point, normal = plane
    n = unit(normal)
    low, high = model.bounds
    corners = np.array([(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    heights = (corners - np.array(point)) @ n
    if heights.min() >= 0:
        raise ImpossibleCut(
            "Nothing of the building lies behind this plane; turn it round or move it into the building."
        )
    if abs(n[2]) > LEVEL:
        return _plan(model, float(point[2]), n[2] > 0, reach, without, depth)
    eye = Perspective(field_of_view=WIDE_ANGLE) if perspective else None
    if abs(n[2]) > STRAIGHT:
        return PlaneCut(point=_tidy(np.array(point)), normal=_tidy(n), depth=depth, without=without, perspective=eye)
    along = np.array([-n[1], n[0], 0.0]) / math.hypot(n[0], n[1])
    spread = (corners - np.array(point)) @ along
    ends = [np.array(point) + along * at for at in (spread.min() - BESIDE, spread.max() + BESIDE)]
    (x0, y0, _), (x1, y1, _) = np.round(ends, TIDY).tolist()
    line = ((x0, y0), (x1, y1))
    if heights.max() <= 0:
        return ElevationCut(line=line, look="left", without=without, depth=depth, perspective=eye)
    return SectionCut(line=line, look="left", without=without, depth=depth, perspective=eye)


def view_cut(model: Model, view: View, openings: tuple[Opening, ...] = (), without: tuple[str, ...] = ()) -> PlaneCut:
    """A drawing of the building in three dimensions, opened. A parallel one lies in a plane before all of the model,
    and its zero is the middle of the building. Raises `ImpossibleCut` where nothing is seen."""
    n = unit(view.towards)
    if view.eye is not None:
        return _in_perspective(model, view, n).model_copy(update={"openings": openings, "without": without})
    boxes = model.boxes[np.isfinite(model.boxes[:, 0, 0])]
    nearest = float(np.where(n > 0, boxes[:, 1], boxes[:, 0]).dot(n).max()) + AIR
    middle = (model.bounds[0] + model.bounds[1]) / 2
    return PlaneCut(
        of="view", point=_tidy(middle + (nearest - middle @ n) * n), normal=_tidy(n), openings=openings, without=without
    )


def _in_perspective(model: Model, view: View, normal: F64) -> PlaneCut:
    """Its picture stands just before the nearest thing that is seen: the farther from the eye, the finer what lies
    behind it can be told apart."""
    assert view.eye is not None
    wide = math.tan(math.radians(view.angle) / 2)
    high = wide / view.aspect
    axes, eye = axes_square_to(view.eye, (normal[0], normal[1], normal[2])), np.array(view.eye)
    nearest = nearest_seen(model, eye, (axes.u, axes.v, axes.w), (wide, high))
    if not math.isfinite(nearest):
        raise ImpossibleCut("Nothing of the building is seen from there; turn to it.")
    at = round(max(NEAREST, nearest * BEFORE), TIDY)
    right, top = round(wide * at, TIDY), round(high * at, TIDY)
    return PlaneCut(
        of="view", point=_tidy(eye - at * normal), normal=_tidy(normal),
        extents=Extents(left=-right, right=right, base=-top, top=top), perspective=Perspective(distance=at, eye=(0, 0)),
    )  # fmt: skip


def moved_to_plane(model: Model, cut: AnyCut, found: AnyCut) -> AnyCut:
    """A drawing's cut in another plane, `found` by `cut_of_plane`: all else stays. Raises `ImpossibleCut` for a plane
    that its kind can't lie in."""
    if cut.kind != found.kind:
        raise ImpossibleCut(
            f"This drawing is a {cut.kind}, and the plane gives a {found.kind}; make a new drawing of it."
        )
    names = {"plan": ("storey", "height", "look"), "plane": ("point", "normal")}.get(cut.kind, ("line", "look"))
    change = {name: getattr(found, name) for name in names}
    if isinstance(cut, SectionCut):
        change["depths"] = ()  # it has one leg now
    return cut.model_copy(update=change)


def parent_level(model: Model, z: float) -> str:
    """The storey (GlobalId) whose plan shows a cut at a height: the highest one with its floor not above it."""
    below = [s for s in model.storeys if s.elevation <= z + NEAR]
    found = (
        max(below, key=lambda s: s.elevation) if below else min(model.storeys, key=lambda s: s.elevation, default=None)
    )
    return found.guid if found is not None else ""


@dataclass(frozen=True)
class Stop:
    """A place along a direction (metres from the model's origin) where a plane may come to rest, and what is there."""

    at: float
    says: str


def stops_along(model: Model, normal: tuple[float, float, float]) -> tuple[Stop, ...]:
    """Levels, grid lines, faces and middles of openings that a plane with this normal can lie in, in order."""
    n = unit(normal)
    found = [*_levels(model, n), *_grid(model, n), *_openings(model, n), *_faces(model, n)]
    kept: list[Stop] = []
    for stop in sorted(found, key=lambda s: s.at):  # of several at one place the first kind says its name
        if kept and stop.at - kept[-1].at < NEAR:
            continue
        kept.append(stop)
    return tuple(kept[:MOST_STOPS])


def _levels(model: Model, n: F64) -> list[Stop]:
    if abs(n[2]) < LEVEL:
        return []
    return [Stop(s.elevation * float(n[2]), f"level {s.name}") for s in model.storeys]


def _grid(model: Model, n: F64) -> list[Stop]:
    found = []
    for axis in model.grid:
        (x0, y0), (x1, y1) = axis.start, axis.end
        long = math.hypot(x1 - x0, y1 - y0)
        if long and abs(n[2]) < STRAIGHT and abs((x1 - x0) * n[0] + (y1 - y0) * n[1]) / long < STRAIGHT:
            found.append(Stop(float(x0 * n[0] + y0 * n[1]), f"grid {axis.name}"))
    return found


def _openings(model: Model, n: F64) -> list[Stop]:
    if abs(n[2]) > STRAIGHT:
        return []
    found = []
    for k, one in enumerate(model.elements):
        if one.kind in ("door", "window") and np.isfinite(model.boxes[k]).all():
            found.append(Stop(float(model.boxes[k].mean(axis=0) @ n), f"middle of {one.name or one.kind}"))
    return found


def _faces(model: Model, n: F64) -> list[Stop]:
    """Faces of the building square to the direction, the largest first where there are too many."""
    mesh = model.mesh
    area = np.linalg.norm(mesh.normals, axis=1) / 2
    facing = np.abs(mesh.normals @ n) / np.maximum(2 * area, 1e-12) > LEVEL
    facing &= model.standing[mesh.triangle_element]
    rows = np.flatnonzero(facing)
    if not len(rows):
        return []
    at = np.round(mesh.vertices[mesh.triangles[rows, 0]] @ n, 3)
    key = np.column_stack((at, mesh.triangle_element[rows]))
    places, index = np.unique(key, axis=0, return_inverse=True)
    sizes = np.bincount(index.ravel(), weights=area[rows])
    order = [k for k in np.argsort(-sizes).tolist() if sizes[k] >= LEAST_FACE][:MOST_STOPS]
    return [Stop(float(places[k, 0]), f"face of {_called(model, int(places[k, 1]))}") for k in order]


def _called(model: Model, element: int) -> str:
    return model.elements[element].name or model.elements[element].kind


def _plan(
    model: Model, z: float, down: bool, reach: tuple[float, float], without: tuple[str, ...], depth: float | None
) -> PlanCut:
    guid = parent_level(model, z)
    storey = next((s for s in model.storeys if s.guid == guid), None)
    if storey is None:
        raise ImpossibleCut("The model has no storey that a plan could belong to; lean the plane a little.")
    height = round(z - storey.elevation, TIDY)
    if not down:
        return PlanCut(storey=guid, height=height, look="up", depth=depth, without=without)
    plan = plan_of(storey, height, reach, without)
    return plan if depth is None else plan.model_copy(update={"depth": depth})


def unit(normal: tuple[float, float, float]) -> F64:
    """A normal of length 1. Raises `ImpossibleCut` for one of no length."""
    n = np.array(normal, dtype=np.float64)
    long = float(np.linalg.norm(n))
    if not np.isfinite(long) or long < 1e-9:
        raise ImpossibleCut("The plane's normal has no length.")
    return n / long


def _tidy(values: F64) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 6) for v in values)
    return x, y, z
