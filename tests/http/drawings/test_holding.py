"""Drawings that stay as a revision of the model has them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import ifcopenshell.api.root
import pytest

from tests.http.drawings.test_drawings import add_section
from tests.http.models.test_revisions import aside, higher, named, propose, take
from tests.http.sheets.test_checks import rules
from tests.installation import Installation


@pytest.fixture
def section(installation: Installation, hut_project: int) -> dict:
    return add_section(installation, hut_project)


def act(app: Installation, drawing: dict, what: str, **body: Any) -> Any:
    path = f"/api/drawings/{drawing['id']}"
    return app.call("POST", f"{path}/{what}", {"version": app.version(path), **body})


def printed(app: Installation, drawing: dict) -> bytes:
    answer = app.call("GET", f"/api/drawings/{drawing['id']}/export.svg")
    assert answer.status == 200
    return answer.body


def revised(app: Installation, project: int, path: Path) -> None:
    """A wall becomes higher, another one goes, and a third, behind the one who looks, stands elsewhere."""
    take(app, propose(app, project, path, higher, lambda f: ifcopenshell.api.root.remove_product(f, named(f, "North")),
                      lambda f: aside(f, "East", 4500.0, 0.0)))  # fmt: skip


def test_a_held_drawing_stays_says_what_changed_and_takes_over_some_or_all(
    installation: Installation, hut_project: int, hut_file: Path, section: dict
) -> None:
    app = installation
    twin = app.call("POST", f"/api/drawings/{section['id']}/copy", {"name": "Twin"}).json
    region = {"points": [[0.5, 1.0], [1.5, 2.0]]}
    callout = app.call("POST", f"/api/drawings/{section['id']}/callouts", {"region": region}).json
    held = act(app, section, "hold")
    assert held.status == 200
    assert held.json["cut"]["held"] == {"revision": 1, "taken": []}
    path = f"/api/drawings/{section['id']}"
    before, detail, view = printed(app, section), printed(app, callout), app.call("GET", path).json["view"]
    revised(app, hut_project, hut_file)
    assert printed(app, section) == before
    assert printed(app, callout) == detail  # it follows what it was called out from
    assert app.call("GET", path).json["view"] == view
    newest = printed(app, twin)
    assert newest != before
    said = app.call("GET", f"{path}/hold").json
    assert (said["revision"], said["newest"], said["problem"]) == (1, 2, "")
    changed = {c["name"]: c for c in said["changed"]}
    assert {name: c["what"] for name, c in changed.items()} == {"South": "changed", "North": "removed"}
    assert said["otherwise"] == 1
    assert rules(app, hut_project)["held"]["says"].endswith("2 things that it shows have changed since.")

    some = act(app, section, "take-over", elements=[changed["South"]["guid"]]).json
    assert [t["elements"] for t in some["cut"]["held"]["taken"]] == [[changed["South"]["guid"]]]
    part = printed(app, section)
    assert part not in (before, newest)
    assert [c["name"] for c in app.call("GET", f"{path}/hold").json["changed"]] == ["North"]
    both = act(app, section, "take-over", elements=[changed["North"]["guid"]])
    assert both.status == 200
    assert app.call("GET", f"{path}/hold").json["changed"] == []
    assert "held" not in rules(app, hut_project)
    app.call("POST", f"/api/projects/{hut_project}/undo", {})
    assert printed(app, section) == part
    act(app, section, "let-go")
    assert app.call("GET", path).json["cut"]["held"] is None
    named_alike = app.edit(path, {"name": "Twin", "letter": None})
    assert named_alike.status == 200
    assert drawn(app, section) == drawn(app, twin)


def drawn(app: Installation, drawing: dict) -> bytes:
    """Its view, without its name."""
    return app.call("GET", f"/api/drawings/{drawing['id']}/view").body


def test_one_revision_is_held_and_compared_with_the_newest(
    installation: Installation, hut_project: int, hut_file: Path, section: dict
) -> None:
    app, path = installation, f"/api/drawings/{section['id']}"
    before = printed(app, section)
    revised(app, hut_project, hut_file)
    after, compared = printed(app, section), app.call("GET", f"{path}/comparison/1").body
    held = act(app, section, "hold", revision=1)
    assert held.json["cut"]["held"]["revision"] == 1
    assert printed(app, section) == before != after
    assert app.call("GET", f"{path}/comparison/1").body == compared  # as it would be, over as it is
    assert act(app, section, "hold").json["cut"]["held"]["revision"] == 2
    assert printed(app, section) == after


def test_what_can_not_be_held_or_taken_over_is_said(
    installation: Installation, hut_project: int, hut_file: Path, section: dict
) -> None:
    app, path = installation, f"/api/drawings/{section['id']}"
    region = {"points": [[0.5, 1.0], [1.5, 2.0]]}
    callout = app.call("POST", f"{path}/callouts", {"region": region}).json
    assert act(app, callout, "hold").status == 422
    assert act(app, section, "hold", revision=7).status == 404
    assert act(app, section, "let-go").status == 422
    assert app.call("GET", f"{path}/hold").status == 422
    assert act(app, section, "take-over", elements=["x"]).status == 422
    unknown = app.call(
        "PATCH", path, {"version": app.version(path), "cut": {**section["cut"], "held": {"revision": 9}}}
    )
    assert unknown.status == 422
    assert "revision of the model" in unknown.json["message"]
    act(app, section, "hold")
    stale = app.call("POST", f"{path}/hold", {"version": section["version"]})
    assert stale.status == 409
    assert act(app, section, "take-over", elements=["x"]).status == 422
    # the revision that it is held by goes
    revised(app, hut_project, hut_file)
    app.execute(f"DELETE FROM revision WHERE project_id = {hut_project} AND number = 1")
    view = app.call("GET", f"{path}/view")
    assert view.status == 200
    said = app.call("GET", f"{path}/hold").json
    assert "Revision 1 of the model" in said["problem"]
    assert rules(app, hut_project)["held"]["severity"] == "serious"
    assert act(app, section, "take-over", elements=["x"]).status == 422
    assert act(app, section, "let-go").status == 200


def test_a_project_file_keeps_what_is_held(
    installation: Installation, hut_project: int, hut_file: Path, section: dict, tmp_path: Path
) -> None:
    app = installation
    act(app, section, "hold")
    revised(app, hut_project, hut_file)
    (tmp_path / "hut.zip").write_bytes(app.call("GET", f"/api/projects/{hut_project}/files").body)
    other = app.import_project(tmp_path / "hut.zip")
    copied = next(
        d for d in app.call("GET", f"/api/projects/{other}/drawings").json if d["letter"] == section["letter"]
    )
    assert copied["cut"]["held"] == {"revision": 1, "taken": []}
    assert printed(app, copied) == printed(app, section)
