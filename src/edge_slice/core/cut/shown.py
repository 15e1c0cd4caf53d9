"""Shown sets: named rules of what shows, which several drawings share."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.cut.spec import MOST_LEFT_OUT, AnyCut, Guid
from edge_slice.core.model import Element, Model
from edge_slice.core.model.building import Discipline

Words = Annotated[tuple[Annotated[str, Field(max_length=200)], ...], Field(max_length=500)]


class PropertyValue(BaseModel):
    """A property of the file ("set: name"), and its value as it is shown."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    name: Annotated[str, Field(min_length=1, max_length=300)]
    value: Annotated[str, Field(max_length=200)]


class ShownRule(BaseModel):
    """What shows: of `only_kinds` and on `storeys` (GlobalId) alone, where any are named; and never `without_kinds`,
    `without_materials` (by name), `without_properties` (elements that have one of these values), `without_elements`
    (GlobalId) and parts of the model of `without_disciplines`. What stands in no storey is on all of them. Of what
    shows, `whole_kinds` are not cut, but drawn whole."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    only_kinds: Words = ()
    without_kinds: Words = ()
    without_materials: Words = ()
    without_properties: Annotated[tuple[PropertyValue, ...], Field(max_length=100)] = ()
    storeys: Words = ()
    without_elements: Annotated[tuple[Guid, ...], Field(max_length=MOST_LEFT_OUT)] = ()
    without_disciplines: Annotated[tuple[Discipline, ...], Field(max_length=5)] = ()
    whole_kinds: Words = ()


LOOSE = ("furniture", "person", "planting", "vehicle", "accessory")
STRUCTURE = ("wall", "slab", "roof", "beam", "column", "member", "footing", "stair", "ground")
SHIPPED_SETS: dict[str, tuple[str, ShownRule]] = {
    "everything": ("Everything", ShownRule()),
    "no-loose-things": ("No loose things", ShownRule(without_kinds=LOOSE)),
    "structure": ("Structure only", ShownRule(only_kinds=STRUCTURE)),
}


def shown_elements(model: Model, spec: AnyCut) -> NDArray[np.bool_]:
    """Which elements (elements,) a cut shows."""
    kinds, single = set(spec.without), set(spec.left_out)
    found = np.array([e.kind not in kinds and e.guid not in single for e in model.elements], dtype=bool)
    return found & ~model.of_disciplines(spec.without_disciplines)


def see_through_elements(model: Model, spec: AnyCut) -> NDArray[np.bool_]:
    """Which elements (elements,) hide nothing behind them."""
    kinds, single = set(spec.see_through_kinds), set(spec.see_through)
    return np.array([e.kind in kinds or e.guid in single for e in model.elements], dtype=bool)


def whole_elements(model: Model, spec: AnyCut) -> NDArray[np.bool_]:
    """Which elements (elements,) are drawn whole where the cut would go through them."""
    kinds = set(spec.whole_kinds)
    found = np.array([e.kind in kinds for e in model.elements], dtype=bool)
    found[[model.element_by_guid[guid] for guid in spec.whole if guid in model.element_by_guid]] = True
    return found


def left_out_by(model: Model, rule: ShownRule) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Kinds and elements (GlobalId) that a rule leaves out."""
    others = sorted(set(model.kinds) - set(rule.only_kinds)) if rule.only_kinds else []
    single = [e.guid for e in model.elements if _leaves_out(model, rule, e)]
    return (*rule.without_kinds, *others), (*rule.without_elements, *single)


def following(model: Model, cut: AnyCut, rule: ShownRule) -> AnyCut:
    """The cut with what a rule leaves out left out too, and drawn whole what it draws whole."""
    more_kinds, more = left_out_by(model, rule)
    kinds = tuple(dict.fromkeys((*cut.without, *more_kinds)))
    left_out = tuple(dict.fromkeys((*cut.left_out, *more)))
    parts = tuple(dict.fromkeys((*cut.without_disciplines, *rule.without_disciplines)))
    whole = tuple(dict.fromkeys((*cut.whole_kinds, *rule.whole_kinds)))
    if (kinds, left_out, parts, whole) == (cut.without, cut.left_out, cut.without_disciplines, cut.whole_kinds):
        return cut
    more_of_it = {"without": kinds, "left_out": left_out, "without_disciplines": parts, "whole_kinds": whole}
    return cut.model_copy(update=more_of_it)


def _leaves_out(model: Model, rule: ShownRule, element: Element) -> bool:
    if rule.storeys and element.storey >= 0 and model.storeys[element.storey].guid not in rule.storeys:
        return True
    if element.material >= 0 and model.materials[element.material].name in rule.without_materials:
        return True
    return any((p.name, p.value) in element.properties for p in rule.without_properties)
