"""The Model bench over HTTP: parts of the model, planes as cuts, bodies."""

from __future__ import annotations

import gzip
import io
import json
import struct

import numpy as np
import pytest
import trimesh

from tests.http.drawings.test_drawings import add_section, plan_of
from tests.installation import Installation


def test_parts_are_kept_under_their_geometry(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}/solid"
    solid = app.call("GET", url).json
    facts = app.call("GET", f"/api/projects/{hut_project}").json["facts"]
    assert sum(p["triangles"] for p in solid["parts"]) == facts["triangles"]
    assert (solid["plan_height"], solid["turn"] % 90) == (1.2, 0)
    for part in solid["parts"]:
        answer = app.call("GET", f"{url}/{part['number']}?of={solid['geometry']}")
        assert answer.status == 200
        assert "immutable" in answer.headers["Cache-Control"]
        data = gzip.decompress(answer.body)
        (length,) = struct.unpack_from("<I", data)
        head = json.loads(data[4 : 4 + length])
        assert (head["triangles"], head["storey"]) == (part["triangles"], part["storey"])
        assert app.call("GET", f"{url}/{part['number']}?of={solid['geometry']}&whole=true").body == answer.body
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


def test_the_building_as_it_is_seen_becomes_a_drawing(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}"
    opening = {"planes": [{"point": [2, 1, 1.2], "normal": [0, 0, 1]}, {"point": [2, 1, 1.2], "normal": [-1, 0, 0]}]}
    found = app.call("POST", f"{url}/views", {"towards": [-1, -1, 1], "openings": [opening]}).json
    assert (found["kind"], found["parent_id"]) == ("opened view", None)
    body = {"cut": found["cut"], "style": {"scale": 50}}
    made = app.call("POST", f"{url}/drawings", body).json
    assert made["title"].startswith("Opened view V1, looking")
    whole = app.call("POST", f"{url}/drawings", {**body, "cut": {**found["cut"], "openings": []}}).json
    drawings = [app.call("GET", f"/api/drawings/{d['id']}/export.svg") for d in (made, whole)]
    assert [b'class="cut-fill"' in d.body for d in drawings] == [True, False]
    assert made["id"] not in [p["drawing"] for p in app.call("GET", f"{url}/planes").json]  # it cuts nothing by itself
    eye = {"towards": [-1, 0, 0], "eye": [-6, 1.5, 1.6], "angle": 50, "aspect": 1.6}
    seen = app.call("POST", f"{url}/views", eye).json["cut"]
    assert seen["point"][0] - seen["perspective"]["distance"] == pytest.approx(-6)
    away = app.call("POST", f"{url}/views", {**eye, "towards": [1, 0, 0]})
    assert (away.status, "Nothing of the building" in away.json["message"]) == (422, True)
    gone = [{"planes": [{"point": [-50, 0, 0], "normal": [1, 0, 0]}]}]
    nothing = app.call("POST", f"{url}/view", {"cut": {**found["cut"], "openings": gone}, "style": {"scale": 50}})
    assert (nothing.status, "take all" in nothing.json["message"]) == (422, True)
    assert app.call("POST", f"{url}/views", {"towards": [0, 0, 0]}).status == 422
    assert app.call("POST", f"{url}/views", {"towards": [0, 0, 1], "openings": [{"planes": []}]}).status == 422


def test_stops_and_bodies(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}"
    stops = app.call("GET", f"{url}/plane-stops?x=0&y=0&z=1").json
    assert any(s["says"].startswith("level") for s in stops)
    assert app.call("GET", f"{url}/plane-stops?x=0&y=0&z=0").status == 422
    plane = {"point": [2, 0, 0], "normal": [1, 0, 0]}
    body = app.call("POST", f"{url}/bodies", {"cuts": [[plane]], "form": "glb"})
    assert body.body.startswith(b"glTF")
    assert "opened.glb" in body.headers["Content-Disposition"]
    sliced = app.call("POST", f"{url}/bodies", {"cuts": [[plane]], "form": "stl", "thickness": 0.1})
    assert sliced.status == 200
    nothing = app.call("POST", f"{url}/bodies", {"cuts": [[{"point": [-90, 0, 0], "normal": [1, 0, 0]}]]})
    assert (nothing.status, "Nothing of the building" in nothing.json["message"]) == (422, True)
    two = app.call("POST", f"{url}/bodies", {"cuts": [[plane], [plane]], "thickness": 0.1})
    assert two.status == 422


