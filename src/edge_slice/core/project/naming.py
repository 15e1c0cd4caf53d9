"""What drawings are called: kind, letter and title, from their cut and the model's facts."""

from __future__ import annotations

import itertools
import math
from collections.abc import Collection, Iterator, Mapping
from string import Formatter
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.cut import AnyCut, BlankCut, ElevationCut, PlanCut, PlaneCut, SectionCut, UprightCut
from edge_slice.core.cut.following.callouts import Form
from edge_slice.core.cut.planes.sets import wind
from edge_slice.core.model import Model
from edge_slice.core.project.kinds import CALLED, KINDS, DrawingKind

Template = Annotated[str, Field(min_length=1, max_length=120)]


def kind_of(cut: AnyCut, form: Form | None = None) -> DrawingKind:
    """`form` is that of a callout."""
    if isinstance(cut, BlankCut):
        return "blank detail"
    if form is not None:
        return CALLED[form]
    if isinstance(cut, PlanCut):
        return "plan" if cut.look == "down" else "ceiling plan"
    if isinstance(cut, SectionCut):
        if cut.of == "wall":
            return "wall section"
        return "section" if cut.perspective is None else "perspective section"
    if isinstance(cut, PlaneCut):
        return "free section" if cut.of == "cut" else "opened view"
    return cut.kind


def has_letter(cut: AnyCut) -> bool:
    """Sections are told apart by letters, elevations and callouts by marks of series of their own."""
    return isinstance(cut, SectionCut | PlaneCut | ElevationCut)


def place_of(cut: AnyCut) -> tuple[object, ...]:
    """Where a section or elevation lies and what it looks at, the same whichever end its line begins at; to 10 mm: what
    drawings under one letter have in common. Other cuts have none."""
    if not isinstance(cut, UprightCut):
        return (cut.kind,)
    line = cut.line if cut.look == "left" else cut.line[::-1]
    return (cut.kind, tuple((round(x, 2), round(y, 2)) for x, y in line))


def letter_for(cut: AnyCut, used: Collection[str], series: str = "") -> str:
    """The next free letter of a drawing that is no callout, in a `series` where one is named; empty where its kind has
    none."""
    if series and has_letter(cut):
        return _next_of(series, used)
    if isinstance(cut, ElevationCut):
        return _next_of(KINDS[cut.kind].initial, used)
    if isinstance(cut, PlaneCut) and cut.of == "view":
        return _next_of(KINDS["opened view"].initial, used)
    return next_letter(used) if has_letter(cut) else ""


def next_letter(used: Collection[str]) -> str:
    """The first that is free of A to Z without I and O (easily misread beside numbers), then AA, AB …"""
    return next(name for name in _letters() if name not in used)


def next_mark(used: Collection[str], form: Form, series: str = "") -> str:
    """The next one of a callout's series: its initial, or another one, and a number."""
    return _next_of(series or KINDS[CALLED[form]].initial, used)


def _next_of(initial: str, used: Collection[str]) -> str:
    return next(name for k in itertools.count(1) if (name := f"{initial}{k}") not in used)


def _letters() -> Iterator[str]:
    for length in itertools.count(1):
        for letters in itertools.product("ABCDEFGHJKLMNPQRSTUVWXYZ", repeat=length):
            yield "".join(letters)


FIELDS = {
    "plan": ("kind", "storey"),
    "section": ("kind", "letter", "look", "run"),
    "elevation": ("kind", "letter", "side", "look"),
    "interior_elevation": ("kind", "letter", "room", "look"),
    "callout": ("kind", "letter"),
}


def template_of(kind: DrawingKind) -> str:
    """The name of the template by which drawings of a kind are named."""
    if kind in ("blank detail", *CALLED.values()) and kind != "wall section":
        return "callout"
    known = {
        "plan": "plan",
        "ceiling plan": "plan",
        "elevation": "elevation",
        "interior elevation": "interior_elevation",
    }
    return known.get(kind, "section")


