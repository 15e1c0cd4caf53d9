"""A drawing standard: pens (ISO 128), hatches, materials, content rules and text heights as data that an office can
edit, give away and take over as JSON."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from difflib import get_close_matches
from functools import cache, cached_property
from importlib import resources
from typing import Annotated, Literal

import numpy as np
from pydantic import ConfigDict, Field, model_validator

from edge_slice.core.cut import AnyCut, MaterialRules
from edge_slice.core.drawing.rules.annotation_rules import AnnotationRule, shipped_annotation_rule
from edge_slice.core.drawing.rules.appearance import LINES, SHIPPED_APPEARANCES, Appearance
from edge_slice.core.drawing.rules.hatch_rules import Data, Hatch
from edge_slice.core.drawing.rules.recognition import Words, plain
from edge_slice.core.drawing.rules.services_rule import ServicesRule
from edge_slice.core.drawing.spec import DisciplineLooks, DrawingSpec, MarkerHead, MarkerKind
from edge_slice.core.model import Element, Material, Model

ScaleClass = Literal["small", "middle", "large"]
Content = Literal["solid", "outline", "layers", "membranes"]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
Name = Annotated[str, Field(min_length=1, max_length=60)]
Width = Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)]
SHIPPED = ("fine-line", "bold")
FRAMING = "framing"
FaceClasses = Callable[[Element, int, int], str]  # element, material, layer (-1: none) -> class


class PenRule(Data):
    """Width in mm by class of scale; 0: not drawn. Lengths of dashes and gaps as multiples of the width
    (ISO 128-2), empty for a continuous line. `colour`: where it is not the standard's ink."""

    width: dict[ScaleClass, Width]
    dash: Annotated[tuple[Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)], ...], Field(max_length=8)] = ()
    colour: Colour | None = None


class MaterialRule(Data):
    """How a class of material is drawn. `hatch_across` replaces the hatch where a long element is cut across its
    length; `strength` decides who keeps the place where cut faces overlap; `structure` has the heavier outline;
    `merge`: no line between neighbours. `pattern` is the hatch of its seen side, `seen_tint` the tint of that where it
    is not the one of the cut. `words` recognise the class in a material's name, `weak_words` where none of
    the others does: they say more of a form than of a substance."""

    hatch: str
    hatch_across: str = ""
    tint: Colour
    strength: Annotated[float, Field(ge=0, le=1000)]
    structure: bool = False
    merge: bool = True
    pattern: str = ""
    seen_tint: Colour | None = None
    words: tuple[str, ...] = ()
    weak_words: tuple[str, ...] = ()


Height = Annotated[float, Field(ge=0.5, le=50)]


class TextRule(Data):
    """Heights of capitals, mm (ISO 3098)."""

    label: Height
    small: Height
    title: Height
    heading: Height


class CalloutRule(Data):
    """Of markers of callouts: the radius of their boundary's corners, mm on paper; on drawings up to how many times
    smaller than their own scale they show, but for the one that they were called out from; and the largest scale
    denominator at which any shows."""

    corner: Annotated[float, Field(ge=0, le=20)] = 3.0
    reach: Annotated[float, Field(ge=1, le=1000)] = 5.0
    shown_up_to: Annotated[float, Field(gt=0, le=1e6)] = 200.0


class BreakRule(Data):
    """Of break lines, mm on paper: the gap that a broken drawing closes up to, height and width of a zigzag, how far
    from one to the next, and how far the line runs on beyond what it breaks (ISO 128-2, zigzag line)."""

    gap: Annotated[float, Field(ge=0, le=50)] = 6.0
    height: Annotated[float, Field(ge=0.2, le=20)] = 2.0
    width: Annotated[float, Field(ge=0.2, le=20)] = 2.0
    spacing: Annotated[float, Field(ge=5, le=1000)] = 40.0
    overhang: Annotated[float, Field(ge=0, le=50)] = 3.0


class MarkerRule(Data):
    """Of markers: form of heads, their radius, how far they stand beyond the ends of a line, width of its heavy ends,
    mm on paper; `shown_up_to`: the largest scale denominator at which a kind of marker still shows, of those that do
    not always."""

    head: MarkerHead = "wedge"
    head_radius: Annotated[float, Field(ge=1, le=30)]
    overhang: Annotated[float, Field(ge=0, le=100)]
    heavy: Annotated[float, Field(ge=0, le=5)]
    shown_up_to: dict[MarkerKind, Annotated[float, Field(gt=0, le=1e6)]] = Field(default={})
    callouts: CalloutRule = CalloutRule()


