"""The dog-leg stair, concrete below and timber above, and the balustrades."""

from __future__ import annotations

from itertools import pairwise

from ifcopenshell import entity_instance as Entity

from .setting_out import LOOKOUT, LOWER, STAIR_X, STAIR_Y, UPPER
from .writer import Point2, Point3, Writer

RISERS, GOING, WIDTH = 9, 0.27, 1.1


def _flight(start: float, direction: int, z: float, rise: float, waist: float) -> list[Point2]:
    """Outline of a concrete flight in (y, z): steps above, sloping soffit below."""
    points: list[Point2] = []
    y, level = start, z
    for _ in range(RISERS):
        points += [(y, level), (y, level + rise)]
        level += rise
        y += direction * GOING
    end = start + direction * GOING * (RISERS - 1)
    points = [p for p in points if (p[0] - end) * direction <= 1e-9]
    points.append((end, level - rise - waist * 0.6))
    points.append((start + direction * waist, z))
    return points


def _extruded(w: Writer, outline: list[Point2], x0: float, width: float) -> Entity:
    """An outline in (y, z), extruded along x from x0."""
    return w.extrude(outline, width, (x0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def _concrete(w: Writer, storey: Entity) -> None:
    rise = (UPPER - LOWER) / (2 * RISERS)
    half = LOWER + RISERS * rise
    y0, y1 = STAIR_Y
    landing = y0 + GOING * (RISERS - 1)
    first = _extruded(w, _flight(y0, 1, LOWER, rise, 0.25), STAIR_X[0], WIDTH)
    w.element("IfcStairFlight", "Concrete flight 1", storey, first, "Reinforced concrete", "STRAIGHT")
    slab = w.box((STAIR_X[0], landing, half - 0.16), (STAIR_X[1], y1 + 0.04, half))
    w.element("IfcSlab", "Concrete half landing", storey, slab, "Reinforced concrete", "LANDING")
    outline = _flight(landing, -1, half, rise, 0.25)
    second = _extruded(w, [*outline[:-1], (landing, half - 0.16), (landing, half)][1:], STAIR_X[1] - WIDTH, WIDTH)
    w.element("IfcStairFlight", "Concrete flight 2", storey, second, "Reinforced concrete", "STRAIGHT")


def _timber(w: Writer, storey: Entity) -> None:
    rise = (LOOKOUT - UPPER) / (2 * RISERS)
    half = UPPER + RISERS * rise
    y0, y1 = STAIR_Y
    landing = y0 + GOING * (RISERS - 1)
    for number, (start, direction, z, x0) in enumerate(
        [(y0, 1, UPPER, STAIR_X[0]), (landing, -1, half, STAIR_X[1] - WIDTH)], 1
    ):
        items = []
        for i in range(RISERS - 1):
            y, level = start + direction * GOING * i, z + rise * (i + 1)
            low, high = sorted((y - direction * 0.02, y + direction * GOING))
            items.append(w.box((x0 + 0.03, low, level - 0.04), (x0 + WIDTH - 0.03, high, level)))
            riser = sorted((y, y + direction * 0.018))
            items.append(w.box((x0 + 0.03, riser[0], level - rise), (x0 + WIDTH - 0.03, riser[1], level - 0.04)))
        run = direction * GOING * (RISERS - 1)
        top = z + rise * (RISERS - 1)
        string = [
            (start, z),
            (start + direction * 0.3, z),
            (start + run, top - 0.14),
            (start + run, top + 0.22),
            (start, z + 0.26),
        ]
        for x in (x0, x0 + WIDTH - 0.03):
            items.append(_extruded(w, string if direction > 0 else string[::-1], x, 0.03))
        w.element("IfcStairFlight", f"Timber flight {number}", storey, items, "Oak", "STRAIGHT")
    boards = w.box((STAIR_X[0], landing, half - 0.04), (STAIR_X[1], y1 + 0.001, half))
    w.element("IfcSlab", "Timber half landing", storey, boards, "Oak", "LANDING")
    for i in range(5):
        x = STAIR_X[0] + 0.05 + i * 0.53
        joist = w.box((x, landing + 0.03, half - 0.22), (x + 0.045, y1 - 0.002, half - 0.04))
        w.element("IfcBeam", f"Landing joist {i + 1}", storey, joist, "Softwood", "JOIST")


def balustrade(w: Writer, name: str, storey: Entity, line: list[Point3], height: float = 1.05, wires: int = 7) -> None:
    """Posts at most 1.2 m apart, a round handrail and tensioned wires along a line of points at floor level."""
    items = []
    for a, b in pairwise(line):
        length = sum((q - p) ** 2 for p, q in zip(a, b, strict=True)) ** 0.5
        posts = max(1, int(length / 1.2 + 0.999))
        for i in range(posts + 1):
            t = i / posts
            foot = tuple(p + (q - p) * t for p, q in zip(a, b, strict=True))
            items.append(w.cylinder(0.018, foot, (foot[0], foot[1], foot[2] + height - 0.02)))
        for k in range(wires):
            lift = 0.1 + k * (height - 0.2) / wires
            items.append(w.cylinder(0.004, (a[0], a[1], a[2] + lift), (b[0], b[1], b[2] + lift)))
        items.append(w.cylinder(0.024, (a[0], a[1], a[2] + height), (b[0], b[1], b[2] + height)))
    w.element("IfcRailing", name, storey, items, "Stainless steel", "BALUSTRADE")


def build_stairs(w: Writer, storeys: dict[str, Entity]) -> None:
    _concrete(w, storeys["Lower"])
    _timber(w, storeys["Upper"])
    y0 = STAIR_Y[0]
    landing = y0 + GOING * (RISERS - 1)
    gap = (STAIR_X[0] + STAIR_X[1]) / 2
    for name, storey, low, high in [("lower", "Lower", LOWER, UPPER), ("upper", "Upper", UPPER, LOOKOUT)]:
        half = (low + high) / 2
        for number, (x, start, end) in enumerate(
            [(gap - 0.03, (y0 + 0.1, low + 0.18), (landing, half)), (gap + 0.03, (landing, half), (y0 + 0.1, high))], 1
        ):
            balustrade(
                w,
                f"Stair balustrade {name} {number}",
                storeys[storey],
                [(x, start[0], start[1]), (x, end[0], end[1])],
                0.95,
                4,
            )
    edge = 16.95
    balustrade(w, "Upper landing balustrade", storeys["Upper"], [(edge, y0, UPPER), (edge, 9.35, UPPER)])
    balustrade(w, "Lookout balustrade", storeys["Lookout"], [(14.75, y0 - 0.05, LOOKOUT), (15.65, y0 - 0.05, LOOKOUT)])
    balustrade(w, "Lookout edge balustrade", storeys["Lookout"], [(edge, y0 - 0.05, LOOKOUT), (edge, 9.35, LOOKOUT)])
