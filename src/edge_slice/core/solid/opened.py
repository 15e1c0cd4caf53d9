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
Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Taking:
    """What lies before a plane (a point; the normal points there, a unit vector) is taken away; only from `start` to
    `end` (metres from the point) along a direction in the plane (a unit vector), where one is given."""

    point: F64
    normal: F64
    along: F64 | None = None
    start: float = -np.inf
    end: float = np.inf


def taking(
    point: Triple, normal: Triple, along: Triple | None = None, start: float = -np.inf, end: float = np.inf
) -> Taking:
    """Raises `ImpossibleCut` for a direction of no length."""
    return Taking(np.array(point, dtype=np.float64), unit(normal), None if along is None else unit(along), start, end)


@dataclass(frozen=True)
class Piece:
    """What is left of an element."""

    element: int
    body: Body


def opened(
    model: Model, cuts: Sequence[Sequence[Taking]], shown: NDArray[np.bool_], thickness: float | None = None
) -> list[Piece]:
    """The bodies of the elements shown (n,), less what all cuts together take away, each of them by any of its planes;
    with a thickness (metres), of one plane what lies no further behind it. Closed bodies stay closed; one that a step
    of a cut runs through becomes several that touch there."""
    if thickness is not None and [len(cut) for cut in cuts] != [1]:
        raise ImpossibleCut("A slice has one plane and a thickness; choose one plane.")
    mesh = model.mesh
    bounds = np.searchsorted(mesh.triangle_element, np.arange(len(model.elements) + 1))
    found = []
    for element in np.flatnonzero(shown).tolist():
        start, end = bounds[element], bounds[element + 1]
        if start == end:
            continue
        beside = mesh.neighbours[start:end].astype(np.int64)
        beside[beside >= 0] -= start
        body = body_of(mesh.vertices, mesh.triangles[start:end].astype(np.int64), beside)
        left = [piece for part in separated(body) for piece in _left(part, cuts, thickness)]
        if any(piece.open for piece in left):  # parts that run through each other are closed one by one
            left = [piece for shell in shells_of(body) for piece in _left(shell, cuts, thickness)]
        if left:
            found.append(Piece(element, joined_shells(left)))
    return found


def _left(body: Body, cuts: Sequence[Sequence[Taking]], thickness: float | None) -> list[Body]:
    """What the first cut leaves; of what it takes what the second leaves, and so on: all but what all of them take."""
    if not cuts:
        return [body]
    kept, taken = _divided(body, cuts[0])
    if thickness is not None:
        (plane,) = cuts[0]
        kept = [clipped(piece, plane.point - plane.normal * thickness, -plane.normal) for piece in kept]
    elif len(cuts) > 1:
        kept += [piece for part in taken for piece in _left(part, cuts[1:], None)]
    return [piece for piece in kept if len(piece.triangles)]


def _divided(body: Body, cut: Sequence[Taking]) -> tuple[list[Body], list[Body]]:
    """What a cut leaves of a body, and what it takes."""
    kept, taken = [body], []
    for plane in cut:
        left = []
        for piece in kept:
            beside, within = _banded(piece, plane)
            before = clipped(within, plane.point, -plane.normal)
            if not len(before.triangles):
                left.append(piece)  # whole, though the plane ends along it
                continue
            taken.append(before)
            left += [*beside, clipped(within, plane.point, plane.normal)]
        kept = [piece for piece in left if len(piece.triangles)]
    return kept, taken


def _banded(body: Body, plane: Taking) -> tuple[list[Body], Body]:
    """What of a body lies beside where a plane takes something away, and what lies there."""
    beside = []
    if plane.along is not None:
        for at, out in ((plane.start, -plane.along), (plane.end, plane.along)):
            if np.isfinite(at):
                point = plane.point + plane.along * at
                beside.append(clipped(body, point, -out))
                body = clipped(body, point, out)
    return beside, body


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
        tint = standard.materials[class_of(one, one.material, -1)].tint
        colour = [*bytes.fromhex(tint[1:]), 255]
        mesh = trimesh.Trimesh(piece.body.vertices, piece.body.triangles, process=False)
        material = trimesh.visual.material.PBRMaterial(baseColorFactor=colour, metallicFactor=0.0, roughnessFactor=0.9)
        mesh.visual = trimesh.visual.TextureVisuals(material=material)
        scene.add_geometry(mesh, node_name=f"{one.name or one.kind} {one.guid} {k}", geom_name=f"{one.guid} {k}")
    scene.apply_transform(y_up)
    stream = io.BytesIO()
    scene.export(stream, file_type="glb")
    return stream.getvalue()
