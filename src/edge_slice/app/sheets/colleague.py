"""What a careful colleague would say of a set: what no section explains, what has the mark of something else, what a
file measures otherwise than its bodies."""

from __future__ import annotations

from typing import NamedTuple

from edge_slice.app.sheets.check_documents import Severity, named
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.cut import ImpossibleCut, SectionCut
from edge_slice.core.cut.advice.uncut import Uncut, uncut
from edge_slice.core.cut.placing.report import ROOM
from edge_slice.core.model.marks import element_mark
from edge_slice.core.recent import Recent

KINDS: tuple[tuple[str, Severity], ...] = ((ROOM, "remark"), ("stair", "doubtful"))
MOST_TOLD = 50  # elements that are measured otherwise, of one model
_found: Recent[list[Uncut]] = Recent("what no section cuts", 50)


class Unexplained(NamedTuple):
    severity: Severity
    rule: str
    says: str
    which: str


def doubled_marks(around: SheetsAround) -> list[Unexplained]:
    """Marks that several doors, or several windows, have."""
    found: dict[tuple[str, str], list[str]] = {}
    for element in around.source.model.elements:
        if element.kind in ("door", "window") and (mark := element_mark(element)):
            found.setdefault((element.kind, mark), []).append(element.guid)
    return [
        Unexplained(
            "doubtful", "mark used twice", f"{len(guids)} {kind}s have the mark {mark}: each needs its own.",
            f"{kind} {mark} {sorted(guids)}",
        )
        for (kind, mark), guids in sorted(found.items())
        if len(guids) > 1
    ]  # fmt: skip


def not_as_said(around: SheetsAround) -> list[Unexplained]:
    """What of the file can't be drawn as it says, each with what is drawn instead."""
    facts = around.keys.source.facts
    found = [Unexplained("doubtful", "not as the file says", f"{one}.", one) for one in facts["problems"][:MOST_TOLD]]
    leaking = sorted(facts["leaking"])
    if leaking:
        many = "One body is" if len(leaking) == 1 else f"{len(leaking)} bodies are"
        says = f"{many} not closed: {named(leaking)}. Cuts close them as well as they can; they have no volume."
        found.append(Unexplained("remark", "not as the file says", says, repr(leaking)))
    return found


def measured_otherwise(around: SheetsAround) -> list[Unexplained]:
    """Elements of which the file says another volume than their bodies have."""
    return [
        Unexplained(
            "remark", "measured otherwise",
            f"The file says that “{one.element.name or one.element.kind}” has a {one.what} of {one.said:.3f} m³; its"
            f" body has {one.found:.3f}.",
            f"{one.element.guid} {one.said:.4f}",
        )
        for one in around.tables.measured.disagreements[:MOST_TOLD]
    ]  # fmt: skip


def unexplained(around: SheetsAround) -> list[Unexplained]:
    """The rooms, and the stairs, that no building section goes through; nothing where there is no section yet."""
    cuts = [around.keys.followed.cut_of(row) for row in around.drawings.values() if row.callout is None]
    sections = [cut for cut in cuts if isinstance(cut, SectionCut) and cut.of == "building"]
    if not sections:
        return []
    source = around.keys.source
    key = "\0".join((source.geometry, *sorted(cut.model_dump_json() for cut in sections)))
    try:
        left = _found.get(key, lambda: uncut(source.model, sections))
    except ImpossibleCut:  # its own finding, with its drawing
        return []
    told = []
    for kind, severity in KINDS:
        mine = [one for one in left if one.kind == kind]
        if mine:
            many = f"one {kind}" if len(mine) == 1 else f"{len(mine)} {kind}s"
            says = f"No section goes through {many}: {named(sorted(one.name or kind for one in mine))}."
            told.append(Unexplained(severity, f"{kind} without a section", says, str(sorted(one.guid for one in mine))))
    return told
