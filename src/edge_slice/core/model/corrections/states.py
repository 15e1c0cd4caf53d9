"""How far a correction has come, and what it is of, for people."""

from __future__ import annotations

from typing import Literal

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.documents import BuildUpCorrection, Correction
from edge_slice.core.model.corrections.new_documents import NewThing
from edge_slice.core.model.corrections.saying import OfElements
from edge_slice.core.model.corrections.wanted import Corrected

State = Literal["open", "asked", "answered", "refused", "changed", "in the file", "lost", "impossible"]
NO = ("refused", "rejected", "declined")  # words of an answer that says no
YES = ("closed", "resolved", "done")


def state_of(told: Corrected) -> State:
    """Of what became of a correction with a model."""
    if told.elements:
        return "changed" if told.changed else _answer(told.of)
    if told.already:
        return "in the file"
    return "lost" if told.lost else "impossible"


def name_of(model: Model, told: Corrected) -> str:
    """What a correction is of, in a model without corrections; empty where that is not in it."""
    one = told.of
    if isinstance(one, NewThing):
        return one.name
    if isinstance(one, BuildUpCorrection) and one.build_up:
        return one.build_up
    if not told.found:
        return ""
    first = model.elements[told.found[0]]
    more = len(one.elements) - 1 if isinstance(one, OfElements) else 0
    return (first.name or first.kind) + (f" and {more} more" if more else "")


def _answer(one: Correction) -> State:
    """What has become of asking for it."""
    said = one.answer.status.strip().casefold() if one.answer else ""
    if said in NO:
        return "refused"
    if said in YES or (one.answer and one.answer.remarks):
        return "answered"
    return "asked" if one.asked else "open"
