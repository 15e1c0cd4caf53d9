"""Lines of one element and role that meet end to end become polylines; each piece keeps its number."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.pieces import CutLines

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
MEET = 0.01  # mm; ends nearer to each other are one point


@dataclass(frozen=True)
class Chain:
    """points (n + 1, 2) in drawing mm; pieces (n,): the index in `CutLines` of each stretch between them."""

    points: F64
    pieces: I64


@njit(cache=True, nogil=True)
def _walk(nodes: I64, degree: I64, slots: I64):  # type: ignore[no-untyped-def]
    """Order pieces along chains: piece, whether it is turned, and where each chain starts. nodes (n, 2)."""
    n = nodes.shape[0]
    order, turned = np.empty(n, np.int64), np.zeros(n, np.bool_)
    starts = np.empty(n + 1, np.int64)
    used = np.zeros(n, np.bool_)
    filled = chains = 0
    for phase in range(2):  # from loose ends first, then rings
        for i in range(n):
            if used[i]:
                continue
            if phase == 0 and degree[nodes[i, 0]] == 2 and degree[nodes[i, 1]] == 2:
                continue
            starts[chains] = filled
            chains += 1
            at = i
            flip = phase == 0 and degree[nodes[i, 0]] == 2
            while True:
                used[at] = True
                order[filled], turned[filled] = at, flip
                filled += 1
                node = nodes[at, 0] if flip else nodes[at, 1]
                if degree[node] != 2:
                    break
                after = slots[node, 0] if slots[node, 0] != at else slots[node, 1]
                if used[after]:
                    break
                flip = nodes[after, 1] == node
                at = after
    starts[chains] = filled
    return order, turned, starts[: chains + 1]


def walk(nodes: I64) -> tuple[I64, NDArray[np.bool_], I64]:
    """Stretches from node to node (n, 2) put one after the other where two alone meet: their order (n,), which of them
    are turned round (n,), and where each chain starts in it (chains + 1,)."""
    flat = nodes.reshape(-1)
    degree = np.bincount(flat).astype(np.int64)
    slots = np.full((len(degree), 2), -1, dtype=np.int64)
    piece = np.repeat(np.arange(len(nodes)), 2)
    slots[flat[::-1], 0] = piece[::-1]
    slots[flat, 1] = piece
    found: tuple[I64, NDArray[np.bool_], I64] = _walk(nodes, degree, slots)
    return found


def chains_of(lines: CutLines) -> list[Chain]:
    """All lines as chains, in the order of their first pieces."""
    n = len(lines.points)
    if not n:
        return []
    ends = np.rint(lines.points.reshape(-1, 2) / MEET).astype(np.int64)
    owner = np.repeat(lines.element.astype(np.int64) * 8 + lines.role, 2)
    _, index = np.unique(np.column_stack((owner, ends)), axis=0, return_inverse=True)
    order, turned, starts = walk(index.reshape(-1, 2).astype(np.int64))
    points = lines.points[order]
    points = np.where(turned[:, None], points[:, [2, 3, 0, 1]], points)
    found = []
    for a, b in zip(starts[:-1].tolist(), starts[1:].tolist(), strict=True):
        found.append(Chain(np.vstack((points[a:b, :2], points[b - 1 : b, 2:])), order[a:b]))
    return found
