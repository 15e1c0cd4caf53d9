"""Straight flights of steps with another number of risers, another going or rise, or up the other way: treads and
risers that are bodies of their own come as often as there are steps, what goes along the flight follows its slope, and
a flight in one piece gets other steps above the same soffit."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.documents import OtherFlight
from edge_slice.core.model.corrections.faces import NEAR
from edge_slice.core.model.corrections.new_bodies import body_between
from edge_slice.core.model.corrections.sides import Body, bounds
from edge_slice.core.model.corrections.wanted import LEAKS, Told, Wanted
from edge_slice.core.model.flights import Flight, Steps, flight_of
from edge_slice.core.model.mesh.pieces import solids

F64 = NDArray[np.float64]
STRAIGHT = 0.05  # metres that the middles of treads may lie beside one line, and goings differ
OF_A_STEP = 1.6  # goings that a piece which belongs to one step reaches along the flight at most
SIDE = 0.9999  # cosine between where a side looks and the way across a flight
STEPPED = 3  # treads that a piece has at least which is a flight in itself
LEAST_TREADS = 2
NO_FLIGHT = "It is no flight of steps that can be told apart."
TOO_FEW = "Two treads or more make a flight."
TURNS = "It is not straight, or its steps are not alike."
NO_PROFILE = "It is in one piece, and not of the same profile all across."
CROSSES = "Its soffit would cross its steps."
FACES = "Its faces are put elsewhere by other corrections."


def sort_flight(model: Model, one: OtherFlight, wanted: Wanted, say: Told) -> None:
    """Have other steps, where a newer file doesn't have them so already."""
    k = say.known(model, one.element)
    if k is None:
        return
    found = steps_of(model, k)
    if isinstance(found, str) or k in wanted.bodies:
        say.refused.append(found if isinstance(found, str) else FACES)
        return
    shall = _as_said(found, one)
    turned = float(shall.way @ found.way) < 0
    if _same(found, shall) and not turned:
        say.already += 1
        return
    made = _made(Body.of(model, k), found, shall)
    if isinstance(made, str):
        say.refused.append(made)
        return
    points = _turned(made.points) if turned else made.points
    if (motion := wanted.moved.get(k)) is not None:
        points = points @ motion.turn.T + motion.shift
    say.elements += 1
    say.changed += one.had is not None and not _same(found, _had(found, one.had))
    wanted.rebuilt[k] = replace(made, points=points)
    wanted.flights[k] = shall


def steps_of(model: Model, k: int) -> Steps | str:
    """The steps of an element, or why they can't be others."""
    flight = flight_of(model, k) if model.elements[k].kind == "stair" else None
    if flight is None:
        return NO_FLIGHT
    if k in model.leaking:
        return LEAKS
    return _steps(flight, [storey.elevation for storey in model.storeys]) or TURNS


def _steps(flight: Flight, levels: list[float]) -> Steps | None:
    whole = flight.middles[-1] - flight.middles[0]
    far = float(np.hypot(*whole))
    if far < NEAR:
        return None
    way = whole / far
    aside = (flight.middles - flight.middles[0]) @ np.array((-way[1], way[0]))
    starts = np.array([float((shapely.get_coordinates(o) @ way).min()) for o in flight.outlines])
    goings, rises = np.diff(starts), np.diff(flight.heights)
    going = float(np.median(goings))
    even = np.abs(goings - going).max() < STRAIGHT and np.abs(rises - flight.rise).max() < STRAIGHT
    if np.abs(aside).max() > STRAIGHT or not even or going < STRAIGHT:
        return None
    rise = float(rises.mean())
    base = float(flight.heights[0]) - rise
    return Steps(
        np.array((*way, 0.0)), float(starts[-1]) - going * (len(starts) - 1), base, going, rise,
        flight.risers(levels), len(starts),
    )  # fmt: skip


