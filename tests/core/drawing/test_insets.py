"""A strip of a section in a plan stands in line with what it cuts, and everything measures true on the printed page."""

from __future__ import annotations

import io
import math
import re
from collections.abc import Sequence
from typing import Any

import numpy as np
import pypdf
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import composed
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.cut import ImpossibleCut, PlanCut, SectionCut, cut_model, leaves_of
from edge_slice.core.cut.anchors.anchoring import point_anchor
from edge_slice.core.cut.planes.leaves import whole_window
from edge_slice.core.cut.spec import Break, Extents
from edge_slice.core.drawing import (
    DisplayList,
    DrawingSpec,
    Marker,
    Paths,
    Surroundings,
    compose_drawing,
    default_standard,
)
from edge_slice.core.drawing.annotations.clear_places import Ink
from edge_slice.core.drawing.annotations.strip_places import least_covered, spans_of
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import (
    AIR,
    Opening,
    broken_like,
    can_join,
    laid_in,
    lying,
    opening,
    strip_cut,
    strip_style,
    words_beside,
)
from edge_slice.core.drawing.display import Label
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.drawing.spec import InsetStrip
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.render.pdf import Page, to_pdf
from tests.bodies import box, model_of

STANDARD = default_standard()
RULE = STANDARD.breaks
SCALE = 50.0
# four walls; what is cut lies at x 0 to 0.3 and 7.7 to 8
MODEL = model_of(
    box((0, 0, 0), (0.3, 6, 3)), box((7.7, 0, 0), (8, 6, 3)), box((0.3, 5.7, 0), (7.7, 6, 3)),
    box((0.3, 0, 0), (7.7, 0.3, 3)),
)  # fmt: skip
PLAN = PlanCut(storey="storey-0", height=1.2)
SECTION = SectionCut(line=((-1, 3), (9, 3)), depth=1)


def plain(cut: PlanCut | SectionCut, style: DrawingSpec) -> DisplayList:
    return compose_drawing(MODEL, cut_model(MODEL, cut, STANDARD.cut_rules(MODEL)), cut, style, STANDARD)


def inset(
    section: SectionCut, plan: PlanCut = PLAN, markers: tuple[Marker, ...] = (), **strip: float
) -> tuple[DisplayList, Opening]:
    return inset_all([(section, strip)], plan, markers)


def inset_all(
    wanted: Sequence[tuple[SectionCut, dict[str, Any]]], plan: PlanCut = PLAN, markers: tuple[Marker, ...] = ()
) -> tuple[DisplayList, Opening]:
    strips = [InsetStrip(drawing=1, **{"base": 0.5, "top": 2.0, **strip}) for _, strip in wanted]
    style = DrawingSpec(scale=SCALE, strips=tuple(strips))
    own = Fold.of(whole_window(leaves_of(MODEL, plan)), plan.extents, SCALE, RULE)
    drawn, lain = [], []
    for (section, _), strip in zip(wanted, strips, strict=True):
        cut = strip_cut(section, strip)
        (leaf,) = leaves_of(MODEL, cut)
        cut = cut.model_copy(update={"extents": broken_like(own, leaf, SCALE)})
        (leaf,) = leaves_of(MODEL, cut)
        one = lying(plan, own, leaf, strip.replaces, SCALE)
        can_join(lain, one, "section B")
        lain.append(one)
        drawn.append(plain(cut, strip_style(DrawingSpec(), style, strip)))
    opened = opening(own, lain, SCALE, RULE)
    result = cut_model(MODEL, plan, STANDARD.cut_rules(MODEL))
    whole = compose_drawing(MODEL, result, plan, style, STANDARD, Surroundings(markers))
    return laid_in(whole, drawn, opened, pens_of(STANDARD, SCALE)["frame fine"]), opened


