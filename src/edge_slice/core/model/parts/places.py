"""Where a part model lies in the one that leads: by the map, by its own coordinates, by storeys and grid."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.model.building import Element, Model

F64 = NDArray[np.float64]
Vector = tuple[float, float, float]
By = Literal["map", "coordinates", "grid", "storeys", "hand"]
NEAR = 20.0  # metres; a part whose building lies no further beside the leading one's lies where it says
GRID_FIT = 0.02  # metres by which axes may miss each other
REACH = 1e6  # metres that a part may be moved by
LEVEL = 0.5  # metres; storeys of two parts nearer to each other are one


class PartPlace(BaseModel):
    """How a part is moved: turned by `turn` degrees anticlockwise round the zero of its file, then moved by `x`, `y`,
    `z` metres, both in the coordinates of files (as surveyed, before `Model.origin` is subtracted)."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    x: float = Field(default=0.0, ge=-REACH, le=REACH, allow_inf_nan=False)
    y: float = Field(default=0.0, ge=-REACH, le=REACH, allow_inf_nan=False)
    z: float = Field(default=0.0, ge=-REACH, le=REACH, allow_inf_nan=False)
    turn: float = Field(default=0.0, ge=-360.0, le=360.0, allow_inf_nan=False)


AS_IT_IS = PartPlace()


@dataclass(frozen=True)
class Proposed:
    """Where a part seems to lie, by what, whether that is sure, and why not or what else to know."""

    place: PartPlace
    by: By
    sure: bool
    says: str = ""


def placed(model: Model, place: PartPlace, origin: Vector) -> Model:
    """A part as it lies in the leading model: moved, and its coordinates measured from that one's origin."""
    if place == AS_IT_IS and model.origin == origin:
        return model
    turn = turning(place.turn)
    shift = turn @ np.array(model.origin) + np.array((place.x, place.y, place.z)) - np.array(origin)

    def at(point: Vector) -> Vector:
        x, y, z = (turn @ np.array(point) + shift).tolist()
        return x, y, z

    def along(direction: Vector) -> Vector:
        x, y, z = (turn @ np.array(direction)).tolist()
        return x, y, z

    def flat(point: tuple[float, float]) -> tuple[float, float]:
        return at((*point, 0.0))[:2]

    elements = tuple(element_at(e, at, along) for e in model.elements)
    dz = float(shift[2])
    return replace(
        model,
        mesh=replace(model.mesh, vertices=model.mesh.vertices @ turn.T + shift),
        elements=elements,
        storeys=tuple(replace(s, elevation=s.elevation + dz) for s in model.storeys),
        grid=tuple(replace(a, start=flat(a.start), end=flat(a.end)) for a in model.grid),
        spaces=tuple(
            replace(s, outline=tuple(flat(p) for p in s.outline), floor=s.floor + dz, ceiling=s.ceiling + dz)
            for s in model.spaces
        ),
        origin=origin,
        north=flat_direction(turn, model.north),
    )


def element_at(element: Element, at: Callable[[Vector], Vector], along: Callable[[Vector], Vector]) -> Element:
    """What an element says of its layers, its place and its flow, where its points come to lie `at` others and its
    directions run `along` others."""
    frame, placement, run = element.frame, element.placement, element.run
    if frame is not None:  # round an axis the first number of a direction only says in or out
        direction = frame.direction if frame.radius > 0 else along(frame.direction)
        frame = replace(frame, origin=at(frame.origin), direction=direction)
    if placement is not None:
        placement = replace(placement, origin=at(placement.origin), x=along(placement.x), y=along(placement.y))
    if run is not None:
        run = replace(run, flow=run.flow and along(run.flow))
    return replace(element, frame=frame, placement=placement, run=run)


def flat_direction(turn: F64, direction: tuple[float, float]) -> tuple[float, float]:
    x, y, _ = (turn @ np.array((*direction, 0.0))).tolist()
    return x, y


def proposed_place(leading: Model, part: Model) -> Proposed:
    """Where a part seems to lie in the model that leads."""
    found = _by_map(leading, part)
    if found is not None:
        return found
    by_grid = _by_grid(leading, part)
    if by_grid is not None and not _nearly(by_grid.place, AS_IT_IS):
        return by_grid  # also where it lies near as it is: the axes know better
    if _beside(leading, placed(part, AS_IT_IS, leading.origin)):
        return Proposed(AS_IT_IS, "coordinates", True)
    return by_grid or _by_storeys(leading, part)


def by_two_points(leading: tuple[Vector, Vector], part: tuple[Vector, Vector]) -> PartPlace:
    """The place that brings two points of a part (as its file has them, metres) onto two of the leading model: the
    first exactly, the second in its direction on plan. Raises `ValueError` where two of them lie over each other."""
    there, here = np.array(leading), np.array(part)
    a, b = (there[1] - there[0])[:2], (here[1] - here[0])[:2]
    if np.hypot(*a) < 1e-3 or np.hypot(*b) < 1e-3:
        raise ValueError("Two points of a pair lie over each other on plan; choose them further apart.")
    turn = math.degrees(math.atan2(a[1], a[0]) - math.atan2(b[1], b[0]))
    return _onto(there[0], here[0], (turn + 180.0) % 360.0 - 180.0)


def taken_back(point: Vector, place: PartPlace) -> Vector:
    """A point of a placed part as its own file has it."""
    x, y, z = (turning(place.turn).T @ (np.array(point) - np.array((place.x, place.y, place.z)))).tolist()
    return x, y, z


def turning(degrees: float) -> F64:
    """The matrix (3, 3) that turns points anticlockwise on plan."""
    quarter, rest = divmod(degrees, 90.0)
    if rest == 0.0:  # exactly: no rounding of cosines
        c, s = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarter) % 4]
    else:
        c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])


