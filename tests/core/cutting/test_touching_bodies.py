"""Lines of elements whose parts touch: edges of many triangles, faces that lie on each other, corners on sides."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import CutResult, Extents, Perspective, PlaneCut, SectionCut, cut_model
from edge_slice.core.model import Model
from oracles.break_check import BreakCheck
from tests.bodies import BOX_FACES, Body, box, model_of


def as_one(*bodies: Body) -> Body:
    """Several bodies as the parts of one element."""
    vertices, faces, at = [], [], 0
    for v, t in bodies:
        vertices.append(v)
        faces.append(t + at)
        at += len(v)
    return np.concatenate(vertices), np.concatenate(faces)


CABINET = as_one(  # a carcass with two fronts on its face, on a plinth that is set back, below a worktop
    box((0, 0.02, 0.1), (0.6, 0.6, 0.8)),
    box((0, 0, 0.1), (0.285, 0.02, 0.8)),
    box((0.315, 0, 0.3), (0.6, 0.02, 0.8)),
    box((0.05, 0.08, 0), (0.55, 0.6, 0.1)),
    box((-0.1, -0.1, 0.8), (0.6, 0.6, 0.84)),
)
ROUND_AN_EDGE = as_one(  # three of four quarters about one upright edge
    box((0, 0, 0), (0.5, 0.5, 0.6)), box((-0.5, 0, 0), (0, 0.5, 0.6)), box((-0.5, -0.5, 0), (0, 0, 0.6))
)
CORNER_TO_CORNER = as_one(box((0, 0, 0), (0.5, 0.5, 0.6)), box((-0.5, -0.5, 0), (0, 0, 0.6)))
TEE = as_one(box((0, 0, 0), (1, 0.2, 0.5)), box((0.4, 0.2, 0), (0.6, 1, 0.5)), box((0.7, 0.2, 0), (1, 0.5, 0.3)))
STEPS = as_one(*(box((0, 0.3 * k, 0), (1, 0.3 * k + 0.3, 0.2 * k + 0.2)) for k in range(4)))
BODIES = {
    "cabinet": CABINET,
    "round an edge": ROUND_AN_EDGE,
    "corner to corner": CORNER_TO_CORNER,
    "tee": TEE,
    "steps": STEPS,
}
component = st.floats(-1, 1).filter(lambda x: abs(x) > 0.2)


def looked_at(body: Body, normal: tuple[float, float, float], off: float = 3.0, size: float = 4.0) -> BreakCheck:
    model = model_of(body, materials=["Timber"])
    n = np.array(normal) / np.linalg.norm(normal)
    point = body[0].mean(axis=0) + off * n
    return BreakCheck(model, cut_model(model, PlaneCut(point=tuple(point), normal=tuple(n))), size)


@pytest.mark.parametrize("name", BODIES)
@given(normal=st.tuples(component, component, component))
@settings(max_examples=25)
def test_outlines_of_touching_parts_show_from_all_sides(name: str, normal: tuple[float, float, float]) -> None:
    check = looked_at(BODIES[name], normal)
    assert check.drawn == 1.0
    assert check.justified >= 0.995


@given(normal=st.tuples(component, component, component), off=st.floats(-0.2, 0.2))
@settings(max_examples=12)
def test_outlines_show_where_the_cut_goes_through_touching_parts(
    normal: tuple[float, float, float], off: float
) -> None:
    assert looked_at(CABINET, normal, off).drawn >= 0.998


def test_joint_between_flush_steps_shows_nothing_of_what_lies_behind() -> None:
    """Two blocks side by side in one plane; an edge of a third runs right behind their joint."""
    front = as_one(box((0, 0, 0), (1, 1, 1)), box((0, 0, 1), (1, 1, 2)))
    model = model_of(front, box((0.2, 2, 0), (0.8, 3, 1)))
    lines = cut_model(model, SectionCut(line=((-2, -1), (3, -1)), extents=Extents(base=-1, top=3))).lines.points
    assert not (np.abs(lines[:, [1, 3]] - 1000) < 1).all(axis=1).any()


def turned_over(body: Body, triangles: list[int]) -> Body:
    faces = body[1].copy()
    faces[triangles] = faces[triangles][:, ::-1]
    return body[0], faces


def volume(model: Model) -> float:
    return float(model.mesh.volumes(1)[0])


@given(st.sets(st.integers(0, 11)))
@settings(max_examples=30)
def test_triangles_that_turn_both_ways_are_made_to_turn_alike(wrong: set[int]) -> None:
    model = model_of(turned_over(box((0, 0, 0), (2, 3, 4)), sorted(wrong)))
    assert volume(model) == pytest.approx(24)


def test_hollows_stay_hollow_and_separate_parts_are_turned_out() -> None:
    outer, inner, aside = box((0, 0, 0), (4, 4, 4)), box((1, 1, 1), (2, 2, 2)), box((6, 0, 0), (7, 1, 1))
    every = list(range(12))
    assert volume(model_of(as_one(outer, turned_over(inner, every)))) == pytest.approx(64 - 1)
    assert volume(model_of(as_one(outer, turned_over(aside, every)))) == pytest.approx(64 + 1)


def test_corners_on_the_sides_of_other_triangles_close_a_body() -> None:
    """A box whose one side is divided in two at mid-height, while its neighbours are not."""
    vertices, _ = box((0, 0, 0), (1, 1, 2))
    middle = np.array([(0.0, 0.0, 1.0), (1.0, 0.0, 1.0)])
    front = [(0, 1, 9), (0, 9, 8), (8, 9, 5), (8, 5, 4)]
    kept = [f for f in BOX_FACES.tolist() if f not in ([0, 1, 5], [0, 5, 4])]
    body = np.concatenate((vertices, middle)), np.array([*kept, *front])
    model = model_of(body)
    assert not model.leaking
    assert looked_at(body, (0.3, -1.0, 0.2)).justified == 1.0


def test_a_sheet_within_a_body_goes_and_a_fin_outside_stays() -> None:
    """A bed of two boxes joined by their shells, with the sheet between them left in; and a fin upon a box."""
    lower, upper = box((0, 0, 0), (2, 1, 0.2)), box((0, 0, 0.2), (2, 1, 0.5))
    joined = as_one((lower[0], lower[1]), (upper[0], upper[1][2:]))
    model = model_of(joined)
    assert not model.leaking
    assert volume(model) == pytest.approx(2 * 0.5)
    (face,) = cut_model(model, SectionCut(line=((1, -1), (1, 2)))).faces
    assert face.polygon.area == pytest.approx(1000 * 500)
    fin = np.array([(0.5, 0.0, 0.5), (0.5, 1.0, 0.5), (0.5, 1.0, 1.0), (0.5, 0.0, 1.0)])
    finned = as_one(box((0, 0, 0), (2, 1, 0.5)), (fin, np.array([(0, 1, 2), (0, 2, 3)])))
    assert len(model_of(finned).mesh.triangles) == 14


def test_where_a_body_that_is_left_out_passes_through_another_no_line_shows() -> None:
    model = model_of(box((0, 1, 0), (4, 3, 1)), box((1, 1.5, 0.5), (1.2, 1.7, 2)), kinds=["ground", "planting"])
    look = SectionCut(
        line=((-1, 0), (5, 0)), perspective=Perspective(distance=4, eye=(3.0, 4.0)), extents=Extents(base=-1, top=3)
    )
    alone = cut_model(model_of(box((0, 1, 0), (4, 3, 1))), look)
    without, both = (cut_model(model, look.model_copy(update={"without": w})) for w in (("planting",), ()))
    assert length(without) == pytest.approx(length(alone))
    assert length(both) > length(alone)
    again = cut_model(model, look.model_copy(update={"without": ("planting",)}), earlier=both)
    assert again.lines.points.tolist() == without.lines.points.tolist()


def length(result: CutResult) -> float:
    p = result.lines.points
    return float(np.hypot(p[:, 2] - p[:, 0], p[:, 3] - p[:, 1]).sum())
