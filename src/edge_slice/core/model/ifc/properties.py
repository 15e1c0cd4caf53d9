"""What an IFC file says of its elements in property sets and quantities."""

from __future__ import annotations

from typing import Any

import ifcopenshell.util.element

MOST = 120  # of one element
LONGEST = 200  # characters of a value


def properties_of(product: Any) -> tuple[tuple[str, str], ...]:
    """Names ("set: name") and values of the properties and quantities of an element, those of its type included; in the
    order of their names. Values that are no plain ones are left out."""
    found = []
    for set_name, properties in ifcopenshell.util.element.get_psets(product).items():
        for name, value in properties.items():
            text = _text(value)
            if name != "id" and text:
                found.append((f"{set_name}: {name}", text[:LONGEST]))
    return tuple(sorted(found)[:MOST])


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.6g}"
    if isinstance(value, list | tuple):
        return ", ".join(filter(None, (_text(v) for v in value)))
    return str(value).strip() if isinstance(value, str | int) else ""
