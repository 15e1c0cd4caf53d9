"""DXF files hold what is drawn, true to size, and another reader finds nothing wrong with them."""

from __future__ import annotations

import io
from collections import Counter
from itertools import pairwise

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf.addons.drawing import Frontend, RenderContext
from ezdxf.addons.drawing.config import Configuration, LinePolicy, TextPolicy
from ezdxf.addons.drawing.recorder import Recorder

from edge_slice.core.cut import PlanCut, SectionCut, cut_model
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
from edge_slice.core.drawing.display import Image, Pen
from edge_slice.core.drawing.hatching.filling import pattern_line, patterned
from edge_slice.core.drawing.rules.hatch_rules import LineFamily
from edge_slice.core.model import Model
from edge_slice.core.render.dxf import layer_name, to_dxf
from edge_slice.core.render.page import page_box
from edge_slice.core.sheet.trimming import trimmed

STANDARD = default_standard()
SCALE = 50.0
NEAR = 0.2  # mm on paper


@pytest.fixture(scope="module", params=["section", "plan", "set aside"])
def display(request: pytest.FixtureRequest, demo: Model) -> DisplayList:
    section = SectionCut(line=((10.6, -2), (10.6, 12)), depth=6)
    plan = PlanCut(storey=demo.storeys[1].guid, depth=1.5, overhead=1.5)
    cut = plan if request.param == "plan" else section
    result = cut_model(demo, cut, STANDARD.cut_rules(demo))
    marker = Marker(1, "1", "A-301", ((2.0, 2.0), (18.0, 2.0)), "left")
    display = compose_drawing(demo, result, cut, DrawingSpec(scale=SCALE), STANDARD, Surroundings((marker,)))
    if request.param == "set aside":  # as on a sheet: moved, and trimmed through its hatches
        display = trimmed(display, (10.0, 0.0, 10.0, 30.0)).moved(113.7, -41.3)
    return display


def read(data: bytes) -> ezdxf.document.Drawing:
    document = ezdxf.read(io.StringIO(data.decode()))
    assert not document.audit().errors
    return document


def test_every_stroke_text_and_fill_is_there_at_the_building_s_size(display: DisplayList) -> None:
    document = read(to_dxf(display, page_box(display), SCALE, "Section"))
    assert document.units == 4
    space = document.modelspace()
    stroked = [i for i in display.items if isinstance(i, Paths) and i.pen is not None and i.pattern is None]
    runs = [(i, i.points[a:b] * SCALE) for i in stroked for a, b in pairwise(i.starts) if b - a > 1]
    whole = [e for entity in space for e in (entity.virtual_entities() if entity.dxftype() == "INSERT" else [entity])]
    lines = [e for e in whole if e.dxftype() == "LWPOLYLINE"]
    assert len(lines) == len(runs)
    for line, (item, points) in zip(lines, runs, strict=True):
        assert np.allclose(np.array(line.get_points("xy")), points, atol=1e-6)
        assert (line.closed, line.dxf.layer) == (item.closed, layer_name(item))
        assert abs(line.dxf.lineweight / 100 - item.pen.width) < 0.03
        pattern = document.linetypes.get(line.dxf.linetype).simplified_line_pattern()
        assert pattern == pytest.approx([d * SCALE for d in item.pen.dash])
    labels = [i for i in display.items if isinstance(i, Label)]
    texts = Counter((t.dxf.text, round(t.dxf.height, 6), t.dxf.layer) for t in space.query("TEXT"))
    assert texts == Counter((i.text, round(i.height * SCALE, 6), layer_name(i)) for i in labels)
    for text, label in zip(space.query("TEXT"), labels, strict=True):
        _, at, _ = text.get_placement()
        assert (at.x, at.y) == pytest.approx((label.x * SCALE, label.y * SCALE))
    filled = [i for i in display.items if isinstance(i, Paths) and i.fill is not None]
    hatches = [e for e in whole if e.dxftype() == "HATCH"]
    assert len([e for e in hatches if e.has_solid_fill]) == len(filled) > 0
    patterned = [i for i in display.items if isinstance(i, Paths) and i.pattern is not None]
    assert [len(e.paths) for e in hatches if e.has_pattern_fill] == [len(i.pattern.starts) - 1 for i in patterned]
    assert patterned


def test_symbols_are_blocks_and_alike_ones_share_theirs(display: DisplayList) -> None:
    document = read(to_dxf(display, page_box(display), SCALE, "Section"))
    inserts = list(document.modelspace().query("INSERT"))
    bubbles = [i for i in display.items if isinstance(i, Paths) and i.role == "grid bubble"]
    drawn = sum(len(i.starts) - 1 for i in bubbles)
    assert drawn > 1
    names = Counter(e.dxf.name for e in inserts)
    assert max(names.values()) >= drawn  # all bubbles of the grid are one block
    assert set(names) <= {b.name for b in document.blocks}


def test_layers_are_named_by_the_standard(display: DisplayList) -> None:
    document = read(to_dxf(display, page_box(display), SCALE, "Section"))
    used = {e.dxf.layer for e in document.modelspace()}
    assert all(len(name) == 10 and name.startswith("A-") for name in used)
    assert {"A-CUTSTRE-", "A-CUTFILH-", "A-CUTHATH-", "A-SEENNEE-", "A-GRID--T-"} <= used
    assert not any("OTHER-" in name for name in used)