def test_colours_and_what_a_shown_set_leaves_out(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}"
    plain = app.call("GET", f"{url}/solid-look").json
    assert (plain["without"], plain["left_out"]) == ([], [])
    assert {t["kind"] for t in plain["tints"]} == {"wall", "slab"}
    rule = {"without_kinds": ["slab"]}
    made = app.call("POST", f"{url}/shown-sets", {"name": "No slabs", "rule": rule}).json
    look = app.call("GET", f"{url}/solid-look?shown_set={made['key']}").json
    assert look["without"] == ["slab"]
    own = app.call("POST", f"{url}/standards", {"name": "Own"}).json
    document = own["document"]
    for material in document["materials"].values():
        material["tint"] = "#123456"
    edit = {"version": own["version"], "document": document}
    assert app.call("PATCH", f"/api/standards/{own['id']}", edit).status == 200
    painted = app.call("GET", f"{url}/solid-look?standard={own['key']}").json
    assert {t["colour"] for t in painted["tints"]} == {"#123456"}
    assert app.call("GET", f"{url}/solid-look?standard=nowhere").status == 422
    assert app.call("GET", f"{url}/solid-look?shown_set=nowhere").status == 422

    plane = {"point": [2, 0, 0], "normal": [1, 0, 0]}
    whole = app.call("POST", f"{url}/bodies", {"cuts": [[plane]], "form": "stl"}).body
    less = app.call("POST", f"{url}/bodies", {"cuts": [[plane]], "form": "stl", "shown_set": made["key"]}).body
    assert len(less) < len(whole)


def test_a_stepped_cut_and_a_box_are_saved_as_bodies(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}/bodies"
    leg = {"point": [2, 0, 0], "normal": [1, 0, 0], "along": [0, 1, 0]}
    stepped = [{**leg, "end": 1.5}, {**leg, "point": [3, 0, 0], "start": 1.5}]
    sides = [
        {"point": [x, y, 0], "normal": n} for x, y, n in ((1, 0, [-1, 0, 0]), (3, 0, [1, 0, 0]), (0, 2, [0, 1, 0]))
    ]
    saved = [
        trimesh.load(io.BytesIO(app.call("POST", url, {"cuts": [cut], "form": "stl"}).body), file_type="stl")
        for cut in (stepped, sides)
    ]
    x, y, _ = saved[0].vertices.T
    assert (x[y < 1490].max(), x[y > 1510].max()) == pytest.approx((2000, 3000))
    assert saved[1].bounds[:, 0] == pytest.approx([1000, 3000])
    assert saved[1].bounds[1, 1] == pytest.approx(2000)
    assert app.call("POST", url, {"cuts": [[{**leg, "along": [0, 0, 0]}]]}).status == 422
    assert app.call("POST", url, {"cuts": [[{**leg, "start": "near"}]]}).status == 422


def test_the_light_of_a_sun_is_that_of_drawings(installation: Installation, hut_project: int) -> None:
    url = f"/api/projects/{hut_project}/light"
    south_west = {"by": "bearing", "bearing": 225, "height": 45}
    found = installation.call("POST", url, {"sun": south_west}).json
    assert found["light"] == pytest.approx([0.5, 0.5, -(0.5**0.5)])
    assert (found["bearing"], found["height"]) == pytest.approx((225, 45))
    drawing = add_section(installation, hut_project)
    view = installation.call("POST", url, {"sun": {"by": "view"}, "drawing": drawing["id"]}).json
    right, deep = np.array([0.0, 1.0, 0.0]), np.array([-1.0, 0.0, 0.0])  # of a line to the north that looks left
    assert view["light"] == pytest.approx((right - [0, 0, 1] + deep) / 3**0.5)
    assert installation.call("POST", url, {"sun": {"by": "view"}, "drawing": 999_999}).status == 404
    night = {"by": "hour", "latitude": 50, "longitude": 0, "when": "2026-06-21T01:00:00+00:00"}
    assert installation.call("POST", url, {"sun": night}).status == 422
