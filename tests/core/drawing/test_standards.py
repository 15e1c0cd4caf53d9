"""Drawing standards as data, ways of filling, content, membranes, and what one drawing does differently."""

import json

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

from edge_slice.core.cut import Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import (
    SHIPPED,
    DisplayList,
    DrawingSpec,
    DrawingStandard,
    MaterialException,
    Paths,
    compose_drawing,
    default_standard,
    shipped_standard,
)
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.model import LayerFrame, Model
from tests.bodies import box, model_of

WALL = [("Brick", 0.1), ("Breather membrane", 0.001), ("Rigid insulation", 0.12), ("Concrete block", 0.14)]
FRAME = LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0))
CUT = SectionCut(line=((0, -3), (0, 3)), extents=Extents(base=-1, top=4))


def layered() -> Model:
    return model_of(box((-2, 0, 0), (2, 0.361, 3)), layers=WALL, frame=FRAME)


def drawn(
    model: Model, cut: SectionCut | PlanCut = CUT, standard: DrawingStandard | None = None, **spec: object
) -> DisplayList:
    used = standard or default_standard()
    result = cut_model(model, cut, used.cut_rules(model))
    return compose_drawing(model, result, cut, DrawingSpec(**spec), used)


def items(display: DisplayList, *roles: str) -> list[Paths]:
    return [i for i in display.items if isinstance(i, Paths) and i.role in roles]


def length(paths: list[Paths]) -> float:
    total = 0.0
    for p in paths:
        for a, b in zip(p.starts[:-1], p.starts[1:], strict=True):
            total += float(np.hypot(*np.diff(p.points[a:b], axis=0).T).sum())
    return total


@pytest.mark.parametrize("key", SHIPPED)
def test_shipped_standards_survive_export_and_import(key: str) -> None:
    standard = shipped_standard(key)
    assert DrawingStandard.model_validate_json(standard.model_dump_json()) == standard


def test_the_two_shipped_standards_differ_in_weight() -> None:
    fine, bold = (shipped_standard(k) for k in SHIPPED)
    for role in ("cut structure", "cut other"):
        for size in ("small", "middle", "large"):
            assert bold.pens[role].width[size] > fine.pens[role].width[size]


def test_a_pen_may_have_a_colour_of_its_own_and_keeps_it_at_another_width() -> None:
    standard = default_standard()
    far = standard.pens["seen far"].model_copy(update={"colour": "#889099"})
    coloured = standard.model_copy(update={"pens": {**standard.pens, "seen far": far}})
    pens = pens_of(coloured.adapted(DrawingSpec(pens={"seen far": 0.25})), 50)
    assert (pens["seen far"].colour, pens["seen far"].width) == ("#889099", 0.25)
    assert pens["seen near"].colour == standard.ink


def test_pens_follow_the_iso_series_and_scales() -> None:
    standard = default_standard()
    widths = {w for p in standard.pens.values() for w in p.width.values()}
    assert widths <= {0.0, 0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1.0}
    assert [standard.pens["cut structure"].width[standard.scale_class(s)] for s in (100, 50, 20, 5)] == [
        0.35,
        0.5,
        0.7,
        0.7,
    ]


def broken(**change: object) -> dict:
    return {**json.loads(default_standard().model_dump_json()), **change}


@pytest.mark.parametrize(
    ("change", "message"),
    [
        ({"hatches": {}}, "hatch"),
        ({"materials": {}}, "'earth' is missing"),
        ({"pens": {}}, "pen for 'cut other' is missing"),
        ({"ink": "blue"}, "ink"),
        ({"kinds": {"wall": "cheese"}}, "'cheese' is missing"),
        ({"hatches": {"none": {"families": [{"angle": 45, "spacing": 0}]}}}, "spacing"),
        ({"hatches": {"none": {"families": [{"angle": 45, "spacing": 1, "dash": [1]}]}}}, "pairs"),
        ({"colour": "red"}, "colour"),
    ],
)
def test_broken_standards_are_refused_with_the_place(change: dict, message: str) -> None:
    with pytest.raises(ValidationError, match=message):
        DrawingStandard.model_validate(broken(**change))


def test_material_without_a_hatch_gets_a_sensible_one() -> None:
    standard = default_standard()
    model = model_of(box((0, 0, 0), (1, 1, 1)), kinds=["ground"], materials=["Stuff"])
    assert standard.face_classes(model)(model.elements[0], 0, -1) == "earth"
    wall = model_of(box((0, 0, 0), (1, 1, 1)), materials=["Stuff"])
    display = drawn(wall, SectionCut(line=((0.5, -1), (0.5, 2)), extents=Extents(base=-1, top=2)), scale=20)
    assert length(items(display, "hatch")) > 0


@pytest.mark.parametrize(
    ("fill", "fills", "hatched"), [("material", 3, True), ("colour", 3, False), ("solid", 1, False), ("none", 0, False)]
)
def test_ways_of_filling(fill: str, fills: int, hatched: bool) -> None:
    display = drawn(layered(), scale=50, fill=fill)
    assert len(items(display, "cut fill")) == fills
    assert bool(items(display, "hatch")) == hatched
    assert length(items(display, "cut structure", "cut other")) == pytest.approx(2 * 3361 / 50, abs=0.1)


def test_small_scales_are_filled_solid_unless_the_drawing_says_otherwise() -> None:
    standard = default_standard()
    assert [i.fill for i in items(drawn(layered(), scale=500), "cut fill")] == [standard.ink]
    assert len(items(drawn(layered(), scale=500, content="layers"), "cut fill")) >= 1
    assert standard.ink not in [i.fill for i in items(drawn(layered(), scale=500, content="outline"), "cut fill")]


