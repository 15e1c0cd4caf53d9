"""Cut ground runs on under what stands in it, whatever the model's ground is."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from edge_slice.core.cut import CutResult, Extents, SectionCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.drawing.compose import shown_ground
from edge_slice.core.drawing.content import shown_pieces
from edge_slice.core.model import Model
from edge_slice.core.render.cut_json import cut_document
from tests.bodies import Body, box, model_of

STANDARD = default_standard()
SCALE = 50.0
DEPTH = STANDARD.ground_depth * SCALE
CUT = SectionCut(line=((-10, 0), (10, 0)), extents=Extents(base=-5, top=4))
WIDE = (-20.0, 20.0)


def blocks_with_hole(left: float, right: float, bottom: float = -6) -> Body:
    """Ground with its top at 0 and an opening right through it from `left` to `right`."""
    parts = [box((WIDE[0], -9, bottom), (left, 9, 0)), box((right, -9, bottom), (WIDE[1], 9, 0))]
    return np.concatenate([p[0] for p in parts]), np.concatenate([parts[0][1], parts[1][1] + 8])


def surface_with_hole(left: float, right: float) -> Body:
    """The same as an open surface."""
    rings = [((WIDE[0], -9), (left, 9)), ((right, -9), (WIDE[1], 9))]
    points = [(x, y, 0.0) for (x0, y0), (x1, y1) in rings for x, y in ((x0, y0), (x1, y0), (x1, y1), (x0, y1))]
    return np.array(points), np.array([(0, 1, 2), (0, 2, 3), (4, 5, 6), (4, 6, 7)])


def with_house(ground: Body, *house: Body) -> tuple[Model, CutResult]:
    names = ["Earth"] + ["Concrete"] * len(house)
    model = model_of(ground, *house, materials=names, kinds=["ground"] + ["wall"] * len(house))
    return model, cut_model(model, CUT, STANDARD.cut_rules(model))


def drawn(model: Model, result: CutResult) -> tuple[shapely.Geometry, list[np.ndarray]]:
    """The band in metres about the middle of the drawing, and the earth lines."""
    bands, lines = shown_ground(result, shown_pieces(model, result, STANDARD, "membranes", SCALE), STANDARD, SCALE)

    def metres(points: np.ndarray) -> np.ndarray:
        return points / 1000 - np.array([10.0, 0.0])

    return shapely.transform(shapely.union_all([p for _, p in bands]), metres), [metres(line) for line in lines]


SLAB = box((-3, -2, -0.4), (3, 2, 0))
HOUSE = (SLAB, box((-3.3, -2, -1.2), (-3, 2, 2)), box((3, -2, -1.2), (3.3, 2, 2)))


@pytest.mark.parametrize("ground", [blocks_with_hole(-3.3, 3.3), surface_with_hole(-3.3, 3.3)], ids=["body", "surface"])
def test_band_runs_on_under_a_slab_in_a_hole(ground: Body) -> None:
    band, lines = drawn(*with_house(ground, *HOUSE))
    deep = DEPTH / 1000
    expected = shapely.union_all(
        [
            shapely.box(-10, -deep, -3.3, 0),  # under the surface, beside, under and between the walls
            shapely.box(-3.3 - deep, -1.2 - deep, -3 + deep, -1.2),
            shapely.box(3 - deep, -1.2 - deep, 3.3 + deep, -1.2),
            shapely.box(-3.3 - deep, -1.2 - deep, -3.3, 0),
            shapely.box(3.3, -1.2 - deep, 3.3 + deep, 0),
            shapely.box(-3, -1.2 - deep, -3 + deep, -0.4),
            shapely.box(3 - deep, -1.2 - deep, 3, -0.4),
            shapely.box(-3, -0.4 - deep, 3, -0.4),
            shapely.box(3.3, -deep, 10, 0),
        ]
    )
    assert shapely.symmetric_difference(band, expected).area < 1e-4
    assert sum(shapely.LineString(line).length for line in lines) == pytest.approx(2 * 6.7, abs=0.02)
    assert all(np.abs(line[:, 1]).max() < 1e-6 for line in lines)  # none down the sides of the hole


def test_json_says_what_is_drawn() -> None:
    model, result = with_house(blocks_with_hole(-3.3, 3.3), *HOUSE)
    band, _ = drawn(model, result)
    faces = [f for f in cut_document(model, result, SCALE, STANDARD)["faces"] if f["kind"] == "ground"]
    told = sum(shapely.Polygon(f["rings"][0], f["rings"][1:]).area for f in faces)
    assert told / 1e6 == pytest.approx(band.area, rel=1e-6)
    assert {f["class"] for f in faces} == {"earth"}


def test_a_narrow_gap_beside_the_wall_is_filled_and_a_room_below_ground_is_not() -> None:
    cellar = (
        box((-3, -2, -2.5), (3, 2, -2.2)),
        box((-3.3, -2, -2.5), (-3, 2, 0.3)),
        box((3, -2, -2.5), (3.3, 2, 0.3)),
    )
    band, lines = drawn(*with_house(blocks_with_hole(-3.8, 3.8), *cellar))
    assert band.contains(shapely.Point(-3.5, -0.3))
    assert not band.intersects(shapely.box(-2.9, -2.1, 2.9, 0.2))
    assert band.contains(shapely.Point(0, -2.6))
    assert band.bounds[1] == pytest.approx(-2.5 - DEPTH / 1000)
    assert sum(shapely.LineString(line).length for line in lines) == pytest.approx(2 * 6.7, abs=0.02)


def test_a_pit_in_the_ground_is_filled_up_to_the_slab_above_its_bottom() -> None:
    outer, inner = [(-20, -6), (20, -6), (20, 0), (4, 0), (4, -1), (-4, -1), (-4, 0), (-20, 0)], 9.0
    n = len(outer)
    points = np.array([(x, y, z) for y in (-inner, inner) for x, z in outer])
    sides = [(i, (i + 1) % n) for i in range(n)]
    faces = [t for i, j in sides for t in ((i, j, n + j), (i, n + j, n + i))]
    cap = shapely.constrained_delaunay_triangles(shapely.Polygon(outer))
    index = {p: k for k, p in enumerate(outer)}
    flat = [[index[(round(x), round(y))] for x, y in t.exterior.coords[:3]] for t in cap.geoms]
    faces += [tuple(t[::-1]) for t in flat] + [tuple(n + k for k in t) for t in flat]
    slab = box((-3.8, -2, -0.6), (3.8, 2, 0.1))
    band, lines = drawn(*with_house((points, np.array(faces)), slab))
    assert band.contains(shapely.Point(0, -0.8))  # between slab and bottom of the pit
    assert band.contains(shapely.Point(-3.9, -0.5))  # the gap beside it
    assert not any((line[:, 1] < -0.01).any() for line in lines)


def test_an_open_pit_stays_open() -> None:
    band, lines = drawn(*with_house(blocks_with_hole(-3, 3), box((5, -2, 0), (6, 2, 2))))
    assert not band.intersects(shapely.box(-2.9, -4, 2.9, 0))
    assert any((line[:, 1] < -1).any() for line in lines)  # its sides are surfaces


def test_two_grounds_one_over_the_other_are_both_drawn() -> None:
    parts = [box((WIDE[0], -9, z), (WIDE[1], 9, z + 1.5)) for z in (-4.5, -1.5)]
    ground = np.concatenate([p[0] for p in parts]), np.concatenate([parts[0][1], parts[1][1] + 8])
    band, lines = drawn(*with_house(ground, SLAB))
    assert band.contains(shapely.Point(8, -0.1))
    assert band.contains(shapely.Point(8, -3.1))
    assert {round(float(y), 3) for line in lines for y in line[:, 1]} >= {0.0, -3.0}
