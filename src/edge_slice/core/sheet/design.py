"""Sheet designs: margins, drawing areas, title block and everything else that stands on each sheet of a design."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.drawing.display import Box
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize

Mm = Annotated[float, Field(ge=-3000, le=3000, allow_inf_nan=False)]
Length = Annotated[float, Field(gt=0, le=3000, allow_inf_nan=False)]
Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"\S")]
Key = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,29}$")]
NAMED = re.compile(r"\{([^{}]*)\}")
FIELDS = (
    "project", "client", "title", "number", "size", "scale", "revision", "date", "drawn", "checked", "folder", "sheet",
    "sheets",
)  # fmt: skip
LEAST_AREA = 20.0  # mm, a side of a drawing area
LEAST_INSIDE = 60.0  # mm, a side of what the margins leave
TOUCH = 1e-6  # mm by which things may overlap that stand side by side


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Measure(_Document):
    """A place along a side of the frame: a share of its length, and millimetres on top."""

    share: float = Field(default=0.0, ge=0, le=1, allow_inf_nan=False)
    mm: Mm = 0.0


class DesignRegion(_Document):
    """A rectangle within the frame that keeps its place on sheets of other sizes."""

    left: Measure
    base: Measure
    right: Measure
    top: Measure

    def box(self, frame: Box) -> Box:
        """On a sheet whose frame is (left, base, right, top), mm."""
        wide, high = frame[2] - frame[0], frame[3] - frame[1]
        return (
            frame[0] + self.left.share * wide + self.left.mm,
            frame[1] + self.base.share * high + self.base.mm,
            frame[0] + self.right.share * wide + self.right.mm,
            frame[1] + self.top.share * high + self.top.mm,
        )


class Cell(_Document):
    """A field of a title block (ISO 7200): mm from its lower left corner. `says` may name fields in braces."""

    left: float = Field(ge=0, le=3000, allow_inf_nan=False)
    base: float = Field(ge=0, le=3000, allow_inf_nan=False)
    wide: Length
    high: Length
    caption: str = Field(default="", max_length=40)
    says: str = Field(default="", max_length=200)
    lettering: Literal["label", "heading", "title"] = "label"


class TitleBlock(_Document):
    kind: Literal["title block"] = "title block"
    region: DesignRegion
    cells: tuple[Cell, ...] = Field(max_length=60)


class RevisionTable(_Document):
    """The issues in which the sheet was: code, date, purpose, by; the newest first."""

    kind: Literal["revisions"] = "revisions"
    region: DesignRegion


class NorthSign(_Document):
    kind: Literal["north"] = "north"
    region: DesignRegion


class ScaleBar(_Document):
    """Drawn on sheets whose drawings have one scale."""

    kind: Literal["scale bar"] = "scale bar"
    region: DesignRegion


class KeyPlan(_Document):
    """A small plan of the building; what the sheet shows of it is lit."""

    kind: Literal["key plan"] = "key plan"
    region: DesignRegion


class ListOfSheets(_Document):
    """The register as a table: number, title, revision of all sheets."""

    kind: Literal["sheet list"] = "sheet list"
    region: DesignRegion


class ListOfDrawings(_Document):
    """All drawings that stand on sheets as a table: number over sheet, title, scale."""

    kind: Literal["drawing list"] = "drawing list"
    region: DesignRegion


class Logo(_Document):
    """A picture (PNG or JPEG) by the SHA-256 of its bytes, as large as the region lets it be."""

    kind: Literal["logo"] = "logo"
    region: DesignRegion
    picture: str = Field(pattern=r"^[0-9a-f]{64}$")


class SheetText(_Document):
    """Words that stand on every sheet; they may name fields in braces."""

    kind: Literal["text"] = "text"
    region: DesignRegion
    says: str = Field(max_length=2000)
    lettering: Literal["label", "heading", "title"] = "label"


Part = Annotated[
    TitleBlock | RevisionTable | NorthSign | ScaleBar | KeyPlan | ListOfSheets | ListOfDrawings | Logo | SheetText,
    Field(discriminator="kind"),
    Field(discriminator="kind"),
]
# mm, wide and high, below which a part can't be read
LEAST: dict[str, tuple[float, float]] = {
    "revisions": (60.0, 12.0), "north": (8.0, 8.0), "scale bar": (40.0, 7.0), "key plan": (20.0, 15.0),
    "sheet list": (60.0, 15.0), "drawing list": (60.0, 15.0), "logo": (5.0, 5.0), "text": (5.0, 3.0),
}  # fmt: skip


class DrawingArea(_Document):
    """A named place for drawings."""

    name: Name
    region: DesignRegion


class OwnField(_Document):
    """A field beyond ISO 7200, filled in on each sheet; named in braces where it stands."""

    key: Key
    caption: Name
    value: str = Field(default="", max_length=200)


class Margins(_Document):
    """From the edges of the paper to the frame, mm; ISO 5457 asks for 20 at the left to bind, and 10."""

    left: float = Field(default=20.0, ge=0, le=200, allow_inf_nan=False)
    base: float = Field(default=10.0, ge=0, le=200, allow_inf_nan=False)
    right: float = Field(default=10.0, ge=0, le=200, allow_inf_nan=False)
    top: float = Field(default=10.0, ge=0, le=200, allow_inf_nan=False)


class SheetDesign(_Document):
    """`centring`: marks at the middles of the sides; `zones`: letters and numbers along the frame (both ISO 5457)."""

    name: Name
    margins: Margins = Margins()
    centring: bool = True
    zones: bool = False
    areas: tuple[DrawingArea, ...] = Field(default=(), max_length=24)
    parts: tuple[Part, ...] = Field(default=(), max_length=40)
    own_fields: tuple[OwnField, ...] = Field(default=(), max_length=20)

    @model_validator(mode="after")
    def _names(self) -> SheetDesign:
        for said, names in (
            ("drawing area", [a.name for a in self.areas]),
            ("field", [*FIELDS, *(f.key for f in self.own_fields)]),
        ):
            doubled = next((n for n in names if names.count(n) > 1), None)
            if doubled is not None:
                raise ValueError(f"there are two of the {said} “{doubled}”")
        known = {*FIELDS, *(f.key for f in self.own_fields)}
        for text in self._texts():
            unknown = next((n for n in NAMED.findall(text) if n not in known), None)
            if unknown is not None:
                raise ValueError(f"“{text}” names the field “{unknown}”, which there is not; known: {', '.join(known)}")
        return self

    def _texts(self) -> list[str]:
        cells = [c.says for p in self.parts if isinstance(p, TitleBlock) for c in p.cells]
        return cells + [p.says for p in self.parts if isinstance(p, SheetText)]

    def frame(self, size: SheetSize) -> Box:
        """The frame on a sheet (left, base, right, top), mm from its lower left corner."""
        wide, high = SHEET_SIZES[size]
        m = self.margins
        return (m.left, m.base, wide - m.right, high - m.top)

    def area_boxes(self, size: SheetSize) -> dict[str, Box]:
        frame = self.frame(size)
        return {area.name: area.region.box(frame) for area in self.areas}

    def taken(self, size: SheetSize) -> list[Box]:
        """Where parts stand, which is no place for drawings."""
        frame = self.frame(size)
        return [part.region.box(frame) for part in self.parts]


def filled(text: str, values: dict[str, str]) -> str:
    """A text with its fields in braces filled in."""
    return NAMED.sub(lambda found: values.get(found.group(1), ""), text)


def design_problems(design: SheetDesign, size: SheetSize) -> list[str]:
    """What of a design has no room on a sheet of a size; nothing where all is well."""
    frame = design.frame(size)
    if min(frame[2] - frame[0], frame[3] - frame[1]) < LEAST_INSIDE:
        return [f"The margins leave less than {LEAST_INSIDE:g} mm of a sheet {size}."]
    found = []
    for part in design.parts:
        wide, high = _least(part)
        found += _of_region(f"The {part.kind}", part.region.box(frame), frame, (wide, high), size)
    for area in design.areas:
        least = (LEAST_AREA, LEAST_AREA)
        found += _of_region(f"The drawing area “{area.name}”", area.region.box(frame), frame, least, size)
    if not found:
        boxes = [(f"the {p.kind}", p.region.box(frame)) for p in design.parts if p.kind == "title block"]
        boxes += [(f"the drawing area “{name}”", box) for name, box in design.area_boxes(size).items()]
        for k, (name, box) in enumerate(boxes):
            for other, second in boxes[:k]:
                if overlap(box, second):
                    found.append(f"On a sheet {size}, {name} and {other} overlap.")
    return found


def overlap(a: Box, b: Box) -> bool:
    """Whether two boxes have some area in common."""
    return a[0] < b[2] - TOUCH and b[0] < a[2] - TOUCH and a[1] < b[3] - TOUCH and b[1] < a[3] - TOUCH


def _least(part: Part) -> tuple[float, float]:
    if isinstance(part, TitleBlock):
        wide = max((c.left + c.wide for c in part.cells), default=10.0)
        return wide, max((c.base + c.high for c in part.cells), default=10.0)
    return LEAST[part.kind]


def _of_region(name: str, box: Box, frame: Box, least: tuple[float, float], size: SheetSize) -> list[str]:
    wide, high = box[2] - box[0], box[3] - box[1]
    if wide < least[0] - TOUCH or high < least[1] - TOUCH:
        return [
            f"{name} has {max(wide, 0):.0f} × {max(high, 0):.0f} mm on a sheet {size} and needs"
            f" {least[0]:.0f} × {least[1]:.0f}."
        ]
    if box[0] < frame[0] - TOUCH or box[1] < frame[1] - TOUCH or box[2] > frame[2] + TOUCH or box[3] > frame[3] + TOUCH:
        return [f"{name} reaches beyond the frame of a sheet {size}."]
    return []