class NameTemplates(BaseModel):
    """How drawings are named that have no name of their own. In braces: {kind}; of a plan {storey}; of a section
    {letter}, {look} (the wind that it looks to) and {run} (long or cross, by the building's longer side); of an
    elevation {letter}, {side} and {look}; of a wall of a room {letter}, {room} and {look}; of a callout {letter}."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    plan: Template = "{storey} {kind}"
    section: Template = "{kind} {letter}, looking {look}"
    elevation: Template = "{side} elevation {letter}"
    interior_elevation: Template = "{room}, {look} wall {letter}"
    callout: Template = "{kind} {letter}"

    @model_validator(mode="after")
    def _known(self) -> NameTemplates:
        for name, known in FIELDS.items():
            try:
                parts = list(Formatter().parse(getattr(self, name)))
            except ValueError as error:
                raise ValueError(f"names: the braces of {getattr(self, name)!r} do not fit together") from error
            for _, field, form, conversion in parts:
                if field is not None and (field not in known or form or conversion):
                    raise ValueError(f"names: {{{field}}} is nothing that this name can say; use {_listed(known)}")
        return self


def _listed(fields: tuple[str, ...]) -> str:
    return ", ".join(f"{{{field}}}" for field in fields)


USUAL = NameTemplates()


def named_facts(model: Model) -> dict[str, Any]:
    """What names and marks say of a model: its storeys, rooms, bounds and true north."""
    low, high = model.bounds
    return {
        "north": model.north,
        "low": low.tolist(),
        "high": high.tolist(),
        "storeys": [{"guid": s.guid, "name": s.name} for s in model.storeys],
        "spaces": [{"guid": s.guid, "number": s.number, "name": s.name} for s in model.spaces],
    }


def automatic_name(
    facts: Mapping[str, Any],
    letter: str,
    cut: AnyCut,
    templates: NameTemplates = USUAL,
    form: Form | None = None,
    own: str = "",
) -> str:
    """The name of a drawing by its project's templates: a plan after its storey, an elevation after the side it shows,
    a section by its letter, as a callout (which has a `form`); where they look, by true north. `facts` are the
    revision's; `own` is a template instead, which may say less."""
    name, said = _said(facts, letter, cut, form)
    template = own or getattr(templates, name)
    text = " ".join(template.format_map(_Told(said)).split()).replace(" ,", ",")  # a letter may be missing
    return text[:1].upper() + text[1:]


class _Told(dict[str, str]):
    """What a template's fields say; nothing of what a drawing does not have."""

    def __missing__(self, key: str) -> str:
        return ""


def _said(facts: Mapping[str, Any], letter: str, cut: AnyCut, form: Form | None) -> tuple[str, dict[str, str]]:
    """The template for a cut, and what its fields say."""
    kind = kind_of(cut, form)
    if form is not None or isinstance(cut, BlankCut):
        return "callout", {"kind": kind, "letter": letter}
    if isinstance(cut, PlanCut):
        names = {s["guid"]: s["name"] for s in facts["storeys"]}
        return "plan", {"storey": names.get(cut.storey, "Lost storey"), "kind": kind}
    look = _look(cut)
    if math.hypot(*look) < 1e-6:
        way = "down" if isinstance(cut, PlaneCut) and cut.normal[2] > 0 else "up"
        return "section", {"kind": kind, "letter": letter, "look": way, "run": ""}
    bearing = _bearing(facts, look)
    if not isinstance(cut, ElevationCut):
        return "section", {"kind": kind, "letter": letter, "look": wind(bearing), "run": _run(facts, look)}
    lettered = {"kind": kind, "letter": letter}
    if cut.space:
        rooms = {s["guid"]: f"{s['number']} {s['name']}".strip() for s in facts.get("spaces", [])}
        return "interior_elevation", {**lettered, "room": rooms.get(cut.space, "Lost room"), "look": wind(bearing)}
    return "elevation", {**lettered, "side": wind(bearing + 180), "look": wind(bearing)}


def _run(facts: Mapping[str, Any], look: tuple[float, float]) -> str:
    """Whether a section that looks that way runs along the building's longer side."""
    along_x = facts["high"][0] - facts["low"][0] >= facts["high"][1] - facts["low"][1]
    return "long" if (abs(look[1]) >= abs(look[0])) == along_x else "cross"


def mark_of(facts: Mapping[str, Any], letter: str, cut: AnyCut) -> str:
    """What the marker of a drawing says before it is placed: its letter; of an elevation that has none the initials of
    the side that it shows."""
    if letter or not isinstance(cut, ElevationCut):
        return letter
    return "".join(word[0] for word in wind(_bearing(facts, _look(cut)) + 180).split("-")).upper()


def _bearing(facts: Mapping[str, Any], look: tuple[float, float]) -> float:
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
