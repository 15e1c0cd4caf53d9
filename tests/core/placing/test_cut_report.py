"""What a cut passes through and just misses, and lines laid through what they should explain."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import Extents, ImpossibleCut, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.advice.uncut import uncut
from edge_slice.core.cut.placing.report import CutReport, cut_report, things
from edge_slice.core.cut.planes.leaves import legs_of
from edge_slice.core.cut.planes.line_acts import Target, aligned, beside, through_all, through_middle, turned
from edge_slice.core.model import Model
from tests.bodies import box, model_of, pierced_box


def report(model: Model, cut: SectionCut) -> CutReport:
    return cut_report(model, cut_model(model, cut))


def test_a_report_names_what_the_line_passes_in_order_with_true_lengths() -> None:
    model = model_of(
        box((4, -5, 0), (4.3, 5, 3)), box((0, -5, 0), (0.2, 5, 3)), box((2, -0.2, 0), (2.4, 0.2, 3)),
        kinds=["wall", "wall", "column"],
    )  # fmt: skip
    found = report(model, SectionCut(line=((-1, 0), (6, 0)))).passages
    assert [(p.kind, p.start, p.end) for p in found] == [("wall", 1.0, 1.2), ("column", 3.0, 3.4), ("wall", 5.0, 5.3)]
    assert {(p.base, p.top) for p in found} == {(0.0, 3.0)}
    back = report(model, SectionCut(line=((-1, 0), (6, 0)), look="right")).passages
    assert [p.start for p in back] == pytest.approx([7 - p.end for p in reversed(found)])


def test_an_element_met_twice_is_two_passages_and_what_the_extents_leave_out_is_none() -> None:
    wall = pierced_box((0, 0, 0), (10, 0.3, 3), (4, 0, 5, 2))
    along = SectionCut(line=((-1, 0.1), (11, 0.1)), extents=Extents(top=1.5))
    assert [(p.start, p.end) for p in report(model_of(wall), along).passages] == [(1.0, 5.0), (6.0, 11.0)]
    short = along.model_copy(update={"extents": Extents(top=1.5, right=3)})
    assert [(p.start, p.end) for p in report(model_of(wall), short).passages] == [(1.0, 3.0)]


def test_near_misses_are_openings_stairs_and_columns_within_a_metre() -> None:
    model = model_of(
        box((2, 0.6, 0), (2.9, 0.8, 2)), box((4, -0.7, 0), (4.9, -0.4, 2)), box((6, 1.2, 0), (7, 1.5, 2)),
        box((8, 0.5, 0), (9, 1, 2)),
        kinds=["door", "column", "door", "wall"],
    )  # fmt: skip
    misses = report(model, SectionCut(line=((0, 0), (10, 0)))).misses
    assert [(m.kind, m.distance, m.side, m.along) for m in misses] == [
        ("column", 0.4, "before", 4.45), ("door", 0.6, "behind", 2.45),
    ]  # fmt: skip


def test_rooms_and_stairs_of_the_demo(demo: Model) -> None:
    found = report(demo, SectionCut(line=((15, -2), (15, 12)), depth=5))
    rooms = [p for p in found.passages if p.kind == "room"]
    entrance = next(p for p in rooms if p.name == "1.04 Entrance")
    assert (entrance.start, entrance.end, entrance.base, entrance.top) == pytest.approx((6.883, 11.447, 0, 2.975))
    assert "Concrete flight 1" in {p.name for p in found.passages if p.kind == "stair"}
    assert "Concrete flight 2" in {m.name for m in found.misses}


def test_rooms_and_stairs_that_no_section_goes_through(demo: Model) -> None:
    everything = {(u.kind, u.name) for u in uncut(demo, [])}
    assert {kind for kind, _ in everything} == {"room", "stair"}
    sections = [SectionCut(line=((15, -2), (15, 12))), SectionCut(line=((-2, 3), (20, 3)), extents=Extents(base=3))]
    left = {(u.kind, u.name) for u in uncut(demo, sections)}
    passed = {
        (p.kind, p.name)
        for cut in sections
        for p in report(demo, cut).passages
        if p.kind in ("room", "stair") and p.end - p.start > 0.1
    }
    assert passed <= everything  # by the cut bodies themselves
    assert left == everything - passed


def test_only_upright_cuts_have_a_report(demo: Model) -> None:
    plan = PlanCut(storey=demo.storeys[1].guid, height=1.2)
    assert cut_report(demo, cut_model(demo, plan)) == CutReport((), ())


LINE = SectionCut(line=((0, 0), (10, 0)), depth=4)


def test_lines_are_moved_turned_and_aligned() -> None:
    assert beside(LINE, 2).line == ((0, 2), (10, 2))
    assert beside(LINE.model_copy(update={"look": "right"}), 2).line == ((0, -2), (10, -2))
    assert np.array(turned(LINE, 90).line) == pytest.approx(np.array([(5, -5), (5, 5)]))
    slope = aligned(LINE, (-1, -0.1))  # the same direction as (1, 0.1): the least turn
    (x0, y0), (x1, y1) = slope.line
    assert math.degrees(math.atan2(y1 - y0, x1 - x0)) == pytest.approx(math.degrees(math.atan(0.1)), abs=0.01)
    with pytest.raises(ImpossibleCut, match="no direction"):
        aligned(LINE, (0, 0))


def test_a_line_can_not_be_moved_out_of_the_world() -> None:
    far = SectionCut(line=((1e6, 0), (1e6, 5)))
    with pytest.raises(ImpossibleCut, match="where none can be"):
        beside(far, -10)
    many = [at(f"T{k}", 2.0 * k, 9.0 * (k % 2), deep=0.5) for k in range(30)]
    with pytest.raises(ImpossibleCut):
        through_all(LINE, many)


def at(name: str, x: float, y: float, wide: float = 1.0, deep: float = 0.9) -> Target:
    return Target(name, shapely.box(x - wide / 2, y - deep / 2, x + wide / 2, y + deep / 2))


def test_a_line_moves_through_the_middle_of_one_thing() -> None:
    assert through_middle(LINE, at("stair", 3, 2)).line == ((0, 2), (10, 2))
    stepped = SectionCut(line=((0, 0), (5, 0), (5, 3), (10, 3)))
    assert through_middle(stepped, at("door", 8, 4)).line == ((0, 1), (5, 1), (5, 4), (10, 4))


def test_things_one_behind_the_other_are_refused_by_name() -> None:
    crossed = [at("door D1", 2, 0), at("door D2", 2.1, 5), at("window W1", 2, 2.5), at("door D3", 2.2, 2.6, deep=0.1)]
    with pytest.raises(ImpossibleCut, match="D1 and "):
        through_all(LINE, [*crossed, at("door D4", 2.15, 7), at("stair", 7, 0), at("ramp", 7.1, 4)])
    with pytest.raises(ImpossibleCut, match="Choose what"):
        through_all(LINE, [])


def fewest(intervals: list[tuple[float, float]]) -> int:
    """The least number of legs that pass intervals in their order: every way to part them is tried."""
    n = len(intervals)
    best = [0] + [n] * n
    for end in range(1, n + 1):
        for start in range(end):
            low, high = max(a for a, _ in intervals[start:end]), min(b for _, b in intervals[start:end])
            if low <= high:
                best[end] = min(best[end], best[start] + 1)
    return best[n]


@given(st.lists(st.tuples(st.floats(-6, 6), st.floats(0.6, 5)), min_size=2, max_size=7), st.sampled_from([0, 30, 75]))
def test_through_these_passes_every_middle_with_the_fewest_steps(things: list[tuple[float, float]], angle: int) -> None:
    c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    line = SectionCut(line=((0, 0), (4 * c, 4 * s)))
    targets = []
    for k, (y, deep) in enumerate(things):
        flat = at(f"T{k}", 2.0 * k, y, deep=deep).outline
        targets.append(Target(f"T{k}", shapely.transform(flat, lambda p: p @ np.array([[c, s], [-s, c]]))))
    laid = through_all(line, targets)
    legs = legs_of(laid)
    middles = [(y - deep / 6, y + deep / 6) for y, deep in things]
    assert len(legs) <= fewest(middles)  # square to the line it may be fewer
    for target in targets:
        best = min(shapely.LineString([a, b]).distance(target.outline.centroid) for a, b, _ in legs)
        assert any(shapely.LineString([a, b]).intersects(target.outline) for a, b, _ in legs)
        size = math.hypot(1.0, 5.0)
        assert best <= size / 6 + 1e-3


def test_a_stepped_line_through_the_demo_meets_what_was_chosen(demo: Model) -> None:
    chosen = [t for t in things(demo) if t[2] in ("Concrete flight 1", "Bay column 2") or t[2].startswith("D06")]
    assert len(chosen) == 3
    cut = through_all(
        SectionCut(line=((0, 2), (20, 2)), depth=3), [Target(name, outline) for _, _, name, outline, _, _ in chosen]
    )
    met = {p.guid for p in report(demo, cut).passages}
    assert {guid for guid, *_ in chosen} <= met


WALLS = model_of(
    box((0, 0, 0), (10, 0.3, 3)), box((0, 5, 0), (10, 5.3, 3)), box((4, 0.3, 0), (4.2, 5, 3)),
    kinds=["wall", "wall", "wall"],
)  # fmt: skip


@pytest.mark.parametrize(("x", "clear"), [(4.1, 0.1), (4.05, -0.05), (3.5, None)])
def test_a_line_along_inside_a_wall_is_told_of_with_the_nearest_place_that_crosses(
    x: float, clear: float | None
) -> None:
    cut = SectionCut(line=((x, -1), (x, 7)), look="right")
    found = report(WALLS, cut)
    if clear is None:
        assert found.along == ()
        assert found.clear is None
        return
    assert [(p.guid, p.end - p.start) for p in found.along] == [("element-2", pytest.approx(4.7))]
    assert found.clear is not None
    assert abs(found.clear) == pytest.approx(0.1 if x == 4.1 else 0.05, abs=0.03)
    assert report(WALLS, beside(cut, found.clear)).along == ()


def test_crossing_askew_is_no_running_along() -> None:
    askew = SectionCut(line=((1, -2), (4, 7)))
    assert report(WALLS, askew).along == ()
    flat = SectionCut(line=((-1, -0.2), (11, 0.5)))
    assert {p.guid for p in report(WALLS, flat).along} == {"element-0"}


def test_where_no_place_is_near_none_is_offered() -> None:
    thick = model_of(box((-20, -20, 0), (20, 20, 3)), kinds=["wall"])
    narrow = model_of(box((0, -4, 0), (30, 4, 3)), kinds=["wall"])
    assert report(thick, SectionCut(line=((-30, 0), (30, 0)))).along == ()  # as thick as it is long
    found = report(narrow, SectionCut(line=((-1, 0), (31, 0))))
    assert (len(found.along), found.clear) == (1, None)
