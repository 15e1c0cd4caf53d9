"""Cuts of one model fitted to another: its storeys, its bounds, its north."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from pydantic import BaseModel, ConfigDict

from edge_slice.core.cut.following.callouts import Region
from edge_slice.core.cut.planes.sets import facing_of, wind
from edge_slice.core.cut.spec import (
    LEAST,
    AnyCut,
    BlankCut,
    ElevationCut,
    Extents,
    Place,
    PlanCut,
    PlaneCut,
    SectionCut,
)
from edge_slice.core.model import Model, Storey

# what a cut says of its own model alone, as it is in another one
OF_ITS_MODEL = {"left_out": (), "see_through": (), "whole": (), "held": None, "shared_extents": ""}
TIDY = 3  # decimals of a metre
NEAR = 0.02  # sine of the angle under which a line counts as along an axis


class StoreyFrame(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")
    guid: str
    name: str
    elevation: float


class ModelFrame(BaseModel):
    """What cuts are fitted by: the bounds of a model (metres) and its storeys."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    storeys: tuple[StoreyFrame, ...]

    @staticmethod
    def of(model: Model) -> ModelFrame:
        low, high = (tuple(float(x) for x in b) for b in model.bounds)
        found = [StoreyFrame(guid=s.guid, name=s.name, elevation=s.elevation) for s in model.storeys]
        return ModelFrame(low=low, high=high, storeys=tuple(found))  # type: ignore[arg-type]

    @property
    def long_axis(self) -> int:
        """0 where the model is longer along x, else 1."""
        return 0 if self.high[0] - self.low[0] >= self.high[1] - self.low[1] else 1


@dataclass(frozen=True)
class Refit:
    """A cut of another model; None where there is no place for it. `how` says what was done, or why not."""

    cut: AnyCut | None
    how: str


def refitted(model: Model, cut: AnyCut, frame: ModelFrame) -> Refit:
    """A cut of the model that `frame` describes, in its place in another model. What names single elements of the old
    one is dropped."""
    cut = cut.model_copy(update=OF_ITS_MODEL)
    if isinstance(cut, PlanCut):
        return _plan(model, cut, frame)
    if isinstance(cut, ElevationCut) and cut.space:
        return Refit(None, "walls of a room: choose the room in this model")
    if isinstance(cut, BlankCut):
        return Refit(cut, "as it was: it shows nothing of a model")
    place = _Placer(frame, ModelFrame.of(model))
    extents = _extents(cut.extents, place)
    if isinstance(cut, PlaneCut):
        point, normal = place.point(cut.point), place.direction(cut.normal)
        change = {"point": point, "normal": normal, "extents": Extents()}
        return Refit(cut.model_copy(update=change), "its point in the same share of the building")
    line = tuple(place.ground(p) for p in cut.line)
    look = (line[-1][0] - line[0][0], line[-1][1] - line[0][1])
    depth = cut.depth if cut.depth is None else place.length(cut.depth, (-look[1], look[0]))
    if isinstance(cut, SectionCut) and cut.of == "wall":
        longer = _length(line) / max(_length(cut.line), LEAST)
        sides = [None if u is None else round(u * longer, TIDY) for u in (cut.extents.left, cut.extents.right)]
        extents = extents.model_copy(update={"left": sides[0], "right": sides[1]})
    change = {"line": line, "depth": depth, "extents": extents}
    if isinstance(cut, SectionCut) and cut.depths:
        change["depths"] = tuple(d if d is None else place.length(d, (-look[1], look[0])) for d in cut.depths)
    moved = cut.model_copy(update=change)
    how = "turned to the long side of this building" if place.turned else "in the same share of the building"
    if isinstance(moved, ElevationCut):
        how += f", shows its {wind(facing_of(model, moved))} side"
    return Refit(moved, how)


def region_refitted(model: Model, was: AnyCut, now: AnyCut, frame: ModelFrame, region: Region) -> Region:
    """A region of a drawing (`was`) in the drawing that it became in another model (`now`): as large as it was, its
    middle in the same share of the cutting line and of the building's height, or of a plan's bounds. It has no anchors.
    """
    left, base, right, top = region.bounds
    u, v = (left + right) / 2, (base + top) / 2
    place = _Placer(frame, ModelFrame.of(model))
    if isinstance(was, PlanCut):
        x, y = place.ground((u, v))
    elif isinstance(was, SectionCut | ElevationCut) and isinstance(now, SectionCut | ElevationCut):
        x, y = u * _length(now.line) / max(_length(was.line), LEAST), place.height(v)
    else:
        x, y = u, v
    return region.moved(x - u, y - v).model_copy(update={"u": None, "v": None})


