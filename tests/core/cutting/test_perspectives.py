"""Perspectives: what runs straight away from the viewer, and where the eye stands that nobody placed."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import ElevationCut, Extents, Perspective, PlaneCut, SectionCut, cut_model
from edge_slice.core.cut.following.callouts import Callout, Region, derived
from edge_slice.core.cut.spec import AnyCut
from edge_slice.core.model import Model, Storey
from oracles.break_check import BreakCheck
from tests.bodies import BOX_FACES, Body, box, model_of


def hollow(low: tuple[float, float, float], high: tuple[float, float, float], thick: float) -> Body:
    """A closed box with a room in it."""
    inner_low = tuple(x + thick for x in low)
    inner_high = tuple(x - thick for x in high)
    outer, inner = box(low, high), box(inner_low, inner_high)  # type: ignore[arg-type]
    return np.concatenate((outer[0], inner[0])), np.concatenate((BOX_FACES, BOX_FACES[:, ::-1] + 8))


ROOM = hollow((0, 0, 0), (4, 6, 3), 0.2)
LENS = Perspective(distance=4, eye=(2, 1.6))


def lines_of(off: float, eye: tuple[float, float] = (2, 1.6)) -> np.ndarray:
    """Of a room cut through and looked into; `off`: how far the far end of the line turns, metres."""
    cut = SectionCut(
        line=((0, 2), (4, 2 + off)), look="left", extents=Extents(left=-1, right=5, base=-1, top=4),
        perspective=LENS.model_copy(update={"eye": eye}),
    )  # fmt: skip
    return cut_model(model_of(ROOM), cut).lines.points


def test_a_room_looked_into_squarely_shows_the_edges_that_run_away_from_the_viewer() -> None:
    """Four edges lead from the corners of the cut to those of the far wall, 3.8 m behind it: its width there is
    3.6 m * 4 / 7.8."""
    lines = lines_of(0.0)
    share = 4 / 7.8
    for x in (0.2, 3.8):
        for z in (0.2, 2.8):
            near = np.array([x, z]) * 1000
            far = np.array([2 + (x - 2) * share, 1.6 + (z - 1.6) * share]) * 1000
            ends = [np.sort(np.hypot(*(row.reshape(2, 2) - p).T))[0] for p in (near, far) for row in lines]
            at_near, at_far = np.array(ends).reshape(2, -1)
            assert ((at_near < 0.5) & (at_far < 0.5)).sum() == 1
    assert len(lines) == len(lines_of(1e-3))


def test_lines_of_a_perspective_know_how_far_behind_the_cut_they_are() -> None:
    """The four edges of the far wall stand 3.8 m behind the cut; all others lead there."""
    cut = SectionCut(line=((0, 2), (4, 2)), look="left", extents=Extents(left=-1, right=5, base=-1, top=4),
                     perspective=LENS)  # fmt: skip
    depth = np.sort(cut_model(model_of(ROOM), cut).lines.depth)
    assert depth[-4:] == pytest.approx(3800, abs=1)
    assert (depth[:-4] > 0).all()
    assert (depth[:-4] < 3800).all()


@given(st.floats(0.4, 3.6), st.floats(0.4, 2.6), st.sampled_from([0.0, 0.2, 1.0]))
@settings(max_examples=15)
def test_square_perspectives_agree_with_rays_from_the_eye(u: float, v: float, deep: float) -> None:
    model = model_of(ROOM, box((1, 3, 0.2), (1.6, 3.6, 1.1)), box((2.4, 4 + deep, 0.2), (3.4, 5, 2.2)))
    cut = SectionCut(line=((0, 2), (4, 2)), look="left", extents=Extents(left=-0.5, right=4.5, base=-0.5, top=3.5),
                     perspective=LENS.model_copy(update={"eye": (u, v)}))  # fmt: skip
    check = BreakCheck(model, cut_model(model, cut), 6.0)
    assert check.drawn >= 0.997
    assert check.justified >= 0.995


def test_the_demo_looked_at_squarely_has_every_break_of_depth(demo: Model) -> None:
    low, high = demo.bounds
    middle = (low + high) / 2
    cut = SectionCut(line=((low[0] - 1, middle[1]), (high[0] + 1, middle[1])), perspective=Perspective(distance=9))
    check = BreakCheck(demo, cut_model(demo, cut), 12.0)
    assert check.drawn >= 0.997
    assert check.justified >= 0.995


STOREYS = [("Footing", -0.9), ("Ground", 0.0), ("Upper", 3.0)]


def house(storeys: list[tuple[str, float]]) -> Model:
    """Two rooms over each other on a deep footing."""
    bodies = (box((0, 0, -0.9), (6, 6, 0)), hollow((0, 0, 0), (6, 6, 3), 0.2), hollow((0, 0, 3), (6, 6, 6), 0.2))
    return replace(model_of(*bodies), storeys=tuple(Storey(name, name, z) for name, z in storeys))


def eye_of(model: Model, cut: AnyCut) -> tuple[float, float]:
    lens = cut_model(model, cut).lens
    assert lens is not None
    return lens.u / 1000, lens.v / 1000


def upright(**extents: float) -> SectionCut:
    return SectionCut(line=((-1, 3), (7, 3)), extents=Extents(**extents), perspective=Perspective(distance=5))


@pytest.mark.parametrize(
    ("storeys", "extents", "height"),
    [
        (STOREYS, {}, 1.6),  # footings below the ground floor change nothing
        (STOREYS, {"base": 2.9}, 4.6),  # the upper storey alone
        (STOREYS, {"base": 0.5, "top": 2.5}, 1.6),  # cropped above the floor
        (STOREYS, {"top": 1.2}, 0.15),  # no eye height fits: the middle
        ([("Cellar", -2.8), ("Ground", 0.0)], {"base": -3.0, "top": -0.1}, -1.2),
        ([("Cellar", -2.8), ("Ground", 0.0)], {"base": -3.0}, 1.6),
        ([], {"base": 0.0, "top": 6.0}, 1.6),
    ],
)
def test_the_eye_stands_on_the_floor_of_the_storey_cut(
    storeys: list[tuple[str, float]], extents: dict[str, float], height: float
) -> None:
    u, v = eye_of(house(storeys), upright(**extents))
    if "top" in extents and extents["top"] == 1.2:
        assert -1.9 < v < 1.2
    else:
        assert v == pytest.approx(height)
    assert u == pytest.approx(4.0, abs=1.0)


def test_a_tilted_or_level_plane_is_seen_from_its_middle() -> None:
    model = house(STOREYS)
    lens = Perspective(distance=20)
    u, v = eye_of(model, PlaneCut(point=(1, 2, 20), normal=(0, 0, 1), perspective=lens))
    axes = cut_model(model, PlaneCut(point=(1, 2, 20), normal=(0, 0, 1))).axes
    at = axes.origin + u * axes.u + v * axes.v
    assert at[:2] == pytest.approx((3.0, 3.0))
    normal = np.array([1.0, 0.3, 1.0])
    tilted = PlaneCut(point=tuple(normal * 20), normal=tuple(normal), perspective=lens)
    flat = cut_model(model, tilted.model_copy(update={"perspective": None}))
    seen = flat.lines.points.reshape(-1, 2) / 1000
    assert eye_of(model, tilted) == pytest.approx(tuple((seen.min(0) + seen.max(0)) / 2), abs=1e-6)


def test_an_elevation_and_what_is_called_out_of_it_have_one_eye() -> None:
    model = house(STOREYS)
    whole = ElevationCut(line=((-1, -4), (7, -4)), perspective=Perspective(distance=5))
    region = Region(points=((2, 3.2), (5, 5)))
    detail = derived(model, whole, whole, Callout(region=region, form="detail")).cut
    assert eye_of(model, detail) == pytest.approx(eye_of(model, whole))
