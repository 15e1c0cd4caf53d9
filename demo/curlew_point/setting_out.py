"""Grid, levels and the few measures that several parts of the field station share (metres)."""

from __future__ import annotations

from math import cos, radians, sin, tan

GRID_X = {"A": 0.0, "B": 7.2, "C": 14.4, "D": 21.6}
GRID_Y = {"1": 0.0, "2": 4.8, "3": 9.6}
BAY, LOWER, UPPER, LOOKOUT, ROOF_EDGE = -0.9, 0.0, 3.3, 6.6, 10.4
TRUE_NORTH_DEGREES = 14.0

LOWER_OUT, LOWER_IN = 0.27, 0.153  # faces of the lower outer wall, from its grid line
UPPER_OUT, UPPER_IN = 0.13, 0.199
WALL_HEAD = 3.228  # top of the lower walls, where the joists' deck begins
DECK = 6.288  # top of the upper walls below lookout and terrace
JOIST = 0.24
MADE_GROUND = -1.05  # excavated level under the ground floor, below the bank everywhere

SLOPE = radians(12)
ROOF_UNDERSIDE = 5.9  # at grid line 1
LOOKOUT_UNDERSIDE = 9.0  # at grid line 2
OVERHANG = 0.4
ROOF_NORMAL = (0.0, -sin(SLOPE), cos(SLOPE))

STAIR_X = (14.56, 16.86)
STAIR_Y = (5.95, 9.4)
STAIR_VOID = [(14.6, 5.95), (16.9, 5.95), (16.9, 9.4), (14.6, 9.4)]


def terrain(x: float, y: float) -> float:
    """Height of the bank: 2.4 m from north to south over 30 m, with a slight hollow towards the slipway."""
    fall = -0.15 + 0.08 * (y - 9.6)
    inner = max(0.0, min(1.0, (y + 9) / 4)) * max(0.0, min(1.0, (21 - y) / 4))
    return fall + 0.06 * inner * sin(0.55 * x + 0.4) * cos(0.35 * y)


def roof_underside(y: float) -> float:
    return ROOF_UNDERSIDE + y * tan(SLOPE)


def lookout_underside(y: float) -> float:
    return LOOKOUT_UNDERSIDE + (y - GRID_Y["2"]) * tan(SLOPE)
