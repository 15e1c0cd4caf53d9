"""Loaded by what readers are forked from: reads two small bodies, so that what is compiled of reading is in memory when
a file comes, and isn't loaded for each anew."""

from __future__ import annotations

import edge_slice.app.jobs  # noqa: F401 - all that a reader needs, as the worker's main module loads it
from edge_slice.core.model.mesh.bodies import box, model_of_bodies
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes


def read_once() -> None:
    """Two boxes that pass through each other and have a side in one line, made a model, kept and read again."""
    bodies = [("wall", "", *box((0, 0, 0), (4, 0.3, 3))), ("slab", "", *box((0, 0, -0.2), (5, 5, 0.1)))]
    model_from_bytes(model_to_bytes(model_of_bodies("ready", bodies))).boxes  # noqa: B018


read_once()
