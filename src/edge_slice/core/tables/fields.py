"""The fields that rows of each kind have, with their units."""

from __future__ import annotations

from typing import Literal, NamedTuple

from edge_slice.core.tables.documents import Kind, TableColumn, TableOrder, TableSpec

Unit = Literal["", "number", "length", "area", "volume", "height"]


class RowField(NamedTuple):
    """What a column of it is headed by, and its unit; "" for texts."""

    head: str
    unit: Unit = ""


_ELEMENT = {
    "name": RowField("Name"), "storey": RowField("Storey"), "material": RowField("Material"),
    "count": RowField("Number", "number"),
}  # fmt: skip
_OPENING = {
    "mark": RowField("Mark"), **_ELEMENT, "type": RowField("Type"), "width": RowField("Width", "length"),
    "height": RowField("Height", "length"), "sill": RowField("Sill", "length"), "head": RowField("Head", "length"),
    "area": RowField("Area", "area"), "wall": RowField("In wall"), "thickness": RowField("Wall thickness", "length"),
}  # fmt: skip
_ROOM = {
    "number": RowField("No."), "name": RowField("Room"), "storey": RowField("Storey"), "area": RowField("Area", "area"),
}  # fmt: skip
FIELDS: dict[Kind, dict[str, RowField]] = {
    "doors": {**_OPENING, "opens": RowField("Opens")},
    "windows": _OPENING,
    "openings": {"kind": RowField("Kind"), **_OPENING},
    "rooms": {
        **_ROOM, "perimeter": RowField("Perimeter", "length"), "height": RowField("Clear height", "length"),
        "level": RowField("Floor level", "height"), "volume": RowField("Volume", "volume"),
        "count": RowField("Number", "number"),
    },
    "finishes": {**_ROOM, "floor": RowField("Floor"), "walls": RowField("Walls"), "ceiling": RowField("Ceiling")},
    "walls": {
        **_ELEMENT, "build_up": RowField("Build-up"), "thickness": RowField("Thickness", "length"),
        "length": RowField("Length", "length"), "height": RowField("Height", "length"),
        "net_area": RowField("Net area", "area"), "gross_area": RowField("Gross area", "area"),
        "volume": RowField("Volume", "volume"),
    },
    "layers": {
        "build_up": RowField("Build-up"), "layer": RowField("Layer", "number"), "material": RowField("Material"),
        "kind": RowField("Of"), "thickness": RowField("Thickness", "length"), "area": RowField("Area", "area"),
        "volume": RowField("Volume", "volume"), "count": RowField("In elements", "number"),
    },
    "materials": {
        "name": RowField("Material"), "count": RowField("In elements", "number"),
        "volume": RowField("Volume", "volume"), "kinds": RowField("Used in"),
    },
    "elements": {
        **_ELEMENT, "build_up": RowField("Build-up"), "length": RowField("Length", "length"),
        "width": RowField("Width", "length"), "height": RowField("Height", "length"),
        "top": RowField("Top", "height"), "foot": RowField("Foot", "height"),
        "area": RowField("Footprint", "area"), "volume": RowField("Volume", "volume"),
    },
    "sheets": {
        "number": RowField("No."), "title": RowField("Title"), "size": RowField("Size"), "folder": RowField("Folder"),
        "revision": RowField("Rev."), "drawings": RowField("Drawings", "number"),
    },
    "drawings": {
        "number": RowField("No."), "title": RowField("Drawing"), "kind": RowField("Kind"), "scale": RowField("Scale"),
    },
    "corrections": {
        "number": RowField("No.", "number"), "name": RowField("Of"), "what": RowField("What shall be"),
        "reason": RowField("Because"), "state": RowField("State"), "elements": RowField("Elements", "number"),
        "author": RowField("By"), "asked": RowField("Asked on"), "answer": RowField("Answer"),
    },
}  # fmt: skip
DECIMALS: dict[Unit, int] = {"": 2, "number": 0, "length": 0, "area": 2, "volume": 2, "height": 3}
PICTURED: tuple[Kind, ...] = ("doors", "windows", "openings", "elements", "walls")

_FIRST: dict[Kind, tuple[str, ...]] = {
    "doors": ("mark", "name", "storey", "width", "height", "opens", "wall", "count"),
    "windows": ("mark", "name", "storey", "width", "height", "sill", "wall", "count"),
    "openings": ("kind", "mark", "name", "storey", "width", "height", "sill", "head", "area"),
    "rooms": ("number", "name", "storey", "area", "perimeter", "height", "volume"),
    "finishes": ("number", "name", "floor", "walls", "ceiling", "area"),
    "walls": ("build_up", "name", "storey", "thickness", "length", "net_area", "gross_area", "volume"),
    "layers": ("build_up", "layer", "material", "thickness", "area", "volume", "count"),
    "materials": ("name", "kinds", "count", "volume"),
    "elements": ("name", "storey", "material", "length", "volume", "count"),
    "sheets": ("number", "title", "size", "folder", "revision"),
    "drawings": ("number", "title", "kind", "scale"),
    "corrections": ("number", "name", "what", "reason", "state", "asked"),
}
_GROUPS: dict[Kind, tuple[str, ...]] = {
    "rooms": ("storey",), "walls": ("build_up",), "layers": ("build_up",), "sheets": ("folder",),
}  # fmt: skip
LISTED: tuple[Kind, ...] = ("sheets", "drawings", "corrections")  # of the project, not of its model; in its own order
_SUMMED: tuple[Unit, ...] = ("number", "area", "volume")
_NO_SUM: dict[Kind, tuple[str, ...]] = {
    "layers": ("layer", "count", "area"),
    "materials": ("count",),
    "corrections": ("number",),
}


def usual_table(name: str, kind: Kind, of: str = "") -> TableSpec:
    """A table of a kind as most people want it."""
    fields = FIELDS[kind]
    columns = []
    for key in _FIRST[kind]:
        summed = fields[key].unit in _SUMMED and key not in _NO_SUM.get(kind, ())
        columns.append(TableColumn(key=key, head=fields[key].head, name=key, total="sum" if summed else "none"))
    if kind in ("doors", "windows"):
        columns.insert(1, TableColumn(key="picture", head="Front", shows="picture", name="front"))
    order = () if kind in LISTED else (TableOrder(column=columns[0].key),)  # the register's own
    return TableSpec(name=name, kind=kind, of=of, columns=tuple(columns), groups=_GROUPS.get(kind, ()), order=order)
