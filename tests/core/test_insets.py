"""A strip of a section in a plan stands in line with what it cuts, and everything measures true on the printed page."""

from __future__ import annotations

import io
import math
import re

import numpy as np
import pypdf
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import ImpossibleCut, PlanCut, SectionCut, cut_model, leaves_of
from edge_slice.core.cut.planes.leaves import whole_window
from edge_slice.core.cut.spec import Break, Extents
from edge_slice.core.drawing import DisplayList, DrawingSpec, Marker, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.insets import AIR, Opening, laid_in, opening, strip_cut, strip_style
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.drawing.spec import InsetStrip
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


def inset(section: SectionCut, plan: PlanCut = PLAN, **strip: float) -> tuple[DisplayList, Opening]:
    style = DrawingSpec(scale=SCALE, strip=InsetStrip(drawing=1, **{"base": 0.5, "top": 2.0, **strip}))  # type: ignore[arg-type]
    assert style.strip is not None
    laid = style.strip
    cut = strip_cut(section, laid)
    (leaf,) = leaves_of(MODEL, cut)
    left, base, right, top = (x / SCALE for x in whole_window(leaves_of(MODEL, plan)))
    opened = opening(plan, (left, base, right, top), leaf, SCALE, RULE)
    drawn = plain(cut, strip_style(DrawingSpec(), style))
    pen = pens_of(STANDARD, SCALE)["frame fine"]
    return laid_in(plain(plan, style), drawn, opened, pen), opened


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


@settings(max_examples=25, deadline=None)
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
    broken = PLAN.model_copy(update={"extents": Extents(breaks=(Break(axis="u", start=2, end=4),))})
    with pytest.raises(ImpossibleCut, match="broken already"):
        inset(SECTION, broken)
    with pytest.raises(ValueError, match="at least 50 mm"):
        InsetStrip(drawing=1, base=1, top=1)


@pytest.mark.parametrize("offset", [-0.3, -0.05, 0.0, 0.02, 0.3])
@pytest.mark.parametrize("look", ["left", "right"])
def test_markers_at_the_gap_stay_in_one_piece(offset: float, look: str) -> None:
    """That of the section laid in, and of one right beside it: head, wedge, words and heavy end move as one."""
    line = ((-1.0, 3 + offset), (9.0, 3 + offset))
    marker = Marker(7, "A", "–", line, look)
    style = DrawingSpec(scale=SCALE, strip=InsetStrip(drawing=1, base=0.5, top=2.0))
    result = cut_model(MODEL, PLAN, STANDARD.cut_rules(MODEL))
    plan = compose_drawing(MODEL, result, PLAN, style, STANDARD, (marker,))
    laid = style.strip
    assert laid is not None
    cut = strip_cut(SECTION, laid)
    (leaf,) = leaves_of(MODEL, cut)
    left, base, right, top = (x / SCALE for x in whole_window(leaves_of(MODEL, PLAN)))
    opened = opening(PLAN, (left, base, right, top), leaf, SCALE, RULE)
    strip = plain(cut, strip_style(DrawingSpec(), style))
    display = laid_in(plan, strip, opened, pens_of(STANDARD, SCALE)["frame fine"])

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
