"""The field of squares in which texts and bubbles look for room knows what is drawn and filled."""

from __future__ import annotations

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.drawing.annotations.clear_places import Ink
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
