"""The compact form of a model in three dimensions, storey by storey.

Layout of a part, little-endian: uint32 length of the head; the head in UTF-8 (JSON), padded with blanks to a multiple
of four; positions (n, 3) uint16, padded to a multiple of four bytes; triangles (m, 3) uint32; edges (e, 2) uint32. A
position is `low + step * (x, y, z)` metres. Elements follow one another from the largest to the smallest, so that the
first triangles of a part are its coarse picture; the triangles of an element are ordered by the material they show.
"""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model import Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
LAYOUT = "4"  # raise it when the form of a part, or the order of its contents, is another
FINEST = 65535  # steps across a part
MOST = 2_000_000  # triangles that a browser holds with ease; measured by bench.large_model
APART = 0.06  # metres between edges of a body, on average, that are told apart
PIECE = 150_000  # triangles of a part, so that something shows soon


@dataclass(frozen=True)
class SolidPart:
    """What stands on a storey, or on none (index -1): its elements from the largest to the smallest, how many triangles
    they have, and how many elements of the storey are not among them."""

    storey: int
    elements: I64
    triangles: int
    missing: int = 0


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


def fitting(model: Model, parts: tuple[SolidPart, ...], most: int = MOST) -> tuple[SolidPart, ...]:
    """The parts with no more than `most` triangles together: each with its largest elements that find room."""
    total = sum(p.triangles for p in parts)
    if total <= most:
        return parts
    counts = np.bincount(model.mesh.triangle_element, minlength=len(model.elements))
    found = []
    for part in parts:
        room, kept = int(part.triangles * most / total), []
        for element, count in zip(part.elements.tolist(), counts[part.elements].tolist(), strict=True):
            if count <= room:
                kept.append(element)
                room -= count
        elements = np.array(kept, dtype=np.int64)
        found.append(SolidPart(part.storey, elements, int(counts[elements].sum()), len(part.elements) - len(kept)))
    return tuple(found)


def in_pieces(model: Model, parts: tuple[SolidPart, ...], most: int = PIECE) -> tuple[SolidPart, ...]:
    """Large parts as several of about `most` triangles, the largest elements in the first one; what is missing of all
    of them is said of the first."""
    counts = np.bincount(model.mesh.triangle_element, minlength=len(model.elements))
    found = []
    for part in parts:
        piece = np.maximum(np.cumsum(counts[part.elements]) - 1, 0) // most
        for k, number in enumerate(np.unique(piece).tolist()):
            elements = part.elements[piece == number]
            missing = part.missing if k == 0 else 0
            found.append(SolidPart(part.storey, elements, int(counts[elements].sum()), missing))
    return tuple(found)


def seen_materials(model: Model) -> I64:
    """The material that each triangle (m,) shows, -1 for an unknown one: of elements with layers the outermost one on
    their broad sides, their main one elsewhere."""
    unknown = len(model.materials)
    own = model.triangle_materials
    found = np.where(model.surfaces.kind > unknown, own, model.surfaces.kind)
    return np.where(found == unknown, -1, found)


def shown_edges(model: Model, elements: I64) -> tuple[I64, I64]:
    """The sharp edges of elements that are drawn, one element after the other, and how many each has: all of most; of
    one that is nothing but edges (plants, metalwork) the longest, as many as can be told apart on its surface."""
    mesh = model.mesh
    sharp = np.flatnonzero(mesh.edge_sharp)
    rows, counts = _rows_of(mesh.edge_element[sharp], elements, len(model.elements))
    edges, owner = sharp[rows], np.repeat(np.arange(len(elements)), counts)
    ends = mesh.vertices[mesh.edges[edges]]
    length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    triangles, triangle_counts = _rows_of(mesh.triangle_element, elements, len(model.elements))
    area = np.linalg.norm(mesh.normals[triangles], axis=1) / 2
    room = np.bincount(np.repeat(np.arange(len(elements)), triangle_counts), area, len(elements)) / APART
    dense = np.bincount(owner, length, len(elements)) > room
    if not dense.any():
        return edges, counts
    order = np.lexsort((-length, owner))
    run, first = np.cumsum(length[order]), np.searchsorted(owner, owner)
    within = run - np.where(first > 0, run[first - 1], 0.0)
    kept = np.sort(order[~dense[owner] | (within <= room[owner])])
    return edges[kept], np.bincount(owner[kept], minlength=len(elements))


def part_bytes(model: Model, part: SolidPart) -> bytes:
    """A part in its compact form."""
    mesh = model.mesh
    triangles, triangle_counts = _rows_of(mesh.triangle_element, part.elements, len(model.elements))
    material = seen_materials(model)[triangles]
    owner = np.repeat(np.arange(len(part.elements)), triangle_counts)
    order = np.lexsort((material, owner))  # each owner's by their material; owners stay as they are
    triangles, material = triangles[order], material[order]
    edges, edge_counts = shown_edges(model, part.elements)
    corners, ends = mesh.triangles[triangles], mesh.edges[edges]
    used, index = np.unique(np.concatenate((corners.ravel(), ends.ravel())), return_inverse=True)
    points = mesh.vertices[used]
    low = points.min(axis=0)
    step = np.maximum((points.max(axis=0) - low) / FINEST, 1e-9)
    positions = np.rint((points - low) / step).astype("<u2")
    runs = _runs(owner, material, len(part.elements))
    elements = [
        [one.guid, one.kind, one.name, runs[k], count]
        for k, (one, count) in enumerate(
            zip((model.elements[row] for row in part.elements.tolist()), edge_counts.tolist(), strict=True)
        )
    ]
    head = {
        "storey": model.storeys[part.storey].guid if part.storey >= 0 else "",
        "low": low.tolist(), "step": step.tolist(), "vertices": len(used), "triangles": len(corners),
        "edges": len(ends), "elements": elements,
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


def _runs(owner: I64, material: I64, count: int) -> list[list[list[int]]]:
    """Of each of `count` owners its runs of rows of one material: material, and how many."""
    begins = np.flatnonzero(np.diff(owner, prepend=-1) | np.diff(material, prepend=-2))
    long = np.diff(np.append(begins, len(owner)))
    found: list[list[list[int]]] = [[] for _ in range(count)]
    for at, one, many in zip(owner[begins].tolist(), material[begins].tolist(), long.tolist(), strict=True):
        found[at].append([one, many])
    return found


def _rows_of(owner: NDArray[np.int32], wanted: I64, count: int) -> tuple[I64, I64]:
    """The rows of each wanted element, one element after the other, and how many each has."""
    place = np.full(count, -1, dtype=np.int64)
    place[wanted] = np.arange(len(wanted))
    rows = np.flatnonzero(place[owner] >= 0)
    order = np.argsort(place[owner[rows]], kind="stable")
    return rows[order], np.bincount(place[owner[rows]], minlength=len(wanted))
