"""A model of several files: told apart, placed, taken, moved, taken out; everything follows, and nothing is lost."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.api.geometry
import ifcopenshell.api.root
import numpy as np
import pytest

from tests.http.annotating.acts import add, head, listed, restyle, spot
from tests.http.drawings.test_drawings import add_section
from tests.http.models.test_revisions import aside, take
from tests.ifc_files import Hut, write_hut
from tests.installation import Installation

ALONG = {"kind": "section", "line": [[-1.0, 0.4], [5.0, 0.4]], "look": "left", "depth": 1.0}
FAR = np.array([[0.0, -1.0, 0.0, 400_000.0], [1.0, 0.0, 0.0, 90.0], [0.0, 0.0, 1.0, 7.0], [0.0, 0.0, 0.0, 1.0]])


def frame(path: Path, *, shift: float = 0.0, matrix: np.ndarray | None = None, third: bool = False) -> Path:
    """The hut's structure: columns in two of its corners and a beam between, `shift` millimetres to the east."""
    hut = Hut(path)
    for element in list(hut.file.by_type("IfcElement")):
        ifcopenshell.api.root.remove_product(hut.file, element)
    for k, (x, y) in enumerate([(300.0, 300.0), (3500.0, 300.0), (3500.0, 2500.0)][: 2 + third]):
        hut.add("IfcColumn", f"Column {k + 1}", [hut.box((x + shift, y, 0), (x + shift + 200, y + 200, 2300))])
    hut.add("IfcBeam", "Beam", [hut.box((300, 300, 2300), (3700, 500, 2500))])
    for element in hut.file.by_type("IfcElement") if matrix is not None else ():
        ifcopenshell.api.geometry.edit_object_placement(hut.file, product=element, matrix=matrix, is_si=True)
    return hut.written()


def send(app: Installation, project: int, path: Path, name: str = "") -> dict[str, Any]:
    answer = app.upload(name or path.name, path.read_bytes(), into=str(project))
    assert answer.status == 202, answer.body
    return app.finished_import(answer.json["id"])


def choose(app: Installation, proposed: dict[str, Any], **said: Any) -> dict[str, Any]:
    answer = app.call("PATCH", f"/api/imports/{proposed['id']}/part", said)
    assert answer.status == 200, answer.body
    return answer.json


def parts(app: Installation, project: int) -> list[dict[str, Any]]:
    return app.call("GET", f"/api/projects/{project}/parts").json


def newer(path: Path, *changes: Callable[[ifcopenshell.file], object]) -> Path:
    file = ifcopenshell.open(str(path))
    for change in changes:
        change(file)
    file.write(str(path))
    return path


@pytest.fixture
def project(hut_project: int) -> int:
    return hut_project


@pytest.fixture
def framed(installation: Installation, project: int, tmp_path: Path) -> Path:
    """The project has its structure as a second part; its file."""
    path = frame(tmp_path / "structure.ifc")
    take(installation, send(installation, project, path))
    return path


def at(app: Installation, drawing: dict[str, Any], *spot: float) -> list[tuple[str, str]]:
    """Kind and part of what is at a point of a drawing, metres."""
    body = {"cut": drawing["cut"], "style": drawing["style"], "at": spot, "reach": 0.01}
    found = app.call("POST", f"/api/projects/{drawing['project_id']}/pick", body)
    assert found.status == 200, found.body
    return [(e["kind"], e["part"]) for e in found.json]


