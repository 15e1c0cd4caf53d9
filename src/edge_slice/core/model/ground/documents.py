"""What ground a project says it has: the document that people type, draw, paste and keep."""

from __future__ import annotations

import hashlib
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

GroundRole = Literal["existing", "proposed"]
Metres = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]
Place = tuple[Metres, Metres]
Point = tuple[Metres, Metres, Metres]
MOST_POINTS = 20_000
APART = 0.001  # metres on plan; two points nearer than this are one
FLAT = 1e-6  # of their extent; points that deviate less from a line lie on it


class _Document(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class LevelGround(_Document):
    """Level ground at a height, metres."""

    kind: Literal["level"] = "level"
    height: Metres = 0.0


class ProfileGround(_Document):
    """Ground of one profile: its heights (distance, height) along the line from `start` to `end`, metres, the same all
    across, and level beyond the outermost."""

    kind: Literal["profile"] = "profile"
    start: Place
    end: Place
    heights: Annotated[tuple[Place, ...], Field(min_length=2, max_length=1000)]

    @property
    def along(self) -> NDArray[np.float64]:
        """The direction (2,) of its line, a unit vector."""
        step = np.array(self.end) - self.start
        found: NDArray[np.float64] = step / np.linalg.norm(step)
        return found

    @model_validator(mode="after")
    def _runs(self) -> ProfileGround:
        if np.hypot(self.end[0] - self.start[0], self.end[1] - self.start[1]) < APART:
            raise ValueError("profile: its line has no length; put its ends apart")
        for k, ((a, _), (b, _)) in enumerate(pairwise(self.heights), 2):
            if b - a < APART:
                raise ValueError(
                    f"profile: point {k} lies at {b:g} m, not beyond the one before at {a:g} m; "
                    "distances must grow along the line"
                )
        return self


class PointsGround(_Document):
    """Ground through points (x, y, height), metres in the model, triangulated (Delaunay 1934), and level beyond the
    outermost ones."""

    kind: Literal["points"] = "points"
    points: Annotated[tuple[Point, ...], Field(min_length=3, max_length=MOST_POINTS)]

    def raised(self, index: int, height: float) -> PointsGround:
        """With another height at a point."""
        x, y, _ = self.points[index]
        return PointsGround(points=(*self.points[:index], (x, y, height), *self.points[index + 1 :]))

    @model_validator(mode="after")
    def _is_an_area(self) -> PointsGround:
        places = np.array(self.points)
        cells = np.rint(places[:, :2] / APART).astype(np.int64)
        order = np.lexsort((cells[:, 1], cells[:, 0]))
        same = np.flatnonzero((np.diff(cells[order], axis=0) == 0).all(axis=1))
        if len(same):
            first, second = sorted(order[same[0] : same[0] + 2].tolist())
            x, y = places[first, :2]
            raise ValueError(
                f"points: {first + 1} and {second + 1} lie over each other at ({x:g}, {y:g}); leave one of them out"
            )
        middle = places[:, :2] - places[:, :2].mean(axis=0)
        sizes = np.linalg.svd(middle, compute_uv=False)
        if sizes[1] <= FLAT * sizes[0]:
            raise ValueError("points: all lie on one line; three that do not are needed")
        return self


class ElementGround(_Document):
    """Ground on the upper side of an element of the model (GlobalId), `offset` metres above it."""

    kind: Literal["element"] = "element"
    guid: Annotated[str, Field(min_length=1, max_length=64)]
    offset: Metres = 0.0


Shape = Annotated[LevelGround | ProfileGround | PointsGround | ElementGround, Field(discriminator="kind")]


class Ground(_Document):
    """One ground: its shape, what it is made of (the name of a material), and how far it `reach`es beyond the building
    and what its shape gives, metres. `area`: a ring on plan that it ends at instead."""

    shape: Shape = LevelGround()
    material: Annotated[str, Field(min_length=1, max_length=100)] = "Earth"
    reach: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] = 15.0
    area: Annotated[tuple[Place, ...], Field(max_length=500)] = ()

    @model_validator(mode="after")
    def _holds(self) -> Ground:
        if 0 < len(self.area) < 3:
            raise ValueError("area: the outline of ground needs three corners or more")
        return self


class Grounds(_Document):
    """The ground of a project: as it is (null: as the model has it), and as it shall be, which is what is drawn where
    there is one."""

    existing: Ground | None = None
    proposed: Ground | None = None

    @property
    def digest(self) -> str:
        """Another text for other grounds, empty for none. Never kept: a changed copy would have it, too."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest() if self.any else ""

    @property
    def any(self) -> bool:
        return self.existing is not None or self.proposed is not None


NONE = Grounds()
