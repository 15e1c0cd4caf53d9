"""Corrections of a project to its model: drawn at once, undone, kept through revisions and files, never silent."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from tests.http.drawings.test_drawings import add_section
from tests.http.models.test_parts import send
from tests.http.models.test_revisions import take
from tests.installation import Installation

DEMO = Path(__file__).parents[3] / "demo" / "curlew-point.ifc"


@pytest.fixture(scope="module")
def project(installation: Installation) -> Any:
    number = installation.import_project(DEMO)
    yield number
    installation.call("DELETE", f"/api/projects/{number}")


def wall_of(app: Installation, project: int, name: str = "Lower outer wall 1") -> str:
    return str(app.call("GET", f"/api/projects/{project}/elements?words={name.replace(' ', '%20')}").json[0]["guid"])


def build_up(app: Installation, project: int, guid: str) -> dict[str, Any]:
    found: dict[str, Any] = app.call("GET", f"/api/projects/{project}/build-up?element={guid}").json
    return found


def correct(app: Installation, project: int, *corrections: dict[str, Any]) -> Any:
    return app.edit(f"/api/projects/{project}", {"corrections": list(corrections)})


def listed(app: Installation, project: int) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = app.call("GET", f"/api/projects/{project}/corrections").json
    return found


def test_a_layer_that_is_missing_is_put_in_everywhere_and_taken_back(
    installation: Installation, project: int, tmp_path: Path
) -> None:
    section = add_section(installation, project)
    drawn = lambda: installation.call("GET", f"/api/drawings/{section['id']}/export.svg").body  # noqa: E731
    before = drawn()
    is_ = build_up(installation, project, wall_of(installation, project))
    assert is_["why_not"] == ""
    assert is_["name"] == "Lower outer wall"
    layers = [*is_["layers"], {"material": "Cork lining", "is_a": "rigid insulation", "thickness": 0.06}]
    one = {"build_up": is_["name"], "layers": layers, "reason": "too cold"}
    assert correct(installation, project, one).status == 200
    (told,) = listed(installation, project)
    assert (told["state"], told["already"]) == ("open", 0)
    assert told["elements"] + sum(r["elements"] for r in told["refused"]) == is_["elements"]
    after = drawn()
    assert after != before
    words = installation.call("GET", f"/api/projects/{project}/materials").json["materials"]
    assert next(m for m in words if m["name"] == "Cork lining")["volume"] > 0
    (tmp_path / "out.zip").write_bytes(installation.call("GET", f"/api/projects/{project}/files").body)
    again = installation.import_project(tmp_path / "out.zip")
    copy = next(d for d in installation.call("GET", f"/api/projects/{again}/drawings").json if d["kind"] == "section")
    assert installation.call("GET", f"/api/drawings/{copy['id']}/export.svg").body == after
    installation.call("DELETE", f"/api/projects/{again}")
    assert installation.call("POST", f"/api/projects/{project}/undo").status == 200
    assert drawn() == before
    assert listed(installation, project) == []


def test_a_correction_is_kept_through_a_revision(installation: Installation, project: int) -> None:
    is_ = build_up(installation, project, wall_of(installation, project))
    thicker = [{**layer, "thickness": round(layer["thickness"] + 0.01, 4)} for layer in is_["layers"]]
    assert correct(installation, project, {"build_up": is_["name"], "layers": thicker}).status == 200
    take(installation, send(installation, project, DEMO.with_name("curlew-point-2.ifc"), "curlew-point-2.ifc"))
    (told,) = listed(installation, project)
    assert told["state"] == "open"
    assert correct(installation, project, {"build_up": is_["name"], "layers": is_["layers"]}).status == 200
    assert [c["state"] for c in listed(installation, project)] == ["in the file"]
    assert correct(installation, project).status == 200


@pytest.mark.parametrize(
    ("correction", "says"),
    [
        ({"build_up": "Nothing such", "layers": [{"material": "Brick", "thickness": 0.1}]}, "no build-up"),
        ({"element": "nobody", "layers": [{"material": "Brick", "thickness": 0.1}]}, "no such element"),
        ({"build_up": "Lower outer wall", "layers": [{"material": "Brick", "thickness": -0.1}]}, "greater"),
        ({"build_up": "Lower outer wall", "layers": [{"material": "Brick", "thickness": 90}]}, "less"),
        ({"build_up": "Lower outer wall", "layers": []}, "at least 1"),
        (
            {"build_up": "Lower outer wall", "element": "x", "layers": [{"material": "B", "thickness": 1}]},
            "one element",
        ),
    ],
)
def test_what_can_not_be_meant_is_refused(
    installation: Installation, project: int, correction: dict[str, Any], says: str
) -> None:
    answer = correct(installation, project, correction)
    assert answer.status == 422
    assert says in answer.json["message"]
    assert installation.call("GET", f"/api/projects/{project}").json["corrections"] == []


def test_an_element_without_layers_says_why(installation: Installation, project: int) -> None:
    column = wall_of(installation, project, "Bay column 2")
    assert build_up(installation, project, column)["why_not"] == "It has no layers in its file."
    answer = correct(installation, project, {"element": column, "layers": [{"material": "Oak", "thickness": 0.1}]})
    assert answer.status == 422
    assert "no layers in its file" in answer.json["message"]
    assert installation.call("GET", f"/api/projects/{project}/build-up?element=nobody").status == 404