def test_a_file_of_another_discipline_becomes_a_part_of_its_own(
    installation: Installation, project: int, tmp_path: Path
) -> None:
    assert [(p["key"], p["leads"], p["elements"]) for p in parts(installation, project)] == [("1", True, 5)]
    section = add_section(installation, project, ALONG)
    assert at(installation, section, 1.15, 1.0) == [("wall", "")]
    proposed = send(installation, project, frame(tmp_path / "structure.ifc"))
    said = proposed["part"]
    assert (said["key"], said["discipline"], said["sure"]) == ("", "structure", True)
    assert (said["by"], said["placed_surely"]) == ("coordinates", True)
    assert {c["what"] for c in proposed["changes"]["elements"]} == {"added"}
    picture = installation.call("GET", f"/api/imports/{proposed['id']}/picture").json
    assert (len(picture["rest"]), len(picture["part"])) == (5, 3)
    done = take(installation, proposed)
    assert done["number"] == 2
    found = parts(installation, project)
    assert [(p["name"], p["discipline"], p["leads"]) for p in found] == [
        ("hut", "architecture", True), ("structure", "structure", False),
    ]  # fmt: skip
    assert [(p["elements"], p["since"]) for p in found] == [(5, 1), (3, 2)]
    facts = installation.call("GET", f"/api/projects/{project}").json["facts"]
    assert (facts["elements"], [p["elements"] for p in facts["parts"]]) == (8, [5, 3])
    assert [s["name"] for s in facts["storeys"]] == ["Ground"]
    assert at(installation, section, 1.4, 1.0)[0] == ("column", "structure")
    assert at(installation, section, 1.15, 1.0)[0] == ("wall", "hut")
    body = {key: section[key] for key in ("cut", "style")}
    report = installation.call("POST", f"/api/projects/{project}/cut-report", body).json
    assert {(p["kind"], p["part"]) for p in report["passages"]} >= {("column", "structure"), ("wall", "hut")}


def test_a_newer_file_of_one_part_recuts_only_what_sees_it(
    installation: Installation, project: int, framed: Path, tmp_path: Path
) -> None:
    west = add_section(installation, project, {"kind": "section", "line": [[2.0, -1.0], [2.0, 4.0]], "look": "left",
                                               "depth": 3.0})  # fmt: skip
    east = add_section(installation, project, {"kind": "section", "line": [[2.0, -1.0], [2.0, 4.0]], "look": "right",
                                               "depth": 3.0})  # fmt: skip
    for drawing in (west, east):
        head(installation, drawing)
    longer = newer(framed, lambda f: setattr(
        next(c for c in f.by_type("IfcColumn") if c.Name == "Column 2").Representation.Representations[0].Items[0],
        "Depth", 2200.0))  # fmt: skip
    proposed = send(installation, project, longer, "structure-2.ifc")
    assert (proposed["part"]["key"], proposed["part"]["sure"]) == ("2", True)
    assert [(c["name"], c["what"]) for c in proposed["changes"]["elements"]] == [("Column 2", "changed")]
    done = take(installation, proposed)
    assert done["kept"] >= 1  # the one that looks away
    found = parts(installation, project)
    assert [(p["key"], p["file_name"], p["since"]) for p in found] == [("1", "hut.ifc", 1), ("2", "structure-2.ifc", 3)]
    architects = newer(write_hut(tmp_path / "hut.ifc"), lambda f: aside(f, "East", 100.0, 0.0))
    again = send(installation, project, architects)
    assert again["part"]["key"] == "1"
    assert not again["changes"]["another"]


def test_the_same_file_twice_is_refused(installation: Installation, project: int, framed: Path) -> None:
    answer = installation.upload("other-name.ifc", framed.read_bytes(), into=str(project))
    assert answer.status == 422
    assert "in use in this project already" in answer.json["message"]


def test_same_globalids_a_little_aside_are_two_parts_with_what_both_hold_once(
    installation: Installation, project: int, hut_file: Path
) -> None:
    """The walls as structure: made of the architect's file, moved by 12 mm."""
    moved = newer(hut_file, *(lambda f, n=n: aside(f, n, 12.0, 0.0) for n in ("South", "North", "West", "East")))
    proposed = send(installation, project, moved, "structure.ifc")
    assert proposed["part"]["key"] == "1"  # by its GlobalIds
    proposed = choose(installation, proposed, key="", discipline="structure", name="Frame")
    take(installation, proposed)
    architecture, structure = parts(installation, project)
    assert (architecture["elements"], structure["elements"], structure["left_out"]) == (5, 0, 5)
    assert 0 < structure["differs"] < 5  # some by 12 mm; the roof and the others not at all
    said = installation.call("GET", f"/api/projects/{project}").json["facts"]
    assert said["elements"] == 5


