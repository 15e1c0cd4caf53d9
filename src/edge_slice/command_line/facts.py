"""What `edge-slice inspect` says of a model."""

from __future__ import annotations

import math
from typing import Any

from edge_slice.core.model import Model


def facts_of(model: Model) -> dict[str, Any]:
    """Facts as plain JSON values; lengths in metres, in the file's own coordinates."""
    low, high = (b + model.origin for b in model.bounds)
    return {
        "name": model.name,
        "schema": model.schema,
        "unit": model.unit,
        "true_north_degrees": round(math.degrees(math.atan2(model.north[0], model.north[1])), 6),
        "origin": list(model.origin),
        "bounds": {"low": low.round(6).tolist(), "high": high.round(6).tolist()},
        "elements": len(model.elements),
        "triangles": len(model.mesh.triangles),
        "kinds": model.kinds,
        "storeys": [{"name": s.name, "elevation": s.elevation + model.origin[2]} for s in model.storeys],
        "grid": [a.name for a in model.grid],
        "spaces": [{"number": s.number, "name": s.name} for s in sorted(model.spaces, key=lambda s: s.number)],
        "materials": [m.name for m in model.materials],
        "build_ups": [b.name for b in model.build_ups],
        "leaking": [{"guid": e.guid, "name": e.name} for e in model.unclosed],
        "problems": list(model.problems),
    }


def facts_text(facts: dict[str, Any]) -> str:
    """The same for people."""
    low, high = facts["bounds"]["low"], facts["bounds"]["high"]
    lines = [
        f"{facts['name']} ({facts['schema']}, lengths in {facts['unit']})",
        f"  elements   {facts['elements']}, {facts['triangles']} triangles",
        f"  bounds     {low} to {high} m",
        f"  true north {facts['true_north_degrees']:g}° clockwise from the model's y axis",
        "  storeys    " + ", ".join(f"{s['name']} {s['elevation']:+.3f}" for s in facts["storeys"]),
        "  kinds      " + ", ".join(f"{kind} {count}" for kind, count in facts["kinds"].items()),
        "  build-ups  " + (", ".join(b for b in facts["build_ups"] if b) or "none"),
        "  materials  " + (", ".join(facts["materials"]) or "none"),
        "  leaking    " + (", ".join(e["name"] or e["guid"] for e in facts["leaking"]) or "none"),
    ]
    lines += [f"  problem    {p}" for p in facts["problems"]]
    return "\n".join(lines)
