"""A page that shows every hatch of a standard at three scales, in the shapes that hatches have to cope with."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import Strip
from edge_slice.core.drawing.content import Piece
from edge_slice.core.drawing.display import DisplayList, Item, Label, paths_of
from edge_slice.core.drawing.hatching.fills import fills, hatches, rings_on_paper
from edge_slice.core.drawing.hatching.ground import edge_strokes, ground_band
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.drawing.rules.hatch_rules import Hatch
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.strokes.dashes import stroked

F64 = NDArray[np.float64]
SAMPLES = ((5.0, 40.0), (20.0, 140.0), (100.0, 300.0))  # scale, thickness of layers in mm of model
CELL, ROW, NAME, COLUMNS = (74.0, 34.0), 38.0, 34.0, 2  # mm on paper


def hatch_page(standard: DrawingStandard) -> DisplayList:
    """Every hatch at 1:5, 1:20 and 1:100: layers round a corner, a sloping layer, a plate with an opening."""
    items: list[Item] = []
    names = list(standard.hatches)
    half = (len(names) + COLUMNS - 1) // COLUMNS
    wide = NAME + len(SAMPLES) * CELL[0]
    for column in range(COLUMNS):
        for k, (scale, _) in enumerate(SAMPLES):
            x = column * (wide + 10) + NAME + k * CELL[0]
            items.append(Label("heading", f"1:{scale:g}", x, 6.0, standard.text.heading, standard.ink))
    for index, name in enumerate(names):
        x, y = (index // half) * (wide + 10), -(index % half) * ROW - CELL[1]
        items.append(Label("name", name, x, y + CELL[1] - 6, standard.text.label, standard.ink))
        for k, (scale, thick) in enumerate(SAMPLES):
            sample = hatch_sample(standard, name, scale, thick)
            items += sample.moved(x + NAME + k * CELL[0], y).items
    rows = half * ROW
    return DisplayList(tuple(items), (0.0, -rows, COLUMNS * wide + 10, 12.0))


def hatch_sample(standard: DrawingStandard, name: str, scale: float, thick: float) -> DisplayList:
    """One hatch at a scale, within `CELL`; layers are `thick` mm of the building, as far as there is room."""
    thick = min(thick, CELL[1] / 2 * scale)
    hatch = standard.hatches[name]
    pens = pens_of(standard, scale)
    frame = (0.0, 0.0, CELL[0] - 6, CELL[1])
    key = next((k for k, r in standard.materials.items() if name in (r.hatch, r.hatch_across)), "other")
    if hatch.edge is not None:
        return DisplayList(tuple(_ground_sample(standard, hatch, key, scale)), frame)
    rule = standard.materials[key].model_copy(update={"hatch": name, "hatch_across": "", "merge": False})
    local = standard.model_copy(update={"materials": {**standard.materials, key: rule}})
    pieces = [Piece(i, key, 0, shape, strip) for i, (shape, strip) in enumerate(_shapes(scale, thick))]
    groups = np.array([0, 0, *range(1, len(pieces) - 1)], dtype=np.int64)
    outlines = [shapely.union_all([p.polygon for p in pieces[:2]]), *(p.polygon for p in pieces[2:])]
    rings = rings_on_paper(outlines, scale)
    return DisplayList(
        (
            *fills(pieces, local, scale, False),
            *hatches(pieces, groups, local, pens["hatch"], scale, True)[0],
            paths_of("cut other", rings, pens["cut other"], None, True),
        ),
        frame,
    )


def _shapes(scale: float, thick: float) -> list[tuple[shapely.Polygon, Strip | None]]:
    """In mm of model: two layers that meet at a corner, a sloping one, a plate with an opening, and two that touch."""
    w, h = 30.0 * scale, (CELL[1] - 4) * scale
    foot = shapely.box(0, 0, w, thick)
    wall = shapely.box(0, thick, thick, h)
    a, b = np.array([w * 0.36, h * 0.6]), np.array([w * 0.98, h])
    d = (b - a) / np.hypot(*(b - a))
    n = np.array([-d[1], d[0]])
    t = min(thick, h * 0.18)
    slope = shapely.Polygon([a, b, b - n * t, a - n * t])
    x = 34.0 * scale
    plate = shapely.Polygon(
        [(x, 0), (x + 16 * scale, 0), (x + 16 * scale, h), (x, h)],
        [[(x + 5 * scale, h * 0.35), (x + 11 * scale, h * 0.35), (x + 11 * scale, h * 0.7), (x + 5 * scale, h * 0.7)]],
    )
    x += 19 * scale
    lower, upper = shapely.box(x, 0, x + 12 * scale, h / 2), shapely.box(x, h / 2, x + 12 * scale, h)
    return [
        (foot, Strip((0.0, 1.0), 0.0, thick)),
        (wall, Strip((1.0, 0.0), 0.0, thick)),
        (slope, Strip((float(n[0]), float(n[1])), float(n @ a) - t, float(n @ a))),
        (plate, None),
        (lower, None),
        (upper, None),
    ]


def _ground_sample(standard: DrawingStandard, hatch: Hatch, key: str, scale: float) -> list[Item]:
    """Ground with a bank in it, as a section shows it."""
    wide, high = (CELL[0] - 6) * scale, CELL[1] * scale
    surface = np.array([(0, 0.55), (0.3, 0.58), (0.5, 0.8), (1, 0.84)]) * np.array([wide, high])
    ground = shapely.Polygon([*surface, (wide, -high), (0, -high)])
    frame = shapely.box(0.0, -high, wide, high)
    band, lines = ground_band(ground, frame, standard.ground_depth * scale, True, (0.0, wide))
    paper = [shapely.transform(p, lambda q: q / scale) for p in shapely.get_parts(band)]
    pens = pens_of(standard, scale)
    on_paper = [line / scale for line in lines]
    assert hatch.edge is not None
    return [
        paths_of("cut fill", rings_on_paper(paper, 1.0), None, standard.materials[key].tint, True),
        *stroked("hatch", [edge_strokes(on_paper, paper, hatch.edge)], pens["hatch"]),
        paths_of("earth line", on_paper, pens["earth line"]),
    ]