def test_a_file_from_elsewhere_is_asked_about_and_placed_by_two_points(
    installation: Installation, project: int, tmp_path: Path
) -> None:
    proposed = send(installation, project, frame(tmp_path / "structure.ifc", matrix=FAR))
    said = proposed["part"]
    assert (said["by"], said["placed_surely"]) == ("hand", False)
    assert "two points" in said["placed_says"]
    picture = installation.call("GET", f"/api/imports/{proposed['id']}/picture").json
    rings = {o["high"] - o["low"] > 1.0: o["ring"] for o in picture["part"]}
    assert max(x for x, _ in rings[True]) > 300_000
    # turned by a quarter: what was (x, y) came to (400000 - y, 90 + x)
    there = [[400_000.0 - 0.3, 90.0 + x, 7.0] for x in (0.3, 3.5)]
    points = [*there, [0.3, 0.3, 0.0], [3.5, 0.3, 0.0]]
    proposed = choose(installation, proposed, points=points)
    place = proposed["part"]["place"]
    assert proposed["part"]["placed_surely"]
    assert place["turn"] == pytest.approx(-90.0)
    take(installation, proposed)
    low, high = (installation.call("GET", f"/api/projects/{project}").json["facts"][k] for k in ("low", "high"))
    assert low == pytest.approx([0.0, 0.0, -0.3], abs=1e-5)
    assert high == pytest.approx([4.0, 3.0, 2.5], abs=1e-5)
    bad = installation.call(
        "PATCH", f"/api/projects/{project}/parts/2", {"points": [points[0], points[0], *points[2:]]}
    )
    assert (bad.status, bad.json["field"]) == (422, "points")


def test_a_part_that_is_moved_takes_along_what_is_tied_to_it(
    installation: Installation, project: int, framed: Path
) -> None:
    section = add_section(installation, project, ALONG)
    note = add(installation, section, [spot(1300, 2300)], kind="note", text="steel", points=[(1800, 1500)])
    was = next(a for a in listed(installation, section) if a["id"] == note["id"])["held"][0]["at"]
    done = installation.call("PATCH", f"/api/projects/{project}/parts/2", {"place": {"x": 0.25}})
    assert (done.status, done.json["number"], done.json["lost"]) == (200, 3, 0)
    now = next(a for a in listed(installation, section) if a["id"] == note["id"])["held"][0]
    assert now["state"] == "near"  # with its element: for people to look at
    assert now["at"] == pytest.approx([was[0] + 250, was[1]], abs=0.1)
    still = installation.call("PATCH", f"/api/projects/{project}/parts/2", {"place": {"x": 0.25}})
    assert (still.status, "Nothing" in still.json["message"]) == (422, True)


def test_the_leading_part_stays_and_others_come_and_go(installation: Installation, project: int, framed: Path) -> None:
    refused = installation.call("DELETE", f"/api/projects/{project}/parts/1")
    assert (refused.status, "leads" in refused.json["message"]) == (422, True)
    assert installation.call("DELETE", f"/api/projects/{project}/parts/7").status == 404
    gone = installation.call("DELETE", f"/api/projects/{project}/parts/2")
    assert (gone.status, gone.json["number"]) == (200, 3)
    assert [p["key"] for p in parts(installation, project)] == ["1"]
    only = installation.call("DELETE", f"/api/projects/{project}/parts/1")
    assert only.status == 422
    back = installation.call("POST", f"/api/projects/{project}/revisions/2/propose")
    assert back.status == 201, back.body
    take(installation, back.json)
    assert [(p["key"], p["elements"]) for p in parts(installation, project)] == [("1", 5), ("2", 3)]
    leads = installation.call("PATCH", f"/api/projects/{project}/parts/2", {"leads": True})
    assert leads.status == 200, leads.body
    assert [(p["key"], p["leads"]) for p in parts(installation, project)] == [("2", True), ("1", False)]
    other = send(installation, project, frame(framed.with_name("more.ifc"), third=True), "more.ifc")
    assert other["part"]["key"] in ("", "2")