def test_its_layout_shows_the_drawing_at_its_scale(display: DisplayList) -> None:
    left, base, right, top = page_box(display)
    document = read(to_dxf(display, (left, base, right, top), SCALE, "Section"))
    view = next(v for v in document.paperspace().query("VIEWPORT") if v.dxf.id > 1)
    assert (view.dxf.width, view.dxf.height) == pytest.approx((right - left, top - base))
    assert view.dxf.view_height / view.dxf.height == pytest.approx(SCALE)
    assert tuple(view.dxf.view_center_point)[:2] == pytest.approx(
        ((left + right) / 2 * SCALE, (base + top) / 2 * SCALE)
    )


def test_the_same_drawing_gives_the_same_bytes(display: DisplayList) -> None:
    box = page_box(display)
    assert to_dxf(display, box, SCALE, "Section") == to_dxf(display, box, SCALE, "Section")


def test_another_program_draws_the_same_strokes(display: DisplayList) -> None:
    document = read(to_dxf(display, page_box(display), SCALE, "Section"))
    recorder = Recorder()
    config = Configuration(line_policy=LinePolicy.SOLID, text_policy=TextPolicy.IGNORE)
    Frontend(RenderContext(document), recorder, config).draw_layout(document.modelspace())
    theirs = []
    for record, _ in recorder.player().recordings():
        if type(record).__name__ == "PointsRecord" and len(record.points) > 1:
            theirs.append(shapely.LineString([(p.x / SCALE, p.y / SCALE) for p in record.points.vertices()]))
        elif type(record).__name__ == "SolidLinesRecord":
            ends = np.array([(p.x, p.y) for p in record.lines.vertices()]).reshape(-1, 2, 2) / SCALE
            theirs += list(shapely.linestrings(ends[np.hypot(*(ends[:, 1] - ends[:, 0]).T) > 0]))
        elif type(record).__name__ == "PathRecord":
            path = [(p.x / SCALE, p.y / SCALE) for p in record.path.to_path().flattening(0.01)]
            theirs.append(shapely.LineString(path))
    stroked = [i for i in display.items if isinstance(i, Paths) and i.pen is not None]
    ours = [
        shapely.LineString([*i.points[a:b], *i.points[a : a + (1 if i.closed else 0)]])
        for i in stroked for a, b in pairwise(i.starts) if b - a > 1
    ]  # fmt: skip
    for one, other in ((ours, theirs), (theirs, ours)):
        tree = shapely.STRtree(other)
        places = np.concatenate([shapely.line_interpolate_point(g, np.linspace(0, g.length, 5)) for g in one])
        weight = np.repeat([g.length for g in one], 5)
        near = np.zeros(len(places), dtype=bool)
        near[np.unique(tree.query(places, predicate="dwithin", distance=NEAR)[0])] = True
        assert weight[near].sum() / weight.sum() >= 0.99


def test_dashes_of_a_hatch_stand_where_they_are_drawn() -> None:
    """Every other line of dashes half a pattern further on, from the paper's origin, at any angle."""
    shape = shapely.box(3, 4, 33, 24)
    line = pattern_line(LineFamily(angle=30, spacing=2, shift=0.7, dash=(3, 1.5)))
    (item,) = patterned("hatch", [shape], (line,), Pen(0.13, "#334455"))
    document = read(to_dxf(DisplayList((item,), (0, 0, 40, 30)).moved(5, 2), (0, 0, 40, 30), 10.0, "Dashes"))
    (hatch,) = document.modelspace().query("HATCH")
    drawn = [((a.x, a.y), (b.x, b.y)) for a, b in hatch.render_pattern_lines()]
    theirs = shapely.union_all(shapely.linestrings(np.array(drawn) / 10 - [5, 2]))
    runs = np.array([item.points[a:b] for a, b in pairwise(item.starts)])
    ours = shapely.union_all(shapely.linestrings(runs))
    for one, other in ((ours, theirs), (theirs, ours)):
        assert shapely.difference(one, shapely.buffer(other, 0.01)).length < 0.002 * ours.length


def test_a_picture_that_is_left_out_is_said_in_its_place() -> None:
    display = DisplayList((), (0, 0, 40, 30), images=(Image("picture", "abc", (5, 5, 25, 20)),))
    document = read(to_dxf(display, (0, 0, 40, 30), None, "Blank"))
    (text,), (frame,) = document.modelspace().query("TEXT"), document.modelspace().query("LWPOLYLINE")
    assert "Picture" in text.dxf.text
    assert {(round(x), round(y)) for x, y in frame.get_points("xy")} == {(5, 5), (25, 5), (25, 20), (5, 20)}


def test_open_paths_stay_open_and_single_points_are_none() -> None:
    pen = Pen(0.25, "#112233")
    path = Paths("cut other", np.array([(0.0, 0.0), (1.0, 0.0), (5.0, 5.0)]), np.array([0, 2, 3]), False, pen)
    document = read(to_dxf(DisplayList((path,), (0, 0, 9, 9)), (0, 0, 9, 9), 10.0, "Two"))
    (line,) = document.modelspace().query("LWPOLYLINE")
    assert line.get_points("xy") == [(0, 0), (10, 0)]
    assert (line.closed, line.dxf.true_color, line.dxf.lineweight) == (False, 0x112233, 25)
