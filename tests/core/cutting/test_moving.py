"""A drawing whose cut is moved: quick while it moves, and whole when it rests, the same as if it had never moved."""

from dataclasses import dataclass

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import AnyCut, ElevationCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, compose_drawing, default_standard
from edge_slice.core.drawing.display import Paths, Pen
from edge_slice.core.model import Model
from edge_slice.core.project.drawn import composed_view
from edge_slice.core.project.moving import LEAST, moving
from edge_slice.core.project.shown import Shown, cut_of
from edge_slice.core.render.screen import to_screen
from tests.core.cutting.test_recut import street

STANDARD = default_standard()
ROW = {f"b{k}": (2.0 * k, 0.7 * (k % 5), 1.1, 1.0 + 0.5 * (k % 4)) for k in range(9)}


@dataclass
class Source:
    """A project of one model."""

    model: Model
    key: str = "moved"
    geometry: str = "moved"


def shown(model: Model, cut: AnyCut, style: DrawingSpec = DrawingSpec(), geometry: str = "moved") -> Shown:
    return Shown(Source(model, geometry, geometry), cut, style, STANDARD)  # type: ignore[arg-type]


def section(y: float, depth: float | None = 8.0) -> SectionCut:
    return SectionCut(line=((-1, y), (19, y)), look="left", depth=depth, hidden="dashed")


def roles(display: DisplayList) -> set[str]:
    return {item.role for item in display.items}


def test_faces_and_near_lines_come_at_once_and_the_rest_later(demo: Model) -> None:
    cut = SectionCut(line=((10.6, -3), (10.6, 13)), depth=8)
    whole = shown(demo, cut, DrawingSpec(section_rooms=True), geometry="demo moved")
    quick, first = composed_view(moving(whole))
    last, display = composed_view(whole)
    assert [f.polygon.wkb for f in quick.faces] == [f.polygon.wkb for f in last.faces]
    assert quick.extents == last.extents
    assert roles(first) >= {"cut fill", "cut structure", "seen near", "earth line", "level"}
    assert not roles(first) & {"hatch", "seen far", "room name"}
    assert roles(display) >= {"hatch", "seen far", "room name"}
    assert len(to_screen(first, {})) * 3 < len(to_screen(display, {}))


def test_near_lines_lie_on_those_of_the_whole_drawing_and_have_their_pen(demo: Model) -> None:
    cut = SectionCut(line=((10.6, -3), (10.6, 13)), depth=8)
    whole = shown(demo, cut, geometry="demo moved")
    (_, first), (_, last) = composed_view(moving(whole)), composed_view(whole)

    def drawn(display: DisplayList, within: set[str]) -> tuple[shapely.Geometry, set[Pen | None]]:
        paths = [item for item in display.items if isinstance(item, Paths) and item.role in within]
        lines = [line for p in paths for line in np.split(p.points, p.starts[1:-1])]
        return shapely.multilinestrings([shapely.linestrings(line) for line in lines]), {p.pen for p in paths}

    near, pens = drawn(first, {"seen near"})
    seen, _ = drawn(last, {"seen near", "seen middle", "seen far"})
    assert pens == drawn(last, {"seen near"})[1]
    assert near.length > 100
    assert shapely.difference(near, shapely.buffer(seen, 0.02)).length < 0.001 * near.length


@pytest.mark.parametrize(
    "cut",
    [
        ElevationCut(line=((-1, -3), (19, -3)), look="left", depth=20),
        PlanCut(storey="s", height=0.6, depth=3),
        section(0.3, depth=None),
        section(0.3).model_copy(update={"depths": (2.0,)}),
    ],
)
def test_where_nothing_is_nearest_nothing_is_left_out_but_hatches(cut: AnyCut) -> None:
    model = street(ROW)
    whole = shown(model, cut)
    assert moving(whole).cut == cut
    assert moving(whole).style.fill == "colour"


def test_a_shallow_section_is_whole_and_solid_or_empty_faces_stay_so() -> None:
    model = street(ROW)
    assert moving(shown(model, section(0.3, depth=0.5))).cut == section(0.3, depth=0.5)
    assert moving(shown(model, section(0.3, depth=3.0))).cut.depth == LEAST
    for style in (DrawingSpec(fill="solid"), DrawingSpec(fill="none"), DrawingSpec(content="layers", fill="colour")):
        assert moving(shown(model, section(0.3), style)).style == style
    small = DrawingSpec(scale=500)
    assert STANDARD.content_for(500) == "solid"
    assert moving(shown(model, section(0.3), small)).style == small


places = st.one_of(st.floats(-1, 4), st.sampled_from([0.0, 0.35, 0.7, 1.1, 1.4]))  # on faces too


@given(st.lists(st.tuples(places, st.sampled_from([8.0, 2.0, None]), st.booleans()), min_size=2, max_size=50))
@settings(max_examples=40)
def test_whatever_was_moved_before_what_rests_is_a_cut_anew(moves: list[tuple[float, float | None, bool]]) -> None:
    """About a thousand moves, some of them with a rest, one after the other on one project."""
    model = street(ROW)
    for y, depth, rests in [*moves, (0.45, 8.0, True)]:
        whole = shown(model, section(y, depth))
        composed_view(moving(whole))
        if not rests:
            continue
        _, display = composed_view(whole)
        anew = cut_model(model, whole.cut, whole.rules)
        alone = compose_drawing(model, anew, whole.cut, whole.style, STANDARD)
        assert to_screen(display, {}) == to_screen(alone, {})
        assert cut_of(whole).reach == anew.reach
        assert np.array_equal(cut_of(whole).lines.depth, anew.lines.depth)
