"""Sections that say what another one says: they cut the same things at the same places, and look the same way."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.placing.report import cut_report, things
from edge_slice.core.cut.planes.leaves import ground_line
from edge_slice.core.cut.result import CutResult
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
SAME = 0.03  # metres by which ends and heights of one thing may differ
PARALLEL = 1e-3  # sine of the angle between sections that look the same way


@dataclass(frozen=True)
class CutThrough:
    """What a straight section passes through: `kinds` (n), `spans` (n, 4) from start to end along it and from base to
    top, metres; the line on plan, and which way it looks. All numbers of the model."""

    line: tuple[tuple[float, float], tuple[float, float]]
    look: tuple[float, float]
    kinds: tuple[str, ...]
    spans: tuple[tuple[float, float, float, float], ...]


def cut_through(model: Model, result: CutResult) -> CutThrough | None:
    """None of a cut that has steps, or isn't upright."""
    if not result.upright or len(result.leaves) != 1 or result.lens is not None:
        return None
    (leaf,) = result.leaves
    passages = cut_report(model, result).passages
    shift = float(leaf.axes.origin @ leaf.axes.u)
    (a, b), look = ground_line(leaf).coords, leaf.axes.w
    return CutThrough(
        ((a[0], a[1]), (b[0], b[1])), (float(look[0]), float(look[1])), tuple(p.kind for p in passages),
        tuple((p.start + shift, p.end + shift, p.base, p.top) for p in passages),
    )  # fmt: skip


def repeated(model: Model, sections: Sequence[CutThrough | None]) -> list[tuple[int, int]]:
    """Pairs of sections of which the second adds nothing to the first: it shows the same, and nothing that a section
    explains stands between them."""
    found = []
    gone: set[int] = set()
    for k, one in enumerate(sections):
        for n, other in enumerate(sections[k + 1 :], start=k + 1):
            if one is None or other is None or {k, n} & gone:
                continue
            if _alike(one, other) and not _between(model, one, other):
                found.append((k, n))
                gone.add(n)
    return found


def _alike(one: CutThrough, other: CutThrough) -> bool:
    looks = np.array(one.look), np.array(other.look)
    if abs(looks[0][0] * looks[1][1] - looks[0][1] * looks[1][0]) > PARALLEL or looks[0] @ looks[1] < 0:
        return False
    if sorted(one.kinds) != sorted(other.kinds) or not one.kinds:
        return False
    left = list(zip(other.kinds, other.spans, strict=True))
    for kind, span in zip(one.kinds, one.spans, strict=True):
        match = next((x for x in left if x[0] == kind and np.abs(np.subtract(x[1], span)).max() <= SAME), None)
        if match is None:
            return False
        left.remove(match)
    return True


def _between(model: Model, one: CutThrough, other: CutThrough) -> bool:
    """Whether something that a section explains stands between two that are parallel, and is cut by neither."""
    lines = [shapely.LineString(section.line) for section in (one, other)]
    strip = shapely.convex_hull(shapely.union_all(lines))
    for _, _, _, outline, _, _ in things(model):
        if any(shapely.intersects(line, outline) for line in lines):
            continue
        if shapely.intersects(strip, outline):
            return True
    return False
