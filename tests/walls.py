"""Rows of layered walls whose every corner is known, for tests of what is tied to them and of what becomes of it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from edge_slice.core.model import BuildUp, Element, Layer, LayerFrame, Material, Model, Placement, Storey
from edge_slice.core.model.mesh.triangles import build_mesh
from tests.bodies import box

Layers = tuple[tuple[str, float], ...]  # material and thickness, metres
USUAL: Layers = (("Brick", 0.1), ("Insulation", 0.12), ("Block", 0.14), ("Plaster", 0.02))


@dataclass(frozen=True)
class Wall:
    """An upright wall across y = 0, its layers from `x` on to the right."""

    guid: str
    x: float
    base: float = 0.0
    top: float = 2.5
    layers: Layers = USUAL
    start: float = -2.0
    end: float = 2.0

    @property
    def thick(self) -> float:
        return sum(t for _, t in self.layers)

    def corner(self, layer: int, right: bool, up: bool) -> tuple[float, float]:
        """A corner of a layer's cut face, metres along x and up."""
        x = self.x + sum(t for _, t in self.layers[: layer + right])
        return x, self.top if up else self.base


def house(walls: tuple[Wall, ...], placed: bool, origin: tuple[float, float, float] = (0.0, 0.0, 0.0)) -> Model:
    """The walls as a model; `placed`: with placements, as a file gives them; `origin` is where it is re-based to."""
    names = list(dict.fromkeys(n for w in walls for n, _ in w.layers))
    build_ups: list[BuildUp] = []
    elements, vertices, triangles, owner = [], [], [], []
    count = 0
    for k, w in enumerate(walls):
        points, faces = box((w.x, w.start, w.base), (w.x + w.thick, w.end, w.top))
        vertices.append(points - np.array(origin))
        triangles.append(faces + count)
        owner.append(np.full(len(faces), k))
        count += len(points)
        build_ups.append(BuildUp("Wall", tuple(Layer(names.index(n), t) for n, t in w.layers)))
        ox, oy, oz = (np.array([w.x, w.start, w.base]) - np.array(origin)).tolist()
        place = Placement((ox, oy, oz), (0.0, 1.0, 0.0), (-1.0, 0.0, 0.0)) if placed else None
        frame = LayerFrame((ox, oy, oz), (1.0, 0.0, 0.0))
        elements.append(Element(w.guid, "Wall", "wall", 0, names.index(w.layers[0][0]), k, frame, place))
    owners = np.concatenate(owner).astype(np.int32)
    mesh = build_mesh(
        np.concatenate(vertices), np.concatenate(triangles).astype(np.int32), owners, np.full(len(owners), -1, np.int32)
    )
    return Model(
        name="Walls", mesh=mesh, elements=tuple(elements), materials=tuple(Material(n) for n in names),
        build_ups=tuple(build_ups), storeys=(Storey("storey-0", "Ground", -origin[2]),), origin=origin,
    )  # fmt: skip


def without_layer(wall: Wall, layer: int) -> Wall:
    return replace(wall, layers=wall.layers[:layer] + wall.layers[layer + 1 :])


def with_thickness(wall: Wall, layer: int, thick: float) -> Wall:
    layers = list(wall.layers)
    layers[layer] = (layers[layer][0], thick)
    return replace(wall, layers=tuple(layers))
