"""Cut faces as triangles cover exactly the faces."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut.lines.caps import CAP_DEPTH, cap_triangles
from edge_slice.core.cut.pieces import CutFace

corner = st.tuples(st.integers(0, 9), st.integers(0, 9))
shape = st.builds(
    lambda ring, hole: shapely.difference(shapely.Polygon(ring).buffer(0), shapely.box(4, 4, 5, 5) if hole else None)
    if hole else shapely.Polygon(ring).buffer(0),
    st.lists(corner, min_size=3, max_size=7, unique=True),
    st.booleans(),
)  # fmt: skip


@given(st.lists(shape, max_size=5))
def test_triangles_cover_the_faces(shapes: list[shapely.Geometry]) -> None:
    polygons = [p for s in shapes for p in shapely.get_parts(s) if p.geom_type == "Polygon" and p.area > 0]
    faces = [CutFace(k, -1, -1, p) for k, p in enumerate(polygons)]
    triangles = cap_triangles(faces)
    assert triangles.shape[1:] == (3, 3)
    assert (triangles[:, :, 2] == CAP_DEPTH).all()
    made = shapely.polygons(triangles[:, :, :2])
    assert shapely.area(made).sum() == pytest.approx(sum(p.area for p in polygons))
    assert shapely.area(shapely.symmetric_difference(shapely.union_all(made), shapely.union_all(polygons))) < 1e-9


def test_nothing_has_no_triangles() -> None:
    assert np.array_equal(cap_triangles([]), np.zeros((0, 3, 3)))
