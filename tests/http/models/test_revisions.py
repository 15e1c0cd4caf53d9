"""Newer files of a project's model: read, proposed, taken; everything follows, and what can't is told and settled."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.api.root
import ifcopenshell.guid
import pytest

from edge_slice.command_line.main import run
from edge_slice.core.render.screen import screen_arrays
from tests.http.annotating.acts import add, head, listed, note, spot, touch, wall_chain, words
from tests.http.drawings.test_drawings import add_section
from tests.ifc_files import write_hut
from tests.installation import Installation

File = ifcopenshell.file


@pytest.fixture
def project(hut_project: int) -> int:
    return hut_project


@pytest.fixture
def section(installation: Installation, project: int) -> dict:
    made = add_section(installation, project)
    style = {**made["style"], "scale": 20, "lengths": "mm"}
    return installation.edit(f"/api/drawings/{made['id']}", {"style": style}).json


def named(file: File, name: str) -> Any:
    return next(e for e in file.by_type("IfcElement") if e.Name == name)


def higher(file: File, name: str = "South", height: float = 3000.0) -> None:
    named(file, name).Representation.Representations[0].Items[0].Depth = height


def aside(file: File, name: str, x: float, y: float) -> None:
    """Another place for one wall alone: the hut's walls share theirs."""
    wall = named(file, name)
    point = file.create_entity("IfcCartesianPoint", [x, y, 0.0])
    place = file.create_entity("IfcAxis2Placement3D", point)
    wall.ObjectPlacement = file.create_entity("IfcLocalPlacement", wall.ObjectPlacement.PlacementRelTo, place)


def renamed(file: File) -> None:
    for element in file.by_type("IfcElement"):
        element.GlobalId = ifcopenshell.guid.new()


def propose(app: Installation, project: int, path: Path, *changes: Callable[[File], None]) -> dict:
    file = ifcopenshell.open(str(path))
    for change in changes:
        change(file)
    file.write(str(path))
    answer = app.upload("hut-2.ifc", path.read_bytes(), into=str(project))
    assert answer.status == 202, answer.body
    return app.finished_import(answer.json["id"])


def take(app: Installation, proposed: dict, **body: object) -> dict:
    assert proposed["state"] == "proposed", proposed
    answer = app.call("POST", f"/api/imports/{proposed['id']}/take", body)
    assert answer.status == 200, answer.body
    return answer.json


def unsettled(app: Installation, project: int) -> list[dict]:
    return app.call("GET", f"/api/projects/{project}/anchors").json


def settle(app: Installation, project: int, found: list[dict], how: str = "accept") -> list[dict]:
    answer = app.call("POST", f"/api/projects/{project}/anchors", settling(found, how))
    assert answer.status == 200, answer.body
    return answer.json


def settling(found: list[dict], how: str = "accept") -> dict:
    lists = {"annotation": "annotations", "touch-up": "touch_ups", "callout": "callouts"}
    return {name: [a["id"] for a in found if a["what"] == what] for what, name in lists.items()} | {"how": how}