def outlines(display: DisplayList) -> list[np.ndarray]:
    items = [i for i in display.items if isinstance(i, Paths) and i.role == "cut structure"]
    return [path for i in items for path in np.split(i.points, i.starts[1:-1])]


def test_the_strip_stands_in_the_gap_in_line_with_what_it_cuts() -> None:
    display, _ = inset(SECTION)
    gap = 1500 / SCALE + 2 * (RULE.height + AIR)
    points = np.concatenate(outlines(display))
    whole = plain(PLAN, DrawingSpec(scale=SCALE))
    assert display.frame[3] - display.frame[1] == pytest.approx(whole.frame[3] - whole.frame[1] + gap)
    line = 3000 / SCALE
    foot = line + RULE.height + AIR
    inside = points[(points[:, 1] > line + RULE.height) & (points[:, 1] < line + gap - RULE.height)]
    assert set(np.round(inside[:, 0], 3)) == {0.0, 6.0, 154.0, 160.0}  # the walls' faces, as in the plan
    assert inside[:, 1].min() == pytest.approx(foot)
    assert inside[:, 1].max() == pytest.approx(foot + 1500 / SCALE)
    assert points[:, 1].max() == pytest.approx(6000 / SCALE + gap)  # the rest of the plan moved up
    assert points[:, 1].min() == pytest.approx(0.0)


def test_a_part_of_the_section_is_laid_in_where_it_belongs() -> None:
    display, _ = inset(SECTION, start=0.5, end=2.0)
    line, gap = 3000 / SCALE, 1500 / SCALE + 2 * (RULE.height + AIR)
    points = np.concatenate(outlines(display))
    inside = points[(points[:, 1] > line + RULE.height) & (points[:, 1] < line + gap - RULE.height)]
    assert set(np.round(inside[:, 0], 3)) == {0.0, 6.0}


@settings(max_examples=25)
@given(st.floats(0, 2 * math.pi), st.floats(-1.5, 1.5), st.sampled_from(["left", "right"]))
def test_whatever_its_direction_it_is_aligned_and_the_plan_only_moves_apart(turn: float, off: float, look: str) -> None:
    d, n = np.array([math.cos(turn), math.sin(turn)]), np.array([-math.sin(turn), math.cos(turn)])
    a, b = np.array([4, 3]) + off * n - 9 * d, np.array([4, 3]) + off * n + 9 * d
    section = SectionCut.model_validate({"line": [a.tolist(), b.tolist()], "look": look, "depth": 1})
    display, opened = inset(section)
    (leaf,) = leaves_of(MODEL, section)
    along, up = leaf.axes.u[:2], leaf.axes.w[:2]
    at = float(np.array([4, 3]) @ up + off * (n @ up)) * 1000 / SCALE
    gap = 1500 / SCALE + 2 * (RULE.height + AIR)
    points = np.concatenate(outlines(display))
    across = points @ up
    # below the line the plan stands as it was, above it it is moved by the gap, along the line never
    corners = np.array([(x, y) for x in (0.0, 8.0) for y in (0.0, 6.0)]) * 1000 / SCALE
    wanted = np.array([c if c @ up <= at else c + up * gap for c in corners])
    assert opened.points(corners) == pytest.approx(wanted, abs=1e-6)
    inside = points[(across > at + RULE.height + 1e-3) & (across < at + gap - RULE.height - 1e-3)]
    walls = [shapely.box(*w) for w in ((0, 0, 0.3, 6), (7.7, 0, 8, 6), (0.3, 5.7, 7.7, 6), (0.3, 0, 7.7, 0.3))]
    crossings = shapely.get_coordinates([shapely.intersection(shapely.LineString([a, b]), w) for w in walls])
    marks = crossings @ along * 1000 / SCALE
    for s in inside @ along:
        assert np.abs(marks - s).min() < 1e-3


