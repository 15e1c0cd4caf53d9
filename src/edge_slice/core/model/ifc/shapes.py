"""Elements and rooms of an IFC file: their bodies as the geometry kernel builds them, or as they are known."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import ifcopenshell.geom
import ifcopenshell.util.element
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, LayerFrame, Model, Placement, Progress, Space
from edge_slice.core.model.ifc.content import Contents
from edge_slice.core.model.ifc.materials import MaterialTable
from edge_slice.core.model.ifc.parts import PartMaterials
from edge_slice.core.model.ifc.properties import properties_of, quantity_units
from edge_slice.core.model.ifc.runs import Runs
from edge_slice.core.model.ifc.unlayered import layer_problems
from edge_slice.core.model.kinds import element_kind

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]


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
class _Built:
    """What the geometry kernel gives of a product: world (n, 3) metres, corners (m, 3), and for each triangle the
    number of its material's name (ids, -1: none) and the item of the file it comes from (items)."""

    world: F64
    corners: I64
    materials: list[str]
    ids: I64
    items: I64
    placement: Placement


@dataclass(frozen=True)
class _Body:
    """The body of an element: vertices (n, 3) metres, triangles (m, 3), the material of each triangle (m,), -1 for the
    element's own; its material, build-up and their place as in `Element`."""

    vertices: F64
    triangles: I64
    face_material: I64
    material: int
    build_up: int
    frame: LayerFrame | None
    placement: Placement | None


