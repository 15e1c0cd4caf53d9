"""Units of length that a file may be in."""

from __future__ import annotations

from typing import Literal

Unit = Literal["mm", "cm", "m", "in", "ft"]
Up = Literal["y", "z"]
METRES: dict[str, float] = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254, "ft": 0.3048}
SILENT = (".obj", ".stl", ".ply")  # say neither their unit nor what is up
MESH_SUFFIXES = (".glb", ".gltf", *SILENT)
FILE_KINDS = (".ifc", *MESH_SUFFIXES)
