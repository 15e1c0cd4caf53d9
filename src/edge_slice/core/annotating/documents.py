"""The documents of annotations. Every one has `anchors`, what it is tied to, and `points` of its own, mm in the axes of
its drawing, which move with the first of its anchors."""

from __future__ import annotations

import math
import unicodedata
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, TypeAdapter, model_validator

from edge_slice.core.cut.anchors.anchor import Anchor, Spot

MOST_TEXT = 4000  # letters of one annotation
Paper = Annotated[float, Field(ge=-2000, le=2000, allow_inf_nan=False)]
End = Literal["arrow", "dot", "none"]
Align = Literal["left", "right"]
# what labels say, or a property of the file ("property: " and its name, "set: name")
PROPERTIES = ("number", "name", "area", "kind", "material", "build-up", "mark", "type", "size")
OF_FILE = "property: "
Property = Annotated[str, Field(pattern=rf"^({'|'.join(PROPERTIES)}|{OF_FILE}.{{1,300}})$", max_length=320)]
TextRole = Literal["small", "label", "title", "heading"]


class Unwritable(ValueError):
    """A text can't be drawn; the message says which letters, and what to do."""


def checked_text(text: str) -> str:
    """A text that can be drawn. Raises `Unwritable`."""
    if any(unicodedata.category(c) == "Cc" and c != "\n" for c in text):
        raise Unwritable("text: it holds control characters; write it without them (line breaks are fine)")
    return text


Text = Annotated[str, Field(max_length=MOST_TEXT), AfterValidator(checked_text)]
Key = Annotated[str, Field(max_length=64)]


class _Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class _Annotation(_Data):
    """`rule` and `subject` say which automatic set placed it for what; `by_hand` that somebody changed it since, so
    that renewing the set leaves it alone."""

    anchors: Annotated[tuple[Anchor, ...], Field(min_length=1, max_length=200)]
    points: Annotated[tuple[Spot, ...], Field(min_length=1, max_length=2000)]
    rule: Annotated[str, Field(max_length=40)] = ""
    subject: Key = ""
    by_hand: bool = False

    def names(self) -> dict[str, tuple[str, str]]:
        """By field, what it names of a standard: a hatch, a line type or a symbol, and which."""
        return {}


class Note(_Annotation):
    """A text, wrapped to `width` mm on paper (0: not), at `points[0]`: the middle of its first line, where its leaders
    leave. Its leaders lead to the anchors; without, it is tied to the first."""

    kind: Literal["note"] = "note"
    text: Text
    width: Annotated[float, Field(ge=0, le=1000)] = 60.0
    height: TextRole = "label"
    align: Align = "left"
    leaders: bool = True
    elbow: bool = True
    end: End = "arrow"


class Wording(_Data):
    """The words of one layer (its place in the build-up), changed by hand; `instead_of` is what the model said."""

    layer: Annotated[int, Field(ge=0, le=1000)]
    text: Text
    instead_of: Annotated[str, Field(max_length=400)] = ""


class LayerNote(_Annotation):
    """One leader through a build-up, from the layer furthest from the text, and a line of text for each layer."""

    kind: Literal["layer note"] = "layer note"
    wording: Annotated[tuple[Wording, ...], Field(max_length=200)] = ()
    thickness: bool = True
    height: TextRole = "label"
    align: Align = "left"


class LabelNote(_Annotation):
    """What the model says of a room or an element: `says` names its properties, one a line. `text`, where it is not
    empty, is said instead, and `instead_of` what the model said then."""

    kind: Literal["label"] = "label"
    says: Annotated[tuple[Property, ...], Field(min_length=1, max_length=12)] = ("name",)
    text: Text = ""
    instead_of: Annotated[str, Field(max_length=400)] = ""
    height: TextRole = "label"
    framed: bool = False
    leader: Literal["far", "always", "never"] = "far"


class Witness(_Data):
    """How one witness line differs: its start is `start` mm on paper further from the feature than usual (or nearer,
    below 0); the whole line is `length` mm on paper long, measured from the dimension line; or it is left out."""

    index: Annotated[int, Field(ge=0, le=200)]
    start: Paper = 0.0
    length: Annotated[float, Field(ge=0, le=2000)] | None = None
    shown: bool = True


class Said(_Data):
    """A value that was typed instead of measured, or text beside it; `moved` is how far its text was moved on paper."""

    index: Annotated[int, Field(ge=0, le=200)]
    typed: Annotated[Text, Field(max_length=60)] = ""
    under: Annotated[Text, Field(max_length=120)] = ""
    moved: tuple[Paper, Paper] | None = None


class Dimension(_Annotation):
    """Distances between its anchors along `direction` (degrees from u), written at a line through `points[0]`: one by
    one (`chain`), or each from the first (`running`). Sorted along the direction. (ISO 129-1)"""

    kind: Literal["dimension"] = "dimension"
    form: Literal["chain", "running"] = "chain"
    direction: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
    witness: Annotated[tuple[Witness, ...], Field(max_length=200)] = ()
    said: Annotated[tuple[Said, ...], Field(max_length=200)] = ()

    @model_validator(mode="after")
    def _measures(self) -> Dimension:
        if len(self.anchors) < 2:
            raise ValueError("anchors: a dimension needs two references or more; click on another corner or side")
        along = np.array([a.at for a in self.anchors]) @ self.way
        if float(np.ptp(along)) < 0.1:
            raise ValueError("anchors: these references lie at one place along the dimension; choose others")
        return self

    @property
    def way(self) -> NDArray[np.float64]:
        """The unit vector (2,) along which it measures."""
        a = math.radians(self.direction)
        return np.array([math.cos(a), math.sin(a)])


