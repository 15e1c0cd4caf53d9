"""Which way a hatch runs in each piece: like neighbours get different variants, so that their border reads."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.content import Piece

NEAR = 0.5  # mm of model; pieces nearer to each other are neighbours


def variants(pieces: list[Piece], hatches: list[str], groups: NDArray[np.int64]) -> list[int]:
    """A variant (0, 1, 2 …) for each piece: pieces of one hatch that touch and do not merge (`groups`: the same
    number) get different ones where that is possible, in the order of the pieces (greedy colouring). Pieces that
    merge share theirs."""
    result = [0] * len(pieces)
    if len(pieces) < 2:
        return result
    shapes = np.array([p.polygon for p in pieces])
    first, second = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=NEAR)
    once = first < second
    touching: dict[int, set[int]] = {}
    like: dict[int, set[int]] = {}
    for i, j in zip(first[once].tolist(), second[once].tolist(), strict=True):
        if hatches[i] != hatches[j]:
            continue
        table = like if groups[i] == groups[j] else touching
        table.setdefault(i, set()).add(j)
        table.setdefault(j, set()).add(i)
    cluster = _clusters(len(pieces), like)
    around: dict[int, set[int]] = {}
    for i, others in touching.items():
        around.setdefault(cluster[i], set()).update(cluster[j] for j in others)
    chosen: dict[int, int] = {}
    for c in dict.fromkeys(cluster):
        taken = {chosen[o] for o in around.get(c, ()) if o in chosen and o != c}
        chosen[c] = next(v for v in range(len(taken) + 1) if v not in taken)
    return [chosen[c] for c in cluster]


def _clusters(count: int, like: dict[int, set[int]]) -> list[int]:
    """Pieces that merge, by the lowest index among them."""
    cluster = [-1] * count
    for start in range(count):
        if cluster[start] >= 0:
            continue
        stack = [start]
        while stack:
            at = stack.pop()
            if cluster[at] < 0:
                cluster[at] = start
                stack += [n for n in like.get(at, ()) if cluster[n] < 0]
    return cluster
