"""Bodies of products in an IFC file: read without their openings, moved by their corners, written as triangles, and
read again to see what came of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import ifcopenshell.geom
import ifcopenshell.util.element
import ifcopenshell.util.placement
import ifcopenshell.util.unit
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.corrections.faces import NEAR, MovedFace, beyond
from edge_slice.core.model.parts.places import InFile

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Body = tuple[F64, I64]  # points (n, 3), metres of the model, and triangles (m, 3)
SAME = 2e-3  # metres within which a corner of a body in the file is one of the model's


class Bodies:
    """The bodies of a file, whose unit is `scale` metres long."""

    def __init__(self, file: Any, lies: InFile) -> None:
        self.file, self.lies = file, lies
        self.scale = float(ifcopenshell.util.unit.calculate_unit_scale(file))

    def put(self, product: Any, by: Callable[[F64], F64], openings: Callable[[F64], F64], shall: F64) -> bool:
        """Move the corners (n, 3) of the body that a product has without its openings `by` so much, and those of its
        `openings`; whether that is then, with openings, the body that it shall have, triangles (n, 3, 3). Where it is
        not, that is written as it is, if it then comes out right."""
        points, triangles, items = self._read(product, True)
        moved = points + by(points), triangles
        parts = Parts.of(self.file, product, items)
        self._write(product, moved, parts)
        for rel in getattr(product, "HasOpenings", ()):
            at, faces = self.of(rel.RelatedOpeningElement, True)
            if np.abs(away := openings(at)).max(initial=0.0) > 0:
                self._write(rel.RelatedOpeningElement, (at + away, faces))
        if self.is_as(product, shall):
            return True
        if not parts:
            self.write(product, shall)
            if self.is_as(product, shall):
                return True
            self._write(product, moved)
        return False

    def of(self, product: Any, whole: bool) -> Body:
        """The body of a product, with its openings or `whole`."""
        return self._read(product, whole)[:2]

    def _read(self, product: Any, whole: bool) -> tuple[F64, I64, I64]:
        """The body of a product, and for each triangle the number in the file of the item of its shape."""
        settings = ifcopenshell.geom.settings()
        settings.set("use-world-coords", True)
        settings.set("disable-opening-subtractions", whole)
        shape = ifcopenshell.geom.create_shape(settings, product)
        points = np.array(shape.geometry.verts, dtype=np.float64).reshape(-1, 3)
        back = np.linalg.inv(self.lies.matrix)
        triangles = np.array(shape.geometry.faces, dtype=np.int64).reshape(-1, 3)
        points, triangles, kept = welded(points @ back[:3, :3].T + back[:3, 3], triangles)
        items = np.array(shape.geometry.item_ids, dtype=np.int64)
        return points, triangles, items[kept]

    def is_as(self, product: Any, shall: F64) -> bool:
        """Whether a product, with its openings, has a body of triangles (n, 3, 3)."""
        points, triangles = self.of(product, False)
        if not len(triangles):
            return False
        found = points[triangles]
        ends = [(body.min(axis=(0, 1)), body.max(axis=(0, 1))) for body in (found, shall)]
        same = np.abs(np.array(ends[0]) - np.array(ends[1])).max() < NEAR / 10
        wanted = _volume(shall)
        return bool(same and abs(_volume(found) - wanted) <= 1e-6 * max(1.0, wanted))

    def write(self, product: Any, triangles: F64) -> None:
        """Give a product a body of triangles (n, 3, 3)."""
        corners = np.arange(3 * len(triangles)).reshape(-1, 3)
        points, faces, _ = welded(triangles.reshape(-1, 3), corners)
        self._write(product, (points, faces))

    def matrix(self, product: Any) -> F64:
        """Where a product is placed, metres."""
        found = np.array(ifcopenshell.util.placement.get_local_placement(product.ObjectPlacement), dtype=np.float64)
        found[:3, 3] *= self.scale
        return found

    def _write(self, product: Any, body: Body, parts: Parts | None = None) -> None:
        """Put a body in the place of the one that a product has, in the same parts if it has some."""
        at = body[0] @ self.lies.matrix[:3, :3].T + self.lies.matrix[:3, 3]
        local = np.linalg.inv(self.matrix(product))
        points = (at @ local[:3, :3].T + local[:3, 3]) / self.scale
        shapes = product.Representation
        if shapes is None:
            item, kind = self._triangles(points, body[1])
            product.Representation = self._only(item, kind)
            return
        was = next(r for r in shapes.Representations if r.RepresentationIdentifier == "Body")
        kind, items = "", []
        for part in parts.each if parts else [Part("", _styled(was.Items), np.arange(len(body[1])))]:
            item, kind = self._triangles(*_used(points, body[1][part.rows]))
            items.append(item)
            if part.style is not None:
                self.file.create_entity("IfcStyledItem", Item=item, Styles=part.style.Styles, Name=part.style.Name)
        new = self.file.create_entity(
            "IfcShapeRepresentation", ContextOfItems=was.ContextOfItems, RepresentationIdentifier="Body",
            RepresentationType=kind, Items=items,
        )  # fmt: skip
        others = [new if r == was else r for r in shapes.Representations]
        product.Representation = self.file.create_entity(
            "IfcProductDefinitionShape", Name=shapes.Name, Description=shapes.Description, Representations=others
        )
        for old in [a for a in self.file.get_inverse(shapes) if a.is_a("IfcShapeAspect")]:
            ifcopenshell.util.element.remove_deep2(self.file, old)
        for part, item in zip(parts.each if parts else [], items, strict=False):
            if part.name:
                self.aspect(product, new.ContextOfItems, part.name, [item])
        if not self.file.get_total_inverses(shapes):
            self.file.remove(shapes)
        if not self.file.get_total_inverses(was):
            ifcopenshell.util.element.remove_deep2(self.file, was)

    def aspect(self, product: Any, context: Any, name: str, items: Sequence[Any]) -> None:
        """Say of items of a product's shape what they are."""
        shape = self.file.create_entity(
            "IfcShapeRepresentation", ContextOfItems=context, RepresentationIdentifier="Body",
            RepresentationType="Tessellation" if items[0].is_a("IfcTessellatedFaceSet") else "Brep", Items=items,
        )  # fmt: skip
        self.file.create_entity(
            "IfcShapeAspect", ShapeRepresentations=[shape], Name=name, ProductDefinitional=False,
            PartOfProductDefinitionShape=product.Representation,
        )  # fmt: skip

    def _only(self, item: Any, kind: str) -> Any:
        """The shape of a product that had none; in the context that other bodies of the file are in."""
        others = self.file.by_type("IfcShapeRepresentation")
        context = next(r.ContextOfItems for r in others if r.RepresentationIdentifier == "Body")
        new = self.file.create_entity(
            "IfcShapeRepresentation", ContextOfItems=context, RepresentationIdentifier="Body", RepresentationType=kind,
            Items=[item],
        )  # fmt: skip
        return self.file.create_entity("IfcProductDefinitionShape", Representations=[new])

    def _triangles(self, points: F64, triangles: I64) -> tuple[Any, str]:
        """A closed body of triangles, and the type of a representation that holds it."""
        if self.file.schema == "IFC2X3":
            made = [self.file.create_entity("IfcCartesianPoint", Coordinates=p) for p in points.tolist()]
            faces = []
            for triangle in triangles.tolist():
                loop = self.file.create_entity("IfcPolyLoop", Polygon=[made[k] for k in triangle])
                bound = self.file.create_entity("IfcFaceOuterBound", Bound=loop, Orientation=True)
                faces.append(self.file.create_entity("IfcFace", Bounds=[bound]))
            shell = self.file.create_entity("IfcClosedShell", CfsFaces=faces)
            return self.file.create_entity("IfcFacetedBrep", Outer=shell), "Brep"
        listed = self.file.create_entity("IfcCartesianPointList3D", CoordList=points.tolist())
        said = {"Coordinates": listed, "Closed": True, "CoordIndex": (triangles + 1).tolist()}
        return self.file.create_entity("IfcTriangulatedFaceSet", **said), "Tessellation"


