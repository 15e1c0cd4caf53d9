"""Broken drawings: what is left keeps its true measures, what is taken out is gone, and break lines hide the rest."""

from __future__ import annotations

import io
import re
from itertools import pairwise

import numpy as np
import pypdf
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.cut import Extents, ImpossibleCut, SectionCut, cut_model, leaves_of
from edge_slice.core.cut.planes.leaves import check_breaks
from edge_slice.core.cut.spec import Break
from edge_slice.core.drawing import DisplayList, DrawingSpec, Label, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import paths_of
from edge_slice.core.model import Model, Storey
from edge_slice.core.render.pdf import Page, to_pdf
from tests.bodies import box, model_of

STANDARD = default_standard()
GAP = STANDARD.breaks.gap
SCALE = 20.0
# two walls of three metres, a rail at 2 m on the first one's outside; levels at 0, 1.5 and 3 m
PLAIN = model_of(box((0, 0, 0), (0.3, 6, 3)), box((3.7, 0, 0), (4, 6, 3)), box((-0.1, 0, 2), (0, 6, 2.1)))
MODEL = Model(
    **{
        **{name: getattr(PLAIN, name) for name in ("name", "mesh", "elements", "materials")},
        "storeys": (Storey("s0", "Ground", 0.0), Storey("s1", "Middle", 1.5), Storey("s2", "Upper", 3.0)),
    }
)
LINE = ((-1.0, 3.0), (5.0, 3.0))


def composed(*breaks: Break, broken: tuple = (), extents: dict | None = None, **spec: object) -> DisplayList:
    given = {"base": -0.5, "top": 3.5, "breaks": breaks, "broken": broken, **(extents or {})}
    cut = SectionCut(line=LINE, depth=0.5, extents=Extents.model_validate(given))
    style = DrawingSpec(scale=SCALE, **spec)  # type: ignore[arg-type]
    return compose_drawing(MODEL, cut_model(MODEL, cut, STANDARD.cut_rules(MODEL)), cut, style, STANDARD)


def outlines(display: DisplayList, role: str = "cut structure") -> np.ndarray:
    return np.concatenate([i.points for i in display.items if isinstance(i, Paths) and i.role == role])


def test_what_is_left_keeps_its_measures_and_the_rest_closes_up_to_the_gap() -> None:
    out = Break(axis="v", start=0.6, end=1.2)
    whole, broken = composed(), composed(out)
    shift = 600 / SCALE - GAP
    assert broken.frame[3] == pytest.approx(whole.frame[3] - shift)
    top = outlines(whole)[:, 1].max() - shift
    assert outlines(broken)[:, 1].max() == pytest.approx(top)
    assert outlines(broken)[:, 1].min() == pytest.approx(outlines(whole)[:, 1].min())
    rail = outlines(broken)[outlines(broken)[:, 0] < 1000 / SCALE - 1e-6]
    assert rail[:, 1].max() - rail[:, 1].min() == pytest.approx(100 / SCALE)
    assert rail[:, 1].max() == pytest.approx(2100 / SCALE - shift)


