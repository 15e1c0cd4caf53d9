"""States of a model of several parts, one after the other: each part known by what it was before, and by no other's
GlobalIds; the whole known by the whole before it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from edge_slice.core.model.building import Model
from edge_slice.core.model.parts.places import AS_IT_IS
from edge_slice.core.model.parts.putting_together import PlacedPart, distinct, put_together
from edge_slice.core.model.revisions import ModelChanges, file_guid, revised


def as_known(
    model: Model, before: Model | None, others: Iterable[Model], key: str
) -> tuple[Model, ModelChanges | None]:
    """A part that was read, under the GlobalIds by which the part of this key `before` it was known, and none that
    `others` have; and what changed since then, None of a new one."""
    known, changes = (model, None) if before is None else revised(before, model)
    taken = {one for other in others for one in _guids(other)}
    if before is not None:
        taken -= _guids(before)  # what the project knows keeps its own
    return distinct(known, taken, f"part{key}"), changes


def whole_of(parts: Sequence[PlacedPart], before: Model) -> tuple[Model, ModelChanges]:
    """The model of all parts beside the one `before`, and what changed. One file as it is stays as it was read."""
    if len(parts) == 1 and parts[0].place == AS_IT_IS:
        return revised(before, parts[0].model)
    whole, changes = revised(before, put_together(parts, before.origin))
    known = {file_guid(e): e.guid for e in whole.elements}
    twice = tuple(replace(t, drawn=known.get(t.drawn, t.drawn)) for t in whole.twice)
    return replace(whole, twice=twice), changes


def _guids(model: Model) -> set[str]:
    return {e.guid for e in model.elements} | {s.guid for s in model.spaces}
