"""Where remarks are: in the model, in drawings and on sheets."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray
from sqlmodel import Session

from edge_slice.app.review.documents import PinOut, State
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.cut import BlankCut, ImpossibleCut
from edge_slice.core.cut.planes.leaves import Leaf, leaves_of
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import Opening
from edge_slice.core.drawing.display import Box
from edge_slice.core.model import Model
from edge_slice.core.project.sheets import scale_of
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, Placement, Sheet

F64 = NDArray[np.float64]
Spot = tuple[float, float]
BEFORE = 300.0  # mm before a cut in which what was remarked there still shows: a wall is as thick


class Places:
    """Where the remarks of a project are, for one transaction: how each drawing is cut and lies on paper is found once.
    Places of drawings are mm of the building in their axes, those of sheets mm on paper."""

    def __init__(self, session: Session, project_id: int) -> None:
        self.around = SheetsAround(session, project_id)
        self.drawings, self.source = self.around.drawn_as, self.around.source
        self._planes: dict[int, tuple[Model, Sequence[Leaf]]] = {}
        self._laid: dict[int, Fold | Opening] = {}

    def planes(self, row: Drawing) -> tuple[Model, Sequence[Leaf]]:
        """What a drawing is cut by; no plane where it is a view of an eye, or has nothing of the model in it."""
        number = row.id or 0
        if number not in self._planes:
            self._planes[number] = self._found_planes(row)
        return self._planes[number]

    def _found_planes(self, row: Drawing) -> tuple[Model, Sequence[Leaf]]:
        cut = self.drawings.followed.cut_of(row)
        if isinstance(cut, BlankCut) or getattr(cut, "perspective", None) is not None:
            return self.source.model, ()
        try:
            return self.source.model, leaves_of(self.source.model, cut)
        except ImpossibleCut:
            return self.source.model, ()

    def laid(self, row: Drawing) -> Fold | Opening:
        number = row.id or 0
        if number not in self._laid:
            self._laid[number] = self.drawings.laid(row)
        return self._laid[number]

    def in_model(self, row: Drawing, at: Spot) -> list[float] | None:
        """The place of the model, as surveyed, in the plane of a drawing's cut; None where it has none."""
        model, leaves = self.planes(row)
        if not leaves:
            return None
        leaf = min(leaves, key=lambda one: max(one.window[0] - at[0], at[0] - one.window[2]))
        point = leaf.axes.to_model(np.array([at]))[0] + np.array(model.origin)
        return [round(float(x), 4) for x in point]

    def in_drawing(self, row: Drawing, remark: Remark) -> Spot | None:
        """Where a drawing shows the place of a remark; in the one that it was made in also where that does not look so
        far any more. None where it does not show."""
        place, point = remark.place, remark.place.get("point")
        own = drawing_of_place(place)
        mine = own is not None and own["drawing"] == row.id
        if point is None:
            return (own["at"][0], own["at"][1]) if own is not None and mine else None
        model, leaves = self.planes(row)
        for leaf in leaves:
            u, v, w = leaf.axes.to_drawing(np.array([point]) - np.array(model.origin))[0].tolist()
            left, base, right, top = leaf.window
            if left <= u <= right and base <= v <= top and (mine or -BEFORE <= w <= leaf.far):
                return round(u, 2), round(v, 2)
        return None

    def pin_in(self, row: Drawing, remark: Remark) -> PinOut | None:
        """A remark as a drawing shows it."""
        at, own = self.in_drawing(row, remark), drawing_of_place(remark.place)
        if at is None:
            return None
        mine = own is not None and own["drawing"] == row.id
        larger = 1.0 if "drawing" in remark.place else scale_of(row)  # a sketch on a sheet is mm on paper
        return _pin(remark, at, sketch_about(remark, at, larger) if mine else [])

    def pins_on(self, sheet: Sheet, remark: Remark) -> list[PinOut]:
        """A remark as a sheet shows it: in its drawings, and where it was put on the paper itself."""
        found, told, place, own = [], False, remark.place, drawing_of_place(remark.place)
        for placed in self.around.on(sheet):
            if (at := self._on_placement(placed, remark)) is None:
                continue
            mine = own is not None and own["drawing"] == placed.drawing_id
            larger = 1 / scale_of(self.around.drawings[placed.drawing_id]) if "drawing" in place else 1.0
            found.append(_pin(remark, at, sketch_about(remark, at, larger) if mine else []))
            told = told or mine
        if place.get("sheet") == sheet.id and not told:  # its drawing is not there, or does not show the place any more
            at = (place["at"][0], place["at"][1])
            found.append(_pin(remark, at, sketch_about(remark, at, 1.0)))
        return found

    def _on_placement(self, placed: Placement, remark: Remark) -> Spot | None:
        row = self.around.drawings[placed.drawing_id]
        at = self.in_drawing(row, remark)
        if at is None:
            return None
        x, y = self.on_paper(row, at)
        frame = self.laid(row).frame
        x, y = x + placed.x - frame[0], y + placed.y - frame[1]
        return (round(x, 2), round(y, 2)) if within((x, y), self.around.box(placed)) else None

    def on_paper(self, row: Drawing, at: Spot) -> Spot:
        """A place of a drawing on its paper, mm."""
        x, y = self.laid(row).points(np.array([at]) / scale_of(row))[0].tolist()
        return x, y

    def under(self, sheet: Sheet, at: Spot) -> dict[str, Any]:
        """What is under a place of a sheet, as a remark keeps it: the place of the topmost drawing there, and of the
        model."""
        for placed in reversed(self.around.on(sheet)):
            if within(at, self.around.box(placed)):
                return self.in_frame(self.around.drawings[placed.drawing_id], (at[0] - placed.x, at[1] - placed.y))
        return {}

    def in_frame(self, row: Drawing, at: Spot) -> dict[str, Any]:
        """What is at a place of a drawing, mm on paper from the corner of its frame, as a remark keeps it."""
        laid, scale = self.laid(row), scale_of(row)
        u, v = (laid.unfolded(np.array([at]) + np.array(laid.frame[:2]))[0] * scale).round(2).tolist()
        point = self.in_model(row, (u, v))
        return {"on": {"drawing": row.id, "at": [u, v]}} | ({"point": point} if point is not None else {})


def within(at: Spot, box: Box) -> bool:
    return box[0] <= at[0] <= box[2] and box[1] <= at[1] <= box[3]


def drawing_of_place(place: dict[str, Any]) -> dict[str, Any] | None:
    """The drawing, and the place in it, that a remark was made in; also one on a sheet."""
    if "drawing" in place:
        return place
    found: dict[str, Any] | None = place.get("on")
    return found


def _pin(remark: Remark, at: Spot, sketch: list[list[Spot]]) -> PinOut:
    return PinOut(
        remark=remark.id or 0, number=remark.number, state=cast(State, remark.state), at=at, sketch=sketch
    )  # fmt: skip


def sketch_about(remark: Remark, at: Spot, larger: float) -> list[list[Spot]]:
    """A remark's sketch about a place."""
    (x, y), (from_x, from_y) = at, remark.place["at"]
    return [
        [(round(x + (a - from_x) * larger, 2), round(y + (b - from_y) * larger, 2)) for a, b in stroke]
        for stroke in remark.sketch
    ]
