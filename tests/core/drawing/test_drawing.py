"""Composing: content by scale, borders, hatches, annotations."""

from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import AnyCut, CutResult, Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import (
    DisplayList,
    DrawingSpec,
    Label,
    Marker,
    Paths,
    Surroundings,
    compose_drawing,
    default_standard,
)
from edge_slice.core.drawing.annotations.levels import fan_out
from edge_slice.core.drawing.content import shown_pieces
from edge_slice.core.drawing.hatching.filling import pattern_line, pattern_strokes, scatter_shapes
from edge_slice.core.drawing.measures import area_text, height_text, length_text, scale_text
from edge_slice.core.drawing.rules.hatch_rules import LineFamily, Scatter
from edge_slice.core.model import LayerFrame, Material, Model
from tests.bodies import box, model_of

STANDARD = default_standard()
SECTION = SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5)
WALL = [("Brick", 0.1), ("Breather membrane", 0.001), ("Rigid insulation", 0.12), ("Concrete block", 0.14)]
FRAME = LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def compose(model: Model, cut: AnyCut, scale: float = 50, *markers: Marker) -> DisplayList:
    result = cut_model(model, cut, STANDARD.cut_rules(model))
    return compose_drawing(model, result, cut, DrawingSpec(scale=scale), STANDARD, Surroundings(markers))


def length(display: DisplayList, *roles: str) -> float:
    total = 0.0
    for item in display.items:
        if isinstance(item, Paths) and item.role in roles:
            d = np.hypot(*np.diff(item.points, axis=0).T)
            inner = np.ones(len(d), bool)
            inner[item.starts[1:-1] - 1] = False
            total += float(d[inner].sum())
    return total


def layered() -> tuple[Model, CutResult]:
    model = model_of(box((-2, 0, 0), (2, 0.361, 3)), layers=WALL, frame=FRAME)
    cut = SectionCut(line=((0, -3), (0, 3)), extents=Extents(base=-1, top=4))
    return model, cut_model(model, cut)


@pytest.mark.parametrize(("scale", "layers"), [(200, 1), (100, 1), (50, 3), (20, 3), (5, 3)])
def test_content_follows_the_scale(scale: float, layers: int) -> None:
    model, result = layered()
    pieces = shown_pieces(model, result, STANDARD, STANDARD.content_for(scale), scale)
    assert len({p.layer for p in pieces}) == layers
    assert sum(p.polygon.area for p in pieces) == pytest.approx(3000 * 361, rel=1e-6)


def test_thin_layer_joins_its_stronger_neighbour() -> None:
    model, result = layered()
    pieces = {p.kind: p.polygon.area / 3000 for p in shown_pieces(model, result, STANDARD, "layers", 50)}
    assert pieces == pytest.approx({"brick": 101, "rigid insulation": 120, "block": 140})


@pytest.mark.parametrize(
    ("name", "category", "found"),
    [
        ("Reinforced concrete C30/37", "", "reinforced concrete"), ("Beton", "", "concrete"),
        ("Concrete block 140", "", "block"), ("XPS 300", "", "rigid insulation"),
        ("Mineral_wool", "", "soft insulation"), ("GKB 12.5", "Plaster", "plaster"), ("Unobtainium", "", "other"),
    ],
)  # fmt: skip
def test_materials_are_recognised_by_name_and_class(name: str, category: str, found: str) -> None:
    assert STANDARD.material_class(Material(name, category)) == found


def test_like_neighbours_show_no_line_between_them_and_unlike_ones_one() -> None:
    cut = SectionCut(line=((0.5, -5), (0.5, 5)), extents=Extents(base=-1, top=4))
    left, right = box((0, 0, 0), (1, 1, 2)), box((0, 1, 0), (1, 3, 2))
    outline = 2 * (3 + 2) * 1000 / 20
    alike = compose(model_of(left, right, materials=["Concrete", "Concrete"]), cut, 20)
    assert length(alike, "cut structure", "cut other") == pytest.approx(outline, abs=0.05)
    unlike = compose(model_of(left, right, materials=["Concrete", "Brick"]), cut, 20)
    assert length(unlike, "cut structure", "cut other") == pytest.approx(outline + 2000 / 20, abs=0.05)


