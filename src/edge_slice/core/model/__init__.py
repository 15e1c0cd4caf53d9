"""The building as arrays: storeys, grid, elements, build-ups and one welded mesh."""

from edge_slice.core.model.building import (
    BuildUp,
    Element,
    GridAxis,
    Layer,
    LayerFrame,
    Material,
    Model,
    Placement,
    Run,
    Space,
    Storey,
)
from edge_slice.core.model.errors import UnreadableModel
from edge_slice.core.model.mesh.triangles import Mesh

__all__ = [
    "BuildUp",
    "Element",
    "GridAxis",
    "Layer",
    "LayerFrame",
    "Material",
    "Mesh",
    "Model",
    "Placement",
    "Run",
    "Space",
    "Storey",
    "UnreadableModel",
]
