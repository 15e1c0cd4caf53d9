"""All kinds of drawings: what their sheets are called, where these stand in the register, what marks begin with."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.cut.following.callouts import Form

DrawingKind = Literal[
    "plan",
    "ceiling plan",
    "section",
    "wall section",
    "perspective section",
    "elevation",
    "interior elevation",
    "free section",
    "opened view",
    "enlarged plan",
    "detail",
    "blank detail",
]


@dataclass(frozen=True)
class Kind:
    """`title` of a sheet of such drawings; `folder` of the register, by its key; `initial` of its marks, empty where
    these are plain letters or there are none; `sets`: the annotation sets that a template begins with."""

    title: str = "Details"
    folder: str = "details"
    initial: str = ""
    sets: tuple[Rule, ...] = ()


KINDS: dict[DrawingKind, Kind] = {
    "plan": Kind("Plans", "plans", sets=("rooms", "doors", "windows", "grid", "outside", "inside")),
    "ceiling plan": Kind("Ceiling plans", "plans"),
    "section": Kind("Sections", "sections", sets=("levels", "grid", "heights")),
    "wall section": Kind("Wall sections", initial="W", sets=("levels", "layers")),
    "perspective section": Kind(),
    "elevation": Kind("Elevations", "elevations", "E", ("levels",)),
    "interior elevation": Kind("Room walls", "elevations", "R"),
    "free section": Kind(),
    "opened view": Kind("Views", initial="V"),
    "enlarged plan": Kind(initial="P"),
    "detail": Kind(initial="D", sets=("layers",)),
    "blank detail": Kind(),
}
CALLED: dict[Form, DrawingKind] = {"plan": "enlarged plan", "wall": "wall section", "detail": "detail"}  # callouts
