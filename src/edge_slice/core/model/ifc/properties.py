"""What an IFC file says of its elements in property sets and quantities."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import ifcopenshell.util.element
import ifcopenshell.util.unit

MOST = 120  # of one element
LONGEST = 200  # characters of a value


def quantity_units(file: Any, scale: float) -> dict[str, float]:
    """Metres, m² and m³ of the units in which a file says lengths, areas and volumes, by the class of quantities;
    `scale`: metres of its unit of length."""
    found = {"IfcQuantityLength": scale}
    for of, unit_type, name, power in (
        ("IfcQuantityArea", "AREAUNIT", "SQUARE_METRE", 2),
        ("IfcQuantityVolume", "VOLUMEUNIT", "CUBIC_METRE", 3),
    ):
        unit = ifcopenshell.util.unit.get_project_unit(file, unit_type)
        if unit is None:
            found[of] = scale**power
        elif unit.is_a("IfcSIUnit"):
            found[of] = float(ifcopenshell.util.unit.convert(1.0, unit.Prefix, unit.Name, None, name))
        else:
            found[of] = float(ifcopenshell.util.unit.calculate_unit_scale(file, unit_type))
    return found


def properties_of(product: Any, units: Mapping[str, float]) -> tuple[tuple[str, str], ...]:
    """Names ("set: name") and values of the properties and quantities of an element, those of its type included; in the
    order of their names, quantities in m, m² and m³. Values that are no plain ones are left out."""
    found = []
    for set_name, properties in ifcopenshell.util.element.get_psets(product, psets_only=True).items():
        for name, value in properties.items():
            text = _text(value)
            if name != "id" and text:
                found.append((f"{set_name}: {name}", text[:LONGEST]))
    for set_name, quantities in ifcopenshell.util.element.get_psets(product, qtos_only=True).items():
        classes = {q.Name: q.is_a() for q in product.file.by_id(quantities["id"]).Quantities or ()}
        for name, value in quantities.items():
            if name != "id" and isinstance(value, int | float):
                found.append((f"{set_name}: {name}", _text(value * units.get(classes.get(name, ""), 1.0))))
    return tuple(sorted(found)[:MOST])


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.6g}"
    if isinstance(value, list | tuple):
        return ", ".join(filter(None, (_text(v) for v in value)))
    return str(value).strip() if isinstance(value, str | int) else ""
