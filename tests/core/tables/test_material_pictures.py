"""Pictures of materials: which layer of a build-up they are."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from edge_slice.core.model import LayerFrame, Model
from edge_slice.core.tables.material_pictures import picture_of_material
from tests.bodies import box, model_of

LAYERS = [("Brick", 0.1), ("Insulation", 0.2), ("Plaster", 0.02)]


def layered(low: tuple, high: tuple, direction: tuple[float, float, float]) -> Model:
    frame = LayerFrame(low, direction)
    return model_of(box(low, high), materials=["Brick"], layers=LAYERS, frame=frame)


@pytest.mark.parametrize(
    "model",
    [
        layered((0, 0, 0), (6, 0.32, 3), (0.0, 1.0, 0.0)),
        layered((0, 0, 0), (0.32, 6, 3), (1.0, 0.0, 0.0)),
        layered((0, 0, 0), (6, 5, 0.32), (0.0, 0.0, 1.0)),
    ],
    ids=["wall", "wall turned", "slab"],
)
@pytest.mark.parametrize(("layer", "thick"), [(0, 100.0), (1, 200.0), (2, 20.0)])
def test_the_layer_is_filled_in_a_square_piece_of_the_build_up(model: Model, layer: int, thick: float) -> None:
    material = next(k for k, m in enumerate(model.materials) if m.name == LAYERS[layer][0])
    made = picture_of_material(model, 0, material)
    side = 1.5 * 320.0
    assert (made.picture.wide, made.picture.high) == pytest.approx((side, side))
    filled = shapely.union_all([shapely.Polygon(ring) for ring in made.filled])
    assert filled.area == pytest.approx(thick * side)
    x0, y0, x1, y1 = filled.bounds
    assert sorted((x1 - x0, y1 - y0)) == pytest.approx(sorted((thick, side)))
    points = made.picture.lines.reshape(-1, 2)
    assert points.min() >= -1e-6
    assert points.max() <= side + 1e-6
    across = np.ptp(points, axis=0)
    assert sorted(across) == pytest.approx([320.0, side])  # all layers, and some air at both sides


def test_an_element_without_layers_is_shown_from_the_front() -> None:
    made = picture_of_material(model_of(box((0, 0, 0), (4, 0.3, 2.5)), materials=["Concrete"]), 0, 0)
    assert made.filled == ()
    assert (made.picture.wide, made.picture.high) == pytest.approx((4000, 2500))
