"""Reads IFC (ISO 16739) into a `Model`."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.geom
import ifcopenshell.util.element
import ifcopenshell.util.placement
import ifcopenshell.util.unit
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, GridAxis, Model, Placement, Progress, Space, Storey
from edge_slice.core.model.errors import UnreadableModel
from edge_slice.core.model.ifc_materials import MaterialTable
from edge_slice.core.model.ifc_parts import PartMaterials
from edge_slice.core.model.ifc_properties import properties_of
from edge_slice.core.model.kinds import element_kind
from edge_slice.core.model.mesh import build_mesh

FAR_AWAY = 1000.0  # metres; beyond this, coordinates are re-based
SAMPLED = 60  # elements whose places tell where the building lies


def read_ifc(path: Path, progress: Progress = lambda share, text: None, threads: int = 1) -> Model:
    """The model in an IFC2x3, IFC4 or IFC4.3 file.

    `progress` is called with a share from 0 to 1 and a word for the user; it may raise to cancel.
    Raises `UnreadableModel` when the file is no IFC file, is cut short, or holds no geometry.
    """
    progress(0.0, "Opening the file")
    file = _open(path)
    scale = float(ifcopenshell.util.unit.calculate_unit_scale(file))
    origin = _origin(file, scale)
    storeys = _storeys(file, scale, origin)
    reading = _Reading(file, scale, origin, {s.guid: i for i, s in enumerate(storeys)})
    reading.shapes(progress, threads)
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


def _origin(file: Any, scale: float) -> tuple[float, float, float]:
    """What to subtract so that the building lies near zero: the median place of its elements, whole metres."""
    elements = file.by_type("IfcElement")
    points = [_placement(e, scale)[:3, 3] for e in elements[:: len(elements) // SAMPLED + 1]]
    if not points:
        return (0.0, 0.0, 0.0)
    middle = np.median(np.array(points), axis=0)
    far = [float(round(v)) if abs(v) > FAR_AWAY else 0.0 for v in middle]
    return (far[0], far[1], far[2])


def _triple(values: NDArray[np.float64]) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 9) for v in values)
    return x, y, z


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


_NO_BODY = (
    "IfcFeatureElement",
    "IfcGrid",
    "IfcAnnotation",
    "IfcVirtualElement",
    "IfcPort",
    "IfcStructuralItem",
    "IfcStructuralActivity",
    "IfcBuilding",
    "IfcBuildingStorey",
)


def _is_building(product: Any) -> bool:
    return not any(product.is_a(name) for name in _NO_BODY)


@dataclass(frozen=True)
class _Shape:
    """A product's body as the geometry kernel gives it: world (n, 3) metres, corners (m, 3), and for each triangle
    the number of its material's name (ids, -1: none) and the item of the file it comes from (items)."""

    guid: str
    product: Any
    world: NDArray[np.float64]
    corners: NDArray[np.int64]
    materials: list[str]
    ids: NDArray[np.int64]
    items: NDArray[np.int64]
    placement: Placement


