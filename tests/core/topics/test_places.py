"""Which place of the model a topic of others is about."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from edge_slice.core.model import Model
from edge_slice.core.topics.documents import Viewpoint
from edge_slice.core.topics.places import first_met, place_of


def test_the_first_face_is_met_as_solved_in_each_triangle(demo: Model) -> None:
    corners = demo.mesh.vertices[demo.mesh.triangles]
    rng = np.random.default_rng(31)
    low, high = demo.bounds
    eyes = rng.uniform(low - 30, high + 30, (40, 3))
    looks = rng.uniform(low, high, (40, 3)) - eyes
    looks[:6] = np.vstack((np.eye(3), -np.eye(3)))  # along the sides of boxes
    met = 0
    for eye, way in zip(eyes, looks, strict=True):
        found, wanted = first_met(demo, eye, way), solved(corners, eye, way)
        assert (found is None) == np.isinf(wanted)
        if found is not None:
            met += 1
            assert found == pytest.approx(eye + way * wanted, abs=1e-6)
    assert 15 < met < 40


def solved(corners: np.ndarray, eye: np.ndarray, way: np.ndarray) -> float:
    """How far along a ray the first triangle is: three equations in each."""
    sides = np.stack((corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=2)
    matrix = np.concatenate((sides, np.broadcast_to(-way, (len(corners), 3))[:, :, None]), axis=2)
    across = np.abs(np.linalg.det(matrix)) > 1e-12
    u, v, t = np.linalg.solve(matrix[across], (eye - corners[across, 0])[:, :, None])[:, :, 0].T
    return float(t[(u >= 0) & (v >= 0) & (u + v <= 1) & (t >= 0)].min(initial=np.inf))


def test_what_is_meant_goes_before_what_is_looked_at(demo: Model) -> None:
    surveyed = replace(demo, origin=(500.0, -200.0, 3.0))
    k = next(k for k, one in enumerate(demo.elements) if one.kind == "wall")
    away = Viewpoint((0.0, 0.0, 0.0), (0.0, 0.0, 1.0), (0.0, 1.0, 0.0), 1.0, (demo.elements[k].guid, "unknown"))
    middle = demo.boxes[k].mean(axis=0) + surveyed.origin
    assert place_of(away, surveyed) == pytest.approx(middle, abs=1e-3)


@pytest.mark.parametrize("looks", [(0.0, 0.0, 0.0), (np.nan, 0.0, 1.0), (0.0, 0.0, 1.0)])
def test_a_view_of_nothing_has_no_place(demo: Model, looks: tuple[float, float, float]) -> None:
    high = float(demo.mesh.vertices[:, 2].max())
    assert place_of(Viewpoint((0.0, 0.0, high + 1), looks, (0.0, 1.0, 0.0), 1.0, ("unknown",)), demo) is None
