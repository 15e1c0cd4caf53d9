"""What a careful colleague would say of a set: what no section explains."""

from __future__ import annotations

from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.cut import ImpossibleCut, SectionCut
from edge_slice.core.cut.placing.report import ROOM
from edge_slice.core.cut.placing.uncut import Uncut, uncut
from edge_slice.core.recent import Recent

MOST_NAMED = 6
_found: Recent[list[Uncut]] = Recent("what no section cuts", 50)


def unexplained(around: SheetsAround) -> list[tuple[str, str, str]]:
    """Of rooms and of stairs that no building section goes through: rule, what it says, and which they are; nothing
    where there is no section yet."""
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
    for rule, words, mine in (
        ("room without a section", "rooms", [one for one in left if one.kind == ROOM]),
        ("stair without a section", "stairs", [one for one in left if one.kind == "stair"]),
    ):
        if mine:
            names = sorted(one.name or one.kind for one in mine)
            named = ", ".join(names[:MOST_NAMED]) + (", …" if len(names) > MOST_NAMED else "")
            many = f"one {words[:-1]}" if len(mine) == 1 else f"{len(mine)} {words}"
            says = f"No section goes through {many}: {named}."
            told.append((rule, says, str(sorted(one.guid for one in mine))))
    return told