def test_a_newer_file_is_proposed_with_what_changed(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    note(installation, section)
    proposed = propose(
        installation, project, hut_file, higher, lambda f: aside(f, "West", -500.0, 0.0),
        lambda f: ifcopenshell.api.root.remove_product(f, named(f, "East")),
    )  # fmt: skip
    said = {(c["name"], c["what"], tuple(c["how"])) for c in proposed["changes"]["elements"]}
    assert said == {("South", "changed", ("shape",)), ("West", "changed", ("moved",)), ("East", "removed", ())}
    assert (proposed["changes"]["same"], proposed["changes"]["another"]) == (2, False)
    # nothing of the project has changed yet
    assert installation.call("GET", f"/api/projects/{project}").json["revision"] == 1
    assert listed(installation, section)[0]["state"] == "exact"
    dropped = installation.call("DELETE", f"/api/imports/{proposed['id']}")
    assert dropped.status == 204
    assert [r["number"] for r in installation.call("GET", f"/api/projects/{project}/revisions").json] == [1]


def test_everything_follows_and_is_settled(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    """A wall becomes higher and one is taken away, under new GlobalIds."""
    flashing = note(installation, section)
    chain = wall_chain(installation, section)
    region = {"points": [[0.8, 2.0], [1.6, 2.8]]}
    callout = installation.call("POST", f"/api/drawings/{section['id']}/callouts", {"region": region}).json
    hidden = touch(installation, section, act="hide", at=[4000, 1000], reach=5)
    proposed = propose(
        installation, project, hut_file, higher, renamed,
        lambda f: ifcopenshell.api.root.remove_product(f, named(f, "North")),
    )  # fmt: skip
    done = take(installation, proposed)
    assert (done["number"], done["near"], done["lost"]) == (2, 1, 2)
    found = {(a["what"], a["id"]): a for a in unsettled(installation, project)}
    assert found["annotation", flashing["id"]]["state"] == "near"
    assert found["annotation", chain["id"]]["state"] == "lost"
    assert found["touch-up", hidden["id"]]["state"] == "lost"
    now = {a["id"]: a for a in listed(installation, section)}
    assert now[flashing["id"]]["held"][0]["at"] == [1000, 3000]
    assert now[flashing["id"]]["document"]["points"] == [[1500, 3400]]
    assert words(now[chain["id"]]) == ["200", "2600", "200"]  # kept in its place
    assert installation.call("GET", f"/api/drawings/{callout['id']}").status == 200
    left = settle(installation, project, [found["annotation", flashing["id"]]])
    assert flashing["id"] not in [a["id"] for a in left if a["what"] == "annotation"]
    left = settle(installation, project, [found["annotation", chain["id"]]], "free")
    assert [a["what"] for a in left] == ["touch-up"]
    again = {a["id"]: a for a in listed(installation, section)}
    assert {a["state"] for a in again.values()} == {"exact"}
    assert words(again[chain["id"]]) == ["200", "2600", "200"]
    nothing = installation.call("POST", f"/api/projects/{project}/anchors", settling([found["touch-up", hidden["id"]]]))
    assert (nothing.status, "take it back" in nothing.json["message"]) == (422, True)


def test_what_moved_by_one_and_the_same_is_told_and_settled_in_one_act(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    """A wall stands 300 mm further south: notes on it say so, in plan and section; a chain to another does not."""
    plan = next(d for d in installation.call("GET", f"/api/projects/{project}/drawings").json if d["kind"] == "plan")
    tied = [add(installation, plan, [spot(2000, 0)], kind="note", text="South", points=[[2000, -800]])]
    tied.append(add(installation, section, [spot(1000, 1000, "side")], kind="note", text="South", points=[[400, 1000]]))
    chain = wall_chain(installation, section)
    hidden = touch(installation, section, act="hide", at=[1000, 1000], reach=5)
    take(installation, propose(installation, project, hut_file, lambda f: aside(f, "South", 0.0, -300.0)))
    near = [a for a in unsettled(installation, project) if a["state"] == "near"]
    moved = {(a["what"], a["id"]): a["moved"] for a in near}
    assert {moved["annotation", one["id"]] and tuple(moved["annotation", one["id"]]) for one in tied} == {(0, -300, 0)}
    assert moved.get(("annotation", chain["id"])) is None
    alike = [a for a in near if a["moved"] == [0, -300, 0]]
    assert len(alike) >= 2
    assert ("touch-up", hidden["id"]) not in moved or moved["touch-up", hidden["id"]] == [0, -300, 0]
    left = settle(installation, project, alike)
    assert not {(a["what"], a["id"]) for a in alike} & {(a["what"], a["id"]) for a in left}
    installation.call("POST", f"/api/projects/{project}/undo", {})
    again = {(a["what"], a["id"]) for a in unsettled(installation, project)}
    assert {(a["what"], a["id"]) for a in alike} <= again  # one act, taken back as one
    nothing = installation.call("POST", f"/api/projects/{project}/anchors", {"how": "accept"})
    assert nothing.status == 422


def test_only_drawings_that_see_a_change_are_cut_anew(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    """The section looks away from the east wall."""
    west = add_section(installation, project, {"kind": "section", "line": [[2.0, -1.0], [2.0, 4.0]], "look": "left",
                                               "depth": 3.0})  # fmt: skip
    for drawing in (section, west):
        head(installation, drawing)
    done = take(installation, propose(installation, project, hut_file, lambda f: higher(f, "East", 2600.0)))
    assert done["kept"] == 2  # both look west
    assert done["recut"] == 1  # the plan


def test_earlier_revisions_can_be_looked_at_and_compared(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    take(installation, propose(installation, project, hut_file, higher))
    path = f"/api/drawings/{section['id']}"
    old, new = (screen_arrays(installation.call("GET", f"{path}/view{query}").body)[0] for query in ("?revision=1", ""))
    assert new["window"][3] - old["window"][3] == pytest.approx(25.0)  # 500 mm at 1:20
    compared = screen_arrays(installation.call("GET", f"{path}/comparison/1").body)[0]
    assert [(p["name"], p["what"]) for p in compared["places"]] == [("South", "changed")]
    assert len(compared["regions"]) == 1
    assert {"added", "removed"} <= {i["role"] for i in compared["items"]}
    svg = installation.call("GET", f"{path}/export.svg?revision=1")
    assert (svg.status, b'class="added"' in svg.body) == (200, True)
    assert installation.call("GET", f"{path}/export.pdf?revision=1").body.startswith(b"%PDF")
    assert installation.call("GET", f"{path}/comparison/2").status == 422
    assert installation.call("GET", f"{path}/comparison/9").status == 404
    (second, first) = installation.call("GET", f"/api/projects/{project}/revisions").json
    assert (second["number"], second["changed"], first["number"]) == (2, 1, 1)
    changes = installation.call("GET", f"/api/projects/{project}/revisions/2").json
    assert [c["name"] for c in changes["elements"]] == ["South"]


def test_another_building_is_asked_about_first(installation: Installation, project: int, tmp_path: Path) -> None:
    other = write_hut(tmp_path / "far.ifc", at=(300.0, 200.0, 40.0))
    file = ifcopenshell.open(str(other))
    for element in file.by_type("IfcElement"):
        element.Name = f"Other {element.Name}"
    file.write(str(other))
    proposed = propose(installation, project, other)
    assert proposed["changes"]["another"] is True
    refused = installation.call("POST", f"/api/imports/{proposed['id']}/take", {})
    assert (refused.status, refused.json["field"]) == (422, "anyway")
    assert take(installation, proposed, anyway=True)["number"] == 2


def test_a_storey_that_is_gone_is_told_before(installation: Installation, project: int, hut_file: Path) -> None:
    def without_storeys(file: File) -> None:
        ifcopenshell.api.root.remove_product(file, file.by_type("IfcBuildingStorey")[0])

    proposed = propose(installation, project, hut_file, without_storeys)
    assert proposed["changes"]["lost_storeys"] == ["Ground"]
    assert proposed["changes"]["drawings"] == ["Ground plan"]
    take(installation, proposed)
    (plan,) = [a for a in unsettled(installation, project) if a["what"] == "drawing"]
    assert plan["state"] == "lost"


def test_files_that_are_no_revision_are_refused(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    assert installation.upload("notes.ifc", b"no model", into=str(project)).status == 422
    assert installation.upload("hut.ifc", hut_file.read_bytes(), into="999999").status == 404
    proposed = propose(installation, project, hut_file, higher)
    later = propose(installation, project, hut_file, lambda f: higher(f, "North", 2800.0))
    take(installation, proposed)
    clash = installation.call("POST", f"/api/imports/{later['id']}/take", {})
    assert (clash.status, "meanwhile" in clash.json["message"]) == (422, True)
    assert installation.call("POST", "/api/imports/999999/take", {}).status == 404


def test_a_label_says_when_the_model_changed_under_its_words(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    made = add(installation, section, [spot(1100, 1000, "inside")], kind="label", points=[(1100, 1500)],
               says=["name"], text="The south wall", instead_of="South")  # fmt: skip
    assert made["worded"]

    def reworded(file: File) -> None:
        named(file, "South").Name = "Front wall"

    take(installation, propose(installation, project, hut_file, reworded))
    (told,) = unsettled(installation, project)
    assert (told["state"], "Front wall" in told["reason"]) == ("exact", True)


def test_the_command_line_sends_a_revision(
    installation: Installation, project: int, hut_file: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = ifcopenshell.open(str(hut_file))
    higher(file)
    file.write(str(hut_file))
    common = ["send", str(hut_file), "--project", str(project), "--server", installation.url]
    assert run(common) == 0
    assert "It is proposed in the project" in capsys.readouterr().out
    assert run([*common, "--take"]) == 0
    said = capsys.readouterr().out
    assert "changed  wall South on Ground (shape)" in said
    assert "Revision 2 is in use" in said
    assert run([*common[:2], "--project", "999999", *common[4:]]) == 2


def test_a_label_of_what_is_gone_keeps_its_words(
    installation: Installation, project: int, hut_file: Path, section: dict
) -> None:
    """On the drawing, in the list of what is lost, and where words are looked for; never a GlobalId."""
    app = installation
    made = add(app, section, [spot(1100, 1000, "inside")], kind="label", points=[(1100, 1500)], says=["name", "kind"])
    found = app.call("GET", f"/api/projects/{project}/annotations?words=south").json
    assert [f["id"] for f in found] == [made["id"]]
    subject = made["document"]["subject"]
    assert app.call("GET", f"/api/projects/{project}/annotations?words={subject[:8]}").json == []
    proposed = propose(app, project, hut_file, lambda f: ifcopenshell.api.root.remove_product(f, named(f, "South")))
    take(app, proposed)
    (lost,) = [a for a in unsettled(app, project) if a["what"] == "annotation"]
    assert (lost["state"], lost["said"]) == ("lost", "label South wall")
    assert words(listed(app, section)[0]) == ["South", "wall"]
    assert "its words stay" in listed(app, section)[0]["findings"][0]
    assert subject not in str(app.call("GET", f"/api/projects/{project}/checks").json)


def test_a_revision_that_was_taken_is_taken_back(
    installation: Installation, project: int, section: dict, hut_file: Path
) -> None:
    """What is drawn then is what was drawn before, byte for byte, and what was tied to the model finds its place."""
    app = installation
    wall_chain(app, section)
    drawn = app.call("GET", f"/api/drawings/{section['id']}/export.svg").body
    assert app.call("POST", f"/api/projects/{project}/revisions/1/propose").status == 422  # it is in use
    assert app.call("POST", f"/api/projects/{project}/revisions/7/propose").status == 404
    take(app, propose(app, project, hut_file, higher, renamed))
    assert app.call("GET", f"/api/drawings/{section['id']}/export.svg").body != drawn
    back = app.call("POST", f"/api/projects/{project}/revisions/1/propose")
    assert back.status == 201, back.body
    assert app.call("POST", f"/api/projects/{project}/revisions/1/propose").status == 422  # one at a time
    assert back.json["changes"]["since"] == 2
    assert app.call("GET", f"/api/projects/{project}/revisions").json[0]["number"] == 2  # nothing has changed yet
    taken = take(app, back.json)
    assert (taken["number"], taken["lost"]) == (3, 0)
    assert app.call("GET", f"/api/drawings/{section['id']}/export.svg").body == drawn
    assert unsettled(app, project) == []
    again = app.call("POST", f"/api/projects/{project}/revisions/2/propose").json  # and forwards again
    assert take(app, again)["number"] == 4
    assert app.call("GET", f"/api/drawings/{section['id']}/export.svg").body != drawn
