"""Models of plain bodies, which say nothing but their names."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Material, Model, Storey
from edge_slice.core.model.errors import UnreadableModel
from edge_slice.core.model.mesh.triangles import build_mesh

F64 = NDArray[np.float64]
Body = tuple[str, str, F64, NDArray[np.int64]]  # name, name of the material, points (n, 3) m, triangles (m, 3)
I64 = NDArray[np.int64]
_BOX = np.array(
    [
        (0, 2, 1), (0, 3, 2), (4, 5, 6), (4, 6, 7), (0, 1, 5), (0, 5, 4),
        (1, 2, 6), (1, 6, 5), (2, 3, 7), (2, 7, 6), (3, 0, 4), (3, 4, 7),
    ]
)  # fmt: skip
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


def box(low: Sequence[float], high: Sequence[float]) -> tuple[F64, I64]:
    """An upright box between two corners (3,), metres: its points (8, 3) and triangles (12, 3), turned outwards.

    >>> points, triangles = box((0, 0, 0), (4, 0.3, 3))
    >>> points.shape, triangles.shape
    ((8, 3), (12, 3))
    """
    (x0, y0, z0), (x1, y1, z1) = low, high
    ring = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    return np.array([(x, y, z) for z in (z0, z1) for x, y in ring], dtype=np.float64), _BOX.copy()


def model_of_bodies(name: str, bodies: Sequence[Body], unit: str = "m", schema: str = "") -> Model:
    """A model with an element for each body: kind and material by its name and the name of its material. `unit` and
    `schema`: what the file says that they come from. Raises `UnreadableModel` where no triangle has an area."""
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
