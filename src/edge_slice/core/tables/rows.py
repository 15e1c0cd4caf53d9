"""The rows of tables, by kind."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely

from edge_slice.core.model import Element, Model, Space
from edge_slice.core.model.marks import element_mark, element_type
from edge_slice.core.tables.documents import Kind, TableSpec
from edge_slice.core.tables.formulas import Value
from edge_slice.core.tables.places import Places
from edge_slice.core.tables.quantities import Disagreement, Quantities, disagreements, quantities_of, volumes_said


@dataclass(frozen=True)
class TableRow:
    """`target`: what a row is of, "element:" and a GlobalId, and so on; `fields` by their key, in metres, m², m³;
    `level`: of its storey, metres, by which storeys are sorted."""

    target: str
    fields: dict[str, Value]
    properties: dict[str, str] = field(default_factory=dict)
    level: float = 0.0


class Measured:
    """A model with what tables need of it, each found when it is asked for first."""

    def __init__(self, model: Model) -> None:
        self.model = model
        self.places = Places(model)
        self._rows: dict[tuple[Kind, str], list[TableRow]] = {}

    @cached_property
    def quantities(self) -> Quantities:
        return quantities_of(self.model)

    @cached_property
    def disagreements(self) -> list[Disagreement]:
        """Where the file says other volumes than its bodies have; nothing is measured where it says none."""
        said = volumes_said(self.model)
        return disagreements(self.model, said, self.quantities) if said else []

    def rows(self, spec: TableSpec) -> list[TableRow]:
        """Of a table of elements, rooms or materials; those of sheets and drawings are the project's."""
        which = (spec.kind, spec.of)
        if which not in self._rows:
            self._rows[which] = _ROWS[spec.kind](self, spec)
        return self._rows[which]

    def level_of(self, of: Element | Space) -> float:
        """The level of its storey, metres; of what stands in none the lowest."""
        return self.model.storeys[of.storey].elevation if of.storey >= 0 else -1e9

    def materials_named(self, indices: list[int]) -> str:
        return ", ".join(self.model.materials[k].name for k in indices)


def _elements(kinds: tuple[str, ...]) -> Callable[[Measured, TableSpec], list[TableRow]]:
    def rows(measured: Measured, spec: TableSpec) -> list[TableRow]:
        wanted = kinds or (spec.of,)
        made = _opening if kinds in (("door",), ("window",), ("door", "window")) else _element
        return [
            TableRow(f"element:{e.guid}", made(measured, k, e), dict(e.properties), measured.level_of(e))
            for k, e in enumerate(measured.model.elements)
            if e.kind in wanted and np.isfinite(measured.model.boxes[k, 0, 0])
        ]

    return rows


def _common(measured: Measured, e: Element) -> dict[str, Value]:
    model = measured.model
    return {
        "name": e.name,
        "kind": e.kind,
        "storey": model.storeys[e.storey].name if e.storey >= 0 else "",
        "material": model.materials[e.material].name if e.material >= 0 else "",
        "build_up": model.build_ups[e.build_up].name if e.build_up >= 0 else "",
        "count": 1.0,
    }


def _opening(measured: Measured, k: int, e: Element) -> dict[str, Value]:
    at = measured.places.openings[k]
    wall = measured.model.elements[at.wall] if at.wall >= 0 else None
    return _common(measured, e) | {
        "mark": element_mark(e),
        "type": element_type(e),
        "width": at.width,
        "height": at.height,
        "sill": at.sill,
        "head": at.sill + at.height,
        "area": at.width * at.height,
        "opens": e.operation.replace("ROLLINGUP", "ROLLING_UP").replace("_", " ").lower(),
        "wall": wall.name if wall is not None else "",
        "thickness": _thickness(measured, at.wall) if wall is not None else None,
    }


def _thickness(measured: Measured, k: int) -> float | None:
    e, model = measured.model.elements[k], measured.model
    if e.build_up >= 0:
        return model.build_ups[e.build_up].thickness
    low, high = model.boxes[k]
    return float(min(high[0] - low[0], high[1] - low[1]))


def _element(measured: Measured, k: int, e: Element) -> dict[str, Value]:
    model = measured.model
    low, high = model.boxes[k]
    long, wide = _sides(model, k)
    return _common(measured, e) | {
        "length": long,
        "width": wide,
        "height": float(high[2] - low[2]),
        "foot": float(low[2]),
        "top": float(high[2]),
        "area": float(model.footprint(k).area),
        "volume": _known(float(measured.quantities.volume[k])),
    }


def _known(value: float) -> float | None:
    return None if np.isnan(value) else value


