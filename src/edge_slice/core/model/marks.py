"""What a file numbers doors and windows by, and what it calls their type."""

from __future__ import annotations

import re

from edge_slice.core.model.building import Element

MARKS = ("Mark", "Tag", "Number")  # what files call the mark of a door, after their set's name
TYPES = ("Type", "Reference")  # the type of a product is its reference (ISO 16739, common property sets)
MARKED = re.compile(r"[A-Za-z]{1,4}[-.]?[0-9]{1,4}[A-Za-z]?\b")  # with which many names begin: D06, F-12b


def element_mark(element: Element) -> str:
    """The mark of a door or window: a property of the file, else what its name begins with; empty for none."""
    found = MARKED.match(element.name)
    return _ending(element, MARKS) or (found[0] if found else "")


def element_type(element: Element) -> str:
    """The type that the file says; empty for none."""
    return _ending(element, TYPES)


def _ending(element: Element, names: tuple[str, ...]) -> str:
    """The first property of one of these names, in whichever set."""
    for name in names:
        for key, value in element.properties:
            if key.rpartition(": ")[2] == name and value:
                return value
    return ""
