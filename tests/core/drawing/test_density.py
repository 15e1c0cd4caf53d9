"""Dense bodies: their lines are thinned to what can be told apart, on paper and in the model; others keep all."""

import numpy as np
import pytest

from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.density import APART, DENSE, thinned
from edge_slice.core.model import Model
from edge_slice.core.solid.form import shown_edges
from tests.bodies import Body, box, model_of
from tests.core.cutting.test_touching_bodies import as_one

STANDARD = default_standard()


def bush(leaves: int = 400) -> Body:
    """Small boxes strewn in a ball of 2 m."""
    rng = np.random.default_rng(4)
    middles = rng.normal(size=(leaves, 3))
    middles *= (rng.random(leaves) ** (1 / 3) / np.linalg.norm(middles, axis=1))[:, None]
    middles += np.array([0.0, 5.0, 1.0])
    return as_one(*(box(tuple(m - 0.03), tuple(m + 0.03)) for m in middles))


MODEL = model_of(bush(), box((2, 4, 0), (4, 5, 2)), kinds=["planting", "wall"])


def ink(model: Model, scale: float) -> tuple[float, float]:
    """Millimetres of line at the left (the bush) and at the right."""
    cut = SectionCut(line=((-3, 0), (6, 0)))
    display = compose_drawing(model, cut_model(model, cut), cut, DrawingSpec(scale=scale, levels=False), STANDARD)
    middle = 4.5 * 1000 / scale
    left = right = 0.0
    for item in display.items:
        if isinstance(item, Paths) and item.role.startswith("seen"):
            for path in np.split(item.points, item.starts[1:-1]):
                long = float(np.hypot(*np.diff(path, axis=0).T).sum())
                left, right = (left + long, right) if path[0, 0] < middle else (left, right + long)
    return left, right


@pytest.mark.parametrize("scale", [100.0, 200.0])
def test_a_bush_is_no_heap_of_ink_and_what_stands_beside_keeps_its_lines(scale: float) -> None:
    result = cut_model(MODEL, SectionCut(line=((-3, 0), (6, 0))))
    own = result.lines.element == 0
    whole = float(np.hypot(*(result.lines.points[own, 2:] - result.lines.points[own, :2]).T).sum()) / scale
    area = (2000 / scale) ** 2  # of the box around it
    assert area / whole < DENSE  # it would be
    left, right = ink(MODEL, scale)
    assert 0 < left < whole
    assert area / left > DENSE
    assert right == pytest.approx(2 * (2 + 2) * 1000 / scale, rel=1e-3)


def test_large_enough_every_line_is_drawn() -> None:
    result = cut_model(MODEL, SectionCut(line=((-3, 0), (6, 0))))
    assert thinned(result.lines.points / 10, result.lines.element).all()
    assert thinned(np.zeros((0, 4)), np.zeros(0, np.int32)).all()


def test_what_stays_is_told_apart() -> None:
    lines = np.array([(0, 0.1 * k, 30, 0.1 * k) for k in range(200)], dtype=np.float64)
    kept = lines[thinned(lines, np.zeros(200, np.int32))]
    assert 10 < len(kept) <= 20 / APART + 2
    assert np.diff(np.sort(kept[:, 1])).min() > APART / 2


def test_edges_of_the_model_are_thinned_alike() -> None:
    mesh = MODEL.mesh
    shown = np.zeros(len(mesh.edges), dtype=bool)
    shown[shown_edges(MODEL, np.arange(2))[0]] = True
    bushy = mesh.edge_element == 0
    assert shown[~bushy & mesh.edge_sharp].all()
    assert 0 < shown[bushy].sum() < mesh.edge_sharp[bushy].sum() / 2
