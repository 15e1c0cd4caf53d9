"""The cut as a JSON document (schema in cut.schema.json), for tests and scripts."""

from __future__ import annotations

from importlib import resources
from typing import Any

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import CutResult, Role
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.model import Model

DECIMALS = 6  # of a millimetre


def cut_document(model: Model, result: CutResult, scale: float, standard: DrawingStandard) -> dict[str, Any]:
    """Faces and lines in drawing millimetres at model size; `cut` lines are the faces' outlines."""
    classes = standard.classes(model)
    faces, lines = [], []
    for face in result.faces:
        element = model.elements[face.element]
        rings = [_points(np.asarray(r.coords)) for r in (face.polygon.exterior, *face.polygon.interiors)]
        name = model.materials[face.material].name if face.material >= 0 else ""
        faces.append(
            {"element": element.guid, "kind": element.kind, "material": name, "class": classes[face.material],
             "layer": max(face.layer, 0), "rings": rings}
        )  # fmt: skip
        lines += [{"role": "cut", "element": element.guid, "points": ring} for ring in rings]
    seen = result.lines
    for points, role, index in zip(np.round(seen.points, DECIMALS).tolist(), seen.role, seen.element, strict=True):
        lines.append(
            {"role": Role(role).name.lower(), "element": model.elements[index].guid, "points": [points[:2], points[2:]]}
        )
    axes = result.axes
    return {
        "schema": 1,
        "unit": "mm",
        "scale": scale,
        "axes": {"origin": axes.origin.tolist(), "u": axes.u.tolist(), "v": axes.v.tolist(), "w": axes.w.tolist()},
        "extents": list(result.extents),
        "leaking": sorted({model.elements[e].guid for e, _ in result.open_chains}),
        "faces": faces,
        "lines": lines,
    }


def cut_schema() -> str:
    """The JSON Schema of the document, as text."""
    return resources.files("edge_slice.core.render").joinpath("cut.schema.json").read_text("utf-8")


def _points(points: NDArray[np.float64]) -> list[list[float]]:
    rounded: list[list[float]] = np.round(points, DECIMALS).tolist()
    return rounded
