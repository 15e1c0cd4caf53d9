"""Display list to the compact form for the browser: one JSON head, then float32 points and int32 starts.

Layout, little-endian: uint32 length of the head; the head in UTF-8, padded with blanks to a multiple of four;
then for each paths item its points (n, 2) float32 and its starts (k + 1) int32, in the head's order.
"""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np

from edge_slice.core.drawing.display import DisplayList, Image, Item, Label, Link, Paths, Pen
from edge_slice.core.drawing.faces import FACES
from edge_slice.core.drawing.texts.lettering import font_size
from edge_slice.core.drawing.texts.typesetting import is_plain
from edge_slice.core.render.lettered import placed_runs
from edge_slice.core.render.page import page_box


def to_screen(display: DisplayList, facts: dict[str, Any]) -> bytes:
    """The display list with `facts` (JSON) in its head."""
    items: list[dict[str, Any]] = []
    labels: list[dict[str, Any]] = []
    blocks: list[bytes] = []
    for item in display.items:
        if isinstance(item, Label):
            labels.append(
                {
                    **({"runs": runs} if (runs := runs_said(item)) is not None else {}),
                    "role": item.role,
                    "text": item.text,
                    "x": round(item.x, 3),
                    "y": round(item.y, 3),
                    "size": round(font_size(item.height), 4),
                    "colour": item.colour,
                    "align": item.align,
                    "angle": item.angle,
                    "source": item.source,
                }
            )
            continue
        items.append(_head(item))
        blocks.append(item.points.astype("<f4").tobytes())
        blocks.append(item.starts.astype("<i4").tobytes())
    links = [{"box": [round(x, 3) for x in link.box], "target": link.target} for link in display.links]
    frame = [round(x, 4) for x in display.frame]
    callouts = [
        {
            "source": c.source,
            "boundary": np.round(c.boundary, 3).tolist(),
            "leader": np.round(c.leader, 3).tolist(),
            "bubble": [round(x, 3) for x in c.bubble],
            "radius": c.radius,
        }
        for c in display.callouts
    ]
    head = {
        **({"findings": list(display.findings)} if display.findings else {}),
        **facts,
        "frame": frame,
        "page": [round(x, 3) for x in page_box(display)],
        "items": items,
        "labels": labels,
        "links": links,
        "callouts": callouts,
        "images": [{"name": i.name, "box": [round(x, 3) for x in i.box], "fade": i.fade} for i in display.images],
    }
    text = json.dumps(head, ensure_ascii=False, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    return struct.pack("<I", len(text)) + text + b"".join(blocks)


def runs_said(label: Label) -> list[dict[str, Any]] | None:
    """The runs of a text, mm from its point; None of one that is in the drawing face alone."""
    if is_plain(label.text):
        return None
    return [
        {
            "family": FACES[placed.run.face].family,
            "text": placed.run.text,
            "leftwards": placed.run.leftwards,
            "x": round(placed.x, 4),
            "size": round(placed.size, 4),
        }
        for placed in placed_runs(label)
    ]


def _head(item: Paths) -> dict[str, Any]:
    pen = {"width": item.pen.width, "colour": item.pen.colour, "dash": list(item.pen.dash)} if item.pen else None
    return {
        "role": item.role,
        "points": len(item.points),
        "paths": len(item.starts) - 1,
        "closed": item.closed,
        "pen": pen,
        "fill": item.fill,
        "source": item.source,
    }


def screen_arrays(data: bytes) -> tuple[dict[str, Any], list[tuple[np.ndarray[Any, Any], np.ndarray[Any, Any]]]]:
    """Read the form back: the head, and points and starts of each item."""
    (length,) = struct.unpack_from("<I", data)
    head: dict[str, Any] = json.loads(data[4 : 4 + length])
    at = 4 + length
    arrays = []
    for item in head["items"]:
        points = np.frombuffer(data, "<f4", 2 * item["points"], at).reshape(-1, 2)
        at += points.nbytes
        starts = np.frombuffer(data, "<i4", item["paths"] + 1, at)
        at += starts.nbytes
        arrays.append((points, starts))
    return head, arrays


def from_screen(data: bytes) -> DisplayList:
    """A display list from its compact form, to the precision of that; pictures without their bytes, markers of callouts
    only as they are drawn."""
    head, arrays = screen_arrays(data)
    items: list[Item] = []
    for said, (points, starts) in zip(head["items"], arrays, strict=True):
        pen = Pen(said["pen"]["width"], said["pen"]["colour"], tuple(said["pen"]["dash"])) if said["pen"] else None
        items.append(
            Paths(said["role"], points.astype(np.float64), starts.astype(np.int64), said["closed"], pen, said["fill"],
                  said["source"])
        )  # fmt: skip
    whole = font_size(1.0)
    items += [
        Label(s["role"], s["text"], s["x"], s["y"], s["size"] / whole, s["colour"], s["align"], s["angle"], s["source"])
        for s in head["labels"]
    ]
    left, base, right, top = head["frame"]
    links = tuple(Link((k["box"][0], k["box"][1], k["box"][2], k["box"][3]), k["target"]) for k in head["links"])
    images = tuple(
        Image("picture", i["name"], (i["box"][0], i["box"][1], i["box"][2], i["box"][3]), i["fade"])
        for i in head.get("images", [])
    )
    findings = tuple(head.get("findings", ()))
    return DisplayList(tuple(items), (left, base, right, top), links, findings, images=images)
