"""A drawing standard: pens (ISO 128), hatches, materials and text heights as data that an office can edit."""

from __future__ import annotations

from functools import cache, cached_property
from importlib import resources
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.cut import MaterialRules
from edge_slice.core.model import Material, Model

ScaleClass = Literal["small", "middle", "large"]
Content = Literal["solid", "outline", "layers", "membranes"]


class _Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", ignored_types=(cached_property,))


class PenRule(_Data):
    """Width in mm by class of scale; dash lengths in mm on paper, empty for a continuous line."""

    width: dict[ScaleClass, float]
    dash: tuple[float, ...] = ()


class LineFamily(_Data):
    """Parallel lines: degrees, mm between lines, mm shift across, dash lengths along."""

    angle: float
    spacing: float = Field(gt=0)
    shift: float = 0.0
    dash: tuple[float, ...] = ()


class Scatter(_Data):
    """Small shapes on a jittered lattice, mm on paper."""

    shape: Literal["dot", "triangle", "pebble"]
    spacing: float = Field(gt=0)
    size: float = Field(gt=0)


class AlongLines(_Data):
    """Lines along the layer or the longest side, about so many mm apart."""

    spacing: float = Field(gt=0)


class Fitted(_Data):
    """A figure fitted between the faces of a layer; pitch as a share of its thickness."""

    pitch: float = Field(gt=0)


class Hatch(_Data):
    solid: bool = False
    families: tuple[LineFamily, ...] = ()
    scatter: tuple[Scatter, ...] = ()
    along: AlongLines | None = None
    batt: Fitted | None = None
    zigzag: Fitted | None = None


class MaterialRule(_Data):
    """How a class of material is drawn; `words` recognise it in a material's name, most telling first."""

    hatch: str
    tint: str
    strength: float
    structure: bool = False
    merge: bool = True
    words: tuple[str, ...] = ()


class TextRule(_Data):
    label: float
    small: float
    title: float
    heading: float


class MarkerRule(_Data):
    head_radius: float
    overhang: float
    heavy: float


class DrawingStandard(_Data):
    name: str
    pens: dict[str, PenRule]
    ink: str
    hatch_ink: str
    ground_depth: float
    thin_layer: float
    near_share: tuple[float, float]
    materials: dict[str, MaterialRule]
    hatches: dict[str, Hatch]
    text: TextRule
    marker: MarkerRule

    @cached_property
    def _words(self) -> list[tuple[str, str]]:
        """(word, class), longest words first: 'rigid insulation' is tried before 'insulation'."""
        pairs = [(w, k) for k, rule in self.materials.items() for w in (k, *rule.words)]
        return sorted(pairs, key=lambda pair: (-len(pair[0]), pair[0]))

    def material_class(self, material: Material | None) -> str:
        """The class of a material: its category if the standard knows it, else the word in its name."""
        if material is None:
            return "other"
        category = material.category.strip().lower()
        if category in self.materials:
            return category
        text = f" {material.name.lower().replace('_', ' ').replace('-', ' ')} {category} "
        return next((k for word, k in self._words if f" {word}" in text), "other")

    def classes(self, model: Model) -> list[str]:
        """Class by material index; the last entry is for unknown material."""
        return [self.material_class(m) for m in model.materials] + ["other"]

    def cut_rules(self, model: Model) -> MaterialRules:
        """What `cut_model` must know of the model's materials."""
        classes = self.classes(model)
        strength = np.array([self.materials[k].strength for k in classes], dtype=np.float64)
        return MaterialRules(strength, np.array([k == "glass" for k in classes], dtype=bool))


def scale_class(scale: float) -> ScaleClass:
    return "large" if scale <= 20 else "middle" if scale <= 50 else "small"


def content_for(scale: float) -> Content:
    """How much of a build-up shows at a scale."""
    return "membranes" if scale <= 20 else "layers" if scale <= 50 else "outline" if scale < 200 else "solid"


@cache
def default_standard() -> DrawingStandard:
    text = resources.files("edge_slice.core.drawing").joinpath("standard.json").read_text("utf-8")
    return DrawingStandard.model_validate_json(text)
