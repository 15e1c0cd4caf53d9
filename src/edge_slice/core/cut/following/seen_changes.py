"""Which drawings see a change of the model: only these are cut anew."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

from edge_slice.core.cut.following.callouts import leaf_boxes
from edge_slice.core.cut.planes.leaves import Leaf, leaves_of
from edge_slice.core.cut.spec import AnyCut, BlankCut, ImpossibleCut, PlanCut
from edge_slice.core.model import Model
from edge_slice.core.model.building import Discipline

Regard = tuple[Discipline | None, Discipline | None]
AIR = 0.02  # metres around an element in which its neighbours may be trimmed otherwise


def sees_change(old: Model, new: Model, cut: AnyCut, changed: Collection[str]) -> bool:
    """Whether a cut may look otherwise in a newer model, of which the elements `changed` (GlobalIds) differ: one of
    them lies, before or after, in what the cut shows. One that is concealed counts as seen."""
    if isinstance(cut, BlankCut):
        return False
    try:
        before, after = leaves_of(old, cut), leaves_of(new, cut)
    except ImpossibleCut:
        return True
    if len(before) != len(after) or not all(_same(a, b) for a, b in zip(before, after, strict=True)):
        return True
    above = cut.overhead if isinstance(cut, PlanCut) else 0.0
    perspective = getattr(cut, "perspective", None) is not None
    return any(_shows(model, leaf, changed, above, perspective) for model in (old, new) for leaf in before)


def seen_changes(old: Model, new: Model, cut: AnyCut, changed: Collection[str]) -> list[str]:
    """Which of the elements (GlobalIds) that differ in a newer model lie in what the cut shows of one of both."""
    if isinstance(cut, BlankCut):
        return []
    try:
        views = [(model, leaf) for model in (old, new) for leaf in leaves_of(model, cut)]
    except ImpossibleCut:
        return list(changed)
    above = cut.overhead if isinstance(cut, PlanCut) else 0.0
    perspective = getattr(cut, "perspective", None) is not None
    return [guid for guid in changed if any(_shows(m, leaf, [guid], above, perspective) for m, leaf in views)]


def _same(a: Leaf, b: Leaf) -> bool:
    axes = all(
        np.allclose(getattr(a.axes, name), getattr(b.axes, name), atol=1e-9) for name in ("origin", "u", "v", "w")
    )
    return axes and np.allclose(a.window, b.window, atol=1e-6) and a.far == b.far


def _shows(model: Model, leaf: Leaf, changed: Collection[str], above: float, perspective: bool) -> bool:
    rows = [model.element_by_guid[guid] for guid in changed if guid in model.element_by_guid]
    if not rows:
        return False
    boxes = leaf_boxes(model, leaf)[rows]
    left, base, right, top = (x / 1000.0 for x in leaf.window)
    deep = (boxes[:, 0, 2] <= leaf.far / 1000.0 + AIR) & (boxes[:, 1, 2] >= -above - AIR)
    if perspective:
        return bool(deep.any())
    across = (boxes[:, 0, 0] <= right + AIR) & (boxes[:, 1, 0] >= left - AIR)
    up = (boxes[:, 0, 1] <= top + AIR) & (boxes[:, 1, 1] >= base - AIR)
    return bool((deep & across & up).any())


def other_disciplines(old: Model, new: Model) -> dict[Regard, set[str]]:
    """Elements (GlobalIds) whose part is of another discipline in a newer model, by what it was and is: None in a model
    of one file, to which no look by discipline applies."""
    found: dict[Regard, set[str]] = {}
    for element in new.elements:
        k = old.element_by_guid.get(element.guid)
        was = old.parts[old.elements[k].part].discipline if k is not None and old.parts else None
        now = new.parts[element.part].discipline if new.parts else None
        if was != now:
            found.setdefault((was, now), set()).add(element.guid)
    return found
