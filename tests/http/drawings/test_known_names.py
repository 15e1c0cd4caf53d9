"""Names that nothing in a project is called are refused, with the field and the nearest names."""

from pathlib import Path
from typing import Any

import pytest

from tests.http.drawings.test_drawings import SECTION, add_section
from tests.ifc_files import write_hut
from tests.installation import Installation


@pytest.fixture(scope="module")
def project(installation: Installation, tmp_path_factory: pytest.TempPathFactory) -> int:
    return installation.import_project(write_hut(Path(tmp_path_factory.mktemp("names")) / "hut.ifc"))


STYLES: list[tuple[dict[str, Any], str, str]] = [
    ({"pens": {"cut structur": 0.5}}, "style.pens.cut structur", "cut structure"),
    ({"materials": {"concret": {"tint": "#ffffff"}}}, "style.materials.concret", "concrete"),
    ({"materials": {"concrete": {"hatch": "bricks"}}}, "style.materials.concrete.hatch", "brick"),
    ({"looks": [{"kind": "walls", "pen": 1}]}, "style.looks.0.kind", "wall"),
    ({"looks": [{"kind": "wall", "hatch": "Earth"}]}, "style.looks.0.hatch", "earth"),
    ({"looks": [{"kind": "wall", "pattern": "boards"}]}, "style.looks.0.pattern", "boards"),
    ({"appearance": "presentations"}, "style.appearance", "presentation"),
    ({"standard": "fine lines"}, "standard", "choose another"),
]
CUTS: list[tuple[dict[str, Any], str, str]] = [
    ({"without": ["doors"]}, "cut.without", "door"),
    ({"see_through_kinds": ["wal"]}, "cut.see_through_kinds", "wall"),
    ({"whole_kinds": ["funiture"]}, "cut.whole_kinds", "furniture"),
    ({"shown_set": "everythin"}, "cut.shown_set", "everything"),
    ({"shared_extents": "17"}, "cut.shared_extents", "there is"),
]


@pytest.mark.parametrize(("style", "field", "near"), STYLES)
def test_unknown_names_in_styles_are_refused(
    installation: Installation, project: int, style: dict[str, Any], field: str, near: str
) -> None:
    app = installation
    body = {"style": {"scale": 50, **style}, "cut": SECTION}
    new = app.call("POST", f"/api/projects/{project}/drawings", body)
    assert (new.status, new.json["field"]) == (422, field)
    assert near in new.json["message"]
    made = add_section(app, project)
    edited = app.edit(f"/api/drawings/{made['id']}", {"style": {**made["style"], **style}})
    assert (edited.status, edited.json["field"]) == (422, field)
    assert app.call("GET", f"/api/drawings/{made['id']}").json["style"] == made["style"]


@pytest.mark.parametrize(("cut", "field", "near"), CUTS)
def test_unknown_names_in_cuts_are_refused(
    installation: Installation, project: int, cut: dict[str, Any], field: str, near: str
) -> None:
    app = installation
    made = add_section(app, project)
    edited = app.edit(f"/api/drawings/{made['id']}", {"cut": {**made["cut"], **cut}})
    assert (edited.status, edited.json["field"]) == (422, field)
    assert near in edited.json["message"]
    new = app.call("POST", f"/api/projects/{project}/drawings", {"cut": {**SECTION, **cut}, "style": {"scale": 50}})
    assert new.status == 422


def test_unknown_names_in_annotations_touch_ups_and_sets_are_refused(installation: Installation, project: int) -> None:
    app, made = installation, add_section(installation, project)
    url = f"/api/drawings/{made['id']}"
    spots = [{"at": [1000, 500], "reach": 100}]
    area = {"kind": "area", "points": [[0, 0], [900, 900]], "form": "rectangle"}
    for document, field, near in (
        ({**area, "hatch": "gravl"}, "document.hatch", "gravel"),
        ({"kind": "line", "points": [[0, 0], [900, 0]], "line_type": "drainge"}, "document.line_type", "drain"),
        ({"kind": "symbol", "points": [[0, 0]], "symbol": "northh"}, "document.symbol", "north"),
    ):
        answer = app.call("POST", f"{url}/annotations", {"document": document, "spots": spots})
        assert (answer.status, answer.json["field"]) == (422, field), answer.body
        assert near in answer.json["message"]
    kept = app.call("POST", f"{url}/annotations", {"document": {**area, "hatch": "gravel"}, "spots": spots})
    assert kept.status == 201, kept.body
    hatch = app.call("POST", f"{url}/touch-ups", {"act": "hatch", "at": [1100, 1000], "style": {"hatch": "stoen"}})
    assert (hatch.status, hatch.json["field"]) == (422, "hatch")
    assert "stone" in hatch.json["message"]
    for rule in ({"without_kinds": ["walls"]}, {"storeys": ["Ground"]}, {"without_materials": ["Gold"]}):
        answer = app.call("POST", f"/api/projects/{project}/shown-sets", {"name": "x", "rule": rule})
        assert (answer.status, answer.json["field"]) == (422, f"rule.{next(iter(rule))}")


def test_what_was_named_before_its_hatch_went_away_stays(installation: Installation, project: int) -> None:
    """A drawing that names what is gone can still be edited; nothing of it is lost."""
    app, made = installation, add_section(installation, project)
    copy = {"copy_of": "bold", "name": "Own", "document": None}
    own = app.call("POST", f"/api/projects/{project}/standards", copy).json
    hatches = {**own["document"]["hatches"], "cork": {"families": [{"angle": 30, "spacing": 2}]}}
    own = app.call("PATCH", f"/api/standards/{own['id']}", {"version": own["version"],
                   "document": {**own["document"], "hatches": hatches}}).json  # fmt: skip
    style = {**made["style"], "standard": own["key"], "materials": {"concrete": {"hatch": "cork"}}}
    made = app.edit(f"/api/drawings/{made['id']}", {"style": style}).json
    assert made["style"]["materials"]["concrete"]["hatch"] == "cork"
    document = {**own["document"], "hatches": {k: v for k, v in hatches.items() if k != "cork"}}
    app.call("PATCH", f"/api/standards/{own['id']}", {"version": own["version"], "document": document})
    edited = app.edit(f"/api/drawings/{made['id']}", {"style": {**made["style"], "scale": 20}})
    assert edited.status == 200, edited.body
    assert edited.json["style"]["materials"]["concrete"]["hatch"] == "cork"
