"""What becomes of corrections with a model: of which elements they are, and why some can't be."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.corners import vertices_as_wanted
from edge_slice.core.model.corrections.documents import (
    BuildUpCorrection,
    CopiedElements,
    Correction,
    FaceElsewhere,
    LeftOut,
    MovedElements,
    OtherFlight,
    OtherMaterial,
    OtherOpening,
)
from edge_slice.core.model.corrections.face_layers import sort_face_layer
from edge_slice.core.model.corrections.faces import NEAR
from edge_slice.core.model.corrections.holes import sort_openings
from edge_slice.core.model.corrections.layers import layered_by, sort_layers
from edge_slice.core.model.corrections.materials import sort_material, with_materials
from edge_slice.core.model.corrections.new_bodies import sort_copies, sort_new
from edge_slice.core.model.corrections.new_documents import NewBody, NewLayer, NewRun
from edge_slice.core.model.corrections.openings import OUTSIDE, sort_opening
from edge_slice.core.model.corrections.pushing import THROUGH, sort_face
from edge_slice.core.model.corrections.steps import sort_flight
from edge_slice.core.model.corrections.wanted import Corrected, Motion, Told, Wanted
from edge_slice.core.model.parts.places import turning

F64 = NDArray[np.float64]
LATER = (OtherFlight, CopiedElements, NewLayer)  # in that order
IN_THE_WAY = {THROUGH, OUTSIDE}  # why one can't be as long as another one isn't done


def became(model: Model, corrections: Sequence[Correction]) -> tuple[Corrected, ...]:
    """What becomes of corrections, without a model that has them."""
    return sorted_out(model, corrections)[1]


def sorted_out(model: Model, corrections: Sequence[Correction]) -> tuple[Wanted, tuple[Corrected, ...]]:
    """What is to be changed, and what becomes of each correction."""
    wanted, told = Wanted(), [Told() for _ in corrections]
    for one, say in zip(corrections, told, strict=True):
        if isinstance(one, OtherMaterial):
            sort_material(model, one, wanted, say)
    model = with_materials(model, wanted)
    layered = {one.subjects: say for one, say in zip(corrections, told, strict=True)}
    for k, correction in layered_by(model, [c for c in corrections if isinstance(c, BuildUpCorrection)]).items():
        sort_layers(model, k, correction, wanted, layered[correction.subjects])
    for one, say in zip(corrections, told, strict=True):
        match one:
            case MovedElements():
                _sort_moved(model, one, wanted, say)
            case LeftOut():
                _sort_left_out(model, one, wanted, say)
            case CopiedElements():
                sort_copies(model, one, wanted, say)
            case NewBody() | NewRun():
                sort_new(model, one, wanted, say)
            case _:
                pass  # sorted out before or after the others
    _sort_shapes(model, corrections, told, wanted)
    _sort_rebuilt(model, corrections, told, wanted)
    return wanted, tuple(say.of(one) for one, say in zip(corrections, told, strict=True))


def _sort_rebuilt(model: Model, corrections: Sequence[Correction], told: Sequence[Told], wanted: Wanted) -> None:
    """What has other corners than before, or is made from others as they are in the end: steps, openings of copies,
    then layers on faces, which go round these."""
    later = [(one, say) for one, say in zip(corrections, told, strict=True) if isinstance(one, LATER)]
    vertices = vertices_as_wanted(model, wanted) if later else model.mesh.vertices
    for kind in LATER:
        for one, say in sorted(later, key=lambda pair: pair[0].subjects):
            if not isinstance(one, kind):
                continue
            match one:
                case OtherFlight():
                    sort_flight(model, one, wanted, say)
                case CopiedElements(openings=True):
                    sort_openings(model, one, wanted, vertices, say)
                case NewLayer():
                    sort_face_layer(model, one, corrections, wanted, vertices, say)
                case _:
                    pass


def _sort_shapes(model: Model, corrections: Sequence[Correction], told: Sequence[Told], wanted: Wanted) -> None:
    """Faces and openings, whatever the order in which they were said: one that is in the way of another one, as long as
    that is not done yet, is tried again after it."""
    left: list[tuple[FaceElsewhere | OtherOpening, Told]] = sorted(
        (
            (one, say)
            for one, say in zip(corrections, told, strict=True)
            if isinstance(one, FaceElsewhere | OtherOpening)
        ),
        key=lambda pair: (isinstance(pair[0], OtherOpening), pair[0].subjects),
    )
    while left:
        again = []
        for one, say in left:
            say.refused.clear()
            say.found.clear()
            if isinstance(one, FaceElsewhere):
                sort_face(model, one, wanted, say)
            else:
                sort_opening(model, one, wanted, say)
            if {*say.refused} & IN_THE_WAY:
                again.append((one, say))
        if len(again) == len(left):
            return
        left = again


def boxes_as_surveyed(model: Model, elements: Sequence[str]) -> F64:
    """The boxes (n, 2, 3) of elements (GlobalIds), metres as surveyed; not finite for those without a body, and those
    that the model does not have."""
    numbers = [model.element_by_guid.get(guid, -1) for guid in elements]
    found = np.full((len(numbers), 2, 3), np.inf)
    found[np.array(numbers) >= 0] = model.boxes[[k for k in numbers if k >= 0]]
    return np.asarray(found + np.array(model.origin))


def _sort_left_out(model: Model, one: LeftOut, wanted: Wanted, say: Told) -> None:
    say.found = [model.element_by_guid[g] for g in one.elements if g in model.element_by_guid]
    say.elements, say.already = len(say.found), len(one.elements) - len(say.found)
    wanted.left_out.update(say.found)


def _sort_moved(model: Model, one: MovedElements, wanted: Wanted, say: Told) -> None:
    """Move each element from where it stood when that was said to where it shall stand, wherever it stands now."""
    now = boxes_as_surveyed(model, one.elements)
    stood = np.array(one.stood) if one.stood else now
    known = np.isfinite(stood).all(axis=(1, 2))
    if not known.any():
        return
    turn, middles = turning(one.turn), stood[known].mean(axis=1)
    pivot = (middles.min(axis=0) + middles.max(axis=0)) / 2
    for guid, is_, was in zip(one.elements, now, stood, strict=True):
        if (k := say.known(model, guid)) is not None:
            to = turn @ (was.mean(axis=0) - pivot) + pivot + np.array(one.by)
            _sort_one(model, k, (is_, was, to), turn, wanted, say)


def _sort_one(model: Model, k: int, places: tuple[F64, F64, F64], turn: F64, wanted: Wanted, say: Told) -> None:
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
