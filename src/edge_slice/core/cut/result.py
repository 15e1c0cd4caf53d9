"""What a cut gives: faces with element, layer and material, and lines with element, edge and distance."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import IntEnum
from typing import TYPE_CHECKING

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.leaves import Axes, Leaf, Lens, Window

if TYPE_CHECKING:
    from edge_slice.core.cut.memory import CutMemory

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]


class Role(IntEnum):
    """What a line is; the numbers are stored in `CutLines.role`. Where lines coincide, the lowest is drawn."""

    SEEN = 0
    OVERHEAD = 1
    HIDDEN = 2


@dataclass(frozen=True)
class MaterialRules:
    """What cutting must know of materials, by material index with a last entry for unknown material:
    strength (materials + 1,) float64, who wins where cut faces overlap; clear (materials + 1,) bool, what can be
    seen through when a drawing asks for clear glass; merge (materials + 1,) bool, whose elements show no joint where
    the surface of one runs on in the next; skins: whether layers never do, be their material what it may."""

    strength: F64
    clear: NDArray[np.bool_]
    merge: NDArray[np.bool_]
    skins: bool = True

    @staticmethod
    def plain(materials: int) -> MaterialRules:
        """No material is stronger than another: the earlier element wins; nothing is clear, and
        every joint shows."""
        no = np.zeros(materials + 1, dtype=bool)
        return MaterialRules(np.zeros(materials + 1), no, no, False)


@dataclass(frozen=True)
class Strip:
    """Where a layer runs in the drawing: the band low <= normal·(u, v) <= high, in millimetres."""

    normal: tuple[float, float]
    low: float
    high: float


@dataclass(frozen=True)
class CutFace:
    """A closed piece of an element in the cut: `polygon` in drawing mm; `layer` counts from 0, -1: no layers;
    `leaf` is the plane of the cut that it lies in."""

    element: int
    material: int
    layer: int
    polygon: shapely.Polygon
    strip: Strip | None = None
    leaf: int = 0


@dataclass(frozen=True)
class CutLines:
    """Straight pieces of line: points (n, 4) float64 as u0 v0 u1 v1 in mm; role (n,) uint8; element (n,) int32;
    depth (n,) float64, mm from the cut to the middle of the piece; edge (n,) int32, the edge of the mesh."""

    points: F64
    role: NDArray[np.uint8]
    element: I32
    depth: F64
    edge: I32

    @staticmethod
    def empty() -> CutLines:
        none = np.zeros(0, np.int32)
        return CutLines(np.zeros((0, 4)), np.zeros(0, np.uint8), none, np.zeros(0), none)

    @staticmethod
    def join(parts: list[CutLines]) -> CutLines:
        return CutLines(
            np.concatenate([p.points for p in parts]),
            np.concatenate([p.role for p in parts]),
            np.concatenate([p.element for p in parts]),
            np.concatenate([p.depth for p in parts]),
            np.concatenate([p.edge for p in parts]),
        )

    def pick(self, chosen: NDArray[np.int64] | NDArray[np.bool_]) -> CutLines:
        return CutLines(
            self.points[chosen], self.role[chosen], self.element[chosen], self.depth[chosen], self.edge[chosen]
        )


@dataclass(frozen=True)
class Work:
    """What was computed anew: the stages, and how many elements were sliced and traced in them. A cut that only
    repeats an earlier one has none."""

    stages: tuple[str, ...] = ()
    sliced: int = 0
    traced: int = 0


@dataclass(frozen=True)
class CutResult:
    """`extents` is (left, base, right, top) in mm, `polygon` what they are cropped to besides, if anything;
    `steps` are the u (mm) where one leaf of the cut ends and the next begins; `open_chains` are the outlines of
    leaking elements that could not be closed, by element; `reach` is the depth that was drawn, mm, or None."""

    leaves: tuple[Leaf, ...]
    extents: Window
    faces: tuple[CutFace, ...]
    lines: CutLines
    open_chains: tuple[tuple[int, F64], ...] = ()
    reach: float | None = None
    polygon: shapely.Polygon | None = None
    lens: Lens | None = None
    work: Work = Work()
    memory: CutMemory | None = field(default=None, repr=False, compare=False)

    @property
    def axes(self) -> Axes:
        """The axes of the first leaf, which are those of the drawing where the cut is straight."""
        return self.leaves[0].axes

    @property
    def upright(self) -> bool:
        """Whether up in the drawing is up in the model."""
        return bool(self.axes.v[2] > 0.999)

    @property
    def steps(self) -> tuple[float, ...]:
        return tuple(leaf.window[0] for leaf in self.leaves[1:])

    @property
    def is_empty(self) -> bool:
        return not self.faces and not len(self.lines.points)
