"""What becomes of corrections with a model: of which elements they are, and why some can't be."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import BuildUp, LayerFrame, Model
from edge_slice.core.model.corrections.documents import (
    BuildUpCorrection,
    Correction,
    LeftOut,
    MovedElements,
    WantedLayer,
)
from edge_slice.core.model.corrections.faces import NEAR, broad_face
from edge_slice.core.model.parts.places import turning

F64 = NDArray[np.float64]
GONE = "It is not in the model any more."
SAME = 1e-6  # metres; thicknesses nearer to each other are one


@dataclass(frozen=True)
class Corrected:
    """What became of a correction: how many elements have it now, how many have it in their file already, of how many
    their file has since changed what it is a correction of, and of those that can't have it why not, with how many
    there are of each. `found`: the elements (by number) that it is of."""

    of: Correction
    elements: int
    already: int
    changed: int
    refused: tuple[tuple[str, int], ...]
    found: tuple[int, ...]

    @property
    def lost(self) -> bool:
        """Whether the model has nothing any more that it is a correction of."""
        return not self.elements and not self.already and not [why for why, _ in self.refused if why != GONE]


@dataclass(frozen=True)
class Motion:
    """How an element comes to where it shall stand: turned (3, 3) and moved by (3,) metres."""

    turn: F64
    shift: F64


@dataclass
class Wanted:
    """What is to be changed of which elements, by their number."""

    layers: dict[int, BuildUpCorrection] = field(default_factory=dict)
    moved: dict[int, Motion] = field(default_factory=dict)
    left_out: set[int] = field(default_factory=set)

    def __bool__(self) -> bool:
        return bool(self.layers or self.moved or self.left_out)


@dataclass
class _Told:
    elements: int = 0
    already: int = 0
    changed: int = 0
    refused: list[str] = field(default_factory=list)
    found: list[int] = field(default_factory=list)

    def of(self, one: Correction) -> Corrected:
        reasons = tuple((why, self.refused.count(why)) for why in dict.fromkeys(self.refused))
        return Corrected(one, self.elements, self.already, self.changed, reasons, tuple(self.found))


def became(model: Model, corrections: Sequence[Correction]) -> tuple[Corrected, ...]:
    """What becomes of corrections, without a model that has them."""
    return sorted_out(model, corrections)[1]


def sorted_out(model: Model, corrections: Sequence[Correction]) -> tuple[Wanted, tuple[Corrected, ...]]:
    """What is to be changed, and what becomes of each correction."""
    wanted, told = Wanted(), [_Told() for _ in corrections]
    layered = {one.subjects: say for one, say in zip(corrections, told, strict=True)}
    for k, correction in _layered(model, [c for c in corrections if isinstance(c, BuildUpCorrection)]).items():
        _sort_layers(model, k, correction, wanted, layered[correction.subjects])
    for one, say in zip(corrections, told, strict=True):
        if isinstance(one, MovedElements):
            _sort_moved(model, one, wanted, say)
        elif isinstance(one, LeftOut):
            say.found = [model.element_by_guid[g] for g in one.elements if g in model.element_by_guid]
            say.elements, say.already = len(say.found), len(one.elements) - len(say.found)
            wanted.left_out.update(say.found)
    return wanted, tuple(say.of(one) for one, say in zip(corrections, told, strict=True))


def why_not(model: Model, k: int) -> str:
    """Why the build-up of an element can't be corrected; empty where it can."""
    element = model.elements[k]
    if element.build_up < 0 or element.frame is None:
        return "It has no layers in its file."
    if element.frame.radius > 0:
        return "It is curved."
    if k in model.leaking:
        return "Its body is not closed."
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


def _layered(model: Model, corrections: Iterable[BuildUpCorrection]) -> dict[int, BuildUpCorrection]:
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


def _sort_layers(model: Model, k: int, one: BuildUpCorrection, wanted: Wanted, say: _Told) -> None:
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


def boxes_as_surveyed(model: Model, elements: Sequence[str]) -> F64:
    """The boxes (n, 2, 3) of elements (GlobalIds), metres as surveyed; not finite for those without a body, and those
    that the model does not have."""
    numbers = [model.element_by_guid.get(guid, -1) for guid in elements]
    found = np.full((len(numbers), 2, 3), np.inf)
    found[np.array(numbers) >= 0] = model.boxes[[k for k in numbers if k >= 0]]
    return np.asarray(found + np.array(model.origin))


def _sort_moved(model: Model, one: MovedElements, wanted: Wanted, say: _Told) -> None:
    """Move each element from where it stood when that was said to where it shall stand, wherever it stands now."""
    now = boxes_as_surveyed(model, one.elements)
    stood = np.array(one.stood) if one.stood else now
    known = np.isfinite(stood).all(axis=(1, 2))
    if not known.any():
        return
    turn, middles = turning(one.turn), stood[known].mean(axis=1)
    pivot = (middles.min(axis=0) + middles.max(axis=0)) / 2
    for guid, is_, was in zip(one.elements, now, stood, strict=True):
        k = model.element_by_guid.get(guid)
        if k is None:
            say.refused.append(GONE)
            continue
        say.found.append(k)
        if model.elements[k].kind == "ground":
            say.refused.append("The ground is put right where grounds are said.")
        elif not np.isfinite(is_).all():
            say.refused.append("It has no body.")
        else:
            to = turn @ (was.mean(axis=0) - pivot) + pivot + np.array(one.by)
            _sort_one(model, k, (is_, was, to), turn, wanted, say)


def _sort_one(model: Model, k: int, places: tuple[F64, F64, F64], turn: F64, wanted: Wanted, say: _Told) -> None:
    """Of an element the box that it has and the one that it had (2, 3), and where its middle shall be (3,)."""
    is_, was, to = places
    other = bool(np.abs(is_ - was).max() >= NEAR)
    if other and np.abs(is_.mean(axis=0) - to).max() < NEAR:
        before = model.element_triangles(k).reshape(-1, 3) @ turn  # turned back: as it was, if it was turned so
        if np.abs(np.ptp(before, axis=0) - (was[1] - was[0])).max() < NEAR:
            say.already += 1
            return
    say.elements += 1
    say.changed += other
    middle = is_.mean(axis=0) - np.array(model.origin)
    wanted.moved[k] = Motion(turn, to - np.array(model.origin) - turn @ middle)
