"""Layers of elements that are to be others: which correction an element's are, and why some can't be."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from edge_slice.core.model.building import BuildUp, LayerFrame, Model
from edge_slice.core.model.corrections.documents import BuildUpCorrection, WantedLayer
from edge_slice.core.model.corrections.faces import broad_face
from edge_slice.core.model.corrections.wanted import LEAKS, SAME, Told, Wanted


def why_not(model: Model, k: int) -> str:
    """Why the build-up of an element can't be corrected; empty where it can."""
    element = model.elements[k]
    if element.build_up < 0 or element.frame is None:
        return "It has no layers in its file."
    if element.frame.radius > 0:
        return "It is curved."
    if k in model.leaking:
        return LEAKS
    if not layers_of(model, model.build_ups[element.build_up]):
        return "One of its layers is too thick to be one."
    normal, offset = np.array(element.frame.direction), offset_of(element.frame)
    thick = model.build_ups[element.build_up].thickness
    if broad_face(model, k, -normal, -offset, 0.0) is None or broad_face(model, k, normal, offset + thick, 0.0) is None:
        return "Its layers don't add up to its body."
    return ""


def offset_of(frame: LayerFrame) -> float:
    """How far along their direction from the zero layers begin, metres."""
    return float(np.array(frame.origin) @ np.array(frame.direction))


def layers_of(model: Model, build_up: BuildUp) -> tuple[WantedLayer, ...]:
    """The layers of a build-up as a correction says them; none where one is thinner or thicker than it may say."""
    try:
        return tuple(
            WantedLayer(material=model.materials[x.material].name, thickness=round(x.thickness, 9))
            for x in build_up.layers
        )
    except ValueError:
        return ()


def layered_by(model: Model, corrections: Iterable[BuildUpCorrection]) -> dict[int, BuildUpCorrection]:
    """The correction of the layers of each element that there is one of, by its number."""
    corrections = list(corrections)
    by_element = {one.element: one for one in corrections if one.element}
    by_name = {one.build_up: one for one in corrections if one.build_up}
    found = {}
    for k, element in enumerate(model.elements):
        name = model.build_ups[element.build_up].name if element.build_up >= 0 else None
        one = by_element.get(element.guid) or (by_name.get(name) if name is not None else None)
        if one is not None:
            found[k] = one
    return found


def sort_layers(model: Model, k: int, one: BuildUpCorrection, wanted: Wanted, say: Told) -> None:
    say.found.append(k)
    if reason := why_not(model, k):
        say.refused.append(reason)
        return
    build_up = model.build_ups[model.elements[k].build_up]
    if _is_so(model, build_up, one.layers):
        say.already += 1
        return
    say.elements += 1
    say.changed += bool(one.instead_of) and not _is_so(model, build_up, one.instead_of)
    wanted.layers[k] = one


def _is_so(model: Model, build_up: BuildUp, layers: Sequence[WantedLayer]) -> bool:
    """Whether a build-up has these layers."""
    return len(build_up.layers) == len(layers) and all(
        model.materials[is_.material].name == shall.material and abs(is_.thickness - shall.thickness) < SAME
        for is_, shall in zip(build_up.layers, layers, strict=True)
    )
