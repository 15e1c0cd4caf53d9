"""Reads models without building data: glTF 2.0 (ISO/IEC 12113), OBJ, STL and PLY. Every node, object or group is an
element; its kind and material are taken from its name and the name of its material."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import trimesh
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Material, Model, Progress, Storey
from edge_slice.core.model.errors import UnreadableModel
from edge_slice.core.model.files.beside import Beside
from edge_slice.core.model.files.gltf import check_gltf
from edge_slice.core.model.files.units import MESH_SUFFIXES as SUFFIXES
from edge_slice.core.model.files.units import METRES, Unit, Up
from edge_slice.core.model.mesh.places import what_is_wrong
from edge_slice.core.model.mesh.triangles import build_mesh

F64 = NDArray[np.float64]
FAR_AWAY = 1000.0  # metres; beyond this, coordinates are re-based
_KINDS = {
    "wall": ("wall", "partition", "parapet", "facade", "façade"),
    "slab": ("slab", "floor", "deck", "landing"),
    "roof": ("roof",),
    "window": ("window", "glazing", "pane"),
    "door": ("door", "gate"),
    "stair": ("stair", "steps", "ramp", "flight"),
    "railing": ("railing", "balustrade", "handrail"),
    "beam": ("beam", "joist", "lintel", "rafter", "purlin"),
    "column": ("column", "post", "pillar"),
    "footing": ("footing", "foundation", "pile"),
    "covering": ("ceiling", "cladding", "covering", "lining"),
    "furniture": ("furniture", "table", "desk", "chair", "bed", "shelf", "cupboard", "bench"),
    "ground": ("ground", "terrain", "site", "earth", "soil"),
    "planting": ("planting", "tree", "hedge", "shrub"),
    "services": ("pipe", "duct", "cable", "boiler", "sink", "basin"),
}
_WORD = {word: kind for kind, words in _KINDS.items() for word in words}


def kind_of_name(name: str) -> str:
    """The kind that the last telling word of a name stands for ("roof beam 3" is a beam); `object` if none does."""
    words = re.findall(r"[^\W\d_]+", re.sub(r"([a-z])([A-Z])", r"\1 \2", name).lower())
    found = [_WORD[w] if w in _WORD else _WORD[w[:-1]] for w in words if w in _WORD or w[:-1] in _WORD]
    return found[-1] if found else "object"


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
    return _model(path.stem, bodies, unit or "m", suffix.removeprefix(".").upper())


Part = tuple[str, str, F64, NDArray[np.int64]]


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


def _parts(scene: Any, path: Path, suffix: str) -> list[Part]:
    """Name, material, points and triangles of every body, in the scene's own units; sorted by name."""
    named = _obj_materials(path) if suffix == ".obj" else {}
    found: list[Part] = []
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


def _which_unit(parts: list[Part], suffix: str) -> str:
    points = np.concatenate([p[2] for p in parts])
    size = " × ".join(f"{x:.6g}" for x in np.ptp(points, axis=0))
    kind = suffix.removeprefix(".").upper()
    return (
        f"{kind} files do not say their unit, and this model measures {size}: say whether that is {', '.join(METRES)}."
    )


def _turned(points: F64, y_up: bool) -> F64:
    """With z up: a y-up model is turned about its x axis."""
    return points[:, [0, 2, 1]] * np.array([1.0, -1.0, 1.0]) if y_up else points


def _model(name: str, bodies: list[Part], unit: str, schema: str) -> Model:
    middle = np.median(np.concatenate([b[2] for b in bodies]), axis=0)
    origin = np.where(np.abs(middle) > FAR_AWAY, np.round(middle), 0.0)
    materials: dict[str, int] = {}
    elements, vertices, triangles, owner, at = [], [], [], [], 0
    seen: dict[str, int] = {}
    for index, (label, material, points, corners) in enumerate(bodies):
        seen[label] = seen.get(label, 0) + 1
        guid = label if seen[label] == 1 else f"{label} #{seen[label]}"
        number = materials.setdefault(material or label, len(materials))
        elements.append(Element(guid, label, kind_of_name(label), 0, number))
        vertices.append(points - origin)
        triangles.append(corners + at)
        owner.append(np.full(len(corners), index, dtype=np.int32))
        at += len(points)
    count = sum(len(t) for t in triangles)
    mesh = build_mesh(
        np.concatenate(vertices),
        np.concatenate(triangles).astype(np.int32),
        np.concatenate(owner),
        np.full(count, -1, np.int32),
    )
    if not len(mesh.triangles):
        raise UnreadableModel("All triangles of the file are without area; export the model again.")
    base = float(mesh.vertices[:, 2].min())
    return Model(
        name=name,
        mesh=mesh,
        elements=tuple(elements),
        materials=tuple(Material(m) for m in materials),
        storeys=(Storey("lowest", "Base", round(base, 3)),),
        origin=(float(origin[0]), float(origin[1]), float(origin[2])),
        unit=unit,
        schema=schema,
        leaking=tuple(int(i) for i in mesh.open_elements),
    )
