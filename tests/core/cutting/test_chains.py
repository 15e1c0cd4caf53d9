"""Segments joined into polylines, against another library's way of doing it."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.drawing.strokes.chains import chained

place = st.tuples(st.integers(0, 4), st.integers(0, 4))


@given(st.lists(st.tuples(place, place), max_size=40, unique_by=frozenset))
def test_segments_are_joined_as_another_library_does(pairs: list[tuple[tuple[int, int], tuple[int, int]]]) -> None:
    segments = np.array([(*a, *b) for a, b in pairs], dtype=np.float64).reshape(-1, 4)
    points, starts = chained(segments)
    ours = [shapely.LineString(points[a:b]) for a, b in pairwise(starts)]
    lines = shapely.linestrings(segments[(segments[:, :2] != segments[:, 2:]).any(axis=1)].reshape(-1, 2, 2))
    theirs = shapely.get_parts(shapely.line_merge(shapely.multilinestrings([lines]))) if len(lines) else []
    assert sorted(map(said, ours)) == sorted(map(said, theirs))


def said(line: shapely.LineString) -> str:
    """A line's points, whichever way round and wherever a closed one begins."""
    points = list(line.coords)
    if points[0] == points[-1]:
        points = points[:-1]
        turns = [way[k:] + way[:k] for way in (points, points[::-1]) for k in range(len(way))]
        return f"closed {min(turns)}"
    return str(min(points, points[::-1]))


def test_nothing_is_joined_from_nothing() -> None:
    points, starts = chained(np.zeros((0, 4)))
    assert points.shape == (0, 2)
    assert starts.tolist() == [0]
