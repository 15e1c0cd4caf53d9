"""Services on plans: runs as one line or two, letters by system, the way they flow, stacks and what joins runs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import Extents, PlanCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, Label, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.conventions.services import straight_run
from edge_slice.core.drawing.rules.services_rule import ServicesRule
from edge_slice.core.drawing.spec import Conventions
from edge_slice.core.model import Model, Run
from edge_slice.core.model.building import Part
from tests.bodies import Body, box, model_of, polygon_ring, prism, rotation

STANDARD = default_standard()
PLAN = PlanCut(
    storey="storey-0", height=1.2, depth=1.5, overhead=1.5, extents=Extents(left=-1, right=9, base=-3, top=5)
)
PIPE = box((0, -0.03, 0.3), (4, 0.03, 0.36))
COLD = Run("Cold water, kitchen", flow=(1.0, 0.0, 0.0))


def run_of(*pieces: tuple[Body, Run | None], discipline: str = "services", more: tuple[Body, ...] = ()) -> Model:
    """Pieces of services in a part of their own, and walls of an architect's."""
    model = model_of(*(b for b, _ in pieces), *more)
    elements = [
        replace(e, kind="services", run=pieces[k][1], part=1) if k < len(pieces) else e
        for k, e in enumerate(model.elements)
    ]
    parts = (Part("1", "House", "architecture"), Part("2", "Pipes", discipline))  # type: ignore[arg-type]
    return replace(model, elements=tuple(elements), parts=parts if discipline else ())


def drawn(model: Model, scale: float = 50, cut: PlanCut = PLAN, **style: object) -> DisplayList:
    spec = DrawingSpec(scale=scale, grid=False, **style)  # type: ignore[arg-type]
    return compose_drawing(model, cut_model(model, cut, STANDARD.cut_rules(model)), cut, spec, STANDARD)


def strokes(display: DisplayList, role: str, scale: float = 50) -> list[np.ndarray]:
    """The paths of a role in metres of the building."""
    items = [i for i in display.items if isinstance(i, Paths) and i.role == role]
    return [i.points[a:b] * scale / 1000 for i in items for a, b in zip(i.starts[:-1], i.starts[1:], strict=True)]


def letters(display: DisplayList) -> list[Label]:
    return [i for i in display.items if isinstance(i, Label) and i.role == "service letters"]


def others(display: DisplayList) -> list[str]:
    """Roles of what is drawn otherwise than by the convention."""
    return [i.role for i in display.items if not i.role.startswith("service") and not i.role.startswith("frame")]


def test_a_narrow_run_is_one_line_with_a_gap_for_its_letters() -> None:
    display = drawn(run_of((PIPE, COLD)))
    (label,) = letters(display)
    assert (label.text, label.angle, label.source) == ("CW", 0.0, "element:element-0")
    assert label.x * 0.05 == pytest.approx(2.0)
    left, right = sorted(strokes(display, "service line"), key=lambda s: s[0, 0])
    assert left[0] == pytest.approx((0, 0))
    assert right[-1] == pytest.approx((4, 0))
    assert left[-1, 0] < 2.0 < right[0, 0]
    assert left[-1, 0] + right[0, 0] == pytest.approx(4.0)  # the gap is around the letters
    assert not others(display)  # nothing of what is modelled


@pytest.mark.parametrize(("flow", "ahead"), [((1.0, 0.0, 0.0), True), ((-1.0, 0.0, 0.0), False), (None, None)])
def test_an_arrow_points_the_way_it_flows(flow: tuple[float, float, float] | None, ahead: bool | None) -> None:
    display = drawn(run_of((PIPE, replace(COLD, flow=flow))))
    heads = strokes(display, "service flow")
    if ahead is None:
        assert heads == []
        return
    (head,) = heads
    assert bool(head[0, 0] > head[1, 0]) is ahead
    assert bool(head[0, 0] > 2.0) is ahead  # on the side of the letters to which it flows


def test_a_wide_run_keeps_its_two_lines_and_gets_its_axis() -> None:
    duct = box((0, -0.2, 0.3), (4, 0.2, 0.5))
    display = drawn(run_of((duct, Run("Zuluft", "ventilation"))))
    assert [label.text for label in letters(display)] == ["SA"]
    assert not strokes(display, "service line")
    axis = np.concatenate(strokes(display, "service axis"))
    assert axis[:, 1] == pytest.approx(np.zeros(len(axis)))
    assert (axis[:, 0].min(), axis[:, 0].max()) == pytest.approx((0, 4))
    sides = np.concatenate([s for role in ("seen near", "seen middle", "seen far") for s in strokes(display, role)])
    assert {round(float(abs(y)), 6) for y in sides[:, 1]} == {0.2}


def test_a_run_above_the_cut_is_dashed_and_one_under_a_slab_is_not_drawn() -> None:
    above, under = box((0, -0.03, 2.0), (4, 0.03, 2.06)), box((0, 0.97, 0.1), (4, 1.03, 0.16))
    display = drawn(run_of((above, COLD), (under, COLD), more=(box((-0.5, 0.5, 0.2), (5, 1.5, 0.3)),)))
    lines = strokes(display, "service line")
    assert len(lines) > 10
    assert {round(float(y), 6) for line in lines for y in line[:, 1]} == {0.0}


def test_only_what_shows_of_a_run_is_drawn() -> None:
    display = drawn(run_of((PIPE, COLD), more=(box((1, -1, 0.5), (4.5, 1, 0.6)),)))
    line = np.concatenate(strokes(display, "service line"))
    assert (line[:, 0].min(), line[:, 0].max()) == pytest.approx((0, 1), abs=1e-4)


