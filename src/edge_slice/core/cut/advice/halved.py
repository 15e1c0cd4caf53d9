"""Loose things that a cut goes through: a desk sawn in half says nothing."""

from __future__ import annotations

from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.shown import LOOSE
from edge_slice.core.model import Model


def halved(model: Model, result: CutResult) -> tuple[str, ...]:
    """The loose things (GlobalIds) that have cut faces."""
    cut = {face.element for face in result.faces}
    return tuple(sorted(model.elements[e].guid for e in cut if model.elements[e].kind in LOOSE))
