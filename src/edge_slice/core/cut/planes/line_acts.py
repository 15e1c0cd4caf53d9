"""Acts on a cutting line: moved beside itself, turned, laid through chosen things, with the fewest steps."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import ValidationError

from edge_slice.core.cut.planes.leaves import legs_of
from edge_slice.core.cut.spec import ImpossibleCut, SectionCut

F64 = NDArray[np.float64]
OVERHANG = 1.0  # metres that a line runs on beyond what it was laid through
MIDDLE = 1 / 3  # share of a thing, in its middle, through which a line explains it
LEAST_GAP = 0.3  # metres along the line between the middles of two things with a step between them


@dataclass(frozen=True)
class Target:
    """Something to cut through: a name for messages, and its outline on plan (metres)."""

    name: str
    outline: shapely.Geometry


def _frame(cut: SectionCut) -> tuple[F64, F64, F64]:
    """First point of the line, unit vectors along its first leg as drawn on the sheet, and to the side looked at."""
    a, b, _ = legs_of(cut)[0]
    along = np.array(b) - np.array(a)
    along = along / np.hypot(*along)
    return np.array(a), along, np.array([-along[1], along[0]])


def _with_points(cut: SectionCut, points: F64, **changes: object) -> SectionCut:
    """Raises `ImpossibleCut` for a line that no section may have: too far away, too many points, too short a leg."""
    line = tuple((round(float(x), 4), round(float(y), 4)) for x, y in points)
    try:
        return SectionCut.model_validate({**cut.model_dump(), "line": line, **changes})
    except ValidationError as error:
        what = str(error.errors()[0]["msg"]).removeprefix("Value error, ")
        raise ImpossibleCut(f"The line would come to lie where none can be: {what}.") from error


def beside(cut: SectionCut, by: float) -> SectionCut:
    """The same line `by` metres further to the side that is looked at; back, where it is negative."""
    _, _, look = _frame(cut)
    return _with_points(cut, np.array(cut.line) + look * by)


def turned(cut: SectionCut, degrees: float) -> SectionCut:
    """The line turned against the clock about its middle."""
    points = np.array(cut.line)
    middle = (points[0] + points[-1]) / 2
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return _with_points(cut, middle + (points - middle) @ np.array([[c, s], [-s, c]]))


def aligned(cut: SectionCut, direction: tuple[float, float]) -> SectionCut:
    """The line turned by the least angle to run parallel to a direction on plan. Raises `ImpossibleCut` for none."""
    if math.hypot(*direction) < 1e-9:
        raise ImpossibleCut("There is no direction to align the line to.")
    _, along, _ = _frame(cut)
    angle = math.degrees(math.atan2(direction[1], direction[0]) - math.atan2(along[1], along[0]))
    return turned(cut, (angle + 90.0) % 180.0 - 90.0)


def through_middle(cut: SectionCut, target: Target) -> SectionCut:
    """The line moved as a whole, square to itself, to the nearest place through the middle of something."""
    centre = shapely.get_coordinates(target.outline.centroid)[0]
    best: tuple[float, F64] | None = None
    for a, b, _ in legs_of(cut):
        along = np.array(b) - np.array(a)
        length = float(np.hypot(*along))
        along = along / length
        look = np.array([-along[1], along[0]])
        reach = float((centre - np.array(a)) @ along)
        off = float((centre - np.array(a)) @ look)
        outside = max(0.0, -reach, reach - length)
        cost = abs(off) + outside * 1e3  # a leg beside which the thing stands, else the nearest
        if best is None or cost < best[0]:
            best = (cost, look * off)
    assert best is not None
    return _with_points(cut, np.array(cut.line) + best[1])


def through_all(cut: SectionCut, targets: Sequence[Target]) -> SectionCut:
    """A line through the middle third of every target, with the fewest steps: in the direction of `cut`, or square
    to it if that needs fewer. Raises `ImpossibleCut` where two targets stand one behind the other in both."""
    if not targets:
        raise ImpossibleCut("Choose what the line should pass through.")
    if len(targets) == 1:
        return through_middle(cut, targets[0])
    found: list[SectionCut] = []
    refused: list[ImpossibleCut] = []
    for start in (cut, turned(cut, 90.0)):
        try:
            found.append(_stepped(start, targets))
        except ImpossibleCut as error:
            refused.append(error)
    if not found:
        raise refused[0]
    return min(found, key=lambda c: len(c.line))


@dataclass(frozen=True)
class _Span:
    """A target along the line (middle and ends) and across it (where a leg may pass)."""

    name: str
    middle: float
    first: float
    last: float
    low: float
    high: float


def _stepped(cut: SectionCut, targets: Sequence[Target]) -> SectionCut:
    origin, along, look = _frame(cut)
    spans = sorted((_span(t, origin, along, look) for t in targets), key=lambda s: (s.middle, s.low))
    legs: list[tuple[float, float, list[_Span]]] = []  # lowest and highest place of a leg, and what it passes
    for span in spans:
        if legs and max(legs[-1][0], span.low) <= min(legs[-1][1], span.high):
            low, high, passed = legs[-1]
            legs[-1] = (max(low, span.low), min(high, span.high), [*passed, span])
        else:
            legs.append((span.low, span.high, [span]))
    points = np.array(cut.line)
    ends = (points - origin) @ along
    first = min(float(ends.min()), min(s.first for s in spans) - OVERHANG)
    last = max(float(ends.max()), max(s.last for s in spans) + OVERHANG)
    places = [(low + high) / 2 for low, high, _ in legs]
    corners = [(first, places[0])]
    for (_, _, before), (_, _, after), here, there in zip(legs, legs[1:], places, places[1:], strict=False):
        at = _step_between(before[-1], after[0])
        corners += [(at, here), (at, there)]
    corners.append((last, places[-1]))
    line = origin + np.array(corners) @ np.array([along, look])
    return _with_points(cut, line if cut.look == "left" else line[::-1], corners="steps", depths=())


def _span(target: Target, origin: F64, along: F64, look: F64) -> _Span:
    points = shapely.get_coordinates(target.outline) - origin
    u, w = points @ along, points @ look
    centre, half = (w.min() + w.max()) / 2, (w.max() - w.min()) / 2 * MIDDLE
    return _Span(
        target.name, float((u.min() + u.max()) / 2), float(u.min()), float(u.max()), centre - half, centre + half
    )


def _step_between(before: _Span, after: _Span) -> float:
    """Where to step: in the gap between two things; where they overlap along the line, between their middles."""
    if after.middle - before.middle < LEAST_GAP:
        raise ImpossibleCut(
            f"{before.name} and {after.name} stand one behind the other; no line that only steps passes both."
        )
    if after.first >= before.last:
        return (before.last + after.first) / 2
    return (before.middle + after.middle) / 2
