"""What the cuts of saved drawings follow: shared extents, and the drawings that they are called out from."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

from pydantic import TypeAdapter

from edge_slice.core.cut import AnyCut, CutSpec, ImpossibleCut
from edge_slice.core.cut.following.callouts import Callout, Derived, Region, derived, held
from edge_slice.core.cut.following.shared_extents import ExtentsBox, boxed
from edge_slice.core.model import Model
from edge_slice.core.project.source import DrawingRow, Source
from edge_slice.core.recent import Recent

CUT: TypeAdapter[AnyCut] = TypeAdapter(CutSpec)
_derived: Recent[Derived] = Recent("derived cuts", 400)


class Followed:
    """The cuts of a project as what they follow has them; for as long as nothing of it changes."""

    def __init__(self, source: Source) -> None:
        self._source = source
        self._known: dict[tuple[int | None, int], tuple[AnyCut, str]] = {}  # by row and version

    @cached_property
    def _boxes(self) -> Mapping[str, ExtentsBox]:
        return self._source.boxes()

    @property
    def boxes_said(self) -> str:
        """Another text whenever one of the boxes is another."""
        return repr(sorted(self._boxes.items()))

    def model_of(self, cut: AnyCut) -> Model:
        """The model that a cut is made of: the project's, or that by which it is held."""
        return self._source.by(cut.held)[0].model

    def cut_of(self, row: DrawingRow) -> AnyCut:
        """The cut of a saved drawing."""
        return self.found(row)[0]

    def found(self, row: DrawingRow) -> tuple[AnyCut, str]:
        """The cut of a saved drawing, and what is wrong where it can't follow: it then is as it was last."""
        if row.callout is None:
            key = (row.id, row.version)
            if key not in self._known:
                self._known[key] = self.of(CUT.validate_python(row.cut))
            return self._known[key]
        called = self._called(row)
        return called.cut, called.finding

    def region_of(self, row: DrawingRow) -> Region | None:
        """Where the region of a callout is now in its parent's drawing; None of another drawing."""
        return None if row.callout is None else self._called(row).region

    def _called(self, row: DrawingRow) -> Derived:
        """A callout by its parent's cut; where that can't be, as it was last, and why."""
        own, callout = CUT.validate_python(row.cut), Callout.model_validate(row.callout)
        try:
            return self.derived(row, own, callout)
        except ImpossibleCut as error:
            return Derived(own, callout.region, f"{error} The callout stays as it was.")

    def has_storey(self, guid: str) -> bool:
        """Whether the model still has a storey."""
        return any(s["guid"] == guid for s in self._source.facts["storeys"])

    def held(self, parent: DrawingRow, region: Region) -> Region:
        """Where a region of a drawing is now, by what it is tied to."""
        cut = self.cut_of(parent)
        return held(self.model_of(cut), cut, region)[0]

    def derived(self, row: DrawingRow, own: AnyCut, callout: Callout) -> Derived:
        """The cut of a callout by its parent's. Raises `ImpossibleCut`."""
        parent = self._source.drawing(row.parent_id)
        if parent is None:
            raise ImpossibleCut("The drawing that this was called out from is not there any more.")
        cut = self.cut_of(parent)
        source, _ = self._source.by(cut.held)
        key = "\0".join((
            source.geometry, cut.model_dump_json(), own.model_dump_json(), callout.model_dump_json(),
        ))  # fmt: skip
        return _derived.get(key, lambda: derived(source.model, cut, own, callout))

    def of(self, cut: AnyCut) -> tuple[AnyCut, str]:
        """A cut with the extents and depth of the box it follows, and what is wrong where it can't: it then keeps those
        it has itself."""
        if not cut.shared_extents:
            return cut, ""
        box = self._boxes.get(cut.shared_extents)
        if box is None:
            return cut, "The shared extents of this drawing are not there any more; it keeps those it had."
        try:
            return boxed(self.model_of(cut), cut, box), ""
        except ImpossibleCut as error:
            return cut, f"{error} The drawing keeps the extents it had."
