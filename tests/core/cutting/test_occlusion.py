"""The hidden-line kernels on figures whose answer can be read off."""

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from edge_slice.core.cut.lines.occluders import clip_triangles
from edge_slice.core.cut.lines.occlusion import visible_spans

WINDOW = (-100.0, -100.0, 100.0, 100.0)
coordinate = st.floats(-80, 80)


def square(half: float, depth: float) -> tuple[np.ndarray, np.ndarray]:
    """An upright square as two triangles; its diagonal is an inner side, the others are its outline."""
    a, b, c, d = ((-half, -half, depth), (half, -half, depth), (half, half, depth), (-half, half, depth))
    corners = np.array([[a, b, c], [a, c, d]], float)
    return corners, np.array([0b011, 0b110], np.uint8)


def spans(
    edge: list[tuple[float, float, float]], corners: np.ndarray, bits: np.ndarray, hidden: bool = False
) -> list[tuple[float, float, bool]]:
    _, span, is_hidden = visible_spans(
        np.array([edge], float), corners, bits, np.full((len(corners), 3), -1, np.int32), WINDOW, hidden
    )
    return [(round(a, 4), round(b, 4), bool(h)) for (a, b), h in zip(span.tolist(), is_hidden, strict=True)]


def test_edge_behind_a_square_shows_at_both_sides_of_it() -> None:
    shown = spans([(-40, 3, 50), (40, 3, 50)], *square(10, 20))
    assert shown == [(0.0, pytest.approx(0.375, abs=2e-3), False), (pytest.approx(0.625, abs=2e-3), 1.0, False)]


def test_edge_before_a_square_shows_whole() -> None:
    assert spans([(-40, 3, 10), (40, 3, 10)], *square(10, 20)) == [(0.0, 1.0, False)]


def test_edge_on_a_square_shows_whole() -> None:
    assert spans([(-5, 3, 20), (5, 3, 20)], *square(10, 20)) == [(0.0, 1.0, False)]


def test_edge_along_the_outline_shows_and_along_the_diagonal_does_not() -> None:
    corners, bits = square(10, 20)
    assert spans([(-10, 10, 50), (10, 10, 50)], corners, bits) == [(0.0, pytest.approx(1.0, abs=2e-3), False)]
    assert spans([(-9, -9, 50), (9, 9, 50)], corners, bits) == []


def test_edge_that_pierces_a_slope_shows_up_to_there() -> None:
    slope = np.array([[(-20, -20, 0), (20, -20, 0), (0, 60, 80)]], float)
    (span,) = spans([(0, -10, 5), (0, 40, 5)], slope, np.array([7], np.uint8))
    # the slope lies at depth v + 20: the edge at depth 5 is before it beyond v = -15, so it shows whole
    assert span == (0.0, 1.0, False)
    shown = spans([(0, -10, 40), (0, 40, 40)], slope, np.array([7], np.uint8))
    assert shown == [(pytest.approx(0.6, abs=0.01), 1.0, False)]  # behind it until v = 20


def test_hidden_parts_complete_the_visible_ones() -> None:
    found = spans([(-40, 3, 50), (40, 3, 50)], *square(10, 20), hidden=True)
    assert sum(b - a for a, b, h in found if h) == pytest.approx(0.25, abs=2e-3)
    assert sum(b - a for a, b, _ in found) == pytest.approx(1.0)


@given(st.lists(st.tuples(coordinate, coordinate, st.floats(-60, 60)), min_size=3, max_size=3))
@settings(max_examples=150)
def test_clipped_triangle_keeps_the_area_beyond_the_cut(points: list[tuple[float, float, float]]) -> None:
    p = np.array(points)
    corners, _, _ = clip_triangles(p, np.array([[0, 1, 2]], np.int32), np.ones(1, bool), np.zeros(1, np.uint8), np.inf)

    def area(t: np.ndarray) -> float:
        return float(np.linalg.norm(np.cross(t[1] - t[0], t[2] - t[0])) / 2)

    assert all((c[:, 2] >= -1e-9).all() for c in corners)
    mirrored, _, _ = clip_triangles(
        p * [1, 1, -1], np.array([[0, 1, 2]], np.int32), np.ones(1, bool), np.zeros(1, np.uint8), np.inf
    )
    whole = area(p)
    if (np.abs(p[:, 2]) > 1e-6).all():
        assert sum(map(area, corners)) + sum(map(area, mirrored)) == pytest.approx(whole, rel=1e-6, abs=1e-6)


@given(
    st.lists(st.tuples(*[coordinate] * 6, *[st.floats(1, 60)] * 3), min_size=1, max_size=12),
    st.tuples(*[coordinate] * 4, *[st.floats(1, 60)] * 2),
)
@settings(max_examples=80, suppress_health_check=[HealthCheck.filter_too_much])
def test_visible_spans_agree_with_sampling(triangles: list[tuple[float, ...]], edge: tuple[float, ...]) -> None:
    corners = np.array([[(t[0], t[1], t[6]), (t[2], t[3], t[7]), (t[4], t[5], t[8])] for t in triangles])
    start, end = np.array([edge[0], edge[1], edge[4]]), np.array([edge[2], edge[3], edge[5]])
    ab, ac = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    areas = np.abs(ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0])
    assume(np.hypot(*(end - start)[:2]) >= 5)
    assume((areas >= 900).all())  # no slivers: margins below are shares of a triangle's size
    shown = spans([tuple(start), tuple(end)], corners, np.full(len(corners), 7, np.uint8))
    for share in np.linspace(0.013, 0.987, 37):
        u, v, w = start + share * (end - start)
        margins = []
        for a, b, c in corners:
            area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
            s = ((u - a[0]) * (c[1] - a[1]) - (v - a[1]) * (c[0] - a[0])) / area
            t = ((b[0] - a[0]) * (v - a[1]) - (b[1] - a[1]) * (u - a[0])) / area
            depth = a[2] + s * (b[2] - a[2]) + t * (c[2] - a[2])
            margins.append(min(s, t, 1 - s - t, (w - depth) / 50))
        nearest = max(margins, default=-1.0)
        if abs(nearest) > 0.02:  # clear of every border
            assert any(a <= share <= b for a, b, _ in shown) == (nearest < 0)
