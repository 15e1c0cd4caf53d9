"""What drawings are called: kind, letter and title, from their cut and the model's facts."""

from __future__ import annotations

import math
from typing import Any, Literal

from edge_slice.core.cut import AnyCut, ElevationCut, PlanCut, PlaneCut, SectionCut
from edge_slice.core.cut.planes.sets import wind

DrawingKind = Literal[
    "plan",
    "ceiling plan",
    "section",
    "wall section",
    "perspective section",
    "elevation",
    "interior elevation",
    "free section",
]


def kind_of(cut: AnyCut) -> DrawingKind:
    if isinstance(cut, PlanCut):
        return "plan" if cut.look == "down" else "ceiling plan"
    if isinstance(cut, SectionCut):
        if cut.of == "wall":
            return "wall section"
        return "section" if cut.perspective is None else "perspective section"
    return "free section" if isinstance(cut, PlaneCut) else cut.kind


def has_letter(cut: AnyCut) -> bool:
    """Sections are told apart by letters."""
    return isinstance(cut, SectionCut | PlaneCut)


def automatic_name(facts: dict[str, Any], letter: str, cut: AnyCut) -> str:
    """A plan is named after its storey, an elevation after the side it shows, a section by its letter; where they
    look, by true north. `facts` are the revision's."""
    if isinstance(cut, PlanCut):
        names = {s["guid"]: s["name"] for s in facts["storeys"]}
        return f"{names.get(cut.storey, 'Lost storey')} {kind_of(cut)}"
    look = _look(cut)
    kind = kind_of(cut).capitalize()
    if math.hypot(*look) < 1e-6:
        return f"{kind} {letter}, looking {'down' if isinstance(cut, PlaneCut) and cut.normal[2] > 0 else 'up'}"
    bearing = _bearing(facts, look)
    if not isinstance(cut, ElevationCut):
        return f"{kind} {letter}, looking {wind(bearing)}"
    if cut.space:
        rooms = {s["guid"]: f"{s['number']} {s['name']}".strip() for s in facts.get("spaces", [])}
        return f"{rooms.get(cut.space, 'Lost room')}, {wind(bearing)} wall"
    return f"{wind(bearing + 180).capitalize()} elevation, looking {wind(bearing)}"


def mark_of(facts: dict[str, Any], letter: str, cut: AnyCut) -> str:
    """What the marker of a drawing says before it is placed: the letter of a section, the initials of the wind that an
    elevation looks to."""
    if letter or not isinstance(cut, ElevationCut):
        return letter
    return "".join(word[0] for word in wind(_bearing(facts, _look(cut))).split("-")).upper()


def _bearing(facts: dict[str, Any], look: tuple[float, float]) -> float:
    """Degrees clockwise from true north of a direction on plan."""
    (x, y), (nx, ny) = look, facts["north"]
    return math.degrees(math.atan2(x * ny - y * nx, x * nx + y * ny)) % 360


def _look(cut: SectionCut | ElevationCut | PlaneCut) -> tuple[float, float]:
    """The view direction on plan, of no length when it is level."""
    if isinstance(cut, PlaneCut):
        return -cut.normal[0], -cut.normal[1]
    (x0, y0), (x1, y1) = cut.line[0], cut.line[1]
    side = 1 if cut.look == "left" else -1
    return -(y1 - y0) * side, (x1 - x0) * side
