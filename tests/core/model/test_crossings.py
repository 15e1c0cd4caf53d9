"""Lines where bodies pass through each other."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import Extents, Perspective, SectionCut, cut_model
from edge_slice.core.model.mesh.crossings import crossing_edges
from tests.bodies import box, model_of, moved, polygon_ring, prism, rotation


def crossings(*bodies: tuple) -> np.ndarray:
    mesh = model_of(*bodies).mesh
    return crossing_edges(mesh.vertices, mesh.triangles, mesh.triangle_element, len(bodies))[0]


def test_post_through_a_plate_meets_it_in_two_rings() -> None:
    lines = crossings(box((-2, -2, 0), (2, 2, 0.2)), prism(polygon_ring(12, 0.5), -1, 1))
    length = np.linalg.norm(lines[:, 1] - lines[:, 0], axis=1).sum()
    assert length == pytest.approx(2 * 12 * 2 * 0.5 * np.sin(np.pi / 12), rel=1e-6)
    assert sorted({round(float(z), 9) for z in lines[:, :, 2].ravel()}) == [0.0, 0.2]


@given(st.floats(0, 6), st.floats(0, 6), st.floats(0, 6))
@settings(max_examples=30)
def test_crossings_lie_on_both_bodies(a: float, b: float, c: float) -> None:
    tilted = moved(box((-1, -0.5, -0.3), (1, 0.5, 0.3)), rotation(a, b, c), np.array([0.2, 0.1, 0.0]))
    lines = crossings(box((-1, -1, -0.2), (1, 1, 0.2)), tilted)
    local = (lines.reshape(-1, 3) - [0.2, 0.1, 0.0]) @ rotation(a, b, c)
    for points, size in ((lines.reshape(-1, 3), (1, 1, 0.2)), (local, (1, 0.5, 0.3))):
        outside = (np.abs(points) - np.array(size)).max(axis=1)
        assert outside == pytest.approx(np.zeros(len(points)), abs=1e-6)


def test_bodies_that_only_touch_do_not_cross() -> None:
    assert not len(crossings(box((0, 0, 0), (1, 1, 1)), box((1, 0, 0), (2, 1, 1)), box((0, 0, 1), (1, 1, 2))))
    assert not len(crossings(box((0, 0, 0), (1, 1, 1)), box((0, 0, 0), (1, 1, 1))))


def test_line_between_a_wall_and_a_floor_that_it_passes_is_seen() -> None:
    """The wall goes down through the floor: no edge of either, yet a perspective shows where they meet."""
    model = model_of(box((-3, -1, -0.3), (3, 6, 0)), box((-3, 4, -1), (3, 4.3, 2.5)))
    lens = Perspective(distance=4, eye=(4, 1.5))
    cut = SectionCut(line=((-4, 0), (4, 0)), extents=Extents(base=-1, top=3), perspective=lens)
    lines = cut_model(model, cut).lines.points
    level = lines[np.abs(lines[:, 1] - lines[:, 3]) < 1e-6]
    foot = 1500 - 1500 / 2  # the wall stands as far behind the cut as the eye before it
    assert sum(abs(u1 - u0) for u0, v, u1, _ in level.tolist() if abs(v - foot) < 0.5) == pytest.approx(3000, abs=5)