def _as_said(now: Steps, one: OtherFlight) -> Steps:
    """The steps as they shall be: from the same foot, and as high together unless their rise is said."""
    rise = one.rise if one.rise is not None else now.rise * now.risers / one.risers
    treads = one.risers - (now.risers - now.treads)
    before = now if one.had is None else _had(now, one.had)
    way = -before.way if one.other_way else before.way
    return replace(now, going=one.going, rise=rise, risers=one.risers, treads=treads, way=way)


def said_of(steps: Steps) -> tuple[int, float, float, float]:
    """The steps that a flight has, as a correction remembers them."""
    x, y, _ = steps.way.tolist()
    return steps.risers, round(steps.rise, 6), round(steps.going, 6), round(math.degrees(math.atan2(y, x)), 3)


def _had(now: Steps, had: tuple[int, float, float, float]) -> Steps:
    """Steps as a correction remembers them."""
    risers, rise, going, angle = had
    way = np.array((math.cos(math.radians(angle)), math.sin(math.radians(angle)), 0.0))
    return replace(now, risers=risers, rise=rise, going=going, way=way)


def _same(one: Steps, other: Steps) -> bool:
    measures = max(abs(one.going - other.going), abs(one.rise - other.rise))
    return one.risers == other.risers and measures < NEAR


def _made(body: Body, now: Steps, shall: Steps) -> Body | str:
    """A body with other steps, or why that can't be."""
    if shall.treads < LEAST_TREADS:
        return TOO_FEW
    number = solids(body.points, body.triangles)
    pieces = [_piece(body, number == n) for n in np.unique(number)]
    made: list[Body] = []
    for piece in pieces:
        along = piece.points @ now.way
        if np.ptp(along) < OF_A_STEP * now.going:
            step = int(np.floor(((along.min() + along.max()) / 2 - now.start) / now.going + 0.25))
            made += [_at_step(piece, step, j, now, shall) for j in _become(step, now.treads, shall.treads)]
        elif _treads(piece) >= STEPPED:
            stepped = _in_one_piece(piece, now, shall)
            if isinstance(stepped, str):
                return stepped
            made.append(stepped)
        else:
            made.append(replace(piece, points=_along(piece.points, now, shall)))
    return _together(made)


def _piece(body: Body, rows: NDArray[np.bool_]) -> Body:
    own, triangles = np.unique(body.triangles[rows], return_inverse=True)
    return Body(body.points[own], triangles.reshape(-1, 3).astype(np.int64), body.materials[rows])


def _together(pieces: list[Body]) -> Body:
    counts = np.cumsum([0, *(len(piece.points) for piece in pieces)])
    return Body(
        np.concatenate([piece.points for piece in pieces]),
        np.concatenate([piece.triangles + count for piece, count in zip(pieces, counts[:-1].tolist(), strict=True)]),
        np.concatenate([piece.materials for piece in pieces]),
    )


def _treads(piece: Body) -> int:
    """How many level surfaces at different heights a piece has."""
    normals = piece.normals
    level = normals[:, 2] > 0.999 * np.maximum(np.linalg.norm(normals, axis=1), 1e-300)
    return len(np.unique(np.rint(piece.corners[level][:, :, 2].mean(axis=1) / NEAR)))


def _become(step: int, now: int, shall: int) -> list[int]:
    """Which steps become as one of them is (numbered from 0), where there shall be another number of them: the first
    and the last, and what is before and after them, stay what they are; all between are as the middle one."""
    if step <= 0:
        return [step]
    if step >= now - 1:
        return [step - now + shall]
    return list(range(1, shall - 1)) if step == now // 2 else []


def _at_step(piece: Body, step: int, j: int, now: Steps, shall: Steps) -> Body:
    """What belongs to one step as it is at another one: as far longer as these go further, and as much higher, unless
    it is a board of which that is the thickness."""
    along = piece.points @ now.way - now.start - step * now.going
    up = piece.points[:, 2] - now.base - (step + 1) * now.rise
    deep, high = np.ptp(along) > now.going / 2, np.ptp(up) > now.rise / 2
    further = np.where(deep & (along > (along.min() + along.max()) / 2), shall.going - now.going, 0.0)
    lower = np.where(high & (up < (up.min() + up.max()) / 2), now.rise - shall.rise, 0.0)
    points = piece.points + np.outer(further + j * shall.going - step * now.going, now.way)
    points[:, 2] += lower + (j + 1) * shall.rise - (step + 1) * now.rise
    return replace(piece, points=points)


