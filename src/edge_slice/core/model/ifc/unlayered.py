"""What a file says of layers and materials that can't be drawn as it says, each with what is drawn instead."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import ifcopenshell.util.element
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Element
from edge_slice.core.model.ifc.materials import constituent_layers, layers_of

F64 = NDArray[np.float64]
LAYERED = ("IfcWall", "IfcSlab", "IfcRoof", "IfcCovering", "IfcPlate", "IfcFooting")
MOST_NAMED = 3  # elements in one line


def layer_problems(products: Sequence[Any], made: Mapping[str, tuple[Element, F64]], scale: float) -> list[str]:
    """Of products those whose layers or materials are not drawn as the file says; `made`: the element of each GlobalId
    with its corners (n, 3), metres; `scale`: metres of the file's unit."""
    unlike: dict[tuple[int, int], list[str]] = {}
    flat: dict[str, list[str]] = {}
    mixed: dict[int, list[str]] = {}
    for product in products:
        if str(product.GlobalId) not in made or not any(product.is_a(kind) for kind in LAYERED):
            continue
        element, corners = made[str(product.GlobalId)]
        label = f"“{product.Name or product.GlobalId}”"
        material = ifcopenshell.util.element.get_material(product, should_inherit=True)
        layers = list(_layer_rows(product, material))
        for name, thickness in layers:
            if not thickness > 0:
                flat.setdefault(name, []).append(label)
        thick = [round(thickness * scale * 1000.0) for _, thickness in layers if thickness > 0]
        if len(thick) > 1 and element.build_up < 0:
            unlike.setdefault((sum(thick), _thickness(product, element, corners)), []).append(label)
        elif element.material < 0 and material is not None and material.is_a("IfcMaterialList"):
            mixed.setdefault(len(material.Materials), []).append(label)
    found = [
        f"{_named(labels)} {_is(labels)} drawn without layers: these add up to {total} mm, the body is {body} mm thick"
        for (total, body), labels in unlike.items()
    ]
    found += [
        f"The layer “{name}” of {_named(labels)} has no thickness and is left out" for name, labels in flat.items()
    ]
    return found + [
        f"{_named(labels)} {_is(labels)} drawn by kind alone: of {count} materials nothing says what is of which"
        for count, labels in mixed.items()
    ]


def _layer_rows(product: Any, material: Any) -> Iterator[tuple[str, float]]:
    """The layers that the file says, with their thickness in its unit."""
    if material is None:
        return
    if material.is_a("IfcMaterialLayerSetUsage"):
        material = material.ForLayerSet
    if material.is_a("IfcMaterialLayerSet"):
        yield from layers_of(material)
    elif material.is_a("IfcMaterialConstituentSet"):
        rows = constituent_layers(product, material)
        yield from rows.layers if rows is not None else ()


def _thickness(product: Any, element: Element, corners: F64) -> int:
    """Of a body across its layers, mm: along a wall's own y axis, upwards of anything else."""
    across = np.array((0.0, 0.0, 1.0))
    if product.is_a("IfcWall") and element.placement is not None:
        across = np.array(element.placement.y)
    return round(float(np.ptp(corners @ across)) * 1000.0)


def _named(labels: list[str]) -> str:
    more = len(labels) - MOST_NAMED
    return ", ".join(labels[:MOST_NAMED]) + (f" and {more} more" if more > 0 else "")


def _is(labels: list[str]) -> str:
    return "is" if len(labels) == 1 else "are"