def test_known_lengths_measure_true_in_the_pdf() -> None:
    """The printed page, in mm: the walls' thickness in the strip and in the plan, the strip's height."""
    display, _ = inset(SECTION)
    outlined = [item for item in display.items if item.role == "cut structure"]
    only = DisplayList(tuple(outlined), display.frame)
    page = pypdf.PdfReader(io.BytesIO(to_pdf([Page(only, only.frame, "x")], "x"))).pages[0]
    text = page.get_contents().get_data().decode("latin-1")  # type: ignore[union-attr]
    number = r"(-?[\d.]+)"
    spots = [(float(x), float(y)) for x, y in re.findall(rf"{number} {number} [ml]\b", text)]
    mm = np.array(spots)  # user space is millimetres
    xs, ys = np.unique(np.round(mm[:, 0], 2)), np.unique(np.round(mm[:, 1], 2))
    left = xs.min()
    for known in (6.0, 154.0, 160.0):
        assert np.abs(xs - left - known).min() < 0.1
    base = ys.min()
    foot = 60.0 + RULE.height + AIR
    for known in (6.0, foot, foot + 30.0, 120.0 + 30.0 + 2 * (RULE.height + AIR)):
        assert np.abs(ys - base - known).min() < 0.1


def test_what_can_not_be_laid_in_says_why() -> None:
    with pytest.raises(ImpossibleCut, match="outside the plan"):
        inset(SectionCut(line=((-1, 40), (9, 40))))
    with pytest.raises(ImpossibleCut, match="straight section"):
        strip_cut(SectionCut(line=((0, 0), (4, 0), (4, 1), (8, 1))), InsetStrip(drawing=1))
    with pytest.raises(ImpossibleCut, match="ceiling plan"):
        inset(SECTION, PlanCut(storey="storey-0", look="up"))
    with pytest.raises(ValueError, match="at least 50 mm"):
        InsetStrip(drawing=1, base=1, top=1)


@pytest.mark.parametrize("offset", [-0.3, -0.05, 0.0, 0.02, 0.3])
@pytest.mark.parametrize("look", ["left", "right"])
def test_markers_at_the_gap_stay_in_one_piece(offset: float, look: str) -> None:
    """That of the section laid in, and of one right beside it: head, wedge, words and heavy end move as one."""
    line = ((-1.0, 3 + offset), (9.0, 3 + offset))
    marker = Marker(7, "A", "–", line, look)
    result = cut_model(MODEL, PLAN, STANDARD.cut_rules(MODEL))
    plan = compose_drawing(MODEL, result, PLAN, DrawingSpec(scale=SCALE), STANDARD, Surroundings((marker,)))
    display, _ = inset(SECTION, PLAN, (marker,))
    left, _, right, _ = plan.frame

    def parts(of: DisplayList) -> list[tuple[str, np.ndarray]]:
        found = []
        for item in of.items:
            if item.source == "marker:7" and getattr(item, "role", "") != "cutting line":
                if isinstance(item, Paths):
                    found += [(item.role, p) for p in np.split(item.points, item.starts[1:-1])]
                else:
                    found.append((item.role, np.array([[item.x, item.y]])))
        return found

    before, after = parts(plan), parts(display)
    assert [r for r, _ in before] == [r for r, _ in after]
    middle = (left + right) / 2
    for side in (-1, 1):
        shifts = {
            tuple(np.round((b - a).mean(axis=0), 6))
            for (_, a), (_, b) in zip(before, after, strict=True)
            if np.sign(a[:, 0].mean() - middle) == side
        }
        assert len(shifts) == 1
    lines = [i for i in display.items if isinstance(i, Paths) and i.role == "cutting line"]
    drawn = np.concatenate([i.points for i in lines])
    assert len(np.unique(np.round(drawn[:, 1], 3))) == 1  # once


