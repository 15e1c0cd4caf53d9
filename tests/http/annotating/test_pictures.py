"""Pictures over HTTP: placed, printed, refused, collected."""

from __future__ import annotations

import io
import struct
import zlib

import pypdf
import pytest

from tests.http.annotating.acts import (
    act,
    add,
    note,
    png,
    spot,
)
from tests.installation import Installation

HUGE = b"\x89PNG\r\n\x1a\n" + struct.pack(">I", 13) + b"IHDR" + struct.pack(">IIBBBBB", 60000, 60000, 8, 2, 0, 0, 0)


def test_a_picture_is_placed_and_printed(installation: Installation, hut_project: int, section: dict) -> None:
    path = f"/api/projects/{hut_project}/pictures"
    stored = installation.send_file(path, "photo.png", png(8, 4))
    assert (stored.status, stored.json["width"], stored.json["height"]) == (201, 8, 4)
    name = stored.json["name"]
    made = add(installation, section, [spot(2000, 1000, "point")], kind="picture", image=name,
               points=[(2000, 800), (2800, 1200)])  # fmt: skip
    assert made["images"][0]["name"] == name
    assert installation.call("GET", f"/api/pictures/{name}").body == png(8, 4)
    assert (
        "data:image/png;base64," in installation.call("GET", f"/api/drawings/{section['id']}/export.svg").body.decode()
    )
    pdf = installation.call("GET", f"/api/drawings/{section['id']}/export.pdf").body
    assert len(pypdf.PdfReader(io.BytesIO(pdf)).pages[0].images) == 1
    undone = installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert undone.json["label"] == "new picture"


@pytest.mark.parametrize(
    ("data", "word"),
    [
        (b"GIF89a", "no PNG"),
        (HUGE + b"garbage" * 9, "damaged"),
        (
            HUGE + struct.pack(">I", zlib.crc32(HUGE[12:])) + struct.pack(">I", 99) + b"IDAT" + b"garbage" * 9,
            "more than 40 million pixels",
        ),
        (png(8000, 6000), "more than 40 million pixels"),
        (png(8, 4)[:-30], "damaged"),
        (png(40, 40)[:60] + b"\0" * 40, "damaged"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * (6 << 20), "larger than 6 MB"),
    ],
)
def test_a_picture_that_is_none_is_refused(
    installation: Installation, hut_project: int, data: bytes, word: str
) -> None:
    before = installation.rows("blob")
    answer = installation.send_file(f"/api/projects/{hut_project}/pictures", "photo.png", data)
    assert (answer.status, answer.json["field"]) == (422, "file")
    assert word in answer.json["message"]
    assert installation.rows("blob") == before


def test_only_pictures_are_shown_as_pictures(installation: Installation, section: dict, hut_project: int) -> None:
    (model,) = installation.one(f"SELECT file_hash FROM revision WHERE project_id = {hut_project}")
    url = f"/api/drawings/{section['id']}/annotations"
    for name in (model, "0" * 64):
        document = {"kind": "picture", "image": name, "points": [(2000, 800), (2800, 1200)]}
        answer = installation.call("POST", url, {"spots": [spot(2000, 1000, "point")], "document": document})
        assert (answer.status, answer.json["field"]) == (422, "document.image")


def test_a_picture_that_nothing_shows_any_more_is_collected(
    installation: Installation, hut_project: int, section: dict
) -> None:
    def kept(name: str) -> bool:
        return installation.rows(f"blob WHERE hash = '{name}'") == 1

    def collected() -> None:
        code = "from datetime import timedelta; from edge_slice.store.blobs import collect_pictures as c;"
        code += " from edge_slice.store.database import transaction as t\nwith t() as s: c(s, timedelta(hours=1))"
        installation.python(code)

    path = f"/api/projects/{hut_project}/pictures"
    shown, loose = (installation.send_file(path, "p.png", png(9, k)).json["name"] for k in (5, 6))
    points = [(2000, 800), (2800, 1200)]
    made = add(installation, section, [spot(2000, 1000, "point")], kind="picture", image=shown, points=points)
    collected()
    assert (kept(shown), kept(loose)) == (True, True)  # it may be placed yet
    installation.execute("UPDATE blob SET stored_at = stored_at - interval '2 hours'")
    collected()
    assert (kept(shown), kept(loose)) == (True, False)
    act(installation, section, [made["id"]], act="delete")
    collected()
    assert kept(shown)  # undo brings it back
    for _ in range(2):
        installation.call("POST", f"/api/projects/{hut_project}/undo")
    collected()
    assert kept(shown)  # and redo
    note(installation, section)
    collected()
    assert not kept(shown)
