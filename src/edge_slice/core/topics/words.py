"""Corrections in words, for those who shall do them."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import pairwise

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
    WantedLayer,
)
from edge_slice.core.model.corrections.new_documents import NewBody, NewLayer, NewRun
from edge_slice.core.model.corrections.saying import FacePlane

Say = Callable[[float], str]
STAYS = {"first": "the face of the first layer", "last": "the face of the last layer", "middle": "the middle"}


def words_of(one: Correction, name: str, say: Say) -> tuple[str, str]:
    """Title and text; `name`: what it is of; `say` tells a length."""
    title, text = _words(one, name, say)
    return title, f"{text}\nBecause: {one.reason}" if one.reason else text


def _words(one: Correction, name: str, say: Say) -> tuple[str, str]:
    match one:
        case LeftOut():
            return f"{name}: not to be there", f"Please take out: {name}."
        case MovedElements():
            turned = f"turned by {one.turn:g}° anticlockwise" if one.turn else ""
            far = ", ".join(filter(None, (_far(one.by, say), turned)))
            return f"{name}: to stand elsewhere", f"Please move {name}: {far}."
        case CopiedElements():
            places = "\n".join(f"{k}. {_far(by, say)}" for k, by in enumerate(one.copies, 1))
            along = ", each in an opening of its own," if one.openings else ""
            return f"{name}: to be there once more", f"Please copy {name}{along} to:\n{places}"
        case FaceElsewhere():
            return f"{name}: a face to lie elsewhere", f"Please move {_face(one, say)} of {name}."
        case OtherOpening():
            return f"{name}: another opening", f"Please change the opening of {name}: {_sides(one, say)}."
        case OtherMaterial():
            part = f"what is of {one.in_place_of} in {name}" if one.in_place_of else name
            return f"{name}: to be of {one.material}", f"Please make {part} of {one.material}."
        case OtherFlight():
            return f"{name}: other steps", f"Please change the steps of {name}: {_steps(one, say)}."
        case NewBody() | NewRun() | NewLayer():
            return f"New: {one.name}", _new(one, say)
        case BuildUpCorrection():
            return _of_layers(one, name, say)


def _of_layers(one: BuildUpCorrection, name: str, say: Say) -> tuple[str, str]:
    what = f"all of “{one.build_up}”" if one.build_up else name
    instead = f"\nInstead of: {_layers(one.instead_of, say)}" if one.instead_of else ""
    return (
        f"Layers of {what}",
        f"Please make the layers of {what}: {_layers(one.layers, say)}{instead}\nWhere it is stays {STAYS[one.stays]}.",
    )


def _layers(layers: Sequence[WantedLayer], say: Say) -> str:
    return "; ".join(f"{k}. {layer.material} {say(layer.thickness)}" for k, layer in enumerate(layers, 1))


def _far(by: tuple[float, float, float], say: Say) -> str:
    x, y, z = by
    return ", ".join(f"{say(v)} {way}" for v, way in ((x, "along x"), (y, "along y"), (z, "up")) if v)


def _face(one: FaceElsewhere, say: Say) -> str:
    """Which face, and where to."""
    which = _which_face(one.face)
    if one.face.looks != one.to.looks:
        return f"{which} up to another plane" + (f", that of {one.onto}" if one.onto else "")
    out = one.to.at - one.face.at
    return f"{which} {say(abs(out))} {'outwards' if out > 0 else 'inwards'}"


def _which_face(face: FacePlane) -> str:
    """A face, by the way that it looks in the axes of the model."""
    x, y, z = face.looks
    if abs(z) > 0.7:
        return "the top" if z > 0 else "the underside"
    ways = [f"{'-' if v < 0 else ''}{axis}" for v, axis in ((x, "x"), (y, "y")) if abs(v) > 0.38]
    return f"the side that looks along {' and '.join(ways)}"


def _sides(one: OtherOpening, say: Say) -> str:
    sides = (
        ("left side", one.left, "to the right", "to the left"),
        ("right side", one.right, "to the right", "to the left"),
        ("sill", one.sill, "up", "down"), ("head", one.head, "up", "down"),
    )  # fmt: skip
    said = [f"its {side} {say(abs(by))} {more if by > 0 else less}" for side, by, more, less in sides if by]
    x, y, _ = one.looks
    return f"{', '.join(said)}, as one sees it who looks {math.degrees(math.atan2(y, x)):.0f}° from x, anticlockwise"


def _steps(one: OtherFlight, say: Say) -> str:
    rise = f", each {say(one.rise)} high" if one.rise is not None else ", as high together as they are"
    return f"{one.risers} risers, each going {say(one.going)}{rise}{', up the other way' if one.other_way else ''}"


def _new(one: NewBody | NewRun | NewLayer, say: Say) -> str:
    what = f"Please add: {one.name}, a {one.kind} of {one.material}"
    if isinstance(one, NewLayer):
        return f"{what}, {say(one.thickness)} thick, on {_which_face(one.on)} of what is named here."
    if isinstance(one, NewBody):
        return f"{what}, {say(one.end - one.start)} long."
    across = say(one.wide) if one.round and one.wide == one.high else f"{say(one.wide)} x {say(one.high)}"
    return f"{what}, {across}, along {say(sum(math.dist(a, b) for a, b in pairwise(one.path)))}."
