"""Cuts that are set up together: elevations of the building, of a room's walls, and plans of every storey."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.spec import ElevationCut, Extents, ImpossibleCut, Place, PlanCut
from edge_slice.core.model import Model, Space, Storey

F64 = NDArray[np.float64]
PLAN_HEIGHT = 1.2  # metres above its floor at which a plan is cut, where nothing else is said
CLEAR = 2.0  # metres between an elevation's plane and the building
INTO_ROOM = 1.2  # metres at most from an interior elevation's plane to its wall
BEYOND_WALL = 0.6  # metres behind the face of the wall that still show, so that openings read
LEAST_WALL = 0.3  # metres; shorter sides of a room get no elevation of their own
WINDS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


def bearing(model: Model, x: float, y: float) -> float:
    """Degrees clockwise from true north of a direction in the model's plan, 0 to 360."""
    nx, ny = model.north
    return math.degrees(math.atan2(x * ny - y * nx, x * nx + y * ny)) % 360


def wind(degrees: float) -> str:
    """The nearest of eight winds."""
    return WINDS[round(degrees / 45) % 8]


def elevation_facing(model: Model, degrees: float, without: tuple[str, ...] = ()) -> ElevationCut:
    """The elevation of the side that faces a bearing (degrees clockwise from true north): its plane stands clear
    of the building, wide enough for all of it."""
    nx, ny = model.north
    a = math.radians(degrees)
    return _elevation(
        model, np.array([ny * math.sin(a) + nx * math.cos(a), ny * math.cos(a) - nx * math.sin(a)]), without
    )


def elevations_of(model: Model, without: tuple[str, ...] = ()) -> tuple[ElevationCut, ...]:
    """The four elevations square to the model's axes, from the side nearest north on clockwise."""
    sides = [np.array(d, dtype=np.float64) for d in ((0, 1), (1, 0), (0, -1), (-1, 0))]
    facing = [bearing(model, float(d[0]), float(d[1])) for d in sides]
    first = min(range(4), key=lambda k: abs((facing[k] + 180) % 360 - 180))
    return tuple(_elevation(model, sides[(first + k) % 4], without) for k in range(4))


def square_to(model: Model, degrees: float) -> float:
    """The bearing of the side of the building (square to the model's axes) that is nearest to a bearing."""
    facing = [bearing(model, x, y) for x, y in ((0, 1), (1, 0), (0, -1), (-1, 0))]
    return min(facing, key=lambda f: abs((f - degrees + 180) % 360 - 180))


def _elevation(model: Model, outward: F64, without: tuple[str, ...]) -> ElevationCut:
    low, high = model.bounds
    corners = np.array([(x, y) for x in (low[0], high[0]) for y in (low[1], high[1])])
    along = np.array([-outward[1], outward[0]])  # to the right, looking at the building
    at = float((corners @ outward).max()) + CLEAR
    left, right = float((corners @ along).min()) - CLEAR, float((corners @ along).max()) + CLEAR
    a, b = along * left + outward * at, along * right + outward * at
    return ElevationCut(line=(_place(a), _place(b)), look="left", without=without)


def _place(p: F64) -> Place:
    return round(float(p[0]), 4), round(float(p[1]), 4)


def facing_of(model: Model, cut: ElevationCut) -> float:
    """The bearing that the drawn side faces: against the view."""
    (x0, y0), (x1, y1) = cut.line
    side = 1.0 if cut.look == "left" else -1.0
    return bearing(model, (y1 - y0) * side, -(x1 - x0) * side)


def interior_elevations_of(model: Model, guid: str, without: tuple[str, ...] = ()) -> tuple[ElevationCut, ...]:
    """One elevation for each wall of a room, from the wall nearest north on clockwise: as wide as the room is
    there, from its floor to its ceiling. Raises `ImpossibleCut` for a room that is not in the model or has no
    outline."""
    space = next((s for s in model.spaces if s.guid == guid), None)
    if space is None:
        raise ImpossibleCut("This room is not in the model; choose another one.")
    ring = _walls(space)
    if len(ring) < 3:
        raise ImpossibleCut(f"Room {space.number or space.name} has no outline in the model.")
    room = shapely.Polygon(ring)
    found = []
    for a, b in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        length = float(np.hypot(*(b - a)))
        if length >= LEAST_WALL:
            out = np.array([b[1] - a[1], a[0] - b[0]]) / length  # the ring runs against the clock
            found.append((bearing(model, float(out[0]), float(out[1])), _interior(space, room, a, b, out, without)))
    from_north = sorted(found, key=lambda row: (row[0] + 45.0) % 360)
    return tuple(cut for _, cut in from_north)


