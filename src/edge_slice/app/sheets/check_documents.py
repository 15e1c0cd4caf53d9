"""Findings of the checks as they go out, and what is said about those that are left."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input
from edge_slice.app.errors import Refused

Severity = Literal["serious", "doubtful", "remark"]
MOST_NAMED = 6  # things in one finding


def named(names: Sequence[str]) -> str:
    """Things that a finding names, not all of many."""
    return ", ".join(names[:MOST_NAMED]) + (", …" if len(names) > MOST_NAMED else "")


# what is looked for, by rule; a project may switch each of them off
CHECKED: dict[str, str] = {
    "lost its place": "Annotations, touch-ups and callouts whose element is gone or stands elsewhere",
    "changed since it was issued": "Sheets that are other than in the newest issue",
    "held": "Held drawings that don't show what changed since",
    "not placed": "Drawings that stand on no sheet",
    "no home": "Drawings on several sheets of which none is their home",
    "letter twice": "Two drawings with the same letter",
    "letter used twice": "Cuts in different places with the same letter",
    "outside the note margin": "Annotations that are not printed, as they stand too far from their drawing",
    "marker to nowhere": "Callouts that lead to a drawing on no sheet",
    "title twice": "Drawings with the same title",
    "like details": "Details that look alike, of which one could stand for all",
    "cuts in one place": "Cuts at the same place that look the same way",
    "adds nothing new": "Sections that cut what another one cuts",
    "room without a section": "Rooms that no section goes through",
    "stair without a section": "Stairs that no section goes through",
    "insulation interrupted": "Insulation and membranes that don't go round the building",
    "furniture cut in half": "Loose things that a section goes through",
    "mark used twice": "Doors or windows with the same mark",
    "not as the file says": "Layers, materials and bodies that can't be drawn as the file has them",
    "held twice, but otherwise": "Elements that two parts of the model hold, and that differ",
    "services through what is built": "Ducts and pipes that go through walls, floors and what carries",
    "measured otherwise": "Elements whose file says another volume than their body has",
    "ground": "Ground that can't be made any more",
    "no ground": "Models without ground",
    "empty sheet": "Sheets with no drawing and no table",
    "drawing beyond its place": "Drawings that reach beyond the frame, their area, or over the title block",
    "drawing over drawing": "Drawings that lie over each other",
    "several scales": "Sheets with drawings at several scales",
    "much empty": "Sheets of which much is empty",
    "could be larger": "Sheets whose drawings could have a larger scale",
    "text over text": "Texts over each other",
    "text cut off": "Texts of which something is left out",
    "letters without a face": "Letters that the product does not have",
    "text beyond the frame": "Texts beyond the frame of their sheet",
}


class Offer(BaseModel):
    """What could be done about a finding at once: elements (GlobalIds) of a drawing are left out, or drawn
    whole; or the drawing goes, and another one is used `instead`."""

    says: str
    drawing_id: int
    left_out: list[str] = []
    whole: list[str] = []
    instead: int | None = None


class SweepOut(BaseModel):
    """Sections along an axis of the model (0: x, 1: y), swept across the building: `places`, metres; how much of what
    a section there `explains` no section does yet, and how much of what is cut `changes` there (0 to 1); where sections
    are `standing`. `best`: the place where one explains most, with its line and what it goes through."""

    axis: int
    places: list[float]
    explains: list[float]
    changes: list[float]
    standing: list[float]
    best: float | None
    line: list[tuple[float, float]]
    through: list[str]


def known_rules(wanted: Sequence[str]) -> list[str]:
    """Rules of the checks, each once. Raises `Refused` for one that there is not."""
    unknown = sorted(set(wanted) - set(CHECKED))
    if unknown:
        raise Refused(f"There is no check “{unknown[0]}”.", "unchecked")
    return sorted(set(wanted))


class FindingOut(BaseModel):
    """`key` is the same as long as the same is wrong; `help` says what to do. Where it is: a sheet and a box on it
    (mm), or a drawing and a box on its paper. `left`: why somebody leaves it, empty if nobody does."""

    key: str
    severity: Severity
    rule: str
    says: str
    help: str
    sheet_id: int | None
    drawing_id: int | None
    box: tuple[float, float, float, float] | None
    left: str
    left_by: str
    offers: list[Offer] = []


class LeaveFinding(Input):
    """Leave a finding as it is, because …; without a reason it counts again."""

    key: str = Field(min_length=1, max_length=80)
    reason: str = Field(max_length=300)
