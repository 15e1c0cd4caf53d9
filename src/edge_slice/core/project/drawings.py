"""The drawings of a project as they are printed: with markers, callouts, annotations, titles."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property

import numpy as np

from edge_slice.core.annotating.compose import with_annotations
from edge_slice.core.cut import AnyCut, UprightCut
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.drawing import DisplayList, DrawingSpec, Marker
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.annotations.crossings import Crossings, Marked
from edge_slice.core.drawing.annotations.surroundings import Surroundings
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import Opening
from edge_slice.core.drawing.display import Box, Label
from edge_slice.core.drawing.spec import MarkerStyle
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.project.boards import Stood, board_of, shape_of
from edge_slice.core.project.called_out import Callouts, title_of
from edge_slice.core.project.drawn import composed_view, drawn_strips, with_strips
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.naming import mark_of, place_of
from edge_slice.core.project.shown import saved
from edge_slice.core.project.source import DrawingRow, Placed, Source
from edge_slice.core.project.strips import laid_out, strips_in
from edge_slice.core.sheet.arranging import TITLE_ROOM, USUAL_ROOM, Wanted
from edge_slice.core.sheet.guides import origin_of

AIR = 5.0  # mm between what stands around drawings


class Drawings:
    """What drawings depend on is read once for all of them; for as long as nothing of the project changes. `followed`,
    `homes`: where they are known already."""

    def __init__(self, source: Source, followed: Followed | None = None, homes: Placed | None = None) -> None:
        self.source = source
        self.followed = followed or Followed(source)
        self._homes = homes

    @cached_property
    def homes(self) -> Placed:
        return self.source.homes() if self._homes is None else self._homes

    @cached_property
    def _led_from(self) -> dict[int, list[int]]:
        """The drawings whose callouts lead to a drawing that was there already, by that one."""
        found: dict[int, set[int]] = {}
        for reference in self.source.references():
            found.setdefault(reference.target_id, set()).add(reference.drawing_id)
        return {target: sorted(drawings) for target, drawings in found.items()}

    @cached_property
    def crossings(self) -> Crossings:
        """The cuts of the project with the texts of their heads: number over sheet where placed, else the letter (or
        the wind) over a dash. Drawings of one cut under one letter have one marker: of the first that is placed."""
        found: dict[object, Marked] = {}
        for row in self.source.drawings():
            cut = self.followed.cut_of(row)
            style = MarkerStyle.model_validate(row.style.get("marker", {}))
            if row.id is None or row.callout is not None or not isinstance(cut, UprightCut) or not style.shown:
                continue  # a callout has a marker of its own
            upper, lower = self.homes.get(row.id) or (mark_of(self.source.facts, row.letter, cut), "–")
            one = (row.letter, place_of(cut)) if row.letter else row.id
            if one not in found or (row.id in self.homes and found[one].drawing not in self.homes):
                found[one] = Marked(row.id, upper, lower, cut, style)
        return Crossings(list(found.values()))

    @cached_property
    def _callouts(self) -> Callouts:
        return Callouts(self.source, self.followed, self.homes)

    def markers(self, row: DrawingRow) -> tuple[Marker, ...]:
        """The markers that a drawing shows."""
        style = DrawingSpec.model_validate(row.style)
        shown = self.source.standard(style.standard).marked(style)
        cut = self.followed.cut_of(row)
        return self.crossings.on(self.followed.model_of(cut), row.id or 0, cut, shown)

    def callouts(self, row: DrawingRow) -> tuple[CalloutMark, ...]:
        """The callouts that a drawing shows."""
        return self.callouts_on(row.id, self.followed.cut_of(row), DrawingSpec.model_validate(row.style))

    def callouts_on(self, drawing: int | None, cut: AnyCut, style: DrawingSpec) -> tuple[CalloutMark, ...]:
        """The callouts that a drawing shows with this cut and style."""
        return self._callouts.on(drawing, cut, style)

    def called_from(self, row: DrawingRow) -> tuple[str, ...]:
        """The places that lead to a drawing by callouts of others: number and sheet, else the letter."""
        found = []
        for number in self._led_from.get(row.id or 0, ()):
            placed, other = self.homes.get(number), self.source.drawing(number)
            if placed is not None:
                found.append(f"{placed[0]}/{placed[1]}")
            elif other is not None:
                found.append(other.letter or self.title(other))
        return tuple(found)

    def title(self, row: DrawingRow) -> str:
        return title_of(self.source, self.followed, row)

    def laid(self, row: DrawingRow) -> Fold | Opening:
        """How a drawing stands on paper: folded at its breaks, or opened by its strips."""
        cut, style = self.followed.cut_of(row), DrawingSpec.model_validate(row.style)
        rule = self.source.standard(style.standard).breaks
        wanted = strips_in(self.source, self.followed, cut, style)
        opened = laid_out(self.followed.model_of(cut), cut, wanted, style.scale, rule).opening
        if opened is not None:
            return opened
        return Fold.of(whole_window(leaves_of(self.followed.model_of(cut), cut)), cut.extents, style.scale, rule)

    def frame_size(self, row: DrawingRow) -> tuple[float, float]:
        """Width and height of a drawing on paper, mm."""
        left, base, right, top = self.laid(row).frame
        return right - left, top - base

    def wanted(self, row: DrawingRow, titled: bool = True) -> Wanted:
        """What room a drawing wants on a sheet: its frame, and around it its title, its levels, its annotations."""
        wide, high = self.frame_size(row)
        cut, style = self.followed.cut_of(row), DrawingSpec.model_validate(row.style)
        rule = self.source.standard(style.standard).breaks
        origin = {} if style.strips else origin_of(self.followed.model_of(cut), cut, style.scale, rule)
        return Wanted(
            wide, high, self.room_around(row, titled), style.scale, origin.get("x"), origin.get("y"),
        )  # fmt: skip

    def room_around(self, row: DrawingRow, titled: bool) -> Box:
        """How far what stands around a drawing goes beyond its frame: left, base, right, top; mm."""
        usual = USUAL_ROOM if titled else (USUAL_ROOM[0], USUAL_ROOM[3], USUAL_ROOM[2], USUAL_ROOM[3])
        rows = self.source.annotations(row.id or 0)
        if not rows:
            return usual
        stood = self.board(row)
        boxes = [shape.box for one in rows if (shape := shape_of(stood, one)).shown]
        left, base, right, top = stood.board.frame
        over = [(left - b[0], base - b[1], b[2] - right, b[3] - top) for b in boxes]
        sides = [max((o[k] + AIR for o in over), default=0.0) for k in range(4)]
        below = max(sides[1] + (TITLE_ROOM if titled else 0.0), usual[1])
        return (max(sides[0], usual[0]), below, max(sides[2], usual[2]), max(sides[3], usual[3]))

    def board(self, row: DrawingRow) -> Stood:
        """A drawing that annotations stand on. Raises `Refused` where it can't be cut."""
        return board_of(self.source, self.followed, row)

    def plain(self, row: DrawingRow) -> DisplayList:
        """A drawing as it is printed, with its markers, without its annotations."""
        shown = saved(self.source, self.followed, row)
        touched = self.source.touch_ups(row.id)
        strips = drawn_strips(self.source, self.followed, shown)
        standing = (*self.standing(row), *strips.kept_clear)
        display = composed_view(shown, Surroundings(self.markers(row), self.callouts(row), touched, standing))[1]
        return with_strips(shown, display, strips)

    def standing(self, row: DrawingRow) -> tuple[Box, ...]:
        """Where words of a drawing's annotations stand, by hand or by rule, mm on paper before it opens. Raises
        `Refused` where it can't be cut."""
        rows = self.source.annotations(row.id or 0)
        if not rows or not DrawingSpec.model_validate(row.style).annotations:
            return ()
        stood = self.board(row)
        shapes = [shape for one in rows if (shape := shape_of(stood, one)).shown]
        boxes = [box_of(item) for shape in shapes for item in shape.items if isinstance(item, Label)]
        if stood.board.opening is None or not boxes:
            return tuple(boxes)
        corners = stood.board.opening.unfolded(np.array(boxes).reshape(-1, 2)).reshape(-1, 4)
        return tuple((a, b, c, d) for a, b, c, d in corners.tolist())

    def display(self, row: DrawingRow) -> DisplayList:
        """A drawing as it is printed, with its markers and annotations."""
        display = self.plain(row)
        if not DrawingSpec.model_validate(row.style).annotations:
            return display
        rows = self.source.annotations(row.id or 0)
        if not rows:
            return display
        stood = self.board(row)
        found = with_annotations(display, [shape_of(stood, r) for r in rows])
        images = tuple(replace(i, data=self.source.picture(i.name)) for i in found.images)
        return replace(found, images=images)