def _walls(space: Space) -> F64:
    """The room's outline against the clock, without corners that lie on a straight wall."""
    ring = np.array(space.outline, dtype=np.float64).reshape(-1, 2)
    if len(ring) < 3:
        return ring
    polygon = shapely.orient_polygons(shapely.simplify(shapely.Polygon(ring), 0.001), exterior_cw=False)
    return np.asarray(polygon.exterior.coords)[:-1] if polygon.geom_type == "Polygon" else ring[:0]


def _interior(space: Space, room: shapely.Polygon, a: F64, b: F64, out: F64, without: tuple[str, ...]) -> ElevationCut:
    along = np.array([out[1], -out[0]])  # to the right, looking at the wall
    ring = np.asarray(room.exterior.coords)
    behind = float(((a - ring) @ out).max())  # how far the room reaches back from the wall
    stand = min(INTO_ROOM, behind / 2)
    middle = (a + b) / 2 - out * stand
    far = along * 1e3
    chords = [
        g for g in shapely.get_parts(shapely.intersection(room, shapely.LineString([middle - far, middle + far])))
    ]
    chord = min(chords, key=lambda g: g.distance(shapely.Point(middle)), default=None)
    ends = np.asarray(chord.coords) if chord is not None and len(chord.coords) > 1 else np.array([a, b]) - out * stand
    across = np.concatenate((ends, [a - out * stand, b - out * stand])) @ along
    level = float(middle @ out)
    line = (along * across.min() + out * level, along * across.max() + out * level)
    return ElevationCut(
        kind="interior elevation",
        line=(_place(line[0]), _place(line[1])),
        look="left",
        space=space.guid,
        depth=round(stand + BEYOND_WALL, 3),
        extents=Extents(base=round(space.floor, 4), top=round(space.ceiling, 4)),
        without=without,
    )


def plans_of(
    model: Model,
    reach: tuple[float, float],
    look: str = "down",
    heights: dict[str, float] | None = None,
    without: tuple[str, ...] = (),
) -> tuple[PlanCut, ...]:
    """A plan (or ceiling plan, `look` "up") of each storey that walls or columns stand on; of all, where none is
    said to. Cut 1.2 m above the floor, or at `heights` by the storey's GlobalId. `reach`: how far a plan looks down
    below its floor, and up above its cut for what it shows dashed, metres; a ceiling plan looks up to the next storey's
    floor. Raises `ImpossibleCut` when `heights` names a storey that is not in the model."""
    strange = set(heights or {}) - {s.guid for s in model.storeys}
    if strange:
        raise ImpossibleCut(f"Storey {min(strange)} is not in the model; choose another one.")
    elevations = [s.elevation for s in model.storeys]
    used = {e.storey for e in model.elements if e.kind in ("wall", "column") and e.storey >= 0}
    cuts = []
    for index, storey in enumerate(model.storeys):
        if used and index not in used:
            continue
        height = (heights or {}).get(storey.guid, PLAN_HEIGHT)
        if look == "up":
            above = min((e for e in elevations if e > storey.elevation + 2.0), default=model.bounds[1][2])
            depth = max(0.5, float(above) - storey.elevation - height)
            cut = PlanCut(storey=storey.guid, height=height, look="up", depth=round(depth, 3), without=without)
        else:
            cut = plan_of(storey, height, reach, without)
        cuts.append(cut)
    return tuple(cuts)


def plan_of(storey: Storey, height: float, reach: tuple[float, float], without: tuple[str, ...] = ()) -> PlanCut:
    """The plan of one storey, looking down; `reach` as for `plans_of`."""
    below, overhead = reach
    depth = round(max(0.01, height + below), 3)
    return PlanCut(storey=storey.guid, height=height, depth=depth, overhead=overhead, without=without)
