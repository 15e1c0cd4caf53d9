"""The compact form of a model in three dimensions, storey by storey.

Layout of a part, little-endian: uint32 length of the head; the head in UTF-8 (JSON), padded with blanks to a multiple
of four; positions (n, 3) uint16, padded to a multiple of four bytes; triangles (m, 3) uint32; edges (e, 2) uint32. A
position is `low + step * (x, y, z)` metres. Elements follow one another from the largest to the smallest, so that the
first triangles of a part are its coarse picture.
"""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
FINEST = 65535  # steps across a part


@dataclass(frozen=True)
class SolidPart:
    """What stands on a storey, or on none (index -1): its elements from the largest to the smallest, and how many
    triangles they have."""

    storey: int
    elements: I64
    triangles: int


def solid_parts(model: Model) -> tuple[SolidPart, ...]:
    """The parts of a model that have triangles: storeys from the lowest on, then what stands on none."""
    mesh = model.mesh
    counts = np.bincount(mesh.triangle_element, minlength=len(model.elements))
    storey = np.array([e.storey for e in model.elements], dtype=np.int64)
    size = np.linalg.norm(np.diff(np.nan_to_num(model.boxes), axis=1)[:, 0], axis=1)
    found = []
    for number in (*range(len(model.storeys)), -1):
        mine = np.flatnonzero((storey == number) & (counts > 0))
        if len(mine):
            order = mine[np.argsort(-size[mine], kind="stable")]
            found.append(SolidPart(number, order, int(counts[mine].sum())))
    return tuple(found)


def part_bytes(model: Model, part: SolidPart, standard: DrawingStandard) -> bytes:
    """A part in its compact form; `classes` in its head are the tints of materials by the standard."""
    mesh = model.mesh
    triangles, triangle_counts = _rows_of(mesh.triangle_element, part.elements, len(model.elements))
    sharp = np.flatnonzero(mesh.edge_sharp)
    edges, edge_counts = _rows_of(mesh.edge_element[sharp], part.elements, len(model.elements))
    corners, ends = mesh.triangles[triangles], mesh.edges[sharp[edges]]
    used, index = np.unique(np.concatenate((corners.ravel(), ends.ravel())), return_inverse=True)
    points = mesh.vertices[used]
    low = points.min(axis=0)
    step = np.maximum((points.max(axis=0) - low) / FINEST, 1e-9)
    positions = np.rint((points - low) / step).astype("<u2")
    class_of = standard.face_classes(model)
    elements = []
    for k, row in enumerate(part.elements.tolist()):
        one = model.elements[row]
        kind = class_of(one, -1, -1)
        elements.append([one.guid, one.kind, one.name, kind, int(triangle_counts[k]), int(edge_counts[k])])
    head = {
        "storey": model.storeys[part.storey].guid if part.storey >= 0 else "",
        "low": low.tolist(), "step": step.tolist(), "vertices": len(used), "triangles": len(corners),
        "edges": len(ends), "elements": elements,
        "classes": {kind: standard.materials[kind].tint for kind in sorted({e[3] for e in elements})},
    }  # fmt: skip
    text = json.dumps(head, ensure_ascii=False, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    placed = positions.tobytes()
    placed += b"\0" * (-len(placed) % 4)
    split = corners.size
    return b"".join((
        struct.pack("<I", len(text)), text, placed,
        index[:split].astype("<u4").tobytes(), index[split:].astype("<u4").tobytes(),
    ))  # fmt: skip


def _rows_of(owner: NDArray[np.int32], wanted: I64, count: int) -> tuple[I64, I64]:
    """The rows of each wanted element, one element after the other, and how many each has."""
    place = np.full(count, -1, dtype=np.int64)
    place[wanted] = np.arange(len(wanted))
    rows = np.flatnonzero(place[owner] >= 0)
    order = np.argsort(place[owner[rows]], kind="stable")
    return rows[order], np.bincount(place[owner[rows]], minlength=len(wanted))
