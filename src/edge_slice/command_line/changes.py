"""What became of a model in a newer file."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from edge_slice.core.model import Model
from edge_slice.core.model.revisions import ModelChanges, revised


def changes_json(changes: ModelChanges) -> str:
    return json.dumps(asdict(changes), ensure_ascii=False, indent=1)


def changes_between(old: Model, new: Model) -> ModelChanges:
    return revised(old, new)[1]


def changes_text(elements: Iterable[dict[str, Any]], rooms: Iterable[dict[str, Any]], same: int) -> str:
    """A line for every element and room that differs, and counts."""
    elements, rooms = list(elements), list(rooms)
    counts = Counter(str(c["what"]) for c in elements)
    head = ", ".join(f"{counts[what]} {what}" for what in ("added", "removed", "changed", "renamed"))
    lines = [f"{head}, {same} as they were"]
    for c in elements:
        how = f" ({', '.join(c['how'])})" if c["how"] else ""
        where = f" on {c['storey']}" if c.get("storey") else ""
        lines.append(f"{c['what']:8} {c['kind']} {c['name']}{where}{how}")
    for room in rooms:
        how = f" ({', '.join(room['how'])})" if room["how"] else ""
        lines.append(f"{room['what']:8} room {room['name']}{how}")
    return "\n".join(lines)