@pytest.mark.parametrize(("content", "layers"), [("outline", 0), ("layers", 2), ("membranes", 2)])
def test_content_can_be_set_against_the_scale(content: str, layers: int) -> None:
    display = drawn(layered(), scale=50, content=content)
    assert length(items(display, "layer")) == pytest.approx(layers * 3000 / 50, abs=0.1)
    assert bool(items(display, "membrane")) == (content == "membranes")


def test_membrane_is_one_heavy_dashed_line_in_its_place() -> None:
    display = drawn(layered(), scale=10)
    (line,) = items(display, "membrane")
    assert line.pen is not None
    assert line.pen.width == 0.5
    assert line.points[:, 0] == pytest.approx(np.full(len(line.points), (3000 + 100.5) / 10), abs=0.01)
    assert (line.points[:, 1].min(), line.points[:, 1].max()) == pytest.approx((0, 300), abs=0.01)
    assert len(line.starts) > 10


def test_no_outline_where_the_extents_cut_a_piece_off() -> None:
    cropped = SectionCut(line=((0, -3), (0, 3)), extents=Extents(base=1, top=2))
    outline = items(drawn(layered(), cropped, scale=50), "cut structure", "cut other")
    assert length(outline) == pytest.approx(2 * 1000 / 50, abs=0.1)


def test_one_drawings_exceptions() -> None:
    changed = drawn(
        layered(),
        scale=50,
        pens={"cut structure": 1.0, "no such role": 0.5},
        materials={
            "brick": MaterialException(hatch="none", tint="#ff0000"),
            "cheese": MaterialException(hatch="brick"),
        },
    )
    assert {i.pen.width for i in items(changed, "cut structure") if i.pen} == {1.0}
    assert "#ff0000" in [i.fill for i in items(changed, "cut fill")]
    plain = drawn(layered(), scale=50)
    assert length(items(changed, "hatch")) < length(items(plain, "hatch"))


def test_timber_shows_end_grain_across_and_long_grain_along() -> None:
    joist = model_of(box((0, 0, 0), (0.05, 4, 0.2)), materials=["Softwood"])
    across = drawn(joist, SectionCut(line=((-1, 2), (1, 2)), extents=Extents(base=-1, top=1)), scale=5)
    along = drawn(joist, SectionCut(line=((0.02, -1), (0.02, 5)), extents=Extents(base=-1, top=1)), scale=5)

    def straight(display: DisplayList) -> float:
        d = np.diff(items(display, "hatch")[0].points, axis=0)
        return float((np.abs(d[:, 1]) < 1e-9).mean())

    assert straight(along) > 0.45
    assert straight(across) < 0.2


def test_small_things_are_left_out_at_small_scales() -> None:
    standard, cut = default_standard(), SectionCut(line=((0, 0), (1, 0)), without=("planting",))
    assert standard.shown_cut(cut, 20) == cut
    assert standard.shown_cut(cut, 200).without == ("planting", "accessory", "person")


def test_overhead_and_hidden_lines_are_dashed_by_the_pens_width(demo: Model) -> None:
    cut = PlanCut(storey=demo.storeys[1].guid, depth=2.4, overhead=2.5)
    (line,) = items(drawn(demo, cut, scale=50), "overhead")
    assert line.pen is not None
    strokes = [np.diff(line.points[a:b], axis=0) for a, b in zip(line.starts[:-1], line.starts[1:], strict=True)]
    lengths = np.array([np.hypot(*s.T).sum() for s in strokes])
    assert np.median(lengths) == pytest.approx(12 * line.pen.width, rel=0.2)


def strokes_of(display: DisplayList, *roles: str) -> np.ndarray:
    found = []
    for item in items(display, *roles):
        for a, b in zip(item.starts[:-1], item.starts[1:], strict=True):
            p = item.points[a:b]
            found.append(np.stack((p[:-1], p[1:]), axis=1))
    return shapely.linestrings(np.concatenate(found))


@pytest.mark.parametrize(("y", "scale"), [(2.1, 50), (6.9, 20), (2.1, 100)])
def test_no_stroke_of_the_output_lies_on_another(demo: Model, y: float, scale: float) -> None:
    cut = SectionCut(line=((-3, y), (25, y)), depth=6, hidden="dashed")
    display = drawn(demo, cut, scale=scale)
    roles = ("cut structure", "cut other", "layer", "seen near", "seen middle", "seen far", "hidden")
    shapes = strokes_of(display, *roles)
    a, b = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    once = a < b
    shared = shapely.length(shapely.intersection(shapes[a[once]], shapes[b[once]])).sum()
    assert shared / shapely.length(shapes).sum() < 2e-3


def test_step_lines_are_drawn_when_asked_for() -> None:
    model = model_of(box((-9, -9, 0), (9, 9, 1)))
    cut = SectionCut(line=((-3, 0), (0, 0), (0, 2), (4, 2)), extents=Extents(base=-1, top=2))
    assert not items(drawn(model, cut), "step")
    (line,) = items(drawn(model, cut.model_copy(update={"step_lines": True})), "step")
    assert line.points.tolist() == [[60, -20], [60, 40]]
    outline = items(drawn(model, cut), "cut structure", "cut other", "layer")
    assert length(outline) == pytest.approx(2 * 7000 / 50, abs=0.1)  # ends lie on the crop; the step draws none