def test_a_revision_for_the_wrong_part_is_not_taken_by_mistake(
    installation: Installation, project: int, framed: Path, hut_file: Path
) -> None:
    architects = newer(hut_file, lambda f: aside(f, "East", 100.0, 0.0))
    wrong = choose(installation, send(installation, project, architects), key="2")
    assert wrong["changes"]["another"]
    refused = installation.call("POST", f"/api/imports/{wrong['id']}/take", {})
    assert (refused.status, refused.json["field"]) == (422, "anyway")
    right = choose(installation, wrong, key="1")
    assert not right["changes"]["another"]
    unknown = installation.call("PATCH", f"/api/imports/{wrong['id']}/part", {"key": "9"})
    assert (unknown.status, unknown.json["field"]) == (422, "key")
    take(installation, right)


def test_nothing_is_left_of_what_is_dropped(installation: Installation, tmp_path: Path) -> None:
    hut = installation.upload("hut.ifc", write_hut(tmp_path / "hut.ifc", at=(1.0, 2.0, 3.0)).read_bytes())
    number = installation.finished_import(hut.json["id"])["project_id"]
    kept = installation.one("SELECT count(*) FROM blob")
    proposed = send(installation, number, frame(tmp_path / "structure.ifc", shift=31.0))
    choose(installation, proposed, name="Frame")
    assert installation.call("DELETE", f"/api/imports/{proposed['id']}").status == 204
    assert installation.one("SELECT count(*) FROM blob") == kept
    take(installation, send(installation, number, frame(tmp_path / "structure.ifc", shift=32.0)))
    before = installation.one("SELECT count(*) FROM blob")
    assert before > kept
    assert installation.call("DELETE", f"/api/projects/{number}").status == 204
    assert installation.one("SELECT count(*) FROM blob") < kept


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"place": {"x": 2e9}}, "place.x"),
        ({"place": {"turn": 720}}, "place.turn"),
        ({"discipline": "magic"}, "discipline"),
        ({"name": "hut"}, "name"),
        ({"name": ""}, "name"),
        ({"colour": "red"}, "colour"),
        ({"leads": False}, ""),
    ],
)  # fmt: skip
def test_what_can_not_be_said_of_a_part(
    installation: Installation, project: int, framed: Path, change: dict[str, Any], field: str
) -> None:
    answer = installation.call("PATCH", f"/api/projects/{project}/parts/2", change)
    assert answer.status == 422
    assert answer.json["field"] == field


def together(app: Installation, *paths: Path) -> list[dict[str, Any]]:
    """Files sent at once, the first of which makes the project."""
    first = app.upload(paths[0].name, paths[0].read_bytes())
    assert first.status == 202, first.body
    rest = [app.upload(p.name, p.read_bytes(), beside=str(first.json["id"])) for p in paths[1:]]
    return [app.finished_import(a.json["id"]) for a in (first, *rest)]


def test_files_sent_at_once_become_one_project_where_all_is_sure(installation: Installation, tmp_path: Path) -> None:
    building, structure = write_hut(tmp_path / "hut.ifc", at=(0.0, 0.0, 0.0)), frame(tmp_path / "structure.ifc")
    made, part = together(installation, building, structure)
    assert (made["state"], part["state"]) == ("ready", "ready")
    number = made["project_id"]
    assert part["project_id"] == number
    assert [p["name"] for p in parts(installation, number)] == ["hut", "structure"]
    installation.call("DELETE", f"/api/projects/{number}")


def test_a_file_sent_with_others_that_is_not_sure_waits_to_be_looked_at(
    installation: Installation, tmp_path: Path
) -> None:
    building, lost = write_hut(tmp_path / "hut.ifc"), frame(tmp_path / "structure.ifc", matrix=FAR)
    made, part = together(installation, building, lost)
    assert part["state"] == "proposed"
    assert not part["part"]["placed_surely"]
    assert len(parts(installation, made["project_id"])) == 1
    installation.call("DELETE", f"/api/projects/{made['project_id']}")


