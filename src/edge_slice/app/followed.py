"""What the cuts of saved drawings follow: shared extents, and the drawings that they are called out from."""

from __future__ import annotations

from functools import cached_property

from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from edge_slice.app.models import load_model, newest_revision
from edge_slice.app.recent import Recent
from edge_slice.app.rows import own_key
from edge_slice.core.cut import AnyCut, CutSpec, ImpossibleCut
from edge_slice.core.cut.callouts import Callout, Derived, Region, derived, held
from edge_slice.core.cut.shared_extents import ExtentsBox, boxed
from edge_slice.core.model import Model
from edge_slice.store.tables import Drawing, Revision, SharedExtents

CUT: TypeAdapter[AnyCut] = TypeAdapter(CutSpec)
_derived: Recent[Derived] = Recent(400)


class Followed:
    """The cuts of a project as what they follow has them, for one transaction; by its newest model, or another
    revision."""

    def __init__(self, session: Session, project_id: int, revision: Revision | None = None) -> None:
        self._session, self._project, self._asked = session, project_id, revision
        self._known: dict[tuple[int | None, int], tuple[AnyCut, str]] = {}  # by row and version

    @cached_property
    def _boxes(self) -> dict[str, ExtentsBox]:
        rows = self._session.exec(select(SharedExtents).where(col(SharedExtents.project_id) == self._project))
        return {own_key(row): ExtentsBox.model_validate(row.box) for row in rows.all()}

    @cached_property
    def _revision(self) -> Revision:
        return self._asked or newest_revision(self._session, self._project)

    @cached_property
    def _model(self) -> Model:
        return load_model(self._session, self._revision)

    @property
    def boxes_said(self) -> str:
        """Another text whenever one of the boxes is another."""
        return repr(sorted(self._boxes.items()))

    def cut_of(self, row: Drawing) -> AnyCut:
        """The cut of a saved drawing."""
        return self.found(row)[0]

    def found(self, row: Drawing) -> tuple[AnyCut, str]:
        """The cut of a saved drawing, and what is wrong where it can't follow: it then is as it was last."""
        if row.callout is None:
            key = (row.id, row.version)
            if key not in self._known:
                self._known[key] = self.of(CUT.validate_python(row.cut))
            return self._known[key]
        called = self._called(row)
        return called.cut, called.finding

    def region_of(self, row: Drawing) -> Region | None:
        """Where the region of a callout is now in its parent's drawing; None of another drawing."""
        return None if row.callout is None else self._called(row).region

    def _called(self, row: Drawing) -> Derived:
        """A callout by its parent's cut; where that can't be, as it was last, and why."""
        own, callout = CUT.validate_python(row.cut), Callout.model_validate(row.callout)
        try:
            return self.derived(row, own, callout)
        except ImpossibleCut as error:
            return Derived(own, callout.region, f"{error} The callout stays as it was.")

    def has_storey(self, guid: str) -> bool:
        """Whether the model still has a storey."""
        return any(s["guid"] == guid for s in self._revision.facts["storeys"])

    def held(self, parent: Drawing, region: Region) -> Region:
        """Where a region of a drawing is now, by what it is tied to."""
        return held(self._model, self.cut_of(parent), region)[0]

    def derived(self, row: Drawing, own: AnyCut, callout: Callout) -> Derived:
        """The cut of a callout by its parent's. Raises `ImpossibleCut`."""
        parent = self._session.get(Drawing, row.parent_id) if row.parent_id is not None else None
        if parent is None:
            raise ImpossibleCut("The drawing that this was called out from is not there any more.")
        cut = self.cut_of(parent)
        key = "\0".join((
            self._revision.geometry_hash, cut.model_dump_json(), own.model_dump_json(), callout.model_dump_json(),
        ))  # fmt: skip
        return _derived.get(key, lambda: derived(self._model, cut, own, callout))

    def of(self, cut: AnyCut) -> tuple[AnyCut, str]:
        """A cut with the extents and depth of the box it follows, and what is wrong where it can't: it then keeps those
        it has itself."""
        if not cut.shared_extents:
            return cut, ""
        box = self._boxes.get(cut.shared_extents)
        if box is None:
            return cut, "The shared extents of this drawing are not there any more; it keeps those it had."
        try:
            return boxed(self._model, cut, box), ""
        except ImpossibleCut as error:
            return cut, f"{error} The drawing keeps the extents it had."
