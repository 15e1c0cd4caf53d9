"""Reads IFC (ISO 16739) into a `Model`."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.util.element
import ifcopenshell.util.placement
import ifcopenshell.util.unit
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import GridAxis, MapPlace, Model, Progress, Storey
from edge_slice.core.model.errors import UnreadableModel
from edge_slice.core.model.ifc.shapes import Shapes
from edge_slice.core.model.mesh.triangles import build_mesh

FAR_AWAY = 1000.0  # metres; beyond this, coordinates are re-based
SAMPLED = 60  # elements whose places tell where the building lies


def read_ifc(
    path: Path, progress: Progress = lambda share, text: None, threads: int = 1, known: Model | None = None
) -> Model:
    """The model in an IFC2x3, IFC4 or IFC4.3 file.

    What has the same content in a `known` model, an earlier state of the same building, is taken from there; the
    coordinates are then relative to its origin, unless the building has moved too far. Else the result is the same.
    `progress` is called with a share from 0 to 1 and a word for the user; it may raise to cancel.
    Raises `UnreadableModel` when the file is no IFC file, is cut short, or holds no geometry.
    """
    progress(0.0, "Opening the file")
    file = _open(path)
    scale = float(ifcopenshell.util.unit.calculate_unit_scale(file))
    origin = _origin(file, scale, known)
    storeys = _storeys(file, scale, origin)
    reading = Shapes(file, scale, origin, {s.guid: i for i, s in enumerate(storeys)}, known)
    reading.read(progress, threads)
    if not reading.elements:
        raise UnreadableModel("The file holds no building geometry: export it with 3D bodies and try again.")
    progress(0.9, "Welding and finding edges")
    if not storeys:
        lowest = min(float(v[:, 2].min()) for v in reading.vertices)
        storeys = (Storey("lowest", "Base", round(lowest, 3)),)
    mesh = build_mesh(
        np.concatenate(reading.vertices),
        np.concatenate(reading.triangles).astype(np.int32),
        np.concatenate(reading.owner).astype(np.int32),
        np.concatenate(reading.face_material).astype(np.int32),
    )
    progress(1.0, "Read")
    return Model(
        name=_project_name(file, path),
        mesh=mesh,
        elements=tuple(reading.elements),
        materials=tuple(reading.materials.materials),
        build_ups=tuple(reading.materials.build_ups),
        storeys=storeys,
        grid=_grid(file, scale, origin),
        spaces=tuple(reading.spaces),
        origin=origin,
        north=_north(file),
        unit=_unit_name(file),
        schema=file.schema_identifier,
        leaking=tuple(int(i) for i in mesh.open_elements),
        problems=tuple(reading.problems),
        map_place=_map_place(file, scale),
    )


def check_envelope(path: Path) -> None:
    """Raise `UnreadableModel` unless the file begins and ends as a STEP physical file (ISO 10303-21)."""
    with path.open("rb") as stream:
        head = stream.read(4096)
        stream.seek(max(0, path.stat().st_size - 4096))
        tail = stream.read()
    if not head.strip():
        raise UnreadableModel("The file is empty.")
    if b"ISO-10303-21" not in head:
        raise UnreadableModel("This is not an IFC file: it does not begin with ISO-10303-21.")
    if b"END-ISO-10303-21" not in tail:
        raise UnreadableModel("The IFC file is cut short: its closing line is missing. Export or copy it again.")


def _open(path: Path) -> Any:
    check_envelope(path)
    try:
        file = ifcopenshell.open(str(path))
        schema = file.schema
    except Exception as error:
        raise UnreadableModel(f"The IFC file can't be parsed: {str(error).splitlines()[0][:200]}") from error
    if not str(schema).startswith("IFC"):
        raise UnreadableModel(f"The file's schema is {schema}, not IFC.")
    if not file.by_type("IfcProject"):
        raise UnreadableModel("The IFC file holds no project; export the whole model.")
    return file


def _project_name(file: Any, path: Path) -> str:
    project = file.by_type("IfcProject")[0]
    return str(project.LongName or project.Name or path.stem)


def _unit_name(file: Any) -> str:
    unit = ifcopenshell.util.unit.get_project_unit(file, "LENGTHUNIT")
    if unit is None:
        return "m"
    return str(ifcopenshell.util.unit.get_unit_symbol(unit) or unit.Name).lower()


def _placement(entity: Any, scale: float) -> NDArray[np.float64]:
    if getattr(entity, "ObjectPlacement", None) is None:
        return np.eye(4)
    matrix = np.array(ifcopenshell.util.placement.get_local_placement(entity.ObjectPlacement), dtype=np.float64)
    matrix[:3, 3] *= scale
    return matrix


def _origin(file: Any, scale: float, known: Model | None) -> tuple[float, float, float]:
    """What to subtract so that the building lies near zero: the median place of its elements, whole metres; as before
    where that will do."""
    elements = file.by_type("IfcElement")
    points = [_placement(e, scale)[:3, 3] for e in elements[:: len(elements) // SAMPLED + 1]]
    if not points:
        return (0.0, 0.0, 0.0)
    middle = np.median(np.array(points), axis=0)
    if known is not None and (np.abs(middle - known.origin) <= FAR_AWAY).all():
        return known.origin
    far = [float(round(v)) if abs(v) > FAR_AWAY else 0.0 for v in middle]
    return (far[0], far[1], far[2])


def _storeys(file: Any, scale: float, origin: tuple[float, float, float]) -> tuple[Storey, ...]:
    found = []
    for s in file.by_type("IfcBuildingStorey"):
        placed = getattr(s, "ObjectPlacement", None) is not None
        z = _placement(s, scale)[2, 3] if placed else float(s.Elevation or 0.0) * scale
        found.append(Storey(str(s.GlobalId), str(s.Name or s.LongName or "Storey"), float(z) - origin[2]))
    return tuple(sorted(found, key=lambda s: s.elevation))


def _north(file: Any) -> tuple[float, float]:
    for context in file.by_type("IfcGeometricRepresentationContext", include_subtypes=False):
        if context.ContextType == "Model" and context.TrueNorth:
            x, y = (float(v) for v in context.TrueNorth.DirectionRatios[:2])
            length = math.hypot(x, y)
            if length > 0:
                return (x / length, y / length)
    return (0.0, 1.0)


def _map_place(file: Any, scale: float) -> MapPlace | None:
    """The map conversion of a file (IfcMapConversion, since IFC4), else its property set ePset_MapConversion (IFC2x3,
    as the schema's guide for georeferencing has it); None without one. Lengths of the map are metres unless its system
    names another unit; the scale turns units of the file into units of the map."""
    conversion, system = _map_conversion(file)
    if not conversion or conversion.get("Eastings") is None or conversion.get("Northings") is None:
        return None
    unit = _map_unit(file, system)
    x = float(conversion.get("XAxisAbscissa") or 0.0), float(conversion.get("XAxisOrdinate") or 0.0)
    length = math.hypot(*x)
    axis = (x[0] / length, x[1] / length) if length > 0 else (1.0, 0.0)
    given = conversion.get("Scale")
    stretched = float(given) * unit / scale if given else 1.0
    near = abs(stretched - 1.0) < 0.01  # a scale that says only the units, or the map's own small one
    return MapPlace(
        float(conversion["Eastings"]) * unit, float(conversion["Northings"]) * unit,
        float(conversion.get("OrthogonalHeight") or 0.0) * unit, axis, stretched if near else 1.0,
        str(system.get("Name") or ""),
    )  # fmt: skip


def _map_conversion(file: Any) -> tuple[dict[str, Any], dict[str, Any]]:
    if file.schema != "IFC2X3":
        found = file.by_type("IfcMapConversion")
        if not found:
            return {}, {}
        one = found[0].get_info()
        target = one.get("TargetCRS")
        return one, target.get_info() if target is not None else {}
    for site in [*file.by_type("IfcSite"), *file.by_type("IfcProject")]:
        sets = ifcopenshell.util.element.get_psets(site)
        if "ePset_MapConversion" in sets:
            return sets["ePset_MapConversion"], sets.get("ePset_ProjectedCRS", {})
    return {}, {}


def _map_unit(file: Any, system: dict[str, Any]) -> float:
    unit = system.get("MapUnit")
    if unit is None or isinstance(unit, str):
        return 1.0
    if unit.is_a("IfcSIUnit"):
        return float(ifcopenshell.util.unit.get_prefix_multiplier(unit.Prefix))
    return float(unit.ConversionFactor.ValueComponent.wrappedValue)


def _grid(file: Any, scale: float, origin: tuple[float, float, float]) -> tuple[GridAxis, ...]:
    axes = []
    for grid in file.by_type("IfcGrid"):
        matrix = _placement(grid, scale)
        for axis in [*(grid.UAxes or ()), *(grid.VAxes or ()), *(grid.WAxes or ())]:
            curve = axis.AxisCurve
            if not curve.is_a("IfcPolyline") or len(curve.Points) < 2:
                continue
            ends = []
            for point in (curve.Points[0], curve.Points[-1]):
                x, y = (float(v) * scale for v in point.Coordinates[:2])
                world = matrix @ np.array([x, y, 0.0, 1.0])
                ends.append((float(world[0] - origin[0]), float(world[1] - origin[1])))
            axes.append(GridAxis(str(axis.AxisTag or ""), ends[0], ends[1]))
    return tuple(axes)
