"""Templates by which drawings are documented in one act: annotation sets, sheet, place in the register."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from edge_slice.app.documents import Input
from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.project.kinds import KINDS, DrawingKind
from edge_slice.core.sheet import SheetSize

Rules = Annotated[tuple[Rule, ...], Field(max_length=8)]


class Template(Input):
    """`sets`: the annotation sets of each kind of drawing; `folder`: that of the sheet, empty for the one that fits the
    kind of its first drawing."""

    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    design: str = Field(default="side-strip", max_length=40)
    size: SheetSize = "A1"
    folder: str = Field(default="", max_length=30)
    sets: dict[DrawingKind, Rules] = Field(default={name: kind.sets for name, kind in KINDS.items() if kind.sets})


class Templates(Input):
    """The templates of a project, in the order in which they are offered."""

    templates: tuple[Template, ...] = Field(
        default=(
            Template(name="Noted and dimensioned"),
            Template(name="As drawn", sets={}),
            Template(name="Small, for the site", design="base-strip", size="A3"),
        ),
        min_length=1,
        max_length=20,
    )
