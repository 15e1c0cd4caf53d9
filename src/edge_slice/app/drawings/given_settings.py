"""Settings of one drawing, given to several."""

from __future__ import annotations

from typing import Any

from edge_slice.app.drawings.documents import DrawingOut, SettingsGiven
from edge_slice.app.drawings.lineage import drawings_out
from edge_slice.app.errors import NotFound
from edge_slice.app.row_lookup import held_row
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.project.followed import CUT
from edge_slice.store.changes import recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing

UPRIGHT = {"section", "elevation", "interior elevation"}  # whose base and top are heights
SHOWS = ("without", "left_out", "whole", "shown_set", "hidden", "glass")


def give(drawing_id: int, given: SettingsGiven, author: str) -> list[DrawingOut]:
    """Give parts of a drawing's settings to others, in one act. Where one can't have a part (a depth for each leg of a
    line), the rest is given."""
    with transaction() as session:
        source = held_row(session, Drawing, drawing_id)
        rows = []
        with recorded(session, source.project_id, "give settings", author) as act:
            for number in dict.fromkeys(given.to):
                row = session.get(Drawing, number, populate_existing=True)
                if row is None or row.project_id != source.project_id:
                    raise NotFound("One of the drawings is not there any more.")
                if number == drawing_id:
                    continue
                act.edits(row)
                row.cut = _cut(source.cut, row.cut, set(given.parts))
                if row.callout is not None and "depth" in given.parts:
                    row.callout = {**row.callout, "own_depth": True}
                row.style = _style(source.style, row.style, set(given.parts))
                session.add(row)
                rows.append(row)
        return drawings_out(session, rows)


def _cut(source: dict[str, Any], own: dict[str, Any], parts: set[str]) -> dict[str, Any]:
    cut = dict(own)
    if "shows" in parts:
        cut |= {key: source[key] for key in SHOWS if key in source}
    if "depth" in parts:
        cut["depth"] = source.get("depth")
        if "depths" in cut:
            cut["depths"] = []
    if "base and top" in parts and {source["kind"], own["kind"]} <= UPRIGHT:
        extents = {key: source["extents"].get(key) for key in ("base", "top")}
        cut["extents"] = {**cut["extents"], **extents}
    return CUT.validate_python(cut).model_dump(mode="json")


def _style(source: dict[str, Any], own: dict[str, Any], parts: set[str]) -> dict[str, Any]:
    style = dict(own)
    if "graphics" in parts:
        style = {**source, "scale": own["scale"]}
    if "scale" in parts:
        style["scale"] = source["scale"]
    return DrawingSpec.model_validate(style).model_dump(mode="json")