class ScaleClasses(Data):
    """The largest scale denominator of the two larger classes."""

    large: float
    middle: float


class ContentRule(Data):
    """The largest scale denominator at which a build-up shows that much; beyond the last, one solid fill."""

    membranes: float
    layers: float
    outline: float


class ConventionRule(Data):
    """What plans draw otherwise than it is modelled. Door leaves stand open, and windows are plain, from these scale
    denominators on; a plan looks down to `below_floor` metres under its finished floor and shows what hangs up to
    `overhead` metres above its cut dashed."""

    doors: bool = True
    stairs: bool = True
    windows: bool = True
    heads: bool = True
    shafts: bool = True
    voids: bool = True
    services: bool = True
    doors_open_from: float = 50
    windows_plain_from: float = 100
    below_floor: Annotated[float, Field(ge=0, le=10)] = 0.3
    overhead: Annotated[float, Field(ge=0, le=100)] = 1.5

    @property
    def reach(self) -> tuple[float, float]:
        """How far a plan looks below its floor, and above its cut, metres."""
        return self.below_floor, self.overhead


class TitleRule(Data):
    """What titles of drawings on sheets look like: the number in a bubble or a box before the name, which stands over a
    line, or before the name on the line; `size`: half the size of the bubble or box, mm; the scale below it or not."""

    form: Literal["bubble", "box", "line"] = "bubble"
    size: Annotated[float, Field(ge=3, le=15)] = 6.0
    scale: bool = True


class FramingRule(Data):
    """When a layer is no solid but spaced members, class `framing`: where one of that class's words is in its name and
    its material is one `of` these, or where it is thicker, in mm, than its material comes as a sheet (`solid_up_to`).
    `kinds` of element are taken for a layer where they have no build-up."""

    of: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    solid_up_to: dict[str, float] = Field(default={})