def test_letters_stand_beside_a_stack_and_its_section_stays() -> None:
    stack = box((2, 2, -0.5), (2.1, 2.1, 3.0))
    display = drawn(run_of((stack, Run("Soil stack 1", "sewage"))))
    (label,) = letters(display)
    assert label.text == "FW"
    assert label.x * 0.05 > 2.1
    assert label.y * 0.05 > 2.1
    assert len(strokes(display, "service cross")) == 2
    assert "cut structure" in others(display)


def test_runs_meet_in_what_joins_them() -> None:
    """A bend between two pipes at a right angle: both lines go on to where their axes meet."""
    first, second = box((0, -0.03, 0.3), (2, 0.03, 0.36)), box((2.17, 0.2, 0.3), (2.23, 3, 0.36))
    bend = prism([(2, -0.05), (2.25, -0.05), (2.25, 0.2), (2.15, 0.2), (2.15, 0.05), (2, 0.05)], 0.28, 0.38)
    up = replace(COLD, flow=(0.0, 1.0, 0.0))
    display = drawn(run_of((first, COLD), (second, up), (bend, replace(COLD, fitting=True, flow=None))))
    joint = [s for s in strokes(display, "service line") if (s[:, 0] > 1.99).all() and (s[:, 1] < 0.21).all()]
    ends = sorted(tuple(np.round(p, 4).tolist()) for s in joint for p in s)
    assert ends == [(2.0, 0.0), (2.2, 0.0), (2.2, 0.0), (2.2, 0.2)]
    assert not [r for r in others(display) if r.startswith("seen")]


def test_parallel_runs_have_letters_of_their_own_which_do_not_touch_and_pieces_of_one_line_share_them() -> None:
    beside = box((0, 0.05, 0.3), (4, 0.11, 0.36))
    further = box((4, -0.03, 0.3), (6, 0.03, 0.36))
    found = letters(drawn(run_of((PIPE, COLD), (beside, COLD), (further, COLD)), 100))
    assert len(found) == 2
    assert abs(found[0].x - found[1].x) > 3.0 or abs(found[0].y - found[1].y) > 3.0


def test_letters_keep_off_what_is_cut() -> None:
    wall = box((1.9, -1, 0), (2.1, 1, 2.5))
    pierced = box((0, -0.03, 1.17), (4, 0.03, 1.23))
    found = letters(drawn(run_of((pierced, COLD), more=(wall,))))
    assert all(not 1.9 < label.x * 0.05 < 2.1 for label in found)


def test_a_model_of_one_file_is_drawn_as_it_is_unless_the_drawing_asks_for_lines() -> None:
    model = run_of((PIPE, COLD), discipline="")
    assert not letters(drawn(model))
    assert [x.text for x in letters(drawn(model, conventions=Conventions(services=True)))] == ["CW"]
    parts = run_of((PIPE, COLD))
    assert not letters(drawn(parts, conventions=Conventions(services=False)))


def test_ceilings_show_services_as_lines_too() -> None:
    above = box((0, -0.03, 2.0), (4, 0.03, 2.06))
    cut = PLAN.model_copy(update={"look": "up", "depth": 2.0})
    assert [x.text for x in letters(drawn(run_of((above, COLD)), cut=cut))] == ["CW"]


@pytest.mark.parametrize(
    ("run", "text"),
    [
        (Run("KALTWASSER Küche"), "CW"),
        (Run("System 7", "domestichotwater"), "HW"),
        (Run("K-12"), "K-12"),
        (Run("Something without a known word"), ""),
        (Run(), ""),
    ],
)
def test_letters_by_name_by_purpose_or_a_short_name_itself(run: Run, text: str) -> None:
    assert ServicesRule().letters_of(run) == text


@given(
    turn=st.tuples(*[st.floats(-3, 3)] * 3),
    size=st.tuples(st.floats(0.6, 8), st.floats(0.02, 0.5), st.floats(0.02, 0.5)),
)
def test_a_straight_run_is_found_however_it_lies(
    turn: tuple[float, float, float], size: tuple[float, float, float]
) -> None:
    """The middles of the ends of a turned box are those of the box, turned."""
    vertices, triangles = box((0, 0, 0), size)
    matrix = rotation(*turn)
    run = straight_run(0, (vertices @ matrix.T)[triangles])
    assert run is not None
    ends = np.array([(0, size[1] / 2, size[2] / 2), (size[0], size[1] / 2, size[2] / 2)]) @ matrix.T
    assert np.allclose(run.ends, ends, atol=1e-6) or np.allclose(run.ends[::-1], ends, atol=1e-6)
    assert not run.round


def test_a_short_wide_duct_runs_the_way_it_flows() -> None:
    vertices, triangles = box((0, 0, 0), (0.3, 0.8, 0.2))
    run = straight_run(0, vertices[triangles], (1.0, 0.0, 0.0))
    assert run is not None
    assert sorted(run.ends[:, 0].tolist()) == pytest.approx([0.0, 0.3])
    assert run.wide == pytest.approx(0.8)


def test_what_bends_is_no_straight_run_and_a_round_stack_is_one() -> None:
    a, b = box((0, 0, 0), (2, 0.1, 0.1)), box((1.9, 0.1, 0), (2, 2, 0.1))
    corner = np.concatenate((a[0][a[1]], b[0][b[1]]))
    assert straight_run(0, corner) is None
    ring = polygon_ring(24, 0.05)
    vertices, triangles = prism(ring, 0.0, 3.0)
    stack = straight_run(0, vertices[triangles])
    assert stack is not None
    assert stack.round
    assert stack.upright
    assert straight_run(0, np.zeros((0, 3, 3))) is None
