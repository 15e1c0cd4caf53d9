"""Nothing that can be asked takes more than a bounded amount of ink, and what is too large says so."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from edge_slice.core.cut import Extents, ImpossibleCut, SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, Paths, Pen, compose_drawing, default_standard
from edge_slice.core.drawing.hatching.bounds import MOST_POINTS, Covered, bounded, coarser, points_of
from edge_slice.core.drawing.hatching.filling import pattern_line, pattern_strokes, scatter_shapes, tile_lines
from edge_slice.core.drawing.paper import check_paper
from edge_slice.core.drawing.rules.hatch_rules import Fitted, Hatch, LineFamily, Rings, Scatter, Tile
from edge_slice.core.drawing.strokes.dashes import stroked
from tests.bodies import box, model_of

STANDARD = default_standard()
FINE = {
    "lines": Hatch(families=(LineFamily(angle=30, spacing=0.1),)),
    "dashes": Hatch(families=(LineFamily(angle=30, spacing=0.1, dash=(0.01, 0.01)),)),
    "tiles": Hatch(tiles=(Tile(width=0.2, height=0.2, strokes=(((0, 0), (0.2, 0.2)),) * 100),)),
    "scatter": Hatch(scatter=(Scatter(shape="pebble", spacing=0.3, size=0.1),)),
    "rings": Hatch(rings=Rings(spacing=0.3)),
    "batt": Hatch(fitted=Fitted(figure="batt", pitch=0.1)),
    "members": Hatch(fitted=Fitted(figure="members", spacing=0.2, width=0.1)),
}


def drawn(hatch: Hatch, scale: float, wide: float = 3.9) -> DisplayList:
    """A wall `wide` metres of paper wide, cut along it, in a hatch."""
    rule = STANDARD.materials["concrete"].model_copy(update={"hatch": "fine", "hatch_across": ""})
    standard = STANDARD.model_copy(
        update={
            "hatches": {**STANDARD.hatches, "fine": hatch},
            "materials": {**STANDARD.materials, "concrete": rule},
        }
    )
    model = model_of(box((0, 0, 0), (wide * scale, 0.3, wide * scale)))
    cut = SectionCut(
        line=((0, 0.15), (wide * scale, 0.15)), extents=Extents(left=0, right=wide * scale, base=0, top=wide * scale)
    )
    result = cut_model(model, cut, standard.cut_rules(model))
    return compose_drawing(model, result, cut, DrawingSpec(scale=scale), standard)


@pytest.mark.parametrize("name", FINE)
def test_the_finest_hatch_on_the_largest_paper_is_coarsened_and_says_so(name: str) -> None:
    display = drawn(FINE[name], 50)
    points = sum(len(i.points) for i in display.items if isinstance(i, Paths) and i.role == "hatch")
    assert 0 < points <= 1.5 * MOST_POINTS
    if name in ("dashes", "tiles", "scatter"):
        assert "times coarser" in display.findings[0]


def test_ordinary_hatches_stay_as_they_are() -> None:
    for name, hatch in STANDARD.hatches.items():
        assert not bounded({name: hatch}, {name: Covered(50_000, 2000, 5)}, 50, True)[1]


@pytest.mark.parametrize("name", ["lines", "tiles", "scatter"])
def test_the_estimate_is_near_what_is_drawn(name: str) -> None:
    hatch = coarser(FINE[name], 10)
    square = shapely.box(0, 0, 200, 200)
    made = {
        "lines": lambda: pattern_strokes(square, pattern_line(hatch.families[0])),
        "tiles": lambda: tile_lines(square, hatch.tiles[0]),
        "scatter": lambda: scatter_shapes(square, hatch.scatter[0]),
    }[name]()
    expected = points_of(hatch, Covered(square.area), 50, True)
    assert len(made[0]) <= expected * 1.6 + 200


def test_dashes_too_fine_to_see_are_drawn_coarser() -> None:
    line = (np.array([(0.0, 0.0), (4000.0, 0.0)]), np.array([0, 2]))
    (path,) = stroked("hidden", [line], Pen(0.13, "#000000", (1e-9, 1e-9)))
    assert len(path.starts) < 4000 / 0.4 + 5


@pytest.mark.parametrize(("scale", "word"), [(1, "1:10"), (0.1, "10:1"), (5, "20 m")])
def test_too_large_a_drawing_is_refused_with_what_would_fit(scale: float, word: str) -> None:
    with pytest.raises(ImpossibleCut, match=r"more than 4 m") as refused:
        check_paper((0, 0, 34_000, 9_000), scale)
    assert word in str(refused.value)
    assert "crop" in str(refused.value)


def test_details_larger_than_life_are_drawn() -> None:
    display = drawn(STANDARD.hatches["concrete"], 0.2, wide=0.3)
    assert (display.frame[2] - display.frame[0]) == pytest.approx(300)
    assert any(isinstance(i, Paths) and i.role == "hatch" for i in display.items)