def test_a_band_is_replaced_and_the_plan_keeps_its_size() -> None:
    display, opened = inset(SECTION, replaces=True, start=0.5, end=4.0)
    whole = plain(PLAN, DrawingSpec(scale=SCALE))
    assert display.frame == whole.frame
    margin = RULE.height + AIR
    low, high = 60.0, 60.0 + 1500 / SCALE + 2 * margin
    points = np.concatenate(outlines(display))
    inside = points[(points[:, 1] > low + 1e-3) & (points[:, 1] < high - 1e-3) & (points[:, 0] < 60)]
    assert set(np.round(inside[:, 0], 3)) == {
        0.0,
        6.0,
    }  # the cut wall of the strip, in line
    assert inside[:, 1].min() == pytest.approx(low + margin)
    assert inside[:, 1].max() == pytest.approx(high - margin)
    right = points[np.abs(points[:, 0] - 154.0) < 0.01]
    assert ((right[:, 1] < low) | (right[:, 1] > high)).all()  # of the plan beside the band nothing is touched
    assert opened.points(np.array([(10.0, 100.0)])) == pytest.approx(np.array([(10.0, 100.0)]))
    outer = [p for p in outlines(whole) if np.abs(p[:, 1] - 120.0).max() < 0.1]
    assert all(any(np.array_equal(p, q) for q in outlines(display)) for p in outer)


@pytest.mark.parametrize("look", ["left", "right"])
@given(long=st.floats(600, 7000), words=st.lists(st.tuples(st.floats(0, 150), st.floats(0, 110)), max_size=12))
@settings(max_examples=20)
def test_the_place_where_a_strip_covers_least_is_found(
    look: str, long: float, words: list[tuple[float, float]]
) -> None:
    section = SectionCut(line=((-1, 3), (9, 3)), look=look, depth=1)  # type: ignore[arg-type]
    strip = strip_cut(section, InsetStrip(drawing=1, base=0.5, top=2.0, replaces=True))
    (leaf,) = leaves_of(MODEL, strip)
    own = Fold.of(whole_window(leaves_of(MODEL, PLAN)), PLAN.extents, SCALE, RULE)
    spans = spans_of(cut_model(MODEL, strip, STANDARD.cut_rules(MODEL)).faces)
    assert len(spans) == 2  # walls
    ink = Ink.of([], own.frame)
    for x, y in words:
        ink.enter((x, y, x + 12, y + 4))

    def covered(start: float) -> float:
        ends = (leaf.axes.origin[:2] * 1000 + np.outer((start, start + long), leaf.axes.u[:2])) / SCALE
        high = 1500 / SCALE + 2 * (RULE.height + AIR)
        band = shapely.MultiPoint([*ends, *(ends + high * leaf.axes.w[:2])]).convex_hull
        boxes = [shapely.box(x, y, x + 12, y + 4) for x, y in words]
        return float(shapely.area(shapely.intersection(shapely.union_all(boxes), band)))

    found = least_covered(ink, own, leaf, spans, SCALE, long)
    left, _, right, _ = leaf.window
    assert left <= found <= right - long + ink.size * SCALE
    whole = [s for s in np.arange(left, right - long, 100) if ((spans[:, 0] >= s) & (spans[:, 1] <= s + long)).any()]
    assert ((spans[:, 0] >= found - SCALE) & (spans[:, 1] <= found + long + SCALE)).any()
    edge = 2.0 * (12 + 4) * len(words) + 60  # squares are half a millimetre wide
    assert covered(found) <= min(map(covered, whole)) + edge


def test_a_strip_of_a_section_that_cuts_nothing_has_no_place() -> None:
    own = Fold.of(whole_window(leaves_of(MODEL, PLAN)), PLAN.extents, SCALE, RULE)
    (leaf,) = leaves_of(MODEL, strip_cut(SECTION, InsetStrip(drawing=1, base=0.5, top=2.0)))
    with pytest.raises(ImpossibleCut, match="cuts nothing between these heights"):
        least_covered(Ink.of([], own.frame), own, leaf, spans_of(()), SCALE, 2000.0)