@dataclass(frozen=True)
class InFile:
    """How a part of a model lies in its file: `matrix` (4, 4) brings a place of the model, metres, to where the file
    has it, metres; `part` is its number in `Model.parts`."""

    matrix: F64
    part: int = 0

    @staticmethod
    def of(origin: Vector, place: PartPlace, part: int = 0) -> InFile:
        """Of a part that lies at a place in a model measured from `origin`."""
        matrix = np.eye(4)
        matrix[:3, :3] = turning(place.turn).T
        matrix[:3, 3] = taken_back(origin, place)
        return InFile(matrix, part)


def _onto(there: F64, here: F64, turn: float) -> PartPlace:
    """A turn, and the shift that then brings one point onto another."""
    x, y, z = (there - turning(turn) @ here).tolist()
    return PartPlace(x=round(x, 6), y=round(y, 6), z=round(z, 6), turn=round(turn, 9))


def _by_map(leading: Model, part: Model) -> Proposed | None:
    a, b = leading.map_place, part.map_place
    if a is None or b is None:
        return None
    turn = math.degrees(math.atan2(b.x_axis[1], b.x_axis[0]) - math.atan2(a.x_axis[1], a.x_axis[0]))
    east, north = b.eastings - a.eastings, b.northings - a.northings
    x = (east * a.x_axis[0] + north * a.x_axis[1]) / a.scale
    y = (-east * a.x_axis[1] + north * a.x_axis[0]) / a.scale
    try:
        place = PartPlace(
            x=round(x, 6), y=round(y, 6), z=round(b.height - a.height, 6), turn=round((turn + 180.0) % 360.0 - 180.0, 9)
        )
    except ValueError:
        return Proposed(AS_IT_IS, "hand", False, "By their maps both files lie more than 1,000 km from each other.")
    if a.system != b.system:
        said = f"The files name different systems of the map ({a.system or 'none'}, {b.system or 'none'})."
        return Proposed(place, "map", False, said)
    if not _beside(leading, placed(part, place, leading.origin)):
        return Proposed(place, "map", False, "By the map the part does not lie at the building.")
    return Proposed(place, "map", True)


def _nearly(one: PartPlace, other: PartPlace) -> bool:
    gaps = (one.x - other.x, one.y - other.y, one.z - other.z)
    return max(abs(g) for g in gaps) < GRID_FIT and abs(one.turn - other.turn) < 0.01


def _beside(leading: Model, part: Model) -> bool:
    """Whether the building of a part lies at that of the leading model."""
    (low, high), (own_low, own_high) = leading.bounds, part.bounds
    return bool(((own_low <= high + NEAR) & (low - NEAR <= own_high)).all())


def _by_grid(leading: Model, part: Model) -> Proposed | None:
    """By axes of the same name, where they fit in two directions."""
    there = {a.name: np.array((a.start, a.end)) for a in leading.grid if a.name}
    pairs = [(there[a.name], np.array((a.start, a.end))) for a in part.grid if a.name in there]
    if len(pairs) < 2:
        return None
    turns = [_bearing(a) - _bearing(b) for a, b in pairs]
    turn = (math.degrees(turns[0]) + 180.0) % 360.0 - 180.0
    if any(abs(math.sin(t - turns[0])) > 1e-3 for t in turns):
        return None
    whole = turning(turn)[:2, :2]
    normals = np.array([_normal(a) for a, _ in pairs])
    if np.linalg.matrix_rank(normals, tol=0.1) < 2:
        return None
    gaps = np.array([n @ (a[0] - whole @ b[0]) for n, (a, b) in zip(normals, pairs, strict=True)])
    shift, *_ = np.linalg.lstsq(normals, gaps, rcond=None)
    misses = np.abs(normals @ shift - gaps)
    height, says = _height(leading, part)
    origin, own = np.array(leading.origin), np.array(part.origin)
    back = turning(turn) @ own
    place = PartPlace(
        x=round(float(shift[0] + origin[0] - back[0]), 6), y=round(float(shift[1] + origin[1] - back[1]), 6),
        z=round(height + float(origin[2] - own[2]), 6), turn=round(turn, 9),
    )  # fmt: skip
    if misses.max() > GRID_FIT:
        return Proposed(place, "grid", False, f"Axes of the same names miss each other by {misses.max():.3f} m.")
    return Proposed(place, "grid", not says, says)


def _bearing(axis: F64) -> float:
    return math.atan2(axis[1, 1] - axis[0, 1], axis[1, 0] - axis[0, 0])


def _normal(axis: F64) -> F64:
    along = axis[1] - axis[0]
    normal: F64 = np.array((-along[1], along[0])) / max(float(np.hypot(*along)), 1e-12)
    return normal


def _height(leading: Model, part: Model) -> tuple[float, str]:
    """By how much a part is to be lifted so that storeys of the same name meet, and what speaks against it."""
    there = {s.name.strip().casefold(): s.elevation for s in leading.storeys}
    lifts = [there[name] - s.elevation for s in part.storeys if (name := s.name.strip().casefold()) in there]
    if not lifts:
        return 0.0, "No storey of the part has the name of one of the leading model: check its height."
    middle = float(np.median(lifts))
    if max(abs(lift - middle) for lift in lifts) > LEVEL:
        return middle, "Storeys of the same names have other heights above each other: check the part's height."
    return middle, ""


def _by_storeys(leading: Model, part: Model) -> Proposed:
    """Heights by the storeys; on plan as the files have it, which is surely not right."""
    height, _ = _height(leading, part)
    z = round(height + leading.origin[2] - part.origin[2], 6)
    says = "Nothing in the files says where the part lies: place it by hand, by two points or by numbers."
    return Proposed(PartPlace(z=z), "storeys" if height else "hand", False, says)