class Angle(_Annotation):
    """The angle at the first anchor between the ways to the second and the third; its arc runs through `points[0]`."""

    kind: Literal["angle"] = "angle"

    @model_validator(mode="after")
    def _three(self) -> Angle:
        if len(self.anchors) != 3:
            raise ValueError("anchors: an angle has three references: its corner, and a point on each of its legs")
        return self


class Radius(_Annotation):
    """The radius of the circle through three anchors, written at `points[0]`."""

    kind: Literal["radius"] = "radius"

    @model_validator(mode="after")
    def _three(self) -> Radius:
        if len(self.anchors) != 3:
            raise ValueError("anchors: a radius has three references on the curve")
        a, b, c = (np.array(x.at) for x in self.anchors)
        if abs(float((b - a)[0] * (c - a)[1] - (b - a)[1] * (c - a)[0])) < 1.0:
            raise ValueError("anchors: these three references lie on a straight line; choose points of a curve")
        return self


class Slope(_Annotation):
    """The fall between two anchors, with an arrow that points down it, at `points[0]`."""

    kind: Literal["slope"] = "slope"
    as_: Literal["percent", "ratio", "degrees"] = Field(default="percent", alias="as")
    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    @model_validator(mode="after")
    def _two(self) -> Slope:
        if len(self.anchors) != 2:
            raise ValueError("anchors: a slope has two references")
        return self


class SpotLevel(_Annotation):
    """The height over the datum of its anchor, written at `points[0]`; on plans that of what is seen there."""

    kind: Literal["spot level"] = "spot level"
    height: TextRole = "label"
    upper: Text = ""


class LineWork(_Annotation):
    """A line through `points`: straight from one to the next, a rectangle between two corners, an arc through three, a
    smooth curve, or the mark of a revision around a box; of one of the standard's line types, whose letters run along
    it."""

    kind: Literal["line"] = "line"
    form: Literal["polyline", "rectangle", "arc", "spline", "cloud"] = "polyline"
    closed: bool = False
    line_type: Annotated[str, Field(max_length=60)] = "continuous"

    @model_validator(mode="after")
    def _drawn(self) -> LineWork:
        wanted = {"polyline": 2, "rectangle": 2, "arc": 3, "spline": 2, "cloud": 2}[self.form]
        if len(self.points) < wanted or (self.form in ("rectangle", "arc", "cloud") and len(self.points) != wanted):
            raise ValueError(f"points: this line needs {wanted} points")
        if float(np.ptp(np.array(self.points), axis=0).max()) < 0.1:
            raise ValueError("points: the line has no length")
        return self

    def names(self) -> dict[str, tuple[str, str]]:
        return {"line_type": ("line type", self.line_type)}


class Area(_Annotation):
    """An area filled with a hatch of the standard; `masks`: what lies under it is hidden."""

    kind: Literal["area"] = "area"
    form: Literal["polyline", "rectangle", "spline"] = "polyline"
    hatch: Annotated[str, Field(max_length=60)] = "none"
    outline: bool = True
    masks: bool = False

    @model_validator(mode="after")
    def _drawn(self) -> Area:
        if len(self.points) < (2 if self.form == "rectangle" else 3):
            raise ValueError("points: an area needs three corners or more")
        if float(np.ptp(np.array(self.points), axis=0).min()) < 0.1:
            raise ValueError("points: the area has no size")
        return self

    def names(self) -> dict[str, tuple[str, str]]:
        return {"hatch": ("hatch", self.hatch)}


class Symbol(_Annotation):
    """A symbol of the standard at `points[0]`, turned by `angle` degrees, `size` times as large as it is given."""

    kind: Literal["symbol"] = "symbol"
    symbol: Annotated[str, Field(min_length=1, max_length=60)]
    angle: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
    size: Annotated[float, Field(ge=0.1, le=20, allow_inf_nan=False)] = 1.0
    mirrored: bool = False
    text: Annotated[Text, Field(max_length=60)] = ""

    def names(self) -> dict[str, tuple[str, str]]:
        return {"symbol": ("symbol", self.symbol)}


class Picture(_Annotation):
    """A picture (SHA-256 of its PNG) between two opposite corners."""

    kind: Literal["picture"] = "picture"
    image: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    fade: Annotated[float, Field(ge=0, le=0.95)] = 0.0

    @model_validator(mode="after")
    def _sized(self) -> Picture:
        if len(self.points) != 2 or float(np.ptp(np.array(self.points), axis=0).min()) < 0.1:
            raise ValueError("points: a picture stands between two opposite corners, with some size")
        return self


AnyAnnotation = (
    Note | LayerNote | LabelNote | Dimension | Angle | Radius | Slope | SpotLevel | LineWork | Area | Symbol | Picture
)
AnnotationDocument = Annotated[AnyAnnotation, Field(discriminator="kind")]
ANNOTATION: TypeAdapter[AnyAnnotation] = TypeAdapter(AnnotationDocument)


def shifted(document: AnyAnnotation, du: float, dv: float) -> AnyAnnotation:
    """An annotation with its own points moved by (du, dv) mm; its anchors stay."""
    points = tuple((round(u + du, 4), round(v + dv, 4)) for u, v in document.points)
    return document.model_copy(update={"points": points})


def words_of(document: AnyAnnotation) -> str:
    """All words that an annotation has of its own, to be searched; not what labels read from the model."""
    said = [getattr(document, "text", ""), getattr(document, "upper", "")]
    said += [w.text for w in getattr(document, "wording", ())]
    said += [f"{s.typed} {s.under}" for s in getattr(document, "said", ())]
    return " ".join(s for s in said if s)
