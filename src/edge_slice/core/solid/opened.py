"""The model really cut open: closed bodies behind planes, or between two of them, as files."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import trimesh
from numpy.typing import NDArray

from edge_slice.core.cut import ImpossibleCut
from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.model import Model
from edge_slice.core.solid.clipping import Body, body_of, clipped, joined_shells, separated, shells_of
from edge_slice.core.solid.plane_cuts import unit

F64 = NDArray[np.float64]
BodyForm = Literal["glb", "stl"]
Plane = tuple[tuple[float, float, float], tuple[float, float, float]]  # a point, the normal to the side taken away


@dataclass(frozen=True)
class Piece:
    """What is left of an element."""

    element: int
    body: Body


def opened(
    model: Model, planes: Sequence[Plane], shown: NDArray[np.bool_], thickness: float | None = None
) -> list[Piece]:
    """The bodies of the elements shown (n,), less what lies before all of the planes together; with a thickness
    (metres), of one plane what lies no further behind it. Closed bodies stay closed."""
    if thickness is not None and len(planes) != 1:
        raise ImpossibleCut("A slice has one plane and a thickness; choose one plane.")
    mesh = model.mesh
    bounds = np.searchsorted(mesh.triangle_element, np.arange(len(model.elements) + 1))
    placed = [(np.array(p, dtype=np.float64), unit(n)) for p, n in planes]
    found = []
    for element in np.flatnonzero(shown).tolist():
        start, end = bounds[element], bounds[element + 1]
        if start == end:
            continue
        beside = mesh.neighbours[start:end].astype(np.int64)
        beside[beside >= 0] -= start
        body = body_of(mesh.vertices, mesh.triangles[start:end].astype(np.int64), beside)
        left = [piece for part in separated(body) for piece in _left(part, placed, thickness)]
        if any(piece.open for piece in left):  # parts that run through each other are closed one by one
            left = [piece for shell in shells_of(body) for piece in _left(shell, placed, thickness)]
        left = [piece for piece in left if len(piece.triangles)]
        if left:
            found.append(Piece(element, joined_shells(left)))
    return found


def _left(body: Body, planes: list[tuple[F64, F64]], thickness: float | None) -> list[Body]:
    """Behind the first plane, else before it and behind the second, and so on: all but what lies before all of them."""
    if not planes:
        return [body]
    (point, normal), *others = planes
    behind = clipped(body, point, normal)
    if thickness is not None:
        return [clipped(behind, point - normal * thickness, -normal)]
    if not others:
        return [behind]
    return [behind, *_left(clipped(body, point, -normal), others, None)]


def body_file(model: Model, pieces: Sequence[Piece], form: BodyForm, standard: DrawingStandard) -> bytes:
    """Bodies as a file: glTF (binary, metres, y up) with a mesh for each piece under its element's name, in the tint of
    its material; or STL (binary, millimetres, z up) of all together. Raises `ImpossibleCut` where nothing is left."""
    if not pieces:
        raise ImpossibleCut("Nothing of the building is left there; move the plane or turn it round.")
    if form == "stl":
        meshes = [trimesh.Trimesh(p.body.vertices * 1000.0, p.body.triangles, process=False) for p in pieces]
        return bytes(trimesh.util.concatenate(meshes).export(file_type="stl"))
    class_of = standard.face_classes(model)
    scene = trimesh.Scene()
    y_up = np.array([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]], dtype=np.float64)
    for k, piece in enumerate(pieces):
        one = model.elements[piece.element]
        tint = standard.materials[class_of(one, -1, -1)].tint
        colour = [*bytes.fromhex(tint[1:]), 255]
        mesh = trimesh.Trimesh(piece.body.vertices, piece.body.triangles, process=False)
        material = trimesh.visual.material.PBRMaterial(baseColorFactor=colour, metallicFactor=0.0, roughnessFactor=0.9)
        mesh.visual = trimesh.visual.TextureVisuals(material=material)
        scene.add_geometry(mesh, node_name=f"{one.name or one.kind} {one.guid} {k}", geom_name=f"{one.guid} {k}")
    scene.apply_transform(y_up)
    stream = io.BytesIO()
    scene.export(stream, file_type="glb")
    return stream.getvalue()
