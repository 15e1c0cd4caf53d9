"""Which part of a project a file is a newer state of, or whether it is a part of its own."""

from __future__ import annotations

import re
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from edge_slice.core.model.building import Discipline, Model
from edge_slice.core.model.parts.disciplines import guessed_discipline
from edge_slice.core.model.revisions import ANOTHER, file_guid

SAME = 0.5  # of the elements of both files, which must be in both of two states of one part


@dataclass(frozen=True)
class KnownPart:
    key: str
    name: str
    file_name: str
    discipline: Discipline
    model: Model

    @cached_property
    def guids(self) -> set[Hashable]:
        return {file_guid(e) for e in self.model.elements}


@dataclass(frozen=True)
class Told:
    """The `key` of the part that a file is a newer state of, empty for a part of its own; its discipline; whether that
    is sure, and by what."""

    key: str
    discipline: str
    sure: bool
    says: str


def told_apart(known: Sequence[KnownPart], model: Model, file_name: str) -> Told:
    """What a file is in a project of these parts: by GlobalIds, else by where bodies stand, else by names."""
    discipline, clear = guessed_discipline(file_name, model)
    guids: set[Hashable] = {file_guid(e) for e in model.elements}
    bodies = _bodies(model)
    shares = [max(_common(part.guids, guids), _common(_bodies(part.model), bodies)) for part in known]
    best = int(np.argmax(shares))
    close = [k for k, share in enumerate(shares) if share >= shares[best] - 0.1]
    named = [k for k, part in enumerate(known) if _stem(part.file_name) == _stem(file_name)]
    if shares[best] >= SAME:
        one = next((k for k in close if k in named), best)
        says = f"{shares[one]:.0%} of the elements are in both files."
        return Told(known[one].key, known[one].discipline, len(close) == 1 or one in named, says)
    if named and known[named[0]].discipline == discipline:
        one = named[0]
        says = f"The file is called as that of this part; {shares[one]:.0%} of the elements are in both."
        return Told(known[one].key, discipline, shares[one] >= ANOTHER, says)
    alike = [part for part in known if part.discipline == discipline]
    if not alike:
        says = f"No part of the project is of the discipline {discipline}, which this file seems to be of."
        return Told("", discipline, clear and shares[best] < ANOTHER, says)
    says = f"Hardly anything of the part {alike[0].name} is in this file; it is of the same discipline."
    return Told(alike[0].key, discipline, False, says)


def _common(one: set[Hashable], other: set[Hashable]) -> float:
    """The share that two sets have in common of the larger one."""
    return len(one & other) / max(len(one), len(other), 1)


def _stem(file_name: str) -> str:
    """A file's name without what changes from one state to the next: figures, dates, letters of revisions."""
    bare = re.sub(r"\.[^.]+$", "", file_name.casefold())
    return re.sub(r"[\W_]+", " ", re.sub(r"\d+|\brev\w?\b|\bv\b", " ", bare)).strip()


def _bodies(model: Model) -> set[Hashable]:
    """Kinds and boxes of elements, whole centimetres as surveyed."""
    boxes = np.rint((model.boxes + np.array(model.origin)) * 100.0)
    return {
        (element.kind, box.tobytes())
        for element, box in zip(model.elements, boxes, strict=True)
        if np.isfinite(box).all()
    }
