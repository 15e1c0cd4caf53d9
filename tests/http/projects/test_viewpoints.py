"""Viewpoints over HTTP: kept, ordered, changed; what they name is there, and is told when it goes."""

from __future__ import annotations

from typing import Any

import pytest

from tests.http.drawings.test_drawings import add_section
from tests.installation import Installation

SEEN: dict[str, Any] = {"eye": {"at": [9, -12, 6], "to": [2, 2, 1], "flat": True}}


def add(app: Installation, project: int, name: str, **more: Any) -> Any:
    made = app.call("POST", f"/api/projects/{project}/viewpoints", {"name": name, "seen": {**SEEN, **more}})
    assert made.status == 201, made.body
    return made.json


def names(app: Installation, project: int) -> list[str]:
    return [one["name"] for one in app.call("GET", f"/api/projects/{project}/viewpoints").json]


def test_viewpoints_are_kept_in_their_order(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}/viewpoints"
    looks = {"without": ["slab"], "shown_set": "structure", "removed": "ghost", "colours": "kind"}
    first = add(app, hut_project, " From the south ", looks=looks, says="Where one comes in")
    assert first["name"] == "From the south"
    assert first["seen"]["eye"] == SEEN["eye"]
    assert {k: first["seen"]["looks"][k] for k in looks} == looks
    second, third = add(app, hut_project, "Above"), add(app, hut_project, "Inside")
    order = app.call("POST", f"{url}/order", {"ids": [third["id"], first["id"], second["id"]]})
    assert [one["name"] for one in order.json] == names(app, hut_project) == ["Inside", "From the south", "Above"]
    assert app.call("POST", f"{url}/order", {"ids": [third["id"], first["id"]]}).status == 422
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert names(app, hut_project) == ["From the south", "Above", "Inside"]
    renamed = app.edit(f"/api/viewpoints/{second['id']}", {"name": "From above"})
    assert (renamed.json["name"], renamed.json["seen"]) == ("From above", second["seen"])
    stale = app.call("PATCH", f"/api/viewpoints/{second['id']}", {"name": "X", "version": second["version"]})
    assert (stale.status, stale.json["current"]["name"]) == (409, "From above")
    assert app.call("DELETE", f"/api/viewpoints/{second['id']}").status == 204
    assert app.call("DELETE", f"/api/viewpoints/{second['id']}").status == 404
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert names(app, hut_project) == ["From the south", "From above", "Inside"]


def test_what_opened_a_viewpoint_and_is_gone_is_told(installation: Installation, hut_project: int) -> None:
    app = installation
    section = add_section(app, hut_project)
    kept = add(app, hut_project, "Opened", opened={"drawing": section["id"]})
    assert kept["lost"] == []
    app.call("DELETE", f"/api/drawings/{section['id']}")
    (now,) = app.call("GET", f"/api/projects/{hut_project}/viewpoints").json
    assert now["lost"] == ["A drawing that it names is not there any more."]
    again = app.edit(f"/api/viewpoints/{kept['id']}", {"name": "Opened once", "seen": now["seen"]})
    assert again.status == 200  # what it named before it may go on naming
    app.call("POST", f"/api/projects/{hut_project}/undo")
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert app.call("GET", f"/api/projects/{hut_project}/viewpoints").json[0]["lost"] == []


@pytest.mark.parametrize(
    ("more", "field", "word"),
    [
        ({"looks": {"without": ["slap"]}}, "seen.looks.without", "slab"),
        ({"looks": {"shown_set": "structur"}}, "seen.looks.shown_set", "structure"),
        ({"looks": {"standard": "own-999999"}}, "seen.looks.standard", "drawing standard"),
        ({"looks": {"storey": "nowhere"}}, "seen.looks.storey", "storey"),
        ({"opened": {"drawing": 999_999}}, "seen.opened", "drawing"),
        ({"opened": {"box": 999_999}}, "seen.opened.box", "box of shared extents"),
        ({"opened": {"plane": {"point": [0, 0, 0], "normal": [0, 0, 0]}}}, "", "length"),
        ({"eye": {"at": [1, 1, 1], "to": [1, 1, 1]}}, "", "stand off"),
        ({"eyes": SEEN["eye"]}, "", "eyes"),
    ],
)
def test_what_is_not_there_can_t_be_named(
    installation: Installation, hut_project: int, more: dict[str, Any], field: str, word: str
) -> None:
    app = installation
    refused = app.call("POST", f"/api/projects/{hut_project}/viewpoints", {"name": "V", "seen": {**SEEN, **more}})
    assert refused.status == 422
    assert word in refused.json["message"]
    assert not field or refused.json["field"] == field
    assert names(app, hut_project) == []


def test_a_drawing_of_another_project_is_not_there(
    installation: Installation, hut_project: int, untouched_hut: int
) -> None:
    app = installation
    other = app.call("GET", f"/api/projects/{untouched_hut}/drawings").json[0]["id"]
    body = {"name": "V", "seen": {**SEEN, "opened": {"drawing": other}}}
    assert app.call("POST", f"/api/projects/{hut_project}/viewpoints", body).status == 422