def _length(line: tuple[Place, ...]) -> float:
    return sum(math.dist(a, b) for a, b in pairwise(line))


def _plan(model: Model, cut: PlanCut, frame: ModelFrame) -> Refit:
    old = next((s for s in frame.storeys if s.guid == cut.storey), None)
    if old is None or not model.storeys:
        return Refit(None, "this model has no storeys" if old is not None else "its storey was lost already")
    named = next((s for s in model.storeys if _same_name(s.name, old.name)), None)
    if named is not None:
        return Refit(_at(cut, named), f"storey of the same name, {named.name}")
    above = _rank(frame.storeys, old.guid)
    alike = next((s for s in model.storeys if _rank(model.storeys, s.guid) == above), None)
    if alike is None:
        where = f"{above} above" if above > 0 else f"{-above} below"
        return Refit(None, f"there is no storey {where} the ground floor")
    return Refit(_at(cut, alike), f"{alike.name} in the place of {old.name}")


def _same_name(one: str, other: str) -> bool:
    return unicodedata.normalize("NFC", one).casefold() == unicodedata.normalize("NFC", other).casefold()


def _at(cut: PlanCut, storey: Storey) -> PlanCut:
    return cut.model_copy(update={"storey": storey.guid, "extents": Extents()})


def _rank(storeys: Sequence[StoreyFrame | Storey], guid: str) -> int:
    """How many storeys above the one nearest to the datum."""
    ordered = sorted(storeys, key=lambda s: s.elevation)
    ground = min(range(len(ordered)), key=lambda k: abs(ordered[k].elevation))
    return next(k for k, s in enumerate(ordered) if s.guid == guid) - ground


class _Placer:
    """From places in one model to places in another. Within the bounds shares are kept, outside them distances; where
    one building is long the other way, all is turned by a right angle."""

    def __init__(self, old: ModelFrame, new: ModelFrame) -> None:
        self.old, self.new = old, new
        self.turned = old.long_axis != new.long_axis

    def ground(self, p: Place) -> Place:
        x, y = self._share(p[0], 0), self._share(p[1], 1)
        if self.turned:
            x, y = (1.0 - y[0], -y[1]), x
        return self._place(x, 0), self._place(y, 1)

    def point(self, p: tuple[float, float, float]) -> tuple[float, float, float]:
        x, y = self.ground((p[0], p[1]))
        return x, y, self.height(p[2])

    def height(self, z: float) -> float:
        return self._place(self._share(z, 2), 2)

    def direction(self, d: tuple[float, float, float]) -> tuple[float, float, float]:
        return (-d[1], d[0], d[2]) if self.turned else d

    def length(self, size: float, along: tuple[float, float]) -> float:
        """A length in the direction `along` (of the new model): in the same share of the building."""
        far = math.hypot(*along) or 1.0
        share = [abs(a) / far for a in along]
        axis = 0 if share[0] > share[1] else 1
        if min(share) > NEAR:
            return size
        before = 1 - axis if self.turned else axis
        was, now = self.old.high[before] - self.old.low[before], self.new.high[axis] - self.new.low[axis]
        return round(size * now / was, 2) if was > 0 else size

    def _share(self, value: float, axis: int) -> tuple[float, float]:
        """A share of the bounds (0 to 1), and a distance beyond them."""
        low, high = self.old.low[axis], self.old.high[axis]
        inside = min(max(value, low), high)
        return ((inside - low) / (high - low) if high > low else 0.5), value - inside

    def _place(self, share: tuple[float, float], axis: int) -> float:
        low, high = self.new.low[axis], self.new.high[axis]
        return round(low + share[0] * (high - low) + share[1], TIDY)


def _extents(extents: Extents, place: _Placer) -> Extents:
    """Base and top in the same share of the height; sides are open, as lines are of other lengths there. Of a wall
    section, whose line is about as long everywhere, they are kept."""
    base, top = (None if v is None else place.height(v) for v in (extents.base, extents.top))
    return Extents(base=base, top=top) if base is None or top is None or top > base else Extents()