class _Reading:
    """Collects shapes; one per file."""

    def __init__(self, file: Any, scale: float, origin: tuple[float, float, float], storeys: dict[str, int]) -> None:
        self.file, self.scale, self.storeys = file, scale, storeys
        self.origin = np.array(origin)
        self.materials = MaterialTable(file, scale)
        self.parts = PartMaterials(file, self.materials)
        self.elements: list[Element] = []
        self.spaces: list[Space] = []
        self.problems: list[str] = []
        self.vertices: list[NDArray[np.float64]] = []
        self.triangles: list[NDArray[np.int64]] = []
        self.owner: list[NDArray[np.int64]] = []
        self.face_material: list[NDArray[np.int64]] = []
        self._points = 0

    def shapes(self, progress: Progress, threads: int) -> None:
        wanted = [p for p in self.file.by_type("IfcProduct") if p.Representation and _is_building(p)]
        if not wanted:
            return
        done: set[int] = set()
        found: list[_Shape] = []
        for count, shape in enumerate(_iterate(self.file, wanted, threads)):
            if count % 20 == 0:
                progress(0.05 + 0.8 * min(1.0, count / len(wanted)), f"Geometry {count} of {len(wanted)}")
            done.add(shape.id)
            geometry = shape.geometry
            local = np.array(geometry.verts, dtype=np.float64).reshape(-1, 3)
            corners = np.array(geometry.faces, dtype=np.int64).reshape(-1, 3)
            if not len(corners):
                done.discard(shape.id)
                continue
            matrix = np.array(shape.transformation.matrix, dtype=np.float64).reshape(4, 4).T
            world = local @ matrix[:3, :3].T + (matrix[:3, 3] - self.origin)
            if not np.isfinite(world).all():
                done.discard(shape.id)
                continue
            names = [str(m.name) for m in geometry.materials]
            ids = np.array(geometry.material_ids, dtype=np.int64)
            items = np.array(geometry.item_ids, dtype=np.int64)
            frame = Placement(*(_triple(v) for v in (matrix[:3, 3] - self.origin, matrix[:3, 0], matrix[:3, 1])))
            found.append(_Shape(str(shape.guid), self.file.by_id(shape.id), world, corners, names, ids, items, frame))
        for row in sorted(found, key=lambda r: r.guid):  # threads deliver in any order
            self._take(row)
        for product in wanted:
            if product.id() not in done and not product.is_a("IfcSpace"):
                label = product.Name or product.GlobalId
                self.problems.append(f"{product.is_a()} “{label}” was left out: its geometry can't be built")

    def _take(self, shape: _Shape) -> None:
        product, world, corners, names = shape.product, shape.world, shape.corners, shape.materials
        storey = self._storey(product)
        if product.is_a("IfcSpace"):
            self.spaces.append(_space(product, storey, world, corners))
            return
        main, build_up, frame = self.materials.of(product, world, corners, self.origin)
        per_face = np.full(len(corners), -1, dtype=np.int64)
        if build_up < 0 and names and len(shape.ids) == len(corners) and (main < 0 or len(set(names)) > 1):
            table = np.array([self.materials.by_name(n) for n in names] + [-1])
            per_face = table[np.where(shape.ids < 0, len(names), shape.ids)]
        if build_up < 0 and len(shape.items) == len(corners):
            parts = self.parts.of(product, shape.items)
            per_face = np.where(parts >= 0, parts, per_face)
        if main < 0 and (per_face >= 0).any():
            main = int(np.bincount(per_face[per_face >= 0]).argmax())
        said = getattr(product, "PredefinedType", None) or (
            getattr(product, "OperationType", None) if product.is_a("IfcTransportElement") else None
        )  # where IFC2x3 says it
        kind = element_kind(product.is_a(), said, product.ObjectType)
        if kind == "ground" and main < 0:
            main = self.materials.by_name("Earth")
        name = str(product.Name or "")
        opens = _operation(product) if kind == "door" else ""
        self.elements.append(
            Element(shape.guid, name, kind, storey, main, build_up, frame, shape.placement, opens, self._said(product))
        )
        self.vertices.append(world)
        self.triangles.append(corners + self._points)
        self.owner.append(np.full(len(corners), len(self.elements) - 1, dtype=np.int64))
        self.face_material.append(per_face)
        self._points += len(world)

    def _said(self, product: Any) -> tuple[tuple[str, str], ...]:
        """Properties, none where the file has them broken: no drawing depends on them."""
        try:
            return properties_of(product)
        except (AttributeError, RuntimeError, TypeError, ValueError):
            self.problems.append(
                f"Properties of “{product.Name or product.GlobalId}” can't be read; they were left out"
            )
            return ()

    def _storey(self, product: Any) -> int:
        container = ifcopenshell.util.element.get_container(product) or ifcopenshell.util.element.get_aggregate(product)
        while container is not None and not container.is_a("IfcBuildingStorey"):
            container = ifcopenshell.util.element.get_aggregate(container)
        return self.storeys.get(str(container.GlobalId), -1) if container is not None else -1


def _operation(door: Any) -> str:
    """How a door opens: said by itself (IFC4 and later) or by its type, which IFC2x3 calls its style."""
    for said in (door, ifcopenshell.util.element.get_type(door)):
        word = str(getattr(said, "OperationType", None) or "")
        if word not in ("", "NOTDEFINED", "USERDEFINED"):
            return word
    return ""


def _iterate(file: Any, products: list[Any], threads: int) -> Iterator[Any]:
    settings = ifcopenshell.geom.settings()
    settings.set("weld-vertices", True)
    settings.set("use-material-names", True)
    settings.set("apply-default-materials", False)
    iterator = ifcopenshell.geom.iterator(settings, file, threads, include=products)
    if not iterator.initialize():
        return
    while True:
        yield iterator.get()
        if not iterator.next():
            return


def _space(product: Any, storey: int, world: NDArray[np.float64], corners: NDArray[np.int64]) -> Space:
    """A room from the solid's lowest faces: the outline is the ring of edges used once."""
    floor = float(world[:, 2].min())
    low = corners[(world[corners][:, :, 2] < floor + 1e-4).all(axis=1)]
    follow: dict[int, int] = {}
    pairs = {(int(t[k]), int(t[(k + 1) % 3])) for t in low for k in range(3)}
    for a, b in pairs:
        if (b, a) not in pairs:
            follow[a] = b
    ring: list[tuple[float, float]] = []
    if follow:
        start = at = min(follow)
        for _ in range(len(follow)):
            ring.append((float(world[at, 0]), float(world[at, 1])))
            at = follow.get(at, start)
            if at == start:
                break
    return Space(
        str(product.GlobalId),
        str(product.Name or ""),
        str(product.LongName or ""),
        storey,
        tuple(ring),
        floor,
        float(world[:, 2].max()),
    )
