"""Elements that one drawing shows otherwise than its standard does."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.drawing.content import Piece
from edge_slice.core.drawing.display import Pen
from edge_slice.core.drawing.rules.standard import DrawingStandard, MaterialRule
from edge_slice.core.drawing.spec import DisciplineLooks, ElementLook
from edge_slice.core.model import Model

I64 = NDArray[np.int64]
AS_USUAL = -1
NO_HATCH = "none"
_DRESSES: dict[str, ElementLook] = {
    "grey": ElementLook(pen=0.13, ink="#8c9492", tint="#f3f4f3"),
    "outline": ElementLook(pen=0.18, tint="#ffffff", hatch=NO_HATCH),
}


@dataclass(frozen=True)
class Looks:
    """`of` (elements,): which of a drawing's looks an element has, `AS_USUAL` for none. Where several name an element,
    one by its GlobalId goes before one by its kind, that before one by its part's discipline, and a later one before an
    earlier one."""

    looks: tuple[ElementLook, ...]
    of: I64

    @staticmethod
    def on(model: Model, looks: tuple[ElementLook, ...], disciplines: DisciplineLooks | None = None) -> Looks:
        found = np.full(len(model.elements), AS_USUAL, dtype=np.int64)
        said = {d: how for d, how in (disciplines or {}).items() if how in _DRESSES} if model.parts else {}
        by_part = tuple(_DRESSES[how] for how in said.values())
        for k, discipline in enumerate(said, len(looks)):
            found[model.of_disciplines([discipline])] = k
        if looks:
            kinds = {look.kind: k for k, look in enumerate(looks) if look.kind}
            single = {guid: k for k, look in enumerate(looks) for guid in look.elements}
            found[:] = [
                single.get(e.guid, kinds.get(e.kind, usual))
                for e, usual in zip(model.elements, found.tolist(), strict=True)
            ]
        return Looks((*looks, *by_part), found)

    @property
    def used(self) -> Iterator[int]:
        """`AS_USUAL`, then every look that some element has."""
        yield AS_USUAL
        yield from sorted(set(self.of.tolist()) - {AS_USUAL})

    def dressed(self, pieces: list[Piece], standard: DrawingStandard) -> tuple[list[Piece], DrawingStandard]:
        """Pieces whose look has a tint or a hatch get a class of material of their own, and the standard its rule."""
        rules: dict[str, MaterialRule] = {}
        found = []
        for piece in pieces:
            k = int(self.of[piece.element])
            if k == AS_USUAL:
                found.append(piece)
                continue
            kind = f"{piece.kind}, look {k}"
            rules[kind] = _rule(standard.materials[piece.kind], self.looks[k], standard)
            found.append(replace(piece, kind=kind, hatch="" if self.looks[k].hatch else piece.hatch))
        if not rules:
            return pieces, standard
        return found, standard.model_copy(update={"materials": {**standard.materials, **rules}})

    def pens(self, k: int, pens: dict[str, Pen]) -> dict[str, Pen]:
        """The pens of a look; hatches keep their width."""
        if k == AS_USUAL:
            return pens
        look = self.looks[k]
        return {role: _pen(pen, look.pen if role != "hatch" else None, look.ink) for role, pen in pens.items()}

    def tinted(self, k: int) -> bool:
        """Whether a look has a tint of its own, also where the drawing fills everything alike."""
        return k != AS_USUAL and self.looks[k].tint is not None


def _rule(rule: MaterialRule, look: ElementLook, standard: DrawingStandard) -> MaterialRule:
    change: dict[str, object] = {}
    if look.tint is not None:
        change["tint"] = look.tint
    if look.hatch == NO_HATCH:
        change |= {"hatch": "", "hatch_across": ""}
    elif look.hatch in standard.hatches:
        change |= {"hatch": look.hatch, "hatch_across": ""}
    return rule.model_copy(update=change) if change else rule


def _pen(pen: Pen, width: float | None, ink: str | None) -> Pen:
    wide = pen.width if width is None else width
    share = wide / pen.width if pen.width > 0 else 1.0
    return Pen(wide, ink or pen.colour, tuple(d * share for d in pen.dash) if wide > 0 else pen.dash)