def test_borders_between_layers_are_fine_and_outlines_heavy() -> None:
    model = model_of(box((-2, 0, 0), (2, 0.361, 3)), layers=WALL, frame=FRAME)
    display = compose(model, SectionCut(line=((0, -3), (0, 3)), extents=Extents(base=-1, top=4)), 50)
    assert length(display, "layer") == pytest.approx(2 * 3000 / 50, abs=0.05)
    assert length(display, "cut structure", "cut other") == pytest.approx(2 * 3361 / 50, abs=0.05)


def test_no_stroke_of_the_cut_is_drawn_twice(demo: Model) -> None:
    display = compose(demo, SECTION)
    lines = []
    for item in display.items:
        if isinstance(item, Paths) and item.role in ("cut structure", "cut other", "layer"):
            for a, b in zip(item.starts[:-1], item.starts[1:], strict=True):
                p = item.points[a:b]
                lines.append(np.stack((p[:-1], p[1:]), axis=1))
    shapes = shapely.linestrings(np.concatenate(lines))
    a, b = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    shared = shapely.length(shapely.intersection(shapes[a[a < b]], shapes[b[a < b]])).sum()
    assert shared / shapely.length(shapes).sum() < 2e-3


@given(st.floats(0, 180), st.floats(0.5, 3))
def test_hatch_lines_lie_inside_and_cover_by_their_spacing(angle: float, spacing: float) -> None:
    shape = shapely.Polygon([(0, 0), (40, 5), (35, 30), (8, 33)], [[(12, 10), (20, 10), (20, 18), (12, 18)]])
    points, _ = pattern_strokes(shape, pattern_line(LineFamily(angle=angle, spacing=spacing)))
    lines = shapely.linestrings(points.reshape(-1, 2, 2))
    assert shapely.covers(shape.buffer(1e-6), lines).all()
    assert shapely.length(lines).sum() * spacing == pytest.approx(shape.area, rel=0.12)


def test_dashed_family_inks_its_share() -> None:
    points, _ = pattern_strokes(shapely.box(0, 0, 100, 100), pattern_line(LineFamily(angle=30, spacing=1, dash=(2, 3))))
    inked = shapely.length(shapely.linestrings(points.reshape(-1, 2, 2))).sum()
    assert inked == pytest.approx(10_000 * 2 / 5, rel=0.03)


def test_scattered_shapes_stay_inside_and_in_place() -> None:
    rule = Scatter(shape="pebble", spacing=1.5, size=1.0)
    whole, starts = scatter_shapes(shapely.box(0, 0, 30, 20), rule)
    assert len(starts) > 150
    assert shapely.covers(shapely.box(-0.3, -0.3, 30.3, 20.3), shapely.points(whole)).all()
    part, _ = scatter_shapes(shapely.box(0, 0, 15, 20), rule)
    assert set(map(tuple, part)) <= set(map(tuple, whole))


@given(st.lists(st.floats(-100, 100), min_size=1, max_size=12), st.floats(1, 10))
def test_crowded_levels_fan_out(heights: list[float], gap: float) -> None:
    places = fan_out(sorted(heights), gap)
    assert all(b - a >= gap - 1e-6 for a, b in pairwise(places))
    assert np.mean(places) == pytest.approx(np.mean(heights), abs=1e-6)


@pytest.mark.parametrize(("height", "text"), [(3.3, "+3.300"), (0.0, "±0.000"), (-0.9, "−0.900"), (-0.0001, "±0.000")])
def test_heights_over_the_datum(height: float, text: str) -> None:
    assert height_text(height, "m") == text


