"""What one drawing does differently with elements, levels, grid lines and its border."""

import numpy as np
import pytest

from edge_slice.core.cut import Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, Label, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.annotations.levels import STAND_OFF
from edge_slice.core.drawing.spec import EdgeEnds, ElementLook
from edge_slice.core.model import Model
from tests.bodies import box, model_of

STANDARD = default_standard()
# two cut walls, and two posts behind them of which the nearer one hides the lower half of the farther
MODEL = model_of(
    box((0, 0, 0), (0.3, 2, 3)), box((4, 0, 0), (4.3, 2, 3)),
    box((1, 1, 0), (2, 1.5, 2)), box((1.2, 3, 0), (1.8, 3.5, 4)),
    kinds=["wall", "wall", "column", "column"],
)  # fmt: skip
CUT = SectionCut(line=((-1, 0.5), (6, 0.5)), extents=Extents(base=-1, top=5))


def drawn(cut: SectionCut | PlanCut = CUT, model: Model = MODEL, **spec: object) -> DisplayList:
    result = cut_model(model, cut, STANDARD.cut_rules(model))
    return compose_drawing(model, result, cut, DrawingSpec(scale=50, **spec), STANDARD)  # type: ignore[arg-type]


def strokes(display: DisplayList, start: str) -> list[Paths]:
    return [i for i in display.items if isinstance(i, Paths) and i.role.startswith(start)]


def us(paths: list[Paths]) -> set[float]:
    return {round(float(u) * 0.05, 3) for p in paths for u in p.points[:, 0]}


def test_one_element_has_another_pen_ink_and_tint_and_the_rest_stays() -> None:
    usual = strokes(drawn(), "cut ")
    look = ElementLook(elements=("element-0",), pen=1.4, ink="#aa0000", tint="#00ff00", hatch="none")
    shown = drawn(looks=(look,))
    red = [p for p in strokes(shown, "cut ") if p.pen is not None and p.pen.colour == "#aa0000"]
    assert {p.pen.width for p in red if p.pen} == {1.4}
    assert us(red) == {1.0, 1.3}  # the first wall stands there along the drawing
    others = [p for p in strokes(shown, "cut ") if p.pen is not None and p.pen.colour != "#aa0000"]
    assert us(others) == us(usual) - {1.0, 1.3}
    fills = {p.fill: us([p]) for p in strokes(shown, "cut fill")}
    assert fills["#00ff00"] == {1.0, 1.3}
    assert not us([p for p in strokes(shown, "hatch")]) & {1.1, 1.15, 1.2}
    assert us(strokes(shown, "seen")) == us(strokes(drawn(), "seen"))


def test_a_tint_of_its_own_shows_where_all_else_is_solid() -> None:
    shown = drawn(fill="solid", looks=(ElementLook(kind="wall", elements=(), tint="#123456"),))
    assert {p.fill for p in strokes(shown, "cut fill")} == {"#123456"}


def test_a_single_element_goes_before_its_kind_and_a_pen_of_none_leaves_lines_out() -> None:
    looks = (ElementLook(elements=("element-3",), ink="#0000ff"), ElementLook(kind="column", pen=0))
    shown = strokes(drawn(looks=looks), "seen")
    assert {p.pen.colour for p in shown if p.pen} - {STANDARD.ink} == {"#0000ff"}
    assert us([p for p in shown if p.pen and p.pen.colour == "#0000ff"]) == {2.2, 2.8}
    assert not us(shown) & {2.0, 3.0}


def test_what_stands_behind_a_see_through_element_shows() -> None:
    def length(cut: SectionCut) -> float:
        lines = cut_model(MODEL, cut).lines
        own = lines.points[lines.element == 3]
        return float(np.hypot(own[:, 2] - own[:, 0], own[:, 3] - own[:, 1]).sum())

    hidden = length(CUT)
    clear = length(CUT.model_copy(update={"see_through": ("element-2",)}))
    assert clear - hidden == pytest.approx(2 * 2000, abs=1)  # two edges up to 2 m; the foot is the nearer one's too
    assert length(CUT.model_copy(update={"see_through_kinds": ("column",)})) == pytest.approx(clear)
    again = cut_model(MODEL, CUT.model_copy(update={"see_through": ("element-2",)}), None, cut_model(MODEL, CUT))
    own = again.lines.points[again.lines.element == 3]
    assert np.hypot(own[:, 2] - own[:, 0], own[:, 3] - own[:, 1]).sum() == pytest.approx(clear)


def places(display: DisplayList, role: str) -> list[tuple[float, float]]:
    return [(round(i.x, 2), round(i.y, 2)) for i in display.items if isinstance(i, Label) and i.role == role]


def test_levels_stand_at_the_side_wanted_and_further_out() -> None:
    left, right = drawn().frame[0], drawn().frame[2]
    usual = places(drawn(), "level name")
    assert len(usual) == len(MODEL.storeys)
    assert all(x > right for x, _ in usual)
    out = places(drawn(level_ends=EdgeEnds(offset=12)), "level name")
    assert [x for x, _ in out] == pytest.approx([x + 12 for x, _ in usual], abs=0.01)
    at_left = places(drawn(level_ends=EdgeEnds(side="start")), "level name")
    assert all(x < left - STAND_OFF for x, _ in at_left)
    assert len(places(drawn(level_ends=EdgeEnds(side="both")), "level name")) == 2 * len(usual)
    assert not places(drawn(level_ends=EdgeEnds(hidden=(MODEL.storeys[0].guid,))), "level name")


def test_grid_bubbles_stand_where_they_are_wanted(demo: Model) -> None:
    cut = SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5)

    def bubbles(**ends: object) -> tuple[int, int]:
        shown = drawn(cut, demo, grid_ends=EdgeEnds(**ends))  # type: ignore[arg-type]
        ys = [y for _, y in places(shown, "grid name")]
        return sum(y < shown.frame[1] for y in ys), sum(y > shown.frame[3] for y in ys)

    below, above = bubbles()
    assert (below > 0, above) == (True, 0)
    assert bubbles(side="end") == (0, below)
    assert bubbles(side="both") == (below, below)
    assert bubbles(hidden=(demo.grid[0].name,))[0] == below - 1
    plan = PlanCut(storey=demo.storeys[1].guid)
    both = len(places(drawn(plan, demo), "grid name"))
    assert len(places(drawn(plan, demo, grid_ends=EdgeEnds(side="start")), "grid name")) == both / 2


def test_the_border_is_drawn_when_it_is_wanted() -> None:
    assert not strokes(drawn(), "frame")
    (border,) = strokes(drawn(frame=True), "frame")
    left, base, right, top = drawn().frame
    assert sorted(map(tuple, border.points.tolist())) == sorted(
        [(left, base), (left, top), (right, base), (right, top)]
    )
    corners = ((0, 0), (5, 0), (2, 4))
    (border,) = strokes(drawn(CUT.model_copy(update={"extents": Extents(polygon=corners)}), frame=True), "frame")
    assert sorted(map(tuple, (border.points * 0.05).round(6).tolist())) == sorted(corners)