def test_a_broken_wall_section_measures_true_in_the_pdf() -> None:
    """The printed page, in mm: thickness of the wall, heights of rail and top, and the level of each storey."""
    display = composed(Break(axis="v", start=0.6, end=1.2))
    roles = ("cut structure", "level")
    shown = DisplayList(tuple(i for i in display.items if i.role in roles), display.frame)
    page = pypdf.PdfReader(io.BytesIO(to_pdf([Page(shown, shown.frame, "x")], "x"))).pages[0]
    text = page.get_contents().get_data().decode("latin-1")  # type: ignore[union-attr]
    spots = np.array([(float(x), float(y)) for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+) [ml]\b", text)])
    shift = 600 / SCALE - GAP
    foot = outlines(display)[:, 1].min()
    ys = spots[:, 1] - (spots[:, 1].min() - (outlines(display)[:, 1].min() - foot))
    for known in (0.0, 2000 / SCALE - shift, 2100 / SCALE - shift, 3000 / SCALE - shift):
        assert np.abs(ys - known).min() < 0.1
    xs = np.unique(np.round(spots[:, 0], 2))
    widths = xs[None, :] - xs[:, None]
    for known in (300 / SCALE, 100 / SCALE, 4000 / SCALE):
        assert np.abs(widths - known).min() < 0.1


def test_levels_keep_their_values_and_stand_with_their_parts() -> None:
    display = composed(Break(axis="v", start=0.6, end=1.2))
    heights = {i.text: i.y for i in display.items if isinstance(i, Label) and i.role == "level name"}
    shift = 600 / SCALE - GAP
    assert heights["Upper"] - heights["Ground"] == pytest.approx(3000 / SCALE - shift)
    gone = composed(Break(axis="v", start=1.2, end=1.8))
    assert {i.text for i in gone.items if isinstance(i, Label) and i.role == "level name"} == {"Ground", "Upper"}
    assert "+1.500" in {i.text for i in display.items if isinstance(i, Label) and i.role == "level height"}


def test_break_lines_run_across_at_both_sides_of_the_gap_and_hide_what_is_between() -> None:
    display = composed(Break(axis="u", start=2.0, end=4.0), Break(axis="v", start=0.6, end=1.2))
    (first, second) = [i for i in display.items if isinstance(i, Paths) and i.role == "break line"]
    assert len(first.starts) == len(second.starts) == 3
    u = 2000 / SCALE
    ends = first.points[first.starts[:-1]]
    assert ends[:, 0] == pytest.approx([u, u + GAP])
    over = STANDARD.breaks.overhang
    assert first.points[:, 1].min() == pytest.approx(display.frame[1] - over)
    assert first.points[:, 1].max() == pytest.approx(display.frame[3] + over)
    masks = [i for i in display.items if isinstance(i, Paths) and i.role == "break mask"]
    assert all(m.fill == "#ffffff" and m.pen is None for m in masks)
    covered = shapely.Polygon(masks[0].points)
    inked = [i for i in display.items[: display.items.index(masks[0])] if isinstance(i, Paths) and i.pen is not None]
    for item in inked:  # what reaches into the gap is hidden by the mask drawn over it
        inside = (item.points[:, 0] > u + 2.01) & (item.points[:, 0] < u + GAP - 2.01)
        assert not inside.any()
    assert covered.bounds[0] < u < covered.bounds[2]


@pytest.mark.parametrize("edge", ["left", "right", "base", "top"])
def test_a_break_line_on_an_edge_masks_what_lies_beyond(edge: str) -> None:
    whole, broken = composed(), composed(broken=(edge,), extents={"whole_edges": True})
    assert broken.frame == whole.frame
    (line,) = [i for i in broken.items if isinstance(i, Paths) and i.role == "break line"]
    left, base, right, top = broken.frame
    inset = STANDARD.breaks.height
    where = {"left": (0, left + inset), "right": (0, right - inset), "base": (1, base + inset), "top": (1, top - inset)}
    axis, at = where[edge]
    assert np.median(line.points[:, axis]) == pytest.approx(at)
    (mask,) = [i for i in broken.items if isinstance(i, Paths) and i.role == "break mask"]
    outer = {"left": left - 0.5, "right": right + 0.5, "base": base - 0.5, "top": top + 0.5}[edge]
    middle = ((left + right) / 2, outer) if axis else (outer, (base + top) / 2)
    assert shapely.Polygon(mask.points).contains(shapely.Point(middle))


def break_lines(display: DisplayList) -> list[np.ndarray]:
    return [i.points for i in display.items if isinstance(i, Paths) and i.role == "break line"]


def test_break_lines_stand_where_material_is_cut_a_little_beyond_it() -> None:
    """The sides go through two walls of 0.3 m below and above; nothing reaches the left one."""
    rule = STANDARD.breaks
    found = break_lines(composed(broken=("left", "right", "base", "top"), extents={"base": 0.5, "top": 2.5}))
    spans = sorted((round(p[:, 1].mean()), p[:, 0].min(), p[:, 0].max()) for p in found)
    walls = [(1000, 1300), (4700, 5000)]
    low, high = 500 / SCALE + rule.height, 2500 / SCALE - rule.height
    wanted = [(at, a / SCALE - rule.overhang, b / SCALE + rule.overhang) for at in (low, high) for a, b in walls]
    assert [s[1:] for s in spans] == [pytest.approx(w[1:], abs=0.05) for w in wanted]
    assert [s[0] for s in spans] == [round(w[0]) for w in wanted]
    assert break_lines(composed(broken=("left", "right"), extents={"base": 0.5, "top": 2.5})) == []


def test_neighbouring_runs_share_a_line() -> None:
    near = composed(broken=("base",), extents={"base": 0.5})
    far = cut_model(MODEL, SectionCut(line=LINE, extents=Extents(base=0.5, broken=("base",))))
    style = DrawingSpec(scale=1000)
    small = compose_drawing(
        MODEL, far, SectionCut(line=LINE, extents=Extents(base=0.5, broken=("base",))), style, STANDARD
    )
    assert (len(break_lines(near)), len(break_lines(small))) == (2, 1)


@given(st.integers(5, 60), st.floats(0.3, 1.1), st.floats(-0.6, 0.6))
def test_break_lines_follow_slanted_and_curved_sides(corners: int, radius: float, dv: float) -> None:
    """Round a polygon about the first wall: each line keeps near its sides, stands within the run of material and a
    little beyond, and hides what of the wall lies outside of it."""
    rule, middle = STANDARD.breaks, np.array([1.15, 1.5 + dv])
    turn = np.linspace(0, 2 * np.pi, corners, endpoint=False) + 0.3
    ring = middle + radius * np.column_stack((np.cos(turn), np.sin(turn)))
    polygon = tuple((round(u, 4), round(v, 4)) for u, v in ring.tolist())
    display = composed(broken=("left", "right", "base", "top"), extents={"base": None, "top": None, "polygon": polygon})
    outline = shapely.Polygon(np.array(polygon) * 1000 / SCALE)
    wall = shapely.intersection(shapely.box(1000 / SCALE, 0, 1300 / SCALE, 3000 / SCALE), outline)
    lines = break_lines(display)
    assert lines
    reach = np.hypot(rule.overhang, 2 * rule.height) + rule.overhang
    for line in lines:
        assert shapely.distance(shapely.points(line), outline.exterior).max() <= reach
        assert shapely.distance(shapely.points(line), wall).max() <= reach
    masks = [i.points for i in display.items if isinstance(i, Paths) and i.role == "break mask"]
    hidden = shapely.union_all([shapely.make_valid(shapely.Polygon(m)) for m in masks])
    touching = shapely.intersection(outline.exterior, wall)
    assert shapely.difference(touching, shapely.buffer(hidden, 0.05)).length < 0.05 * touching.length + 0.5


def test_breaks_that_overlap_or_take_all_are_refused() -> None:
    with pytest.raises(ValidationError, match="overlap"):
        Extents(breaks=(Break(axis="u", start=0, end=2), Break(axis="u", start=1, end=3)))
    assert Extents(breaks=(Break(axis="u", start=0, end=2), Break(axis="v", start=1, end=3)))
    with pytest.raises(ValidationError, match="at least 10 mm"):
        Break(axis="u", start=2, end=1)
    cut = SectionCut(line=LINE, extents=Extents(breaks=(Break(axis="u", start=-1, end=9),)))
    with pytest.raises(ImpossibleCut, match="wider than the drawing"):
        check_breaks(cut, leaves_of(MODEL, cut))


def test_what_is_broken_is_not_outlined_and_fills_stop_there() -> None:
    """A wall that runs through a break is filled up to it at both sides, and its outline has no line along it."""
    whole, broken = composed(), composed(Break(axis="v", start=0.6, end=1.2))
    a, b = 600 / SCALE, 600 / SCALE + GAP
    points = outlines(broken)
    assert not (np.isin(np.round(points[:, 1], 6), np.round([a, b], 6))).any()

    def filled(display: DisplayList) -> float:
        fills = [i for i in display.items if isinstance(i, Paths) and i.role == "cut fill"]
        return sum(shapely.Polygon(r).area for i in fills for r in np.split(i.points, i.starts[1:-1]))

    reach = STANDARD.breaks.height
    lost = 2 * 300 / SCALE * (600 / SCALE - 2 * reach)
    assert filled(whole) - filled(broken) == pytest.approx(lost, rel=1e-6)


@st.composite
def windows(draw: st.DrawFn) -> tuple[list[Break], float]:
    marks = sorted(draw(st.lists(st.floats(1, 99), min_size=2, max_size=8, unique=True)))
    pairs = [(a, b) for a, b in zip(marks[::2], marks[1::2], strict=False) if b - a > 0.05]
    return [Break(axis="u", start=a, end=b) for a, b in pairs], draw(st.sampled_from([10.0, 50.0, 200.0]))


@given(windows())
def test_parts_stay_in_order_and_true_to_scale(drawn: tuple[list[Break], float]) -> None:
    breaks, scale = drawn
    fold = Fold.of((0, 0, 100_000, 1000), Extents(breaks=tuple(breaks)), scale, STANDARD.breaks)
    ends = [(p.start + p.shift, p.end + p.shift) for p in fold.us]
    assert all(b[0] - a[1] == pytest.approx(GAP) for a, b in pairwise(ends))
    lost = sum(b.start - a.end for a, b in pairwise(fold.us))
    assert fold.frame[2] == pytest.approx(100_000 / scale - lost + GAP * (len(fold.us) - 1))
    places = np.linspace(0, 100_000 / scale, 400)
    moved = [fold.u(float(x)) for x in places]
    shown = [(x, m) for x, m in zip(places, moved, strict=True) if m is not None]
    assert all(b[1] > a[1] for a, b in pairwise(shown))
    clamped = fold.points(np.column_stack((places, places * 0)))[:, 0]
    assert np.all(np.diff(clamped) >= -1e-9)
    assert [c for c, m in zip(clamped, moved, strict=True) if m is not None] == pytest.approx([m for _, m in shown])


def test_dots_and_closed_paths_are_cut_like_lines() -> None:
    fold = Fold.of((0, 0, 1000, 1000), Extents(breaks=(Break(axis="u", start=0.2, end=0.6),)), 1.0, STANDARD.breaks)
    pen = STANDARD and next(i.pen for i in composed().items if isinstance(i, Paths) and i.pen)
    dots = paths_of(
        "dot", [[(100.0, 5.0), (100.0, 5.0)], [(400.0, 5.0), (400.0, 5.0)], [(700.0, 5.0), (700.0, 5.0)]], pen
    )
    (kept,) = fold.items([dots])
    assert isinstance(kept, Paths)
    assert kept.points[::2, 0] == pytest.approx([100, 700 - 400 + GAP])
    ring = paths_of("ring", [[(100.0, 100.0), (700.0, 100.0), (700.0, 300.0), (100.0, 300.0)]], pen, "#eeeeee", True)
    fill, stroke = fold.items([ring])
    assert isinstance(fill, Paths)
    assert isinstance(stroke, Paths)
    assert (fill.closed, fill.pen, stroke.closed, stroke.fill) == (True, None, False, None)
    assert len(fill.starts) == 3  # a rectangle at each side
    assert not np.isclose(stroke.points[:, 0][(stroke.points[:, 1] > 101) & (stroke.points[:, 1] < 299)], 200).any()


def test_heads_and_bubbles_are_moved_in_one_piece() -> None:
    fold = Fold.of((0, 0, 1000, 1000), Extents(breaks=(Break(axis="u", start=0.2, end=0.6),)), 1.0, STANDARD.breaks)
    pen = next(i.pen for i in composed().items if isinstance(i, Paths) and i.pen)
    rings = [[(x - 5, 0.0), (x + 5, 0.0), (x, 8.0)] for x in (198.0, 400.0, 700.0)]
    (moved,) = fold.items([paths_of("grid bubble", rings, pen, None, True)])
    assert isinstance(moved, Paths)
    assert moved.points[::3, 0] == pytest.approx([193, 695 - 400 + GAP])  # the one in between is taken out
    assert [len(p) for p in np.split(moved.points, moved.starts[1:-1])] == [3, 3]