def test_lengths_are_written_as_the_project_does() -> None:
    assert [length_text(2.4, k) for k in ("mm", "m", "ft-in")] == ["2400", "2.400", "7'-10 1/2\""]
    assert [length_text(x * 0.0254, "ft-in") for x in (12, 11.97, 0.75, -30, 0)] == [
        "1'-0\"", "1'-0\"", "3/4\"", "−2'-6\"", "0\"",
    ]  # fmt: skip
    assert height_text(-0.9, "mm") == "−0.900"
    assert (area_text(20, "m"), area_text(20, "ft-in")) == ("20.0 m²", "215 sq ft")
    assert [scale_text(s) for s in (50, 0.5, 48, 96)] == ["1:50", "2:1", '1/4" = 1\'-0"', '1/8" = 1\'-0"']


@given(st.floats(0, 1000))
def test_feet_and_inches_are_true_to_a_sixteenth(metres: float) -> None:
    text = length_text(metres, "ft-in")
    feet, _, rest = text.rpartition("'-")
    inches = sum((Fraction(part) for part in rest.rstrip('"').split()), Fraction(0))
    assert abs(float(int(feet or 0) * 12 + inches) * 0.0254 - metres) <= 0.0254 / 32 + 1e-9


def test_a_drawing_in_feet_says_heights_in_them(demo: Model) -> None:
    result = cut_model(demo, SECTION, STANDARD.cut_rules(demo))
    display = compose_drawing(demo, result, SECTION, DrawingSpec(scale=48, lengths="ft-in"), STANDARD)
    texts = {i.text for i in display.items if isinstance(i, Label)}
    assert "+10'-9 15/16\"" in texts  # 3.3 m


def test_levels_stand_at_the_edge_of_the_extents(demo: Model) -> None:
    display = compose(demo, SECTION)
    names = [i for i in display.items if isinstance(i, Label) and i.role == "level name"]
    assert [n.text for n in names] == ["Boat bay", "Lower", "Upper", "Lookout", "Roof edge"]
    assert all(n.x > display.frame[2] for n in names)
    heights = [n.y for n in names]
    assert heights[2] - heights[1] == pytest.approx(3300 / 50, abs=4)


def test_section_shows_the_grid_lines_it_crosses(demo: Model) -> None:
    names = [i.text for i in compose(demo, SECTION).items if isinstance(i, Label) and i.role == "grid name"]
    assert sorted(names) == ["A", "B", "C", "D"]


def test_plan_names_its_rooms(demo: Model) -> None:
    cut = PlanCut(storey=demo.storeys[1].guid, depth=2.4)
    labels = {i.text for i in compose(demo, cut, 100).items if isinstance(i, Label)}
    assert {"Wet lab", "1.01", "32.2 m²", "Boat bay"} <= labels
    assert "Library" not in labels


def test_marker_shows_number_over_sheet_and_leads_to_its_drawing(demo: Model) -> None:
    cut = PlanCut(storey=demo.storeys[1].guid, depth=2.4)
    display = compose(demo, cut, 100, Marker(7, "2", "A-301", ((10.6, -2), (10.6, 12)), "left"))
    texts = [i.text for i in display.items if isinstance(i, Label) and i.source == "marker:7"]
    assert texts == ["2", "A-301", "2", "A-301"]
    assert [k.target for k in display.links] == ["drawing:7", "drawing:7"]
    wedges = [i for i in display.items if isinstance(i, Paths) and i.role == "marker wedge"]
    tips = [w.points[0][0] for w in wedges]
    assert all(tip < 10_600 / 100 for tip in tips)  # looking left of a line that runs north is looking west


def test_ground_is_a_band_under_its_surface(demo: Model) -> None:
    cut = SectionCut(line=((-6, 2.1), (28, 2.1)))
    display = compose(demo, cut)
    tint = STANDARD.materials["earth"].tint
    band = next(i for i in display.items if isinstance(i, Paths) and i.fill == tint)
    low = band.points[(band.points[:, 0] < 80), 1]
    surface = low.max()
    assert surface - low.min() == pytest.approx(STANDARD.ground_depth, abs=3.5)  # the bank undulates by 0.12 m
    beside = 34_000 - 22_400  # the building and the paving along it have none under them
    assert length(display, "earth line") == pytest.approx(beside / 50, rel=0.05)