def _volume(triangles: F64) -> float:
    """What triangles (n, 3, 3) enclose, measured from near to them."""
    a, b, c = np.moveaxis(triangles - triangles[0, 0], 1, 0)
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6.0)


@dataclass(frozen=True)
class Part:
    """What a shape says of its items: of which of its aspects they are, their style, and their triangles (m,)."""

    name: str
    style: Any
    rows: I64


@dataclass(frozen=True)
class Parts:
    """The parts of a body by the items that it is made of."""

    each: tuple[Part, ...]

    @staticmethod
    def of(file: Any, product: Any, items: I64) -> Parts | None:
        """Those of a product with the item of each triangle (m,); None where no aspect is said of any of them, and all
        have one style."""
        named = {
            item.id(): str(aspect.Name)
            for aspect in file.by_type("IfcShapeAspect")
            for shape in aspect.ShapeRepresentations
            for item in shape.Items
        }
        found = np.unique(items).tolist()
        each = [Part(named.get(i, ""), _styled([file.by_id(i)]), np.flatnonzero(items == i)) for i in found]
        alike = len({part.style.Styles[0].id() if part.style else 0 for part in each}) == 1
        return None if alike and not any(part.name for part in each) else Parts(tuple(each))


def _styled(items: Sequence[Any]) -> Any:
    """The style of the first of some items that has one."""
    return next((style for one in items for style in getattr(one, "StyledByItem", ())), None)


def _used(points: F64, triangles: I64) -> Body:
    """The points that triangles have, and these."""
    used, inverse = np.unique(triangles, return_inverse=True)
    return points[used], inverse.reshape(-1, 3)


def welded(points: F64, triangles: I64) -> tuple[F64, I64, NDArray[np.bool_]]:
    """Points that lie on each other as one, the triangles that have three, and which those are."""
    _, first, number = np.unique(np.rint(points * 1e6), axis=0, return_index=True, return_inverse=True)
    found = number.reshape(-1)[triangles]
    apart = (found[:, 0] != found[:, 1]) & (found[:, 1] != found[:, 2]) & (found[:, 2] != found[:, 0])
    return points[first], found[apart], apart


def outwards(points: F64, faces: Sequence[MovedFace]) -> F64:
    """By how much points (n, 3) on faces that move, or beyond them, move with them."""
    found = np.zeros_like(points)
    for face in faces:
        found += np.where(beyond(points, face)[:, None], face.normal * face.by, 0.0)
    return found


def as_nearest(points: F64, corners: F64, moved: F64) -> F64:
    """By how much points (n, 3) move: as the corner (m, 3) of the body that each is."""
    away = np.linalg.norm(points[:, None] - corners, axis=2)
    nearest = away.argmin(axis=1)
    here = away[np.arange(len(points)), nearest] <= SAME
    return np.where(here[:, None], moved[nearest], 0.0)
