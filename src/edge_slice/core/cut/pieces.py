"""What a cut is made of: rules of materials, faces with element, layer and material, lines with element and edge."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from enum import IntEnum

import numpy as np
import shapely
from numpy.typing import NDArray

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

    def digest(self) -> str:
        """The same for rules that say the same."""
        said = (self.strength.tobytes(), self.clear.tobytes(), self.merge.tobytes(), bytes([self.skins]))
        return hashlib.sha256(b"".join(said)).hexdigest()

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
