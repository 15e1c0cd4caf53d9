"""Where the sun stands."""

from __future__ import annotations

import math
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray

F64 = NDArray[np.float64]
J2000 = datetime(2000, 1, 1, 12, tzinfo=UTC)


def sun_at(latitude: float, longitude: float, when: datetime) -> tuple[float, float]:
    """Bearing clockwise from true north and height above the horizon of the middle of the sun, degrees, as seen from a
    place (degrees, north and east positive) at a time with its zone; refraction included.

    By the low-accuracy series of Meeus, Astronomical Algorithms (1998), chapters 25 and 13, as NOAA's solar calculator
    uses it: good to about 0.01° from 1800 to 2100. Raises `ValueError` for a time without a zone.

    >>> bearing, height = sun_at(51.0, 0.0, datetime(2024, 6, 20, 12, 0, tzinfo=UTC))
    >>> round(bearing), round(height)
    (179, 62)
    """
    if when.tzinfo is None:
        raise ValueError("the time of a sun has a zone: hours of which place are meant?")
    century = (when - J2000).total_seconds() / 86400.0 / 36525.0
    mean = math.radians((280.46646 + century * (36000.76983 + century * 0.0003032)) % 360)
    anomaly = math.radians(357.52911 + century * (35999.05029 - 0.0001537 * century))
    centre = (
        math.sin(anomaly) * (1.914602 - century * (0.004817 + 0.000014 * century))
        + math.sin(2 * anomaly) * (0.019993 - 0.000101 * century)
        + math.sin(3 * anomaly) * 0.000289
    )
    node = math.radians(125.04 - 1934.136 * century)
    apparent = math.radians(math.degrees(mean) + centre - 0.00569 - 0.00478 * math.sin(node))
    tilt = 23.4392911 - century * (0.0130042 + century * (0.00000016 - century * 0.000000504))
    tilt = math.radians(tilt + 0.00256 * math.cos(node))
    declination = math.asin(math.sin(tilt) * math.sin(apparent))
    right_ascension = math.atan2(math.cos(tilt) * math.sin(apparent), math.cos(apparent))
    days = century * 36525.0
    sidereal = 280.46061837 + 360.98564736629 * days + century**2 * (0.000387933 - century / 38710000.0)
    hour = math.radians(sidereal + longitude) - right_ascension
    phi = math.radians(latitude)
    height = math.degrees(
        math.asin(math.sin(phi) * math.sin(declination) + math.cos(phi) * math.cos(declination) * math.cos(hour))
    )
    bearing = math.degrees(
        math.atan2(-math.sin(hour), math.tan(declination) * math.cos(phi) - math.sin(phi) * math.cos(hour))
    )
    return bearing % 360.0, height + _refraction(height)


def _refraction(height: float) -> float:
    """By how much air lifts what stands at a height, degrees (NOAA's solar calculator)."""
    if height > 85.0:
        return 0.0
    tangent = math.tan(math.radians(height))
    if height > 5.0:
        seconds = 58.1 / tangent - 0.07 / tangent**3 + 0.000086 / tangent**5
    elif height > -0.575:
        seconds = 1735.0 + height * (-518.2 + height * (103.4 + height * (-12.79 + height * 0.711)))
    else:
        seconds = -20.772 / tangent
    return seconds / 3600.0


def light_from(bearing: float, height: float, north: tuple[float, float]) -> F64:
    """The way the light goes (3,), a unit vector in the model, where the sun stands at a bearing from true north and a
    height, degrees; `north` (x, y): true north in the model. Raises `ValueError` where the sun is not up."""
    if not 0 < height <= 90:
        raise ValueError(f"the sun stands {height:.1f}° over the horizon; it lights nothing unless it is up")
    turn, rise = math.radians(bearing), math.radians(height)
    ahead = np.array([north[0], north[1], 0.0]) / math.hypot(*north)
    right = np.array([ahead[1], -ahead[0], 0.0])
    towards = math.cos(rise) * (math.cos(turn) * ahead + math.sin(turn) * right)
    found: F64 = -(towards + np.array([0.0, 0.0, math.sin(rise)]))
    return found


def drafted_light(u: F64, v: F64, w: F64) -> F64:
    """The light of draughtsmen: over the viewer's left shoulder, along the diagonal of a cube, so that shadows run at
    45° in the view. u, v, w (3,): the axes of the view."""
    found: F64 = (u - v + w) / math.sqrt(3.0)
    return found
