"""The cut as a JSON document (schema in cut.schema.json), for tests and scripts."""

from __future__ import annotations

from dataclasses import replace
from importlib import resources
from typing import Any

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import Axes, CutFace, CutResult, Role
from edge_slice.core.cut.anchors.references import line_features
from edge_slice.core.cut.lines.chains import chains_of
from edge_slice.core.drawing.compose import GROUND, shown_ground
from edge_slice.core.drawing.content import shown_pieces
from edge_slice.core.drawing.rules.standard import DrawingStandard, FaceClasses
from edge_slice.core.model import Model

DECIMALS = 6  # of a millimetre


def cut_document(model: Model, result: CutResult, scale: float, standard: DrawingStandard) -> dict[str, Any]:
    """Faces and lines in drawing millimetres at model size; `cut` lines are the faces' outlines, the others are
    chained, with a stable name for the edge of every stretch."""
    class_of = standard.face_classes(model)
    faces, lines = [], []
    for face in _as_drawn(model, result, scale, standard, class_of):
        element = model.elements[face.element]
        rings = [_points(np.asarray(r.coords)) for r in (face.polygon.exterior, *face.polygon.interiors)]
        name = model.materials[face.material].name if face.material >= 0 else ""
        kind = class_of(element, face.material, face.layer)
        faces.append(
            {"element": element.guid, "kind": element.kind, "material": name, "class": kind,
             "layer": max(face.layer, 0), "leaf": face.leaf, "rings": rings}
        )  # fmt: skip
        lines += [{"role": "cut", "element": element.guid, "points": ring} for ring in rings]
    features = line_features(model, result)
    for chain in chains_of(result.lines):
        first = int(chain.pieces[0])
        lines.append(
            {
                "role": Role(result.lines.role[first]).name.lower(),
                "element": model.elements[result.lines.element[first]].guid,
                "points": _points(chain.points),
                "features": [features[k] for k in chain.pieces.tolist()],
            }
        )
    return {
        "schema": 1,
        "unit": "mm",
        "scale": scale,
        "axes": _axes(result.axes),
        "leaves": [{**_axes(leaf.axes), "left": leaf.window[0], "right": leaf.window[2]} for leaf in result.leaves],
        "extents": list(result.extents),
        "leaking": sorted({model.elements[e].guid for e, _ in result.open_chains}),
        "faces": faces,
        "lines": lines,
    }


def _as_drawn(
    model: Model, result: CutResult, scale: float, standard: DrawingStandard, class_of: FaceClasses
) -> list[CutFace]:
    """The cut faces, with those of ground as the band that is drawn of them."""
    ground = [class_of(model.elements[f.element], f.material, f.layer) == GROUND for f in result.faces]
    if not any(ground):
        return list(result.faces)
    bands, _ = shown_ground(result, shown_pieces(model, result, standard, "membranes", scale), standard, scale)
    first = {f.element: f for f, is_ground in zip(result.faces, ground, strict=True) if is_ground}
    return [f for f, is_ground in zip(result.faces, ground, strict=True) if not is_ground] + [
        replace(first[element], polygon=polygon) for element, polygon in bands
    ]


def cut_schema() -> str:
    """The JSON Schema of the document, as text."""
    return resources.files("edge_slice.core.render").joinpath("cut.schema.json").read_text("utf-8")


def _axes(axes: Axes) -> dict[str, list[float]]:
    return {"origin": axes.origin.tolist(), "u": axes.u.tolist(), "v": axes.v.tolist(), "w": axes.w.tolist()}


def _points(points: NDArray[np.float64]) -> list[list[float]]:
    rounded: list[list[float]] = np.round(points, DECIMALS).tolist()
    return rounded
