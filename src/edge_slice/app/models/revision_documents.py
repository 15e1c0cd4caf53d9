"""What goes in and out about revisions of a model, and comparisons with them."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from edge_slice.app.documents import Input

What = Literal["added", "removed", "changed", "renamed"]


class ElementChangeOut(BaseModel):
    what: What
    guid: str
    name: str
    kind: str
    storey: str
    how: tuple[str, ...]


class RoomChangeOut(BaseModel):
    what: What
    guid: str
    name: str
    how: tuple[str, ...]


class SeenIn(BaseModel):
    drawing_id: int
    title: str


class ModelChangesOut(BaseModel):
    """From one revision (`since`) to the next. `same` counts elements that did not change; `lost_storeys` are names;
    `drawings` those that were cut in them; `another`: so little is known again that it may be another building;
    `seen_in`: the drawings that see a change, of a revision that is proposed."""

    since: int = 0
    elements: list[ElementChangeOut] = []
    rooms: list[RoomChangeOut] = []
    lost_storeys: list[str] = []
    drawings: list[str] = []
    same: int = 0
    another: bool = False
    seen_in: list[SeenIn] = []


class RevisionOut(BaseModel):
    """One state of a project's model, and what became of the one before."""

    number: int
    file_name: str
    at: str
    elements: int
    added: int
    removed: int
    changed: int


class RevisionTaken(BaseModel):
    """A newer revision is in use: how many drawings see a change and are cut anew, how many are kept as they were, and
    how many annotations, touch-ups and callouts are near or lost."""

    number: int
    recut: int
    kept: int
    near: int
    lost: int


class Acceptance(Input):
    """`anyway`: also where it may be another building."""

    anyway: bool = False
