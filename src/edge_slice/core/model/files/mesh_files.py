"""Reads models without building data: glTF 2.0 (ISO/IEC 12113), OBJ, STL and PLY. Every node, object or group is an
element; its kind and material are taken from its name and the name of its material."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import trimesh
from numpy.typing import NDArray

from edge_slice.core.model.building import Model, Progress
from edge_slice.core.model.errors import UnreadableModel
from edge_slice.core.model.files.beside import Beside
from edge_slice.core.model.files.gltf import check_gltf
from edge_slice.core.model.files.units import MESH_SUFFIXES as SUFFIXES
from edge_slice.core.model.files.units import METRES, Unit, Up
from edge_slice.core.model.mesh.bodies import Body, model_of_bodies
from edge_slice.core.model.mesh.places import what_is_wrong

F64 = NDArray[np.float64]


def read_meshes(
    path: Path, unit: Unit | None = None, up: Up | None = None, progress: Progress = lambda share, text: None
) -> Model:
    """The model in a glTF, GLB, OBJ, STL or PLY file.

    unit, up: what the file's lengths are and which axis points up. glTF says both (metres, y); of the others the unit
    must be given, and z is up unless said otherwise. Raises `UnreadableModel` for a file that can't be read, holds no
    triangles, or does not say its unit.
    """
    suffix = path.suffix.lower()
    if suffix not in SUFFIXES:
        raise UnreadableModel(f"{path.suffix or 'A file without an ending'} is no kind of model that can be read.")
    progress(0.0, "Opening the file")
    scene = _scene(path, suffix)
    parts = _parts(scene, path, suffix)
    if not parts and what_is_wrong(path):
        raise _unreadable(path)
    if not parts:
        raise UnreadableModel("The file holds no triangles: export it with its 3D bodies and try again.")
    gltf = suffix in (".glb", ".gltf")
    if unit is None and not gltf:
        raise UnreadableModel(_which_unit(parts, suffix))
    turned = (up or ("y" if gltf else "z")) == "y"
    factor = METRES[unit or "m"]
    bodies = [(name, material, _turned(points, turned) * factor, corners) for name, material, points, corners in parts]
    progress(0.6, "Welding and finding edges")
    return model_of_bodies(path.stem, bodies, unit or "m", suffix.removeprefix(".").upper())


def _scene(path: Path, suffix: str) -> Any:
    grouping = {}
    if suffix == ".obj":
        text = path.read_text("utf-8", errors="replace")
        grouping = {"split_objects": bool(re.search(r"^o\s", text, re.M))}
        grouping["split_groups"] = not grouping["split_objects"] and bool(re.search(r"^g\s", text, re.M))
    beside = Beside(path)
    if suffix in (".glb", ".gltf"):
        check_gltf(path, beside.get)
    elif suffix != ".obj" and what_is_wrong(path):  # the library reads what is there of such a file, without a word
        raise _unreadable(path)
    try:
        scene = trimesh.load_scene(str(path), process=False, resolver=beside, **grouping)
    except Exception as error:
        raise next(iter(beside.refused), None) or _unreadable(path) from error
    if beside.refused:  # it was read without what it names
        raise beside.refused[0]
    return scene


def _unreadable(path: Path) -> UnreadableModel:
    """In words of ours: what libraries say of a damaged file is about themselves."""
    kind = path.suffix.removeprefix(".").upper()
    wrong = what_is_wrong(path) or "a part of it is not as such files are made"
    return UnreadableModel(f"The file can't be read as {kind}: {wrong}. Export the model again.")


def _parts(scene: Any, path: Path, suffix: str) -> list[Body]:
    """Name, material, points and triangles of every body, in the scene's own units; sorted by name."""
    named = _obj_materials(path) if suffix == ".obj" else {}
    found: list[Body] = []
    for node in scene.graph.nodes_geometry:
        matrix, key = scene.graph[node]
        body = scene.geometry[key]
        corners = np.asarray(getattr(body, "faces", np.zeros((0, 3))), dtype=np.int64).reshape(-1, 3)
        if not len(corners):
            continue
        points = np.asarray(body.vertices, dtype=np.float64)
        if points.shape[1:] != (3,):
            raise _unreadable(path)
        points = points @ np.asarray(matrix)[:3, :3].T + np.asarray(matrix)[:3, 3]
        if not np.isfinite(points).all():
            raise UnreadableModel(f"Body “{node}” has a point that is not a number; export the model again.")
        if corners.min() < 0 or corners.max() >= len(points):
            raise _joins_too_far(path, str(node), corners, len(points))
        coated = str(getattr(getattr(body.visual, "material", None), "name", None) or "")
        label, material = named.get(str(key), (str(node) if suffix != ".stl" else path.stem, coated))
        found.append((label, material, points, corners))
    return sorted(found, key=lambda part: part[0])


def _joins_too_far(path: Path, node: str, corners: NDArray[np.int64], count: int) -> UnreadableModel:
    wrong = int(corners.min() if corners.min() < 0 else corners.max())
    place = what_is_wrong(path) or f"body “{node}” joins point {wrong}, and has {count}, counted from 0"
    return UnreadableModel(f"The file is damaged: {place}. Export the model again.")


def _obj_materials(path: Path) -> dict[str, tuple[str, str]]:
    """Object or group and material for each body of an OBJ file, by the names that the library gives them: the
    object's alone (then its first material counts), or with the material's behind it."""
    found: dict[str, tuple[str, str]] = {}
    name = ""
    for line in path.read_text("utf-8", errors="replace").splitlines():
        word, _, rest = line.strip().partition(" ")
        if word in ("o", "g"):
            name = rest.strip()
        elif word == "usemtl":
            material = rest.strip()
            found.setdefault(name, (name, material))
            found[f"{name}_{material}"] = (name, material)
    return found


def _which_unit(parts: list[Body], suffix: str) -> str:
    points = np.concatenate([p[2] for p in parts])
    size = " × ".join(f"{x:.6g}" for x in np.ptp(points, axis=0))
    kind = suffix.removeprefix(".").upper()
    return (
        f"{kind} files do not say their unit, and this model measures {size}: say whether that is {', '.join(METRES)}."
    )


def _turned(points: F64, y_up: bool) -> F64:
    """With z up: a y-up model is turned about its x axis."""
    return points[:, [0, 2, 1]] * np.array([1.0, -1.0, 1.0]) if y_up else points
