"""What a cut gives."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.memory import CutMemory
from edge_slice.core.cut.opened.standing import SeenFaces
from edge_slice.core.cut.pieces import CutFace, CutLines
from edge_slice.core.cut.planes.leaves import Axes, Leaf, Lens, Window

F64 = NDArray[np.float64]


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
    leaking elements that could not be closed, by element; `reach` is the depth that was drawn, mm, or None; `standing`
    are the cut faces of a view that other planes than its own open."""

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
    standing: tuple[SeenFaces, ...] = ()

    @property
    def axes(self) -> Axes:
        """The axes of the first leaf, which are those of the drawing where the cut is straight."""
        return self.leaves[0].axes

    @property
    def upright(self) -> bool:
        """Whether up in the drawing is up in the model."""
        return bool(self.axes.v[2] > 0.999)

    @property
    def frame(self) -> shapely.Geometry:
        """What it is cropped to, mm."""
        window = shapely.box(*self.extents)
        return window if self.polygon is None else shapely.intersection(window, self.polygon)

    def without(self, faces: NDArray[np.bool_], lines: NDArray[np.bool_]) -> CutResult:
        """The result without some of its faces (faces,) and lines (lines,)."""
        if not faces.any() and not lines.any():
            return self
        kept = tuple(f for f, gone in zip(self.faces, faces, strict=True) if not gone)
        return replace(self, faces=kept, lines=self.lines.pick(~lines))

    @property
    def steps(self) -> tuple[float, ...]:
        return tuple(leaf.window[0] for leaf in self.leaves[1:])

    @property
    def is_empty(self) -> bool:
        return not self.faces and not len(self.lines.points) and not self.standing
