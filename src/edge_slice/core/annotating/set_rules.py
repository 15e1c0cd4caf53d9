"""The sets of annotations that rules place: what lists and menus say of them. It loads nothing of what places them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Rule = Literal["rooms", "doors", "windows", "layers", "grid", "openings", "levels", "outside", "inside", "heights"]


@dataclass(frozen=True)
class AnnotationSet:
    """Its `words` in lists; the drawings that it is for; `of_wall`: it is placed for one wall, named by its
    GlobalId."""

    words: str
    drawings: Literal["plan", "upright", "any"]
    of_wall: bool = False


# all sets, in the order of lists
SETS: dict[Rule, AnnotationSet] = {
    "rooms": AnnotationSet("Rooms", "plan"),
    "doors": AnnotationSet("Doors", "any"),
    "windows": AnnotationSet("Windows", "any"),
    "grid": AnnotationSet("Grid dimensions", "any"),
    "outside": AnnotationSet("Dimensions outside", "plan"),
    "inside": AnnotationSet("Dimensions inside", "plan"),
    "levels": AnnotationSet("Level dimensions", "upright"),
    "heights": AnnotationSet("Heights inside", "upright"),
    "layers": AnnotationSet("Layers of build-ups", "any"),
    "openings": AnnotationSet("Openings of the picked wall", "plan", of_wall=True),
}
