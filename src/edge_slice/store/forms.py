"""The forms of kept documents: which one is written now, and how older ones are read.

Rows are brought to the newest form by migrations. What is kept beside them (the change log, starter sets) stays as it
was written, with the number of its form, and is read through `newest`.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

FORM = 4  # of what is written now
Document = dict[str, Any]

# what rows had no word for in older forms, and what they were as long as they had none
_LATER: dict[str, Document] = {
    "project": {"client": "", "lengths": "mm", "names": {}, "sheet_register": {}, "templates": {}, "checks": {}},
    "drawing": {"callout": None, "rule": ""},
    "sheet": {"design": "corner-block", "folder": "", "place": 0.0},
    "placement": {"home": True, "trim": {}, "title": {}, "stack": 0},
    "callout_reference": {"marker": {}},
}


class UnknownForm(ValueError):
    """A document of a form that only a newer Edge Slice knows."""


def _whole(table: str, document: Document) -> Document:
    return {**_LATER.get(table, {}), **document}


def _without_strips(table: str, document: Document) -> Document:
    """Strips of kept drawings named drawings of the project that they were kept from."""
    if table != "starter_set":
        return _whole(table, document)
    drawings = [d | {"style": {**d["style"], "strips": []}} for d in document["drawings"]]
    return document | {"drawings": drawings}


# from this form to the next
_STEPS: dict[int, Callable[[str, Document], Document]] = {1: _whole, 2: _whole, 3: _without_strips}


def newest(table: str, document: Document, form: int) -> Document:
    """A document of a table in the newest form. Raises `UnknownForm`."""
    if form > FORM:
        raise UnknownForm(
            f"This was written by a newer Edge Slice (form {form}; this one knows {FORM}). Update this installation."
        )
    for number in range(form, FORM):
        document = _STEPS[number](table, document)
    return document
