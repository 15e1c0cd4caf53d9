"""What lies in the sun, against rays to it; and where it stands."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta, timezone

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import AnyCut, ElevationCut, Perspective, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.cut.planes.sets import elevations_of
from edge_slice.core.cut.surfaces.lit import lit_shapes
from edge_slice.core.cut.surfaces.overlay import minus
from edge_slice.core.cut.surfaces.regions import seen_surfaces
from edge_slice.core.cut.surfaces.sun import drafted_light, light_from, sun_at
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from oracles.sun_check import sun_agreement
from tests.bodies import box, model_of

AFTERNOON, MORNING = light_from(215, 42, (0.0, 1.0)), light_from(150, 25, (0.0, 1.0))


@pytest.mark.parametrize(
    ("kind", "light"),
    [
        ("elevation", None),
        ("section", AFTERNOON),
        ("perspective", AFTERNOON),
        ("plan", light_from(150, 25, (0.0, 1.0))),
    ],
    ids=["elevation", "section", "perspective", "plan"],
)
def test_shadows_of_the_demo_agree_with_rays_to_the_sun(demo: Model, kind: str, light: np.ndarray | None) -> None:
    plants = ("planting",)
    spec: AnyCut = {
        "elevation": elevations_of(demo, plants)[2],
        "section": SectionCut(line=((-3, 2.1), (25, 2.1)), depth=9, without=plants),
        "perspective": SectionCut(
            line=((-9, -14), (14, -19)), depth=60, perspective=Perspective(field_of_view=55), without=plants
        ),
        "plan": PlanCut(storey=demo.storeys[-1].guid, height=8, without=plants),
    }[kind]
    result = cut_model(demo, spec, default_standard().cut_rules(demo))
    axes = result.axes
    way = drafted_light(axes.u, axes.v, axes.w) if light is None else light
    right, lit = sun_agreement(demo, result, way, 500)
    assert right >= 0.995
    assert 0.02 < lit < 0.98


def test_a_wall_throws_a_shadow_as_long_as_the_sun_is_high() -> None:
    """A wall 1 m wide and 2 m high on a floor, the sun at 45° in the south: a shadow of 1 x 2 m to the north."""
    model = model_of(box((-5, -5, -0.2), (5, 5, 0)), box((0, 0, 0), (1, 0.1, 2)))
    result = cut_model(model, PlanCut(storey=model.storeys[0].guid, height=5))
    seen, lit = seen_surfaces(result), lit_shapes(result, light_from(180, 45, (0.0, 1.0)))
    floor = next(k for k, r in enumerate(seen.regions) if r.element == 0)
    (dark,) = polygons_in(minus(seen.regions[floor].shape, lit[floor]))
    assert dark.area / 1e6 == pytest.approx(1 * 2.1 - 1 * 0.1, rel=1e-6)
    assert dark.bounds == pytest.approx((0, 100, 1000, 2100))


def test_what_turns_away_from_the_sun_is_dark_and_clear_glass_lets_it_through() -> None:
    model = model_of(
        box((0, 2, 0), (4, 2.2, 3)), box((0, 1, 0), (4, 1.02, 3)), materials=["Concrete", "Glass"]
    )  # fmt: skip
    spec = ElevationCut(line=((-1, 0), (5, 0)), glass="clear")
    result = cut_model(model, spec, default_standard().cut_rules(model))
    from_south = lit_shapes(result, light_from(180, 30, (0.0, 1.0)))
    from_north = lit_shapes(result, light_from(0, 30, (0.0, 1.0)))
    (wall,) = seen_surfaces(result).regions
    assert from_south[0] is not None
    assert from_south[0].area == pytest.approx(wall.shape.area)
    assert from_north == (None,)


def test_light_of_draughtsmen_falls_at_45_degrees_in_the_view() -> None:
    u, v, w = np.array([0.0, 1, 0]), np.array([0.0, 0, 1]), np.array([-1.0, 0, 0])
    light = drafted_light(u, v, w)
    assert (light @ u, light @ v, light @ w) == pytest.approx((3**-0.5, -(3**-0.5), 3**-0.5))


@pytest.mark.parametrize(
    ("place", "when", "bearing", "height"),
    [
        ((0.0, 0.0), datetime(2024, 3, 20, 12, 7, tzinfo=UTC), None, 89.85),
        ((51.4779, 0.0), datetime(2024, 6, 21, 12, 2, tzinfo=UTC), 180.0, 61.96),
        ((51.4779, 0.0), datetime(2024, 12, 21, 11, 58, tzinfo=UTC), 180.0, 15.14),
        ((-33.87, 151.21), datetime(2024, 12, 21, 12, 53, tzinfo=timezone(timedelta(hours=11))), 0.0, 79.57),
    ],
    ids=["equinox", "midsummer", "midwinter", "south"],
)
def test_the_sun_stands_where_almanacs_have_it(
    place: tuple[float, float], when: datetime, bearing: float | None, height: float
) -> None:
    """At noon it is as high as 90° less latitude and declination: 23.44° at solstices, 0.15° soon after an equinox."""
    found, high = sun_at(*place, when)
    assert high == pytest.approx(height, abs=0.1)
    if bearing is not None:
        assert (found - bearing + 180) % 360 - 180 == pytest.approx(0, abs=0.6)


@given(st.floats(-66, 66), st.floats(-180, 180), st.integers(0, 365 * 24 * 60))
def test_the_sun_goes_from_east_to_west(latitude: float, longitude: float, minutes: int) -> None:
    when = datetime(2025, 1, 1, tzinfo=UTC) + timedelta(minutes=minutes)
    before, after = (sun_at(latitude, longitude, when + timedelta(minutes=m)) for m in (0, 10))

    def up(stand: tuple[float, float]) -> np.ndarray:
        b, h = np.radians(stand)
        return np.array([np.cos(h) * np.sin(b), np.cos(h) * np.cos(b), np.sin(h)])

    turned = np.degrees(np.arccos(np.clip(up(before) @ up(after), -1, 1)))
    assert turned < 2.7  # 15° an hour, and what refraction lifts near the horizon
    pole = np.array([0.0, np.cos(np.radians(latitude)), np.sin(np.radians(latitude))])
    assert np.cross(up(before), up(after)) @ pole < 1e-3  # clockwise about the pole as seen from the south


def test_a_sun_that_is_down_lights_nothing() -> None:
    with pytest.raises(ValueError, match="unless it is up"):
        light_from(180, -3, (0.0, 1.0))
    with pytest.raises(ValueError, match="zone"):
        sun_at(50, 0, datetime(2025, 6, 1, 12))
