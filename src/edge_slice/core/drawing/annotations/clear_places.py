"""Where a text can stand clear of everything that is drawn: a field of small squares, inked or free."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut import CutFace
from edge_slice.core.drawing.display import Box, Item, Paths
from edge_slice.core.drawing.texts.lettering import box_of

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
SQUARE = 0.5  # mm on paper
AIRS = (4.0, 3.0, 2.0, 1.5, 1.0, 0.5)  # mm around a text, the more the better
MOST = 4_000_000  # squares; beyond it they are larger


class Squares(NamedTuple):
    """Which squares (rows, columns) are taken, the lower left corner of the first, and their size, mm."""

    taken: Flags
    left: float
    base: float
    size: float


@dataclass
class Ink:
    """What is drawn within a frame (left, base, right, top), as squares."""

    frame: Box
    size: float
    taken: Flags

    @staticmethod
    def of(items: list[Item], frame: Box, square: float = SQUARE) -> Ink:
        wide, high = max(frame[2] - frame[0], 1e-6), max(frame[3] - frame[1], 1e-6)
        size = max(square, (wide * high / MOST) ** 0.5)
        ink = Ink(frame, size, np.zeros((int(high / size) + 2, int(wide / size) + 2), dtype=bool))
        for item in items:
            if isinstance(item, Paths):
                ink._enter_paths(item)
            else:
                ink.enter(box_of(item))
        return ink

    def _enter_paths(self, item: Paths) -> None:
        if item.pen is not None and len(item.points) > 1:
            _draw(item.points, item.starts, item.closed, self._squares)

    @property
    def _squares(self) -> Squares:
        return Squares(self.taken, self.frame[0], self.frame[1], self.size)

    def enter(self, box: Box) -> None:
        """Take what a box covers."""
        x0, y0 = max(0, int((box[0] - self.frame[0]) / self.size)), max(0, int((box[1] - self.frame[1]) / self.size))
        x1, y1 = int((box[2] - self.frame[0]) / self.size) + 1, int((box[3] - self.frame[1]) / self.size) + 1
        self.taken[y0 : max(y1, 0), x0 : max(x1, 0)] = True

    def with_segments(self, segments: F64) -> Ink:
        """A copy in which what lies under segments (n, 4), paper mm, is taken too."""
        copy = Ink(self.frame, self.size, self.taken.copy())
        starts = np.arange(0, 2 * len(segments) + 1, 2, dtype=np.int64)
        points = np.ascontiguousarray(segments.reshape(-1, 2))
        _draw(points, starts, False, copy._squares)
        return copy

    def free(self, places: F64, reach: float) -> Flags:
        """Whether nothing is taken within `reach` mm, left, right, above and below, of places (n, 2)."""
        low = ((places - reach - self.frame[:2]) / self.size).astype(np.int64)
        high = ((places + reach - self.frame[:2]) / self.size).astype(np.int64) + 1
        pairs = zip(np.maximum(low, 0), np.maximum(high, 0), strict=True)
        return np.array([not self.taken[y0:y1, x0:x1].any() for (x0, y0), (x1, y1) in pairs], dtype=bool)

    def with_shapes(self, shapes: Sequence[shapely.Polygon]) -> Ink:
        """A copy in which what lies within polygons (paper mm) is taken too: squares whose middle does."""
        copy = Ink(self.frame, self.size, self.taken.copy())
        if len(shapes):
            rings, owner = shapely.get_rings(np.array(shapes, dtype=object), return_index=True)
            points, index = shapely.get_coordinates(rings, return_index=True)
            starts = np.searchsorted(index, np.arange(len(rings) + 1)).astype(np.int64)
            first = np.searchsorted(owner, np.arange(len(shapes) + 1)).astype(np.int64)
            _fill(points, starts, first, copy._squares)
        return copy

    def place(self, area: shapely.Geometry, wide: float, high: float) -> tuple[float, float] | None:
        """The middle of a free place for a box within an area (paper mm): with as much air as there is, then nearest to
        the middle of the area; None where there is none."""
        left, base, right, top = shapely.bounds(area).tolist()
        x0, y0 = int((left - self.frame[0]) / self.size), int((base - self.frame[1]) / self.size)
        x1, y1 = int((right - self.frame[0]) / self.size) + 1, int((top - self.frame[1]) / self.size) + 1
        x0, y0, x1, y1 = max(x0, 0), max(y0, 0), min(x1, self.taken.shape[1]), min(y1, self.taken.shape[0])
        if x1 <= x0 or y1 <= y0:
            return None
        taken = self.taken[y0:y1, x0:x1] | ~self._within(area, (x0, y0, x1, y1))
        boxes = np.ceil((np.array([[high, wide]]) + 2 * np.array(AIRS)[:, None]) / self.size).astype(np.int64)
        middle = shapely.centroid(area)
        # where a box of no size in the first corner has its middle, in squares from the middle of the area
        left, base = (self.frame[0] + x0 * self.size - middle.x, self.frame[1] + y0 * self.size - middle.y)
        k, row, column = _nearest_free(taken, boxes, left, base, self.size)
        if k < 0:
            return None
        x = self.frame[0] + (x0 + column + boxes[k, 1] / 2) * self.size
        y = self.frame[1] + (y0 + row + boxes[k, 0] / 2) * self.size
        return float(x), float(y)

    def _within(self, area: shapely.Geometry, squares: tuple[int, int, int, int]) -> Flags:
        """The squares (rows, columns) of a rectangle of squares (x0, y0, x1, y1) whose middles lie within an area."""
        x0, y0, x1, y1 = squares
        u = self.frame[0] + (np.arange(x0, x1) + 0.5) * self.size
        v = self.frame[1] + (np.arange(y0, y1) + 0.5) * self.size
        left, base, right, top = shapely.bounds(area).tolist()
        if area.equals_exact(shapely.box(left, base, right, top), normalize=True):  # rooms of sections: no test a point
            inside: Flags = np.logical_and.outer((v > base) & (v < top), (u > left) & (u < right))
            return inside
        shapely.prepare(area)
        inside = shapely.contains_xy(area, *np.meshgrid(u, v))
        return inside


@njit(cache=True, nogil=True)
def _nearest_free(taken: Flags, boxes: I64, left: float, base: float, size: float):  # type: ignore[no-untyped-def]
    """Of the first of `boxes` (k, 2: rows, columns) that finds a place without taken squares: its number, and row and
    column of the place whose middle is nearest to (0, 0); squares have `size`, the first one's corner is (left, base).
    -1 where none finds one."""
    rows, columns = taken.shape
    total = np.zeros((rows + 1, columns + 1), dtype=np.int64)
    for r in range(rows):
        along = 0
        for c in range(columns):
            along += taken[r, c]
            total[r + 1, c + 1] = total[r, c + 1] + along
    for k in range(len(boxes)):
        h, w = boxes[k]
        best, at_row, at_column = np.inf, -1, -1
        for r in range(rows - h + 1):
            y = base + (r + h / 2) * size
            for c in range(columns - w + 1):
                if total[r + h, c + w] - total[r, c + w] - total[r + h, c] + total[r, c]:
                    continue
                x = left + (c + w / 2) * size
                if x * x + y * y < best - 1e-9:  # of places equally near, the lowest one farthest to the left
                    best, at_row, at_column = x * x + y * y, r, c
        if at_row >= 0:
            return k, at_row, at_column
    return -1, -1, -1


@njit(cache=True, nogil=True)
def _draw(points: F64, starts: I64, closed: bool, squares: Squares):  # type: ignore[no-untyped-def]
    """Take the squares along paths, by steps of 0.7 squares."""
    taken, left, base, size = squares
    rows, columns = taken.shape
    for k in range(len(starts) - 1):
        count = starts[k + 1] - starts[k]
        for n in range(count if closed else count - 1):
            a, b = points[starts[k] + n], points[starts[k] + (n + 1) % count]
            x0, y0 = (a[0] - left) / size, (a[1] - base) / size
            x1, y1 = (b[0] - left) / size, (b[1] - base) / size
            if max(x0, x1) < 0 or max(y0, y1) < 0 or min(x0, x1) >= columns or min(y0, y1) >= rows:
                continue
            steps = max(1, int(np.ceil(np.hypot(x1 - x0, y1 - y0) / 0.7)))
            for s in range(steps + 1):
                x, y = x0 + (x1 - x0) * s / steps, y0 + (y1 - y0) * s / steps
                if 0 <= x < columns and 0 <= y < rows:
                    taken[int(y), int(x)] = True


@njit(cache=True, nogil=True)
def _fill(points: F64, starts: I64, first: I64, squares: Squares):  # type: ignore[no-untyped-def]
    """Take the squares whose middles lie in polygons: row by row between the crossings of their rings (even-odd).
    Polygon k has the rings from first[k] to first[k + 1], ring r the points from starts[r] to starts[r + 1]."""
    taken, left, base, size = squares
    rows, columns = taken.shape
    for k in range(len(first) - 1):
        begin, end = starts[first[k]], starts[first[k + 1]]
        if begin == end:
            continue
        low = max(0, int(np.ceil((points[begin:end, 1].min() - base) / size - 0.5)))
        high = min(rows - 1, int(np.floor((points[begin:end, 1].max() - base) / size - 0.5)))
        crossings = np.empty(end - begin)
        for row in range(low, high + 1):
            y = base + (row + 0.5) * size
            found = 0
            for r in range(first[k], first[k + 1]):
                for n in range(starts[r], starts[r + 1] - 1):
                    a, b = points[n], points[n + 1]
                    if (a[1] <= y) != (b[1] <= y):
                        crossings[found] = a[0] + (y - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
                        found += 1
            within = np.sort(crossings[:found])
            for n in range(0, found - 1, 2):
                start = max(0, int(np.ceil((within[n] - left) / size - 0.5)))
                stop = min(columns - 1, int(np.floor((within[n + 1] - left) / size - 0.5)))
                if stop >= start:
                    taken[row, start : stop + 1] = True


def faces_on_paper(faces: Sequence[CutFace], to_paper: Callable[[F64], F64]) -> list[shapely.Polygon]:
    """Cut faces (mm of the building) as shapes on paper; `to_paper` is asked once, for the points (n, 2) of all."""
    return list(shapely.transform(np.array([f.polygon for f in faces], dtype=object), to_paper))
