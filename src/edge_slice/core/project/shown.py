"""The cut of a drawing as it shows, kept by what it depends on."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from edge_slice.core.cut import AnyCut, CutFace, CutLines, CutResult, ImpossibleCut, MaterialRules, cut_model
from edge_slice.core.cut.shown import following
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.memory import CORNER, SHAPE
from edge_slice.core.model import Model
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.source import DrawingRow, Source
from edge_slice.core.recent import Recent
from edge_slice.core.remembered import corners_of

FORMAT = "28"  # part of every key: raise it when the same input is drawn differently
KEPT = 24


def weight_of(result: CutResult) -> int:
    """About how many bytes a cut holds, with what it keeps for the next one: said at once, as cuts come many a
    second."""

    def faces(of: Sequence[CutFace]) -> int:
        return 2 * SHAPE * len(of) + CORNER * corners_of([face.polygon for face in of])

    def lines(of: CutLines) -> int:
        return sum(a.nbytes for a in (of.points, of.role, of.element, of.depth, of.edge))

    parts = result.memory.leaves if result.memory is not None else ()
    kept = (faces(p.raw) + lines(p.traced) + lines(p.overhead) + p.caps.nbytes + p.boxes.nbytes for p in parts)
    return faces(result.faces) + lines(result.lines) + sum(kept)


_cuts: Recent[CutResult] = Recent("cuts", KEPT, weight_of)
_newest: Recent[CutResult] = Recent("newest cuts of a kind", KEPT, weight_of)  # by project and kind of cut


def key_of(*parts: str) -> str:
    """A name for all that is made of these parts."""
    return hashlib.sha256("\0".join((FORMAT, *parts)).encode()).hexdigest()


@dataclass(frozen=True)
class Shown:
    """What a drawing is made of: its project with a revision of the model, the cut as it shows at its scale, style and
    standard; and what is wrong with it. `reach`: the depth, metres, by which lines are near or far, where that is not
    the cut's own; `in_hand`: it is being moved, and shows no seen surfaces meanwhile."""

    source: Source
    cut: AnyCut
    style: DrawingSpec
    standard: DrawingStandard
    finding: str = ""
    reach: float | None = None
    in_hand: bool = False

    @property
    def model(self) -> Model:
        return self.source.model

    @cached_property
    def rules(self) -> MaterialRules:
        """What materials mean for the cut."""
        return self.standard.cut_rules(self.model)


def shown_as(source: Source, found: tuple[AnyCut, str], style: DrawingSpec) -> Shown:
    """`found`: the cut as what it follows has it, and what is wrong with that."""
    cut, finding = found
    source, problem = source.by(cut.held)
    finding = " ".join(said for said in (finding, problem) if said)
    standard = source.standard(style.standard)
    if style.lengths == "project":
        style = style.model_copy(update={"lengths": source.lengths})
    rule = source.rule(cut.shown_set)
    shown = cut if rule is None else following(source.model, cut, rule)
    return Shown(source, standard.shown_cut(shown, style.scale), style, standard, finding)


def cut_key(shown: Shown) -> str:
    """The name of a cut: only another model, cut or material rules make another one."""
    return key_of("cut", shown.source.geometry, shown.cut.model_dump_json(), shown.rules.digest())


def cut_of(shown: Shown) -> CutResult:
    """The cut of a drawing. Where it is a new one, only what depends on the change is computed: the last cut of the
    same kind in the project hands on the rest. Raises `Refused` where there is none."""
    kind = f"{shown.source.key} {shown.cut.kind}"

    def cut() -> CutResult:
        try:
            return cut_model(shown.model, shown.cut, shown.rules, _newest.known(kind))
        except ImpossibleCut as error:
            raise Refused(str(error), "cut") from error

    found = _cuts.get(cut_key(shown), cut)
    _newest.put(kind, found)
    return found


def saved(source: Source, followed: Followed, row: DrawingRow) -> Shown:
    """A drawing of a project."""
    return shown_as(source, followed.found(row), DrawingSpec.model_validate(row.style))
