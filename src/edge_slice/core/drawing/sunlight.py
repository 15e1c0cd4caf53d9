"""Where the sun of a drawing stands."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.cut.planes.leaves import Axes
from edge_slice.core.cut.surfaces.sun import drafted_light, light_from, sun_at

Degrees = Annotated[float, Field(allow_inf_nan=False)]


class Sun(BaseModel):
    """`by` view: over the viewer's left shoulder, shadows at 45°, as draughtsmen have it; bearing: at a `bearing` from
    true north and a `height` over the horizon, degrees; hour: at a place (`latitude`, `longitude`, degrees north and
    east) at a time with its zone."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    by: Literal["view", "bearing", "hour"] = "view"
    bearing: Annotated[Degrees, Field(ge=0, le=360)] = 225.0
    height: Annotated[Degrees, Field(ge=1, le=90)] = 45.0
    latitude: Annotated[Degrees, Field(ge=-90, le=90)] | None = None
    longitude: Annotated[Degrees, Field(ge=-180, le=180)] | None = None
    when: datetime | None = None

    @model_validator(mode="after")
    def _up(self) -> Sun:
        if self.by != "hour":
            return self
        if self.latitude is None or self.longitude is None or self.when is None:
            raise ValueError("sun: an hour needs a place and a time: latitude, longitude, when")
        if self.when.tzinfo is None:
            raise ValueError("sun: the time needs its zone, as in 2026-06-21T15:00:00+01:00")
        _, height = self.stands
        if height < 1.0:
            raise ValueError(f"sun: it stands {height:.1f}° over the horizon then; choose an hour when it is up")
        return self

    @property
    def stands(self) -> tuple[float, float]:
        """Bearing from true north and height, degrees; of a sun by the view, those that it has as written."""
        if self.by == "hour" and self.when is not None and self.latitude is not None and self.longitude is not None:
            return sun_at(self.latitude, self.longitude, self.when)
        return self.bearing, self.height

    def light(self, axes: Axes, north: tuple[float, float]) -> NDArray[np.float64]:
        """The way the light goes (3,), a unit vector in the model, in a view with these axes."""
        if self.by == "view":
            return drafted_light(axes.u, axes.v, axes.w)
        return light_from(*self.stands, north)


BY_VIEW = Sun()
