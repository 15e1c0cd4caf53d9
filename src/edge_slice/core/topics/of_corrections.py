"""Corrections as topics for those whose model it is: in words, from where it is seen, with a picture of what goes and
what comes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import Extents, PlaneCut, cut_model
from edge_slice.core.drawing import DrawingSpec, DrawingStandard, compose_drawing
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.comparison import CutModel, States, compared
from edge_slice.core.drawing.measures import Lengths, length_said
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.documents import (
    BuildUpCorrection,
    CopiedElements,
    Correction,
    FaceElsewhere,
    OtherOpening,
)
from edge_slice.core.model.corrections.new_bodies import guid_of_copy
from edge_slice.core.model.corrections.new_documents import NewBody, NewThing
from edge_slice.core.model.corrections.wanted import Corrected
from edge_slice.core.model.revisions import ModelChanges, file_guid
from edge_slice.core.render.outputs import OUTPUTS, Drawn
from edge_slice.core.topics.documents import Topic, Triple, Viewpoint
from edge_slice.core.topics.words import words_of

F64 = NDArray[np.float64]
AROUND = 1.0  # metres of the building around what is shown
DETAIL = 1.2  # metres to each side of a place at which layers are shown
WIDE = 200.0  # mm of paper that a picture is wide at most
DPI = 110.0
SCALES = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0)
STEEP, LEVEL = 0.7, 0.02  # of a unit vector up, from which on it looks up; up to which it looks level
FLAT = 0.5  # of a body's lesser side on plan: one that is lower lies, and is shown in a section


@dataclass(frozen=True)
class Asking:
    """The model as its file has it and as it is corrected, what changed in between, by which standard pictures are
    drawn, and how lengths are written; `in_file` gives a place of the model as the file has it that an element (by
    number) is of."""

    before: Model
    after: Model
    changes: ModelChanges
    standard: DrawingStandard
    lengths: Lengths
    in_file: Callable[[int, Triple], Triple]

    def say(self, metres: float) -> str:
        return length_said(metres, self.lengths)


def topic_of(asking: Asking, told: Corrected, created: datetime) -> Topic:
    """A correction of which the model has elements, as a topic."""
    one = told.of
    status = one.answer.status if one.answer and one.answer.status else "Open"
    first, more = _named(asking, told)
    title, text = words_of(one, f"{first} and {more} more" if more else first, asking.say)
    return Topic(
        guid=one.topic, title=title, text=text, status=status, author=one.author, created=created,
        viewpoint=_viewpoint(asking, told), picture=picture_of_correction(asking, told),
    )  # fmt: skip


def _named(asking: Asking, told: Corrected) -> tuple[str, int]:
    """What a correction is of: the name of the first, and how many there are beside it."""
    if isinstance(told.of, NewThing):
        return told.of.name, 0
    first = asking.before.elements[told.found[0]]
    return first.name or first.kind, len(told.found) - 1


def _box(model: Model, guids: Sequence[str]) -> F64 | None:
    """The box (2, 3) around elements that have a body."""
    known = [model.element_by_guid[guid] for guid in guids if guid in model.element_by_guid]
    boxes = model.boxes[known]
    boxes = boxes[np.isfinite(boxes).all(axis=(1, 2))]
    return None if not len(boxes) else np.array([boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)])


def _comes_of(one: Correction, guid: str) -> bool:
    """Whether an element that is in no file comes of a correction."""
    if isinstance(one, CopiedElements):
        return guid in {guid_of_copy(of, by) for of in one.elements for by in one.copies}
    return isinstance(one, NewThing) and guid == one.body


def _shown(asking: Asking, told: Corrected) -> F64 | None:
    """The box (2, 3) of what a topic shows: around where elements are and shall be; of layers around the first one."""
    before, one = asking.before, told.of
    guids = [before.elements[k].guid for k in told.found]
    if isinstance(one, BuildUpCorrection):
        guids = guids[:1]
    known = {e.guid for e in before.elements}
    new = [e.guid for e in asking.after.elements if e.guid not in known and _comes_of(one, e.guid)]
    boxes = [box for box in (_box(before, guids), _box(asking.after, [*guids, *new])) if box is not None]
    if not boxes:
        return None
    return np.array([np.min([b[0] for b in boxes], axis=0), np.max([b[1] for b in boxes], axis=0)])


def _viewpoint(asking: Asking, told: Corrected) -> Viewpoint | None:
    box = _shown(asking, told)
    if box is None:
        return None
    model = asking.before
    k = next(iter(told.found), 0)  # what is in no file is asked of those whose file leads
    middle, reach = box.mean(axis=0), float(np.linalg.norm(box[1] - box[0])) + 2 * AROUND
    frame = model.elements[k].frame
    way = -np.array(frame.direction) if frame is not None and frame.radius == 0 else np.array((-0.6, -0.7, 0.0))
    looks = -(way + np.array((0.0, 0.0, 0.5)))
    if np.hypot(*looks[:2]) < 1e-3:  # straight down: from one side, so that there is an up
        looks = np.array((0.4, 0.5, -1.0))
    looks = looks / np.linalg.norm(looks)
    up = np.array((0.0, 0.0, 1.0)) - looks * looks[2]
    up = up / np.linalg.norm(up)
    zero = np.array(asking.in_file(k, (0.0, 0.0, 0.0)))

    def place(point: F64) -> Triple:
        x, y, z = point.tolist()
        return asking.in_file(k, (x, y, z))

    def along(direction: F64) -> Triple:
        x, y, z = (np.array(place(direction)) - zero).tolist()
        return x, y, z

    meant = tuple(guid for e in (model.elements[n] for n in told.found) if len(guid := file_guid(e)) == 22)
    return Viewpoint(place(middle - looks * reach), along(looks), along(up), reach, meant)


def _seen_along(one: Correction, wide: float, deep: float, high: float) -> Triple:
    """The way in which a picture of a correction cuts: square to what changes, if that is known; else what stands on
    plan, what lies in a section."""
    upright: Triple = (0.0, 1.0, 0.0) if wide >= deep else (1.0, 0.0, 0.0)
    flat: Triple = (0.0, 0.0, 1.0)
    if isinstance(one, FaceElsewhere):
        return upright if abs(one.face.looks[2]) > STEEP else flat
    if isinstance(one, OtherOpening):
        x, y, z = one.looks
        return (x, y, z) if abs(z) < LEVEL else upright
    if isinstance(one, NewBody):
        x, y, z = np.cross(one.x, one.y).tolist()
        return (x, y, z) if abs(z) < LEVEL else flat
    if isinstance(one, CopiedElements) and any(by[2] for by in one.copies):
        return upright
    return upright if high < FLAT * min(wide, deep) else flat


def picture_of_correction(asking: Asking, told: Corrected) -> bytes | None:
    """A plan of what stands, a section of what lies, over the model as its file has it."""
    box = _shown(asking, told)
    if box is None:
        return None
    middle, (wide, deep, high) = box.mean(axis=0), (box[1] - box[0]).tolist()
    normal = _seen_along(told.of, wide, deep, high)
    if abs(normal[2]) > 0.5:
        u, v = wide, deep
    else:
        u, v = abs(normal[1]) * wide + abs(normal[0]) * deep, high
    half = [side / 2 + AROUND for side in (u, v)]
    if isinstance(told.of, BuildUpCorrection):
        half = [min(side, DETAIL) for side in half]
        if abs(normal[2]) > 0.5 and max(wide, deep) > 4 * DETAIL:  # beside the middle, where there may be a door
            middle = middle + np.array((wide > deep, deep >= wide, 0.0)) * max(wide, deep) / 6
    extents = Extents(left=-half[0], right=half[0], base=-half[1], top=half[1])
    x, y, z = middle.tolist()
    cut = PlaneCut(point=(x, y, z), normal=normal, depth=1.5, extents=extents)
    scale = next((s for s in SCALES if 2000.0 * half[0] / s <= WIDE), SCALES[-1])
    standard, style = asking.standard, DrawingSpec(scale=scale)
    results = [cut_model(m, cut, standard.cut_rules(m)) for m in (asking.before, asking.after)]
    display = compose_drawing(asking.after, results[1], cut, style, standard)
    fold = Fold.of(results[1].extents, extents, scale, standard.breaks)
    states = States(CutModel(asking.before, results[0]), CutModel(asking.after, results[1]))
    found = compared(states, display, asking.changes, fold, scale)
    paper = (-half[0], -half[1], half[0], half[1])
    left, base, right, top = (side * 1000.0 / scale for side in paper)
    page = (left - 2.0, base - 2.0, right + 2.0, top + 2.0)
    return OUTPUTS["png"].file(Drawn(found.display, page, "", scale, DPI))
