"""The field of squares in which texts and bubbles look for room knows what is drawn and filled."""

from __future__ import annotations

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.drawing.annotations.clear_places import AIRS, Ink
from edge_slice.core.drawing.display import Pen, paths_of

FRAME = (-10.0, 5.0, 50.0, 45.0)
spots = st.tuples(st.floats(-30, 70), st.floats(-20, 70))


def middles(ink: Ink) -> tuple[np.ndarray, np.ndarray]:
    rows, columns = np.indices(ink.taken.shape)
    return FRAME[0] + (columns + 0.5) * ink.size, FRAME[1] + (rows + 0.5) * ink.size


@given(st.lists(st.tuples(spots, st.floats(1, 25), st.floats(0.2, 0.9)), min_size=1, max_size=5))
def test_squares_with_their_middle_in_a_shape_are_taken(rings: list) -> None:
    shapes = []
    for (x, y), radius, share in rings:  # rings with a hole aside
        outer = shapely.Point(x, y).buffer(radius, quad_segs=3)
        shapes.append(shapely.difference(outer, shapely.Point(x + radius / 20, y).buffer(radius * share, quad_segs=2)))
    shapes = [p for p in shapely.get_parts(np.array(shapes, dtype=object)) if p.geom_type == "Polygon"]
    ink = Ink.of([], FRAME).with_shapes(shapes)
    inside = np.zeros_like(ink.taken)
    near = np.zeros_like(ink.taken)
    for shape in shapes:
        inside |= shapely.contains_xy(shape, *middles(ink))
        near |= shapely.dwithin(shape.boundary, shapely.points(*middles(ink)), 1e-9)
    assert ((ink.taken == inside) | near).all()


@given(st.lists(spots, min_size=2, max_size=6), st.booleans())
def test_squares_along_a_path_are_taken_and_no_others(points: list, closed: bool) -> None:
    ink = Ink.of([paths_of("line", [points], Pen(0.25, "#000000"), None, closed)], FRAME)
    line = shapely.LineString([*points, points[0]] if closed else points)
    away = shapely.distance(line, shapely.points(*middles(ink)))
    assert (away[ink.taken] <= ink.size * 0.7072).all()  # half a diagonal
    assert ink.taken[away < ink.size * 0.1].all()


@given(
    st.lists(st.tuples(st.floats(-10, 45), st.floats(5, 40), st.floats(0.3, 12), st.floats(0.3, 9)), max_size=6),
    st.floats(1, 12), st.floats(1, 6), st.booleans(),
)  # fmt: skip
def test_a_text_stands_in_its_area_with_as_much_air_as_there_is_nearest_to_the_middle(
    boxes: list, wide: float, high: float, round_room: bool
) -> None:
    area = shapely.Point(20, 25).buffer(16, quad_segs=4) if round_room else shapely.box(4, 9, 38, 41)
    ink = Ink.of([], FRAME)
    for x, y, w, h in boxes:
        ink.enter((x, y, x + w, y + h))
    blocked = ink.taken | ~shapely.contains_xy(area, *middles(ink))
    at = ink.place(area, wide, high)
    for air in AIRS:  # by trying each place
        rows, columns = (int(np.ceil((size + 2 * air) / ink.size)) for size in (high, wide))
        windows = np.lib.stride_tricks.sliding_window_view(blocked, (rows, columns))
        free = np.argwhere(~windows.any(axis=(2, 3)))
        if not len(free):
            continue
        assert at is not None
        found = (free[:, ::-1] + (columns / 2, rows / 2)) * ink.size + FRAME[:2]
        away = np.hypot(*(found - (area.centroid.x, area.centroid.y)).T)
        chosen = np.abs(found - at).max(axis=1) < 1e-9
        assert chosen.sum() == 1
        assert away[chosen][0] <= away.min() + 1e-6
        return
    assert at is None
