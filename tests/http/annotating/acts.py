"""What tests of annotations do over HTTP."""

from __future__ import annotations

import struct
import zlib
from typing import Any

from edge_slice.core.render.screen import screen_arrays
from tests.installation import Installation


def edit_drawing(app: Installation, drawing: dict, **change: object) -> dict:
    version = app.call("GET", f"/api/drawings/{drawing['id']}").json["version"]
    answer = app.call("PATCH", f"/api/drawings/{drawing['id']}", {"version": version, **change})
    assert answer.status == 200, answer.body
    return answer.json


def restyle(app: Installation, drawing: dict, **style: object) -> dict:
    return edit_drawing(app, drawing, style={**drawing["style"], **style})


def spot(u: float, v: float, *only: str, **more: object) -> dict:
    return {"at": [u, v], "reach": 5, "only": list(only), **more}


def add(app: Installation, drawing: dict, spots: list[dict], **document: object) -> dict:
    answer = app.call("POST", f"/api/drawings/{drawing['id']}/annotations", {"spots": spots, "document": document})
    assert answer.status == 201, answer.body
    return answer.json


def note(app: Installation, drawing: dict, text: str = "Flashing", at: tuple[float, float] = (1500, 2900)) -> dict:
    return add(app, drawing, [spot(1000, 2500)], kind="note", text=text, points=[at])


def wall_chain(app: Installation, drawing: dict) -> dict:
    spots = [spot(u, 1000, "side") for u in (1000, 1200, 3800, 4000)]
    return add(app, drawing, spots, kind="dimension", points=[(1000, 2800)])


def listed(app: Installation, drawing: dict) -> list[dict]:
    return app.call("GET", f"/api/drawings/{drawing['id']}/annotations").json


def words(annotation: dict) -> list[str]:
    return [t["text"] for t in annotation["texts"]]


def act(app: Installation, on: dict, ids: list[int], **more: object) -> Any:
    return app.call("POST", f"/api/drawings/{on['id']}/annotations/acts", {"ids": ids, **more})


def png(width: int, height: int) -> bytes:
    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = b"".join(b"\0" + b"\x80\x40\x20" * width for _ in range(height))
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b"")


def touch(app: Installation, drawing: dict, **body: object) -> dict:
    answer = app.call("POST", f"/api/drawings/{drawing['id']}/touch-ups", body)
    assert answer.status == 201, answer.body
    return answer.json


def touched(app: Installation, drawing: dict) -> list[dict]:
    return app.call("GET", f"/api/drawings/{drawing['id']}/touch-ups").json


def head(app: Installation, drawing: dict) -> dict:
    return screen_arrays(app.call("GET", f"/api/drawings/{drawing['id']}/view").body)[0]


def points(app: Installation, drawing: dict, role: str) -> int:
    return sum(i["points"] for i in head(app, drawing)["items"] if i["role"] == role)
