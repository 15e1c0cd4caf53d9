"""What a cut gives: faces with element, layer and material, and lines with element and distance."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.spec import Axes

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]


class Role(IntEnum):
    """What a line is; the numbers are stored in `CutLines.role`."""

    SEEN = 0
    OVERHEAD = 1
    HIDDEN = 2


@dataclass(frozen=True)
class Strip:
    """Where a layer runs in the drawing: the band low <= normal·(u, v) <= high, in millimetres."""

    normal: tuple[float, float]
    low: float
    high: float


@dataclass(frozen=True)
class CutFace:
    """A closed piece of an element in the cut: `polygon` in drawing mm; `layer` counts from 0, -1: no layers."""

    element: int
    material: int
    layer: int
    polygon: shapely.Polygon
    strip: Strip | None = None


@dataclass(frozen=True)
class CutLines:
    """Straight pieces of line: points (n, 4) float64 as u0 v0 u1 v1 in mm; role (n,) uint8; element (n,) int32;
    depth (n,) float64, mm from the cut to the middle of the piece."""

    points: F64
    role: NDArray[np.uint8]
    element: I32
    depth: F64

    @staticmethod
    def empty() -> CutLines:
        return CutLines(np.zeros((0, 4)), np.zeros(0, np.uint8), np.zeros(0, np.int32), np.zeros(0))

    @staticmethod
    def join(parts: list[CutLines]) -> CutLines:
        return CutLines(
            np.concatenate([p.points for p in parts]),
            np.concatenate([p.role for p in parts]),
            np.concatenate([p.element for p in parts]),
            np.concatenate([p.depth for p in parts]),
        )


@dataclass(frozen=True)
class CutResult:
    """`extents` is (left, base, right, top) in mm; `open_chains` are the outlines of leaking elements that
    could not be closed, by element; `reach` is the depth that was drawn, mm, or None."""

    axes: Axes
    extents: tuple[float, float, float, float]
    faces: tuple[CutFace, ...]
    lines: CutLines
    open_chains: tuple[tuple[int, F64], ...] = ()
    reach: float | None = None

    @property
    def is_empty(self) -> bool:
        return not self.faces and not len(self.lines.points)
