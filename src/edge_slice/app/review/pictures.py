"""Pictures of the places of remarks, and from where they are seen."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from sqlmodel import Session

from edge_slice.app.annotating.pictures import kept_picture
from edge_slice.app.review.documents import PinOut
from edge_slice.app.review.places import Places, Spot
from edge_slice.core.cut.planes.leaves import Leaf
from edge_slice.core.drawing.display import Box, DisplayList
from edge_slice.core.model import Model
from edge_slice.core.project.sheets import scale_of
from edge_slice.core.render.outputs import OUTPUTS, Drawn
from edge_slice.core.render.screen import from_screen
from edge_slice.core.sheet.remark_list import HIGH, WIDE
from edge_slice.core.sheet.remark_marks import Marked, marks_of
from edge_slice.core.topics.documents import Triple, Viewpoint
from edge_slice.store.blobs import read_chunks
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, IssuedSheet, Sheet

AWAY = 10.0  # metres that a view stands off
DPI = 130.0
Shown = tuple[DisplayList, PinOut]


class Pictures:
    """Where the remarks of a project are: each drawing and sheet is made once."""

    def __init__(self, session: Session, project_id: int) -> None:
        self.session = session
        self.places = Places(session, project_id)
        self._shown: dict[tuple[str, int], DisplayList] = {}

    def picture(self, row: Remark) -> bytes | None:
        """A picture (PNG) of the place of a remark, with a mark and its sketch on it; None where that is nowhere any
        more."""
        found = next(self._on_paper(row), None)
        if found is None:
            return None
        display, pin = found
        (x, y), marked = pin.at, Marked(pin.number, pin.at, pin.sketch)
        box: Box = (x - WIDE / 2, y - HIGH / 2, x + WIDE / 2, y + HIGH / 2)
        shown = replace(display, items=(*display.items, *marks_of([marked])))
        return OUTPUTS["png"].file(Drawn(shown, box, f"Remark {row.number}", None, DPI))

    def _on_paper(self, row: Remark) -> Iterator[Shown]:
        """What a remark was made on, first of all, and where it is there, mm on its paper."""
        place = row.place
        if (issued := self.session.get(IssuedSheet, place.get("issued", 0))) is not None:
            at: Spot = (place["at"][0], place["at"][1])
            pin = PinOut(remark=row.id or 0, number=row.number, state="open", at=at, sketch=_strokes(row.sketch))
            yield self._issued(issued), pin
        if (sheet := self.session.get(Sheet, place.get("sheet", 0))) is not None:
            for pin in self.places.pins_on(sheet, row):
                yield self._display("sheet", sheet), pin
        drawing = self._drawing(row)
        shown = self.places.pin_in(drawing, row) if drawing is not None else None
        if drawing is not None and shown is not None:
            yield self._display("drawing", drawing), self._on_its_paper(drawing, shown)

    def _issued(self, row: IssuedSheet) -> DisplayList:
        """A sheet as it was issued, with the pictures that are on it."""
        kept = from_screen(b"".join(read_chunks(self.session, row.screen_hash)))
        found = [(image, kept_picture(self.session, image.name)) for image in kept.images]
        return replace(kept, images=tuple(replace(image, data=data) for image, data in found if data is not None))

    def _on_its_paper(self, drawing: Drawing, pin: PinOut) -> PinOut:
        """A pin of a drawing, from mm of the building to mm on paper."""
        laid, scale = self.places.laid(drawing), scale_of(drawing)
        strokes = [_pairs(laid.points(np.array(stroke) / scale)) for stroke in pin.sketch]
        return pin.model_copy(update={"at": self.places.on_paper(drawing, pin.at), "sketch": strokes})

    def _drawing(self, row: Remark) -> Drawing | None:
        return self.session.get(Drawing, row.place.get("drawing", 0))

    def _display(self, of: str, row: Sheet | Drawing) -> DisplayList:
        key = (of, row.id or 0)
        if key not in self._shown:
            places = self.places
            self._shown[key] = (
                places.around.display(row) if isinstance(row, Sheet) else places.drawings.display(row)
            )  # fmt: skip
        return self._shown[key]

    def viewpoint(self, row: Remark) -> Viewpoint | None:
        """Square to the cut in which a remark was made, opened by it."""
        point, drawing = row.place.get("point"), self._drawing(row)
        if point is None or drawing is None:
            return None
        model, leaves = self.places.planes(drawing)
        if not leaves:
            return None
        return _seen_at(model, min(leaves, key=lambda leaf: _beside(model, leaf, point)), point)


def _strokes(sketch: Sequence[Sequence[Sequence[float]]]) -> list[list[Spot]]:
    return [[(x, y) for x, y in stroke] for stroke in sketch]


def _pairs(points: Any) -> list[Spot]:
    return [(x, y) for x, y in points.tolist()]


def _beside(model: Model, leaf: Leaf, point: Sequence[float]) -> float:
    """mm by which a place lies off a plane."""
    return abs(float(leaf.axes.to_drawing(np.array([point]) - np.array(model.origin))[0, 2]))


def _seen_at(model: Model, leaf: Leaf, point: Sequence[float]) -> Viewpoint:
    looks, up, at = leaf.axes.w, leaf.axes.v, np.array(point)
    plane = leaf.axes.origin + np.array(model.origin)
    opened = ((_triple(plane), _triple(-looks)),)
    return Viewpoint(_triple(at - looks * AWAY), _triple(looks), _triple(up), AWAY, (), opened)


def _triple(values: Any) -> Triple:
    x, y, z = (float(value) for value in values)
    return x, y, z