@pytest.mark.parametrize("replaces", [False, True])
def test_the_rest_of_a_plan_knows_where_the_words_of_its_strips_stand(replaces: bool) -> None:
    display, opened = inset(SECTION, replaces=replaces, levels=True, base=-0.5)
    words = [box_of(i) for i in display.items if isinstance(i, Label) and i.role.startswith("level")]
    assert words
    strip = InsetStrip(drawing=1, base=-0.5, top=2.0, levels=True)
    drawn = plain(strip_cut(SECTION, strip), strip_style(DrawingSpec(), DrawingSpec(scale=SCALE), strip))
    known = words_beside([drawn], opened)
    for left, base, right, top in words:
        flat = opened.unfolded(np.array([(left, base), (right, top)]))
        said = shapely.box(*flat.min(axis=0), *flat.max(axis=0))
        assert any(shapely.contains(shapely.box(*box), said) for box in known)


def test_several_strips_open_several_gaps_and_those_in_one_line_share_theirs() -> None:
    higher = SectionCut(line=((-1, 4.5), (9, 4.5)), depth=1)
    display, opened = inset_all([(SECTION, {}), (higher, {"top": 1.5})])
    gaps = [1500 / SCALE + 2 * (RULE.height + AIR), 1000 / SCALE + 2 * (RULE.height + AIR)]
    assert display.frame[3] == pytest.approx(plain(PLAN, DrawingSpec(scale=SCALE)).frame[3] + sum(gaps))
    assert [p.shift for p in opened.fold.vs] == pytest.approx([0, gaps[0], gaps[0] + gaps[1]])
    points = np.concatenate(outlines(display))
    feet = [60 + RULE.height + AIR, 90 + gaps[0] + RULE.height + AIR]
    for foot in feet:
        assert np.abs(points[:, 1] - foot).min() < 1e-3
    shared, once = inset_all([(SECTION, {"start": 0.5, "end": 3.0}), (SECTION, {"start": 5.0, "end": 9.0, "top": 1.5})])
    assert shared.frame[3] == pytest.approx(display.frame[3] - gaps[1])
    assert len(once.fold.vs) == 2


def test_a_strip_seen_the_other_way_shares_the_gaps_of_the_others() -> None:
    other = SectionCut(line=((-1, 4.5), (9, 4.5)), depth=1, look="right")
    display, opened = inset_all([(SECTION, {}), (other, {})])
    gap = 1500 / SCALE + 2 * (RULE.height + AIR)
    points = np.concatenate(outlines(display))
    low, high = 90 + gap, 90 + 2 * gap  # where the second one stands, upside down on the sheet
    inside = points[(points[:, 1] > low + RULE.height) & (points[:, 1] < high - RULE.height)]
    assert set(np.round(inside[:, 0], 3)) == {0.0, 6.0, 154.0, 160.0}
    assert inside[:, 1].max() == pytest.approx(high - RULE.height - AIR)
    assert opened.places[1].axes == pytest.approx(-opened.places[0].axes)


def test_strips_that_can_not_be_laid_in_together_say_why() -> None:
    across = SectionCut(line=((4, -1), (4, 7)), depth=1)
    with pytest.raises(ImpossibleCut, match="run one way; let that of section B replace a band"):
        inset_all([(SECTION, {}), (across, {})])
    inset_all([(SECTION, {}), (across, {"replaces": True})])
    with pytest.raises(ImpossibleCut, match="overlap"):
        inset_all([(SECTION, {"start": 0.5, "end": 3.0}), (SECTION, {"start": 2.0, "end": 5.0})])


