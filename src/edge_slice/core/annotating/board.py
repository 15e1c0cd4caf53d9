"""What annotations are drawn on: a drawing with its scale, pens and parts; and what an annotation becomes there."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, CutResult
from edge_slice.core.cut.anchors.anchor import Anchor, Held, Spot
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import Opening
from edge_slice.core.drawing.display import Box, Image, Item, Pen
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.drawing.rules.annotation_rules import AnnotationRule
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.model import Model

F64 = NDArray[np.float64]


@dataclass(frozen=True)
class Board:
    """A drawing that annotations stand on."""

    features: Features
    cut: AnyCut
    spec: DrawingSpec
    standard: DrawingStandard
    pens: dict[str, Pen]
    fold: Fold
    opening: Opening | None = None

    @staticmethod
    def of(
        model: Model,
        result: CutResult,
        cut: AnyCut,
        spec: DrawingSpec,
        standard: DrawingStandard,
        opening: Opening | None = None,
    ) -> Board:
        """`opening`: how a plan is broken open for the strip of a section."""
        adapted = standard.adapted(spec)
        fold = Fold.of(result.extents, cut.extents, spec.scale, standard.breaks)
        return Board(Features(model, result), cut, spec, adapted, pens_of(adapted, spec.scale), fold, opening)

    @property
    def model(self) -> Model:
        return self.features.model

    @property
    def result(self) -> CutResult:
        return self.features.result

    @property
    def rule(self) -> AnnotationRule:
        return self.standard.annotations

    @property
    def scale(self) -> float:
        return self.spec.scale

    @property
    def lengths(self) -> Lengths:
        return self.spec.written

    @property
    def upright(self) -> bool:
        return self.result.upright

    def height(self, role: str) -> float:
        """Height of capitals, mm, of a text role."""
        return float(getattr(self.standard.text, role))

    def paper(self, spot: Spot | F64) -> F64:
        """Where a place of the drawing (mm) stands on paper (2,), mm."""
        return np.asarray(self.on_paper(np.array([spot], dtype=np.float64))[0])

    def on_paper(self, points: F64) -> F64:
        """Where places of the drawing (n, 2), mm, stand on paper."""
        folded = self.fold.points(points / self.scale)
        return folded if self.opening is None else self.opening.points(folded)

    def torn(self, a: F64, b: F64) -> list[F64]:
        """The places (mm on paper) between two others where what runs from one to the other is torn apart: in the
        middle of breaks and of gaps for strips, at the edges of the strips themselves."""
        if self.opening is None:
            return [a + (b - a) * share for share in self.fold.tears(a, b)]
        ends = np.array([a, b])
        shares = self.fold.tears(*self.opening.unfolded(ends)) + self.opening.tears(*ends)
        gaps = [a + (b - a) * share for share in shares]
        bands = self.opening.bands
        edges = shapely.get_coordinates(shapely.intersection(shapely.LineString(ends), shapely.boundary(bands)))
        return [*(p for p in gaps if not shapely.intersects_xy(bands, *p)), *edges]

    @property
    def frame(self) -> Box:
        """What the drawing takes up on paper, mm."""
        return self.fold.frame if self.opening is None else self.opening.frame

    @property
    def margin(self) -> float:
        """How far beyond the extents annotations may stand, mm on paper."""
        return self.rule.margin if self.spec.note_margin is None else self.spec.note_margin

    def within(self, at: F64) -> bool:
        """Whether a place on paper (2,) lies in the extents or their note margin."""
        left, base, right, top = self.frame
        m = self.margin
        return bool(left - m <= at[0] <= right + m and base - m <= at[1] <= top + m)


@dataclass(frozen=True)
class Grip:
    """A place (mm on paper) by which a part of an annotation is moved: `name` is "point 0", "anchor 1", "text 2" …"""

    name: str
    at: tuple[float, float]


@dataclass(frozen=True)
class Sketch:
    """An annotation as lines and texts, before it is put together: what it says of itself besides."""

    items: list[Item]
    grips: list[Grip]
    findings: list[str]
    by_hand: bool = False  # words or values that somebody typed instead of what the model says
    images: tuple[Image, ...] = ()
    layers: tuple[tuple[int, str], ...] = ()  # of a layer note, in the order of its lines: layer, what the model says


@dataclass(frozen=True)
class Stand:
    """Where an annotation's anchors are now (mm of the drawing), and its own points, moved along with the first."""

    anchors: tuple[Anchor, ...]
    held: tuple[Held, ...]
    spots: F64  # (anchors, 2)
    points: F64  # (points, 2)


# an annotation of one kind on a board: its document, and where that stands
Sketcher = Callable[[Board, Any, Stand], Sketch]


def spot_grip(name: str, at: F64) -> Grip:
    return Grip(name, (round(float(at[0]), 3), round(float(at[1]), 3)))