class DrawingStandard(Data):
    """`ground_depth`: mm on paper that cut ground is filled to; `thin_layer`: mm on paper under which a layer joins
    its stronger neighbour at middle scales; `near_share`: where the near and the middle band of distance end, as
    shares of the depth; `kinds`: the class of elements without a material, by kind; `left_out`: the largest scale
    denominator at which a kind of element still shows."""

    model_config = ConfigDict(frozen=True, extra="forbid", ignored_types=(cached_property,))

    name: Name
    pens: dict[str, PenRule]
    ink: Colour
    hatch_ink: Colour
    ground_depth: float
    thin_layer: float
    near_share: tuple[float, float]
    content: ContentRule
    scale_classes: ScaleClasses
    left_out: dict[str, float]
    materials: Annotated[dict[str, MaterialRule], Field(max_length=500)]
    framing: FramingRule = FramingRule()
    conventions: ConventionRule = ConventionRule()
    services: ServicesRule = ServicesRule()
    kinds: dict[str, str]
    hatches: Annotated[dict[str, Hatch], Field(max_length=500)]
    text: TextRule
    marker: MarkerRule
    breaks: BreakRule = BreakRule()
    titles: TitleRule = TitleRule()
    annotations: AnnotationRule = Field(default_factory=shipped_annotation_rule)
    settled: dict[str, str] = Field(
        default={}, description="Of a project, above its standards: classes of materials by their whole names"
    )
    disciplines: DisciplineLooks = Field(default={}, description="How parts of a model show, by discipline")
    appearances: Annotated[dict[Name, Appearance], Field(max_length=50)] = Field(default=SHIPPED_APPEARANCES)

    @model_validator(mode="before")
    @classmethod
    def _with_newer_pens(cls, document: object) -> object:
        """Standards that were given away before a pen was there get it as it is shipped."""
        if isinstance(document, dict) and isinstance(document.get("pens"), dict):
            return {**document, "pens": {**NEWER_PENS, **document["pens"]}}
        return document

    @model_validator(mode="after")
    def _complete(self) -> DrawingStandard:
        for key, rule in self.materials.items():
            for hatch in (rule.hatch, rule.hatch_across, rule.pattern):
                if hatch and hatch not in self.hatches:
                    raise ValueError(f"materials: {key} asks for hatch {hatch!r}, which is not among the hatches")
        missing = {"other", "earth"} - set(self.materials)
        unknown = sorted(set(self.kinds.values()) - set(self.materials))
        if missing or unknown:
            raise ValueError(f"materials: class {(*sorted(missing), *unknown)[0]!r} is missing")
        lost = sorted(set(PEN_ROLES) - set(self.pens))
        if lost:
            raise ValueError(f"pens: the pen for {lost[0]!r} is missing")
        strange = sorted(set(self.pens) - set(PEN_ROLES))
        if strange:
            near = get_close_matches(strange[0], PEN_ROLES, 3, 0.4) or PEN_ROLES
            raise ValueError(f"pens: {strange[0]!r} is no pen; there is {', '.join(near)}")
        return self

    @cached_property
    def _words(self) -> tuple[Words, Words, Words]:
        """Words, weak words, and those of spaced members, which make a layer what it is but no element."""
        rules = {k: r for k, r in self.materials.items() if k != FRAMING}
        members = self.materials[FRAMING].words if FRAMING in self.materials else ()
        return (
            Words({k: (k, *r.words) for k, r in rules.items() if k != "other"}),
            Words({k: r.weak_words for k, r in rules.items()}),
            Words({FRAMING: members}),
        )

    def _settled(self, material: Material) -> str | None:
        """What the project says of a material, in its place or everywhere; nothing where this standard has no such
        class."""
        said = (material.said, self.settled.get(material.name, ""))
        return next((one for one in said if one in self.materials), None)

    def words_for(self, material: Material, found: str) -> tuple[str, ...]:
        """The words in a material's name or category by which it is `found` to be of a class."""
        words = [w for text in (material.name, material.category) for by in self._words for w in by.matches(text)]
        return tuple(dict.fromkeys(word for _, _, word, key in words if key == found))

    def clear(self, material: Material) -> bool:
        """Whether a material's class follows from its name, its category, or what the project says of it; not from a
        weak word, nor from nothing."""
        strong, _, _ = self._words
        category = plain(material.category)
        return (
            self._settled(material) is not None
            or strong.found(material.name) is not None
            or category in self.materials
            or strong.found(category) is not None
        )

    def material_class(self, material: Material | None) -> str:
        """The class of a material: by the words in its name, else by its category."""
        if material is None:
            return "other"
        if (said := self._settled(material)) is not None:
            return said
        strong, weak, _ = self._words
        category = plain(material.category)
        named = strong.found(material.name) or (category if category in self.materials else strong.found(category))
        return named or weak.found(material.name) or weak.found(category) or "other"

    def layer_class(self, material: Material, thickness: float) -> str:
        """The class of a layer `thickness` metres thick (0: unknown)."""
        own, rule = self.material_class(material), self.framing
        if FRAMING not in self.materials or self._settled(material) is not None:
            return own
        named = own in rule.of and self._words[2].found(material.name) is not None
        return FRAMING if named or thickness * 1000.0 > rule.solid_up_to.get(own, float("inf")) else own

    def classes(self, model: Model) -> list[str]:
        """Class by material index; the last entry is for unknown material."""
        return [self.material_class(m) for m in model.materials] + ["other"]

    def face_classes(self, model: Model) -> FaceClasses:
        """The class in which a piece of an element is drawn."""
        own = self.classes(model)
        solids = [self.layer_class(m, 0.0) for m in model.materials] + ["other"]
        layers = [
            [self.layer_class(model.materials[x.material], x.thickness) for x in b.layers] for b in model.build_ups
        ]

        def of(element: Element, material: int, layer: int) -> str:
            if layer >= 0:
                return layers[element.build_up][layer]
            found = (solids if element.kind in self.framing.kinds else own)[material]
            return self.kinds.get(element.kind, "other") if found == "other" else found

        return of

    def cut_rules(self, model: Model) -> MaterialRules:
        """What `cut_model` must know of the model's materials."""
        classes = self.classes(model)
        strength = np.array([self.materials[k].strength for k in classes], dtype=np.float64)
        merge = np.array([self.materials[k].merge for k in classes], dtype=bool)
        return MaterialRules(strength, np.array([k == "glass" for k in classes], dtype=bool), merge)

    def scale_class(self, scale: float) -> ScaleClass:
        rule = self.scale_classes
        return "large" if scale <= rule.large else "middle" if scale <= rule.middle else "small"

    def content_for(self, scale: float) -> Content:
        """How much of a build-up shows at a scale."""
        rule = self.content
        if scale <= rule.membranes:
            return "membranes"
        return "layers" if scale <= rule.layers else "outline" if scale <= rule.outline else "solid"

    def content_of(self, spec: DrawingSpec) -> Content:
        """How much of a build-up a drawing shows."""
        return self.content_for(spec.scale) if spec.content == "auto" else spec.content

    def appearance_of(self, spec: DrawingSpec) -> Appearance:
        """How a drawing shows seen surfaces; as lines where its appearance is not there any more."""
        return self.appearances.get(spec.appearance, LINES).changed(spec.surfaces)

    def shown_cut(self, cut: AnyCut, scale: float) -> AnyCut:
        """The cut without the kinds of element that do not show at a scale."""
        small = {kind for kind, most in self.left_out.items() if scale > most} - set(cut.without)
        return cut.model_copy(update={"without": (*cut.without, *sorted(small))}) if small else cut

    def marked(self, spec: DrawingSpec) -> tuple[MarkerKind, ...]:
        """The kinds of marker that a drawing shows at its scale."""
        most = self.marker.shown_up_to
        return tuple(kind for kind in spec.shown_markers if spec.scale <= most.get(kind, math.inf))

    def adapted(self, spec: DrawingSpec) -> DrawingStandard:
        """The standard with a drawing's own exceptions: other widths by role, other hatch, tint or merging by class.
        What names a role, class or hatch that the standard does not have is left as it is."""
        if not spec.pens and not spec.materials:
            return self
        pens, materials = dict(self.pens), dict(self.materials)
        for role, width in spec.pens.items():
            if role in pens:
                pens[role] = pens[role].model_copy(update={"width": dict.fromkeys(pens[role].width, width)})
        for key, exception in spec.materials.items():
            if key not in materials:
                continue
            change = exception.model_dump(exclude_none=True)
            if change.get("hatch", "none") not in self.hatches:
                del change["hatch"]
            if change.get("pattern", "") and change["pattern"] not in self.hatches:
                del change["pattern"]
            if "hatch" in change:
                change["hatch_across"] = ""
            materials[key] = materials[key].model_copy(update=change)
        return self.model_copy(update={"pens": pens, "materials": materials})