@pytest.mark.parametrize("replaces", [False, True])
def test_a_strip_in_a_broken_plan_has_its_breaks(replaces: bool) -> None:
    broken = PLAN.model_copy(update={"extents": Extents(breaks=(Break(axis="u", start=2, end=6),))})
    display, _ = inset(SECTION, broken, replaces=replaces)
    taken = 4000 / SCALE - RULE.gap
    line = 60.0 + RULE.height
    points = np.concatenate(outlines(display))
    inside = points[(points[:, 1] > line + 0.5) & (points[:, 1] < line + 30)]
    assert set(np.round(inside[:, 0], 3)) == {0.0, 6.0, 154.0 - taken, 160.0 - taken}
    askew = SectionCut(line=((0, 0.5), (8, 5.5)), depth=1)
    with pytest.raises(ImpossibleCut, match="askew through a break"):
        inset(askew, broken, replaces=replaces)
    inset(askew, broken, replaces=replaces, start=0.2, end=1.5)  # lies in one part
    with pytest.raises(ImpossibleCut, match="in a break of the plan"):
        inset(SECTION, PLAN.model_copy(update={"extents": Extents(breaks=(Break(axis="v", start=2, end=4),))}))
    with pytest.raises(ImpossibleCut, match="lies in a break"):
        inset(SECTION, broken, replaces=replaces, start=4.0, end=5.0)


def test_a_style_of_one_strip_is_read_as_one_of_several() -> None:
    strip = {"drawing": 3, "base": 0.2, "top": 2.2}
    assert DrawingSpec.model_validate({"strip": strip}) == DrawingSpec(strips=(InsetStrip(**strip),))
    assert DrawingSpec.model_validate({"strip": None}) == DrawingSpec()


@pytest.mark.parametrize("replaces", [False, True])
def test_a_dimension_across_a_strip_stops_at_it_with_break_signs_and_tells_the_true_length(replaces: bool) -> None:
    _, opened = inset(SECTION, replaces=replaces, start=1.5, end=6.0)
    result = cut_model(MODEL, PLAN, STANDARD.cut_rules(MODEL))
    board = Board.of(MODEL, result, PLAN, DrawingSpec(scale=SCALE), STANDARD, opened)
    ends = tuple(point_anchor(board.features, 3000, y) for y in (300.0, 5700.0))
    found = composed(board, Dimension(anchors=ends, points=((3000.0, 300.0),), direction=90), "a")
    (value,) = [item for item in found.items if isinstance(item, Label)]
    assert value.text == "5.400"
    (place,) = opened.places
    assert not shapely.intersects(shapely.Polygon(place.band), shapely.box(*box_of(value)))
    lines = [i for i in found.items if isinstance(i, Paths) and i.role == "dimension line"]
    parts = [p for i in lines for p in np.split(i.points, i.starts[1:-1])]
    low, high = float(place.band[:, 1].min()), float(place.band[:, 1].max())
    spans = sorted((float(p[:, 1].min()), float(p[:, 1].max())) for p in parts)
    moved = 0.0 if replaces else high - low
    assert spans == [pytest.approx((6.0, low)), pytest.approx((high, 114.0 + moved))]
    signs = [i for i in found.items if isinstance(i, Paths) and i.role == "dimension break"]
    assert sorted(float(s.points[:, 1].mean()) for s in signs) == pytest.approx([low, high])
    beside = tuple(point_anchor(board.features, 7000, y) for y in (300.0, 5700.0))
    past = composed(board, Dimension(anchors=beside, points=((7000.0, 300.0),), direction=90), "a")
    assert sum(i.role == "dimension break" for i in past.items) == (0 if replaces else 1)


def test_words_keep_clear_of_a_band_that_is_covered() -> None:
    _, opened = inset(SectionCut(line=((0, 0.5), (8, 5.5)), depth=1), replaces=True, start=1.0, end=8.0)
    (place,) = opened.places
    boxes = opened.kept_clear()
    assert len(boxes) > 2
    assert shapely.union_all([shapely.box(*b) for b in boxes]).buffer(1e-6).covers(shapely.Polygon(place.band))
    assert inset(SECTION)[1].kept_clear() == []
