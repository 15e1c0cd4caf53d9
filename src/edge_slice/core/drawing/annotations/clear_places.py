"""Where a text can stand clear of everything that is drawn: a field of small squares, inked or free."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Box, Item, Label, Paths
from edge_slice.core.drawing.lettering import text_width

F64 = NDArray[np.float64]
Flags = NDArray[np.bool_]
SQUARE = 0.5  # mm on paper
AIRS = (4.0, 3.0, 2.0, 1.5, 1.0, 0.5)  # mm around a text, the more the better
MOST = 4_000_000  # squares; beyond it they are larger


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
        if item.pen is None or len(item.points) < 2:
            return
        after = np.arange(1, len(item.points) + 1)
        last = item.starts[1:] - 1
        after[last] = item.starts[:-1] if item.closed else last
        a, b = item.points, item.points[np.minimum(after, len(item.points) - 1)]
        count = np.maximum(1, np.ceil(np.hypot(*(b - a).T) / (self.size * 0.7))).astype(np.int64)
        inside = ~(
            (np.maximum(a, b) < np.array(self.frame[:2])).any(axis=1)
            | (np.minimum(a, b) > np.array(self.frame[2:])).any(axis=1)
        )
        a, b, count = a[inside], b[inside], count[inside]
        if not len(a):
            return
        of = np.repeat(np.arange(len(a)), count + 1)
        first = np.cumsum(count + 1) - (count + 1)
        share = (np.arange(len(of)) - first[of]) / count[of]
        points = a[of] + share[:, None] * (b - a)[of]
        x = ((points[:, 0] - self.frame[0]) / self.size).astype(np.int64)
        y = ((points[:, 1] - self.frame[1]) / self.size).astype(np.int64)
        good = (x >= 0) & (y >= 0) & (x < self.taken.shape[1]) & (y < self.taken.shape[0])
        self.taken[y[good], x[good]] = True

    def enter(self, box: Box) -> None:
        """Take what a box covers."""
        x0, y0 = max(0, int((box[0] - self.frame[0]) / self.size)), max(0, int((box[1] - self.frame[1]) / self.size))
        x1, y1 = int((box[2] - self.frame[0]) / self.size) + 1, int((box[3] - self.frame[1]) / self.size) + 1
        self.taken[y0 : max(y1, 0), x0 : max(x1, 0)] = True

    def with_shapes(self, shapes: list[shapely.Geometry]) -> Ink:
        """A copy in which what lies within shapes (paper mm) is taken too."""
        copy = Ink(self.frame, self.size, self.taken.copy())
        for shape in shapes:
            x0, y0, x1, y1 = shape.bounds
            columns = np.arange(
                max(0, int((x0 - self.frame[0]) / self.size)), int((x1 - self.frame[0]) / self.size) + 1
            )
            rows = np.arange(max(0, int((y0 - self.frame[1]) / self.size)), int((y1 - self.frame[1]) / self.size) + 1)
            columns, rows = columns[columns < self.taken.shape[1]], rows[rows < self.taken.shape[0]]
            if not len(columns) or not len(rows):
                continue
            u, v = np.meshgrid(self.frame[0] + (columns + 0.5) * self.size, self.frame[1] + (rows + 0.5) * self.size)
            shapely.prepare(shape)
            copy.taken[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1] |= shapely.contains_xy(shape, u, v)
        return copy

    def _squares(self, low: float, high: float, axis: int) -> NDArray[np.int64]:
        """Columns (axis 0) or rows (1) between two places, as far as the frame goes."""
        first, last = (int((x - self.frame[axis]) / self.size) for x in (low, high))
        return np.arange(max(0, first), min(last + 1, self.taken.shape[1 - axis]))

    def place(self, area: shapely.Geometry, wide: float, high: float) -> tuple[float, float] | None:
        """The middle of a free place for a box within an area (paper mm): with as much air as there is, then nearest to
        the middle of the area; None where there is none."""
        left, base, right, top = shapely.bounds(area).tolist()
        x0, y0 = int((left - self.frame[0]) / self.size), int((base - self.frame[1]) / self.size)
        x1, y1 = int((right - self.frame[0]) / self.size) + 1, int((top - self.frame[1]) / self.size) + 1
        x0, y0, x1, y1 = max(x0, 0), max(y0, 0), min(x1, self.taken.shape[1]), min(y1, self.taken.shape[0])
        if x1 <= x0 or y1 <= y0:
            return None
        u = self.frame[0] + (np.arange(x0, x1) + 0.5) * self.size
        v = self.frame[1] + (np.arange(y0, y1) + 0.5) * self.size
        gu, gv = np.meshgrid(u, v)
        shapely.prepare(area)
        taken = self.taken[y0:y1, x0:x1] | ~shapely.contains_xy(area, gu, gv)
        total = np.zeros((taken.shape[0] + 1, taken.shape[1] + 1), dtype=np.int64)
        total[1:, 1:] = taken.cumsum(axis=0).cumsum(axis=1)
        middle = shapely.centroid(area)
        for air in AIRS:
            w, h = (int(np.ceil((size + 2 * air) / self.size)) for size in (wide, high))
            if w > taken.shape[1] or h > taken.shape[0]:
                continue
            sums = total[h:, w:] - total[:-h, w:] - total[h:, :-w] + total[:-h, :-w]
            rows, columns = np.nonzero(sums == 0)
            if not len(rows):
                continue
            x = self.frame[0] + (x0 + columns + w / 2) * self.size
            y = self.frame[1] + (y0 + rows + h / 2) * self.size
            best = int(np.hypot(x - middle.x, y - middle.y).argmin())
            return float(x[best]), float(y[best])
        return None


def box_of(label: Label) -> Box:
    """What a text takes up (left, base, right, top), mm; of a turned one the box around it."""
    wide = text_width(label.text, label.height)
    shift = {"left": 0.0, "centre": -wide / 2, "right": -wide}[label.align]
    low, high = -0.3 * label.height, 1.1 * label.height
    corners = np.array([(shift, low), (shift + wide, low), (shift + wide, high), (shift, high)])
    turn = np.radians(label.angle)
    c, s = np.cos(turn), np.sin(turn)
    turned = corners @ np.array([(c, s), (-s, c)]) + np.array([label.x, label.y])
    (x0, y0), (x1, y1) = turned.min(axis=0).tolist(), turned.max(axis=0).tolist()
    return x0, y0, x1, y1