def _along(points: F64, now: Steps, shall: Steps) -> F64:
    """Points (n, 3) of what goes along a flight, as its slope becomes another one; what stands on its foot stays."""
    along = points @ now.way
    within = np.clip(along - now.start, 0.0, now.run)
    other = along + within * (shall.run / now.run - 1.0)
    found = points + np.outer(other - along, now.way)
    found[:, 2] += shall.slope(other) - now.slope(along)
    foot = points[:, 2] < points[:, 2].min() + NEAR
    found[foot] = points[foot]
    return found


def _in_one_piece(piece: Body, now: Steps, shall: Steps) -> Body | str:
    """A flight in one piece, of one profile all across, with other steps above its soffit."""
    across = np.cross(now.way, (0.0, 0.0, 1.0))
    flat = np.column_stack((piece.points @ now.way, piece.points[:, 2]))
    low, high = float((piece.points @ across).min()), float((piece.points @ across).max())
    normals = piece.normals
    side = piece.triangles[normals @ across > SIDE * np.linalg.norm(normals, axis=1)]
    profile = shapely.build_area(shapely.multilinestrings(flat[bounds(side)]))
    a, b, c = np.moveaxis(piece.corners - piece.points[0], 1, 0)
    volume = float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6.0)
    if profile.geom_type != "Polygon" or abs(profile.area * (high - low) - volume) > 1e-3 * volume:
        return NO_PROFILE
    ring = _ring(np.asarray(profile.exterior.coords)[:-1], now, shall)
    outline = shapely.Polygon(ring)
    if not outline.is_valid:
        return CROSSES
    ring = np.asarray(shapely.orient_polygons(outline).exterior.coords)[:-1]
    points = np.outer(ring[:, 0], now.way)
    points[:, 2] += ring[:, 1]
    made = body_between([points + across * low, points + across * high], ring)
    return replace(made, materials=np.full(len(made.triangles), np.bincount(piece.materials + 1).argmax() - 1))


def _ring(profile: F64, now: Steps, shall: Steps) -> F64:
    """The outline (n, 2) of a profile, along the flight and up, with other steps."""
    feet = now.base + now.rise * (profile[:, 0] - now.start) / now.going
    above = profile[:, 1] > feet - NEAR
    first = next(k for k in range(len(profile)) if above[k] and not above[k - 1])
    profile, above = np.roll(profile, -first, axis=0), np.roll(above, -first)
    if profile[above][0, 0] > profile[above][-1, 0]:  # down the steps: the other way round
        profile, above = profile[::-1], above[::-1]
        profile, above = np.roll(profile, above.sum(), axis=0), np.roll(above, above.sum())
    steps, soffit = profile[above], profile[~above]
    end = float(steps[:, 0].max()) - now.start - now.run
    number = np.arange(shall.treads)
    at, height = shall.start + number * shall.going, shall.base + number * shall.rise
    made = np.column_stack((at, height, at, height + shall.rise)).reshape(-1, 2)
    last = (shall.start + shall.run + max(end + shall.going - now.going, NEAR), shall.base + shall.treads * shall.rise)
    points = np.column_stack((np.outer(soffit[:, 0], now.way[:2]), soffit[:, 1]))
    under = np.column_stack((_along(points, now, shall) @ now.way, _along(points, now, shall)[:, 2]))
    under[:, 0] += np.where(soffit[:, 0] > now.start + now.run, shall.going - now.going, 0.0)
    return np.concatenate((made, [last], under))


def _turned(points: F64) -> F64:
    """Points (n, 3) turned round by half, about the middle of them on plan."""
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    return np.asarray(np.column_stack((2 * middle[:2] - points[:, :2], points[:, 2])))