class Shapes:
    """Collects shapes; one per file. What has the content of something in a `known` model is as it is there."""

    def __init__(
        self,
        file: Any,
        scale: float,
        origin: tuple[float, float, float],
        storeys: dict[str, int],
        known: Model | None = None,
    ) -> None:
        self.file, self.scale, self.storeys = file, scale, storeys
        self.origin = np.array(origin)
        self._units = quantity_units(file, scale)
        self.materials = MaterialTable(file, scale)
        self.parts = PartMaterials(file, self.materials)
        self._runs = Runs(file)
        self.elements: list[Element] = []
        self.spaces: list[Space] = []
        self.problems: list[str] = []
        self.vertices: list[F64] = []
        self.triangles: list[I64] = []
        self.owner: list[I64] = []
        self.face_material: list[I64] = []
        self._points = 0
        self._contents = Contents(file, scale, self.parts.aspects)
        self._known = known if known is not None and known.origin == origin else None
        self._bodies, self._rooms = _by_content(self._known)

    def read(self, progress: Progress, threads: int) -> None:
        """All elements and rooms, in the order of their GlobalIds."""
        wanted = [p for p in self.file.by_type("IfcProduct") if p.Representation and _is_building(p)]
        contents = {p.id(): self._contents.of(p, _kind(p)) for p in wanted}
        new = [p for p in wanted if contents[p.id()] not in (self._rooms if p.is_a("IfcSpace") else self._bodies)]
        built = self._build(new, progress, threads)
        missing = {p.id() for p in new if p.id() not in built}
        in_order = sorted(wanted, key=lambda p: str(p.GlobalId))  # threads deliver in any order
        for product in in_order:
            if product.id() not in missing:
                self._take(product, contents[product.id()], built.get(product.id()))
        for product in wanted:
            if product.id() in missing and not product.is_a("IfcSpace"):
                label = product.Name or product.GlobalId
                self.problems.append(f"{product.is_a()} “{label}” was left out: its geometry can't be built")
        made = {e.guid: (e, corners) for e, corners in zip(self.elements, self.vertices, strict=True)}
        self.problems += layer_problems(in_order, made, self.scale)

    def _build(self, products: list[Any], progress: Progress, threads: int) -> dict[int, _Built]:
        """What the geometry kernel makes of products, by their numbers; without those of which it makes nothing."""
        found: dict[int, _Built] = {}
        for count, shape in enumerate(kernel_shapes(self.file, products, threads) if products else ()):
            if count % 20 == 0:
                progress(0.05 + 0.8 * min(1.0, count / len(products)), f"Geometry {count} of {len(products)}")
            geometry = shape.geometry
            local = np.array(geometry.verts, dtype=np.float64).reshape(-1, 3)
            corners = np.array(geometry.faces, dtype=np.int64).reshape(-1, 3)
            matrix = np.array(shape.transformation.matrix, dtype=np.float64).reshape(4, 4).T
            world = local @ matrix[:3, :3].T + (matrix[:3, 3] - self.origin)
            if not len(corners) or not np.isfinite(world).all():
                continue
            names = [str(m.name) for m in geometry.materials]
            ids = np.array(geometry.material_ids, dtype=np.int64)
            items = np.array(geometry.item_ids, dtype=np.int64)
            frame = Placement(*(_triple(v) for v in (matrix[:3, 3] - self.origin, matrix[:3, 0], matrix[:3, 1])))
            found[shape.id] = _Built(world, corners, names, ids, items, frame)
        return found

    def _take(self, product: Any, content: str, built: _Built | None) -> None:
        """Enter a product, of which was built something; if nothing, it is known."""
        storey = self._storey(product)
        if product.is_a("IfcSpace"):
            if built is None:
                outline, floor, ceiling = self._rooms[content]
            else:
                outline, floor, ceiling = _room(built.world, built.corners)
            said = (str(product.GlobalId), str(product.Name or ""), str(product.LongName or ""))
            self.spaces.append(Space(*said, storey, outline, floor, ceiling, content, self._said(product)))
            return
        kind = _kind(product)
        body = self._known_body(self._bodies[content]) if built is None else self._body(product, kind, built)
        self.elements.append(
            Element(
                guid=str(product.GlobalId),
                name=str(product.Name or ""),
                kind=kind,
                storey=storey,
                material=body.material,
                build_up=body.build_up,
                frame=body.frame,
                placement=body.placement,
                operation=_operation(product) if kind == "door" else "",
                properties=self._said(product),
                content=content,
                run=self._runs.of(product),
            )
        )
        self.vertices.append(body.vertices)
        self.triangles.append(body.triangles + self._points)
        self.owner.append(np.full(len(body.triangles), len(self.elements) - 1, dtype=np.int64))
        self.face_material.append(body.face_material)
        self._points += len(body.vertices)

    def _body(self, product: Any, kind: str, built: _Built) -> _Body:
        world, corners, names = built.world, built.corners, built.materials
        main, build_up, frame = self.materials.of(product, world, corners, self.origin)
        per_face = np.full(len(corners), -1, dtype=np.int64)
        if build_up < 0 and names and len(built.ids) == len(corners) and (main < 0 or len(set(names)) > 1):
            table = np.array([self.materials.by_name(n) for n in names] + [-1])
            per_face = table[np.where(built.ids < 0, len(names), built.ids)]
        if build_up < 0 and len(built.items) == len(corners):
            parts = self.parts.of(product, built.items)
            per_face = np.where(parts >= 0, parts, per_face)
        if main < 0 and (per_face >= 0).any():
            main = int(np.bincount(per_face[per_face >= 0]).argmax())
        if kind == "ground" and main < 0:
            main = self.materials.by_name("Earth")
        return _Body(world, corners, per_face, main, build_up, frame, built.placement)

    def _known_body(self, index: int) -> _Body:
        """An element of the known model, its materials by their numbers here."""
        assert self._known is not None
        mesh, element = self._known.mesh, self._known.elements[index]
        rows = mesh.of_element(index)
        used, corners = np.unique(mesh.triangles[rows], return_inverse=True)
        distinct, of = np.unique(mesh.triangle_material[rows], return_inverse=True)
        build_up = -1
        if element.build_up >= 0:
            known = self._known.build_ups[element.build_up]
            layers = tuple(replace(layer, material=self._number(layer.material)) for layer in known.layers)
            build_up = self.materials.number_of(replace(known, layers=layers))
        return _Body(
            mesh.vertices[used],
            corners.reshape(-1, 3).astype(np.int64),
            np.array([self._number(k) for k in distinct.tolist()], dtype=np.int64)[of],
            self._number(element.material),
            build_up,
            element.frame,
            element.placement,
        )

    def _number(self, known: int) -> int:
        """The number here of a material of the known model."""
        return -1 if known < 0 or self._known is None else self.materials.by_name(self._known.materials[known].name)

    def _said(self, product: Any) -> tuple[tuple[str, str], ...]:
        """Properties, none where the file has them broken: no drawing depends on them."""
        try:
            return properties_of(product, self._units)
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


def kernel_shapes(file: Any, products: list[Any], threads: int) -> Iterator[Any]:
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


Room = tuple[tuple[tuple[float, float], ...], float, float]


def _by_content(known: Model | None) -> tuple[dict[str, int], dict[str, Room]]:
    """Elements and rooms of a model by their content."""
    if known is None:
        return {}, {}
    standing = np.unique(known.mesh.triangle_element).tolist()
    elements = {known.elements[k].content: k for k in standing if known.elements[k].content}
    return elements, {s.content: (s.outline, s.floor, s.ceiling) for s in known.spaces if s.content}


def _kind(product: Any) -> str:
    """The kind of an element; of rooms it is not used."""
    said = getattr(product, "PredefinedType", None) or (
        getattr(product, "OperationType", None) if product.is_a("IfcTransportElement") else None
    )  # where IFC2x3 says it
    return element_kind(product.is_a(), said, getattr(product, "ObjectType", None))


def _triple(values: F64) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 9) for v in values)
    return x, y, z


def _room(world: F64, corners: I64) -> Room:
    """A room from the solid's lowest faces: the outline is the ring of edges used once; lowest and highest point."""
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
    return tuple(ring), floor, float(world[:, 2].max())