def test_a_file_sent_with_one_that_is_none_says_so(installation: Installation, tmp_path: Path) -> None:
    empty, structure = write_hut(tmp_path / "hut.ifc", bodies=False), frame(tmp_path / "structure.ifc")
    made, part = together(installation, empty, structure)
    assert (made["state"], part["state"]) == ("failed", "failed")
    assert "did not become a project" in part["message"]
    for one in (made, part):
        assert installation.call("DELETE", f"/api/imports/{one['id']}").status == 204
    answer = installation.upload("structure.ifc", structure.read_bytes(), beside=str(made["id"]))
    assert (answer.status, answer.json["field"]) == (422, "beside")


def test_two_files_proposed_at_once_are_taken_one_after_the_other(
    installation: Installation, project: int, tmp_path: Path
) -> None:
    """What the second changes is told anew when the first is in use."""
    one = send(installation, project, frame(tmp_path / "structure.ifc"))
    hut = Hut(tmp_path / "services.ifc")
    for element in list(hut.file.by_type("IfcElement")):
        ifcopenshell.api.root.remove_product(hut.file, element)
    hut.add("IfcPipeSegment", "Pipe", [hut.box((1000, 1000, 100), (1100, 2000, 200))])
    other = send(installation, project, hut.written())
    assert other["part"]["discipline"] == "services"
    take(installation, one)
    refused = installation.call("POST", f"/api/imports/{other['id']}/take", {})
    assert (refused.status, refused.json["field"]) == (422, "since")
    take(installation, installation.call("GET", f"/api/imports/{other['id']}").json)
    assert [p["discipline"] for p in parts(installation, project)] == ["architecture", "structure", "services"]


def test_what_is_said_of_the_only_part_stays(
    installation: Installation, project: int, hut_file: Path, tmp_path: Path
) -> None:
    said = {"name": "House", "discipline": "furniture"}
    assert installation.call("PATCH", f"/api/projects/{project}/parts/1", said).status == 200
    take(installation, send(installation, project, newer(hut_file, lambda f: aside(f, "East", 100.0, 0.0)), "b.ifc"))
    (part,) = parts(installation, project)
    assert (part["name"], part["discipline"], part["file_name"]) == ("House", "furniture", "b.ifc")
    (tmp_path / "hut.zip").write_bytes(installation.call("GET", f"/api/projects/{project}/files").body)
    again = installation.import_project(tmp_path / "hut.zip")
    assert [(p["name"], p["discipline"]) for p in parts(installation, again)] == [("House", "furniture")]
    installation.call("DELETE", f"/api/projects/{again}")


def test_an_earlier_revision_that_is_proposed_names_the_drawings_that_see_it(
    installation: Installation, project: int, framed: Path
) -> None:
    section = add_section(installation, project, ALONG)
    back = installation.call("POST", f"/api/projects/{project}/revisions/1/propose").json
    assert section["id"] in [one["drawing_id"] for one in back["changes"]["seen_in"]]
    installation.call("DELETE", f"/api/imports/{back['id']}")


def test_another_discipline_shows_at_once_where_drawings_look_otherwise_at_it(
    installation: Installation, project: int, framed: Path
) -> None:
    """Nothing of its bodies changed, so that only looks by discipline tell whether a view can be kept."""
    plain, grey = (add_section(installation, project, ALONG) for _ in range(2))
    grey = restyle(installation, grey, disciplines={"structure": "grey"})

    def view(drawing: dict[str, Any]) -> bytes:
        return installation.call("GET", f"/api/drawings/{drawing['id']}/view").body

    before, usual = view(grey), view(plain)
    answer = installation.call("PATCH", f"/api/projects/{project}/parts/2", {"discipline": "furniture"})
    assert answer.status == 200, answer.body
    assert view(plain) == usual
    changed = view(grey)
    assert changed != before
    assert installation.call("PATCH", f"/api/projects/{project}/parts/2", {"discipline": "structure"}).status == 200
    assert view(grey) == before
