"""The Model bench over HTTP: parts of the model, planes as cuts, bodies."""

from __future__ import annotations

import gzip
import json
import struct

import pytest

from tests.http.test_drawings import add_section, plan_of
from tests.installation import Installation


def test_parts_are_kept_under_their_geometry(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}/solid"
    solid = app.call("GET", url).json
    facts = app.call("GET", f"/api/projects/{hut_project}").json["facts"]
    assert sum(p["triangles"] for p in solid["parts"]) == facts["triangles"]
    for part in solid["parts"]:
        answer = app.call("GET", f"{url}/{part['number']}?of={solid['geometry']}")
        assert answer.status == 200
        assert "immutable" in answer.headers["Cache-Control"]
        data = gzip.decompress(answer.body)
        (length,) = struct.unpack_from("<I", data)
        head = json.loads(data[4 : 4 + length])
        assert (head["triangles"], head["storey"]) == (part["triangles"], part["storey"])
    assert app.call("GET", f"{url}/0?of=another").status == 404
    assert app.call("GET", f"{url}/99?of={solid['geometry']}").status == 404


def test_planes_of_drawings_and_a_plane_as_a_cut(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}/planes"
    section = add_section(app, hut_project)
    planes = {p["drawing"]: p for p in app.call("GET", url).json}
    assert planes[section["id"]]["letter"] == "A"
    (leaf,) = planes[section["id"]]["leaves"]
    found = app.call("POST", url, {"point": leaf["origin"], "normal": [-x for x in leaf["w"]]}).json
    assert (found["kind"], found["parent_id"]) == ("section", plan_of(app, hut_project)["id"])
    assert found["leaves"][0]["w"] == pytest.approx(leaf["w"])
    like = {"point": [1.5, 0, 1], "normal": [1, 0, 0], "like": section["id"]}
    moved = app.call("POST", url, like).json["cut"]
    assert {round(x, 3) for x, _ in moved["line"]} == {1.5}
    assert moved["depth"] == section["cut"]["depth"]
    refused = app.call("POST", url, {**like, "normal": [0, 0, 1]})
    assert (refused.status, "make a new drawing" in refused.json["message"]) == (422, True)
    clear = app.call("POST", url, {"point": [0, -90, 0], "normal": [0, 1, 0]})
    assert (clear.status, "behind this plane" in clear.json["message"]) == (422, True)
    assert app.call("POST", url, {"point": [0, 0, 0], "normal": [0, 0, 0]}).status == 422


def test_stops_and_bodies(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}"
    stops = app.call("GET", f"{url}/plane-stops?x=0&y=0&z=1").json
    assert any(s["says"].startswith("level") for s in stops)
    assert app.call("GET", f"{url}/plane-stops?x=0&y=0&z=0").status == 422
    plane = {"point": [2, 0, 0], "normal": [1, 0, 0]}
    body = app.call("POST", f"{url}/bodies", {"planes": [plane], "form": "glb"})
    assert body.body.startswith(b"glTF")
    assert "opened.glb" in body.headers["Content-Disposition"]
    sliced = app.call("POST", f"{url}/bodies", {"planes": [plane], "form": "stl", "thickness": 0.1})
    assert sliced.status == 200
    nothing = app.call("POST", f"{url}/bodies", {"planes": [{"point": [-90, 0, 0], "normal": [1, 0, 0]}]})
    assert (nothing.status, "Nothing of the building" in nothing.json["message"]) == (422, True)
    two = app.call("POST", f"{url}/bodies", {"planes": [plane, plane], "thickness": 0.1})
    assert two.status == 422