def _sides(model: Model, k: int) -> tuple[float, float]:
    """The sides of the smallest rectangle round an element on plan, the longer first, metres."""
    box = shapely.minimum_rotated_rectangle(model.footprint(k))
    if box.geom_type != "Polygon":
        return float(box.length), 0.0
    corners = np.asarray(box.exterior.coords)
    a, b = (float(np.hypot(*(corners[n + 1] - corners[n]))) for n in (0, 1))
    return max(a, b), min(a, b)


def _walls(measured: Measured, spec: TableSpec) -> list[TableRow]:
    found = []
    for k, e in enumerate(measured.model.elements):
        if e.kind != "wall" or not np.isfinite(measured.model.boxes[k, 0, 0]):
            continue
        thickness, fields = _thickness(measured, k), _element(measured, k, e)
        volume = fields["volume"]
        net = volume / thickness if isinstance(volume, float) and thickness else None
        openings = measured.places.openings
        holes = sum(openings[n].width * openings[n].height for n in measured.places.openings_in.get(k, ()))
        more: dict[str, Value] = {
            "build_up": fields["build_up"] or fields["material"] or "",
            "thickness": thickness,
            "net_area": net,
            "gross_area": None if net is None else net + holes,
        }
        found.append(TableRow(f"element:{e.guid}", fields | more, dict(e.properties), measured.level_of(e)))
    return found


def _layers(measured: Measured, spec: TableSpec) -> list[TableRow]:
    model = measured.model
    users: dict[int, list[int]] = {}
    for k, e in enumerate(model.elements):
        if e.build_up >= 0:
            users.setdefault(e.build_up, []).append(k)
    found = []
    for number, elements in sorted(users.items(), key=lambda pair: model.build_ups[pair[0]].name):
        build_up = model.build_ups[number]
        known = [measured.quantities.layers.get(k) for k in elements]
        for n, layer in enumerate(build_up.layers):
            volumes = [float(one[n]) for one in known if one is not None]
            volume = sum(volumes) if len(volumes) == len(known) else None
            fields: dict[str, Value] = {
                "build_up": build_up.name,
                "layer": float(n + 1),
                "material": model.materials[layer.material].name if layer.material >= 0 else "",
                "kind": ", ".join(sorted({model.elements[k].kind for k in elements})),
                "thickness": layer.thickness,
                "area": volume / layer.thickness if volume is not None and layer.thickness > 0 else None,
                "volume": volume,
                "count": float(len(elements)),
            }
            found.append(TableRow(f"layer:{build_up.name}:{n + 1}", fields))
    return found


def _materials(measured: Measured, spec: TableSpec) -> list[TableRow]:
    model = measured.model
    found = []
    for number, material in enumerate(model.materials):
        mine = [k for (k, of) in measured.quantities.parts if of == number]
        if mine:
            fields: dict[str, Value] = {
                "name": material.name,
                "count": float(len(mine)),
                "kinds": ", ".join(sorted({model.elements[k].kind for k in mine})),
                "volume": sum(measured.quantities.parts[k, number] for k in mine),
            }
            found.append(TableRow(f"material:{material.name}", fields))
    return found


def _room(measured: Measured, room: Space) -> dict[str, Value]:
    outline = shapely.Polygon(room.outline)
    high = room.ceiling - room.floor
    return {
        "number": room.number,
        "name": room.name or room.number,
        "storey": measured.model.storeys[room.storey].name if room.storey >= 0 else "",
        "area": float(outline.area),
        "perimeter": float(outline.length),
        "height": high,
        "level": room.floor,
        "volume": float(outline.area) * high,
        "count": 1.0,
    }


def _rooms(measured: Measured, spec: TableSpec) -> list[TableRow]:
    return [
        TableRow(f"room:{r.guid}", _room(measured, r), dict(r.properties), measured.level_of(r))
        for r in measured.model.spaces
    ]


def _finishes(measured: Measured, spec: TableSpec) -> list[TableRow]:
    found = []
    for room in measured.model.spaces:
        floor, walls, ceiling = (measured.materials_named(of) for of in measured.places.surfaces(room))
        fields = _room(measured, room) | {"floor": floor, "walls": walls, "ceiling": ceiling}
        found.append(TableRow(f"room:{room.guid}", fields, dict(room.properties), measured.level_of(room)))
    return found


_ROWS: dict[Kind, Callable[[Measured, TableSpec], list[TableRow]]] = {
    "doors": _elements(("door",)),
    "windows": _elements(("window",)),
    "openings": _elements(("door", "window")),
    "elements": _elements(()),
    "rooms": _rooms,
    "finishes": _finishes,
    "walls": _walls,
    "layers": _layers,
    "materials": _materials,
}
