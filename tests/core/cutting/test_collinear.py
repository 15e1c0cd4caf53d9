"""Lines that coincide, and the borders of neighbouring pieces, against shapely's overlay."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from edge_slice.core.cut.lines.collinear import line_groups
from edge_slice.core.drawing.strokes.borders import LAYER, OTHER, STRUCTURE, classed_borders

place = st.floats(-20_000, 20_000)


@given(
    st.floats(0, math.pi),
    place,
    place,
    st.lists(st.tuples(st.floats(-9e3, 9e3), st.floats(20, 3e3)), min_size=2, max_size=6),
)
@settings(max_examples=200)
def test_pieces_of_one_line_are_found_wherever_they_lie(
    angle: float, x: float, y: float, spans: list[tuple[float, float]]
) -> None:
    d = np.array([math.cos(angle), math.sin(angle)])
    start = np.array([x, y])
    segments = np.array([[*(start + d * t), *(start + d * (t + length))] for t, length in spans])
    offset = abs(x * d[1] - y * d[0]) / 0.0437
    steps = angle / (math.pi / 2 / 15013)
    assume(abs(offset % 1 - 0.5) > 0.01)  # not on the border between two groups
    assume(abs(steps % 1 - 0.5) > 0.01)
    segments[1::2] = segments[1::2][:, [2, 3, 0, 1]]  # drawn the other way
    group, t0, t1, _ = line_groups(segments)
    assert len(set(group.tolist())) == 1
    assert (t1 - t0).tolist() == pytest.approx([length for _, length in spans], rel=1e-6)


@given(st.floats(0, math.pi), place, place, st.floats(0.2, 50))
def test_parallel_lines_are_kept_apart(angle: float, x: float, y: float, gap: float) -> None:
    d = np.array([math.cos(angle), math.sin(angle)])
    a = np.array([x, y])
    b = a + gap * np.array([-d[1], d[0]])
    group, *_ = line_groups(np.array([[*a, *(a + d * 900)], [*b, *(b + d * 900)]]))
    assert group[0] != group[1]


def total(borders: dict[int, np.ndarray], *kinds: int) -> float:
    rows = [borders[k] for k in kinds if k in borders]
    return float(sum(np.hypot(r[:, 2] - r[:, 0], r[:, 3] - r[:, 1]).sum() for r in rows))


@given(st.lists(st.booleans(), min_size=12, max_size=12), st.floats(-1.5, 1.5))
@settings(max_examples=60)
def test_borders_of_like_tiles_are_the_outline_of_their_union(chosen: list[bool], turn: float) -> None:
    """Tiles of a turned 4 x 3 pattern, all of one material: only the outline of their union is left."""
    assume(any(chosen))
    c, s = math.cos(turn), math.sin(turn)
    tiles, straight = [], []
    for k, take in enumerate(chosen):
        if take:
            x, y = 1000.0 * (k % 4), 700.0 * (k // 4)
            ring = [(x, y), (x + 1000, y), (x + 1000, y + 700), (x, y + 700)]
            straight.append(shapely.Polygon(ring))
            tiles.append(shapely.Polygon([(c * u - s * v, s * u + c * v) for u, v in ring]))
    n = len(tiles)
    borders = classed_borders(tiles, np.arange(n), np.zeros(n, np.int64), np.ones(n, bool))
    union = shapely.union_all(straight)  # of turned tiles it may keep slits without width
    # where two tiles meet in a corner only, the union's outline is unambiguous all the same
    assert total(borders, STRUCTURE) == pytest.approx(union.length, abs=0.5)
    assert total(borders, LAYER, OTHER) == 0


def test_classes_of_borders() -> None:
    left, middle, right = shapely.box(0, 0, 100, 300), shapely.box(100, 0, 240, 300), shapely.box(240, 0, 500, 200)
    element, like = np.array([0, 0, 1]), np.array([0, 1, 2])
    borders = classed_borders([left, middle, right], element, like, np.array([False, True, False]))
    assert total(borders, LAYER) == pytest.approx(300)  # between the two layers of one element
    around_middle = 140 + 140 + 300
    assert total(borders, STRUCTURE) == pytest.approx(around_middle)
    assert total(borders, OTHER) == pytest.approx(2 * 100 + 300 + 2 * 260 + 200)