_EVERY: tuple[ScaleClass, ...] = ("small", "middle", "large")
_FINE: dict[ScaleClass, float] = {"small": 0.18, "middle": 0.18, "large": 0.25}
NEWER_PENS = {
    "callout": PenRule(width=dict.fromkeys(_EVERY, 0.35), dash=(12, 3)),
    "dimension": PenRule(width=_FINE),
    "leader": PenRule(width=_FINE),
    "symbol": PenRule(width=dict.fromkeys(_EVERY, 0.25)),
    "area": PenRule(width=dict.fromkeys(_EVERY, 0.25)),
    "surface pattern": PenRule(width={"small": 0.13, "middle": 0.13, "large": 0.18}),
}
PEN_ROLES = (
    "cut structure", "cut other", "layer", "seen near", "seen middle", "seen far", "overhead", "hidden", "hatch",
    "membrane", "earth line", "step", "marker", "callout", "level", "grid", "text", "frame", "frame fine", "title",
    "dimension", "leader", "symbol", "area", "surface pattern",
)  # fmt: skip


@cache
def shipped_standard(key: str) -> DrawingStandard:
    """One of `SHIPPED`: the common rules with what the standard has of its own."""
    folder = resources.files("edge_slice.core.drawing").joinpath("standards")
    common = json.loads(folder.joinpath("common.json").read_text("utf-8"))
    own = json.loads(folder.joinpath(f"{key}.json").read_text("utf-8"))
    for name, tint in own.pop("tints", {}).items():
        common["materials"][name]["tint"] = tint
    return DrawingStandard.model_validate({**common, **own})


def default_standard() -> DrawingStandard:
    """The standard that drawings begin with."""
    return shipped_standard(SHIPPED[0])
