"""Corrections of a project to its model: drawn at once, undone, kept through revisions and files, never silent."""

from __future__ import annotations

import re
import uuid
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from edge_slice.core.topics.documents import Remark
from edge_slice.core.topics.reading import read_topics
from edge_slice.core.topics.writing import topics_file
from tests.http.drawings.test_drawings import add_section
from tests.http.models.test_parts import send
from tests.http.models.test_revisions import take
from tests.installation import Installation

DEMO = Path(__file__).parents[3] / "demo" / "curlew-point.ifc"


@pytest.fixture(scope="module")
def project(installation: Installation, untouched_demo: int) -> Any:
    number = installation.project_like(untouched_demo)
    yield number
    installation.call("DELETE", f"/api/projects/{number}")


@pytest.fixture(autouse=True)
def as_in_the_file(installation: Installation, project: int) -> Iterator[None]:
    """Each test begins and ends without corrections."""
    yield
    assert correct(installation, project).status == 200


@pytest.fixture
def section(installation: Installation, project: int) -> Iterator[dict[str, Any]]:
    """A section, the only one that there is."""
    made = add_section(installation, project)
    yield made
    assert installation.call("DELETE", f"/api/drawings/{made['id']}").status == 204


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
    installation: Installation, project: int, section: dict[str, Any], tmp_path: Path
) -> None:
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
    partition = wall_of(installation, project, "Washroom partition 1")
    said = ({"build_up": is_["name"], "layers": thicker}, {"elements": [partition], "by": [0.5, 0, 0]})
    assert correct(installation, project, *said).status == 200
    take(installation, send(installation, project, DEMO.with_name("curlew-point-2.ifc"), "curlew-point-2.ifc"))
    layers, moved = listed(installation, project)
    assert (layers["state"], moved["state"]) == ("open", "changed")  # the newer file has the partition elsewhere
    asked = {**moved["correction"], "asked": "2026-05-04"}
    assert correct(installation, project, asked).status == 200  # nothing else of it is said anew
    assert listed(installation, project)[0]["state"] == "changed"
    assert correct(installation, project, {**asked, "stood": []}).status == 200  # from where the file has it now
    assert listed(installation, project)[0]["state"] == "asked"
    assert correct(installation, project, {"build_up": is_["name"], "layers": is_["layers"]}).status == 200
    assert [c["state"] for c in listed(installation, project)] == ["in the file"]


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


def test_a_wall_goes_elsewhere_with_its_windows_and_back(
    installation: Installation, project: int, section: dict[str, Any], tmp_path: Path
) -> None:
    drawn = lambda: installation.call("GET", f"/api/drawings/{section['id']}/export.svg").body  # noqa: E731
    before, wall = drawn(), wall_of(installation, project)
    assert installation.call("GET", f"/api/drawings/{section['id']}/comparison/0").status == 422
    assert correct(installation, project, {"elements": [wall], "by": [0, 0.6, 0], "reason": "too near"}).status == 200
    (told,) = listed(installation, project)
    said = told["correction"]
    body = {"guids": said["elements"], "cut": None, "style": None}
    kinds = [e["kind"] for e in installation.call("POST", f"/api/projects/{project}/elements", body).json]
    assert kinds.count("wall") == 1
    assert {"wall", "window"} <= set(kinds) <= {"wall", "window", "door"}
    assert len(said["stood"]) == len(kinds)
    assert (told["state"], told["elements"]) == ("open", len(kinds))
    after = drawn()
    assert after != before
    marked = installation.call("GET", f"/api/drawings/{section['id']}/export.svg?revision=0")
    assert marked.status == 200
    assert b"#a8442a" in marked.body  # what was removed
    assert b"#1f6b4f" in marked.body
    alone = installation.call("GET", f"/api/drawings/{section['id']}/view?revision=0")
    assert alone.status == 200

    anew = {**said, "reason": "nearer to the path"}
    assert correct(installation, project, anew).status == 200
    assert listed(installation, project)[0]["correction"]["reason"] == "nearer to the path"
    (tmp_path / "out.zip").write_bytes(installation.call("GET", f"/api/projects/{project}/files").body)
    again = installation.import_project(tmp_path / "out.zip")
    copy = next(d for d in installation.call("GET", f"/api/projects/{again}/drawings").json if d["kind"] == "section")
    assert installation.call("GET", f"/api/drawings/{copy['id']}/export.svg").body == after
    installation.call("DELETE", f"/api/projects/{again}")
    assert correct(installation, project).status == 200
    assert drawn() == before


def test_what_is_tried_is_drawn_as_it_will_be_and_not_kept(
    installation: Installation, project: int, section: dict[str, Any]
) -> None:
    saved = f"/api/drawings/{section['id']}/view"
    before, is_ = installation.call("GET", saved).body, build_up(installation, project, wall_of(installation, project))
    layers = [*is_["layers"], {"material": "Cork lining", "is_a": "rigid insulation", "thickness": 0.06}]
    one = {"build_up": is_["name"], "layers": layers}
    tried = installation.call("POST", f"/api/drawings/{section['id']}/tried", {"corrections": [one]})
    assert tried.status == 200
    assert listed(installation, project) == []
    assert installation.call("GET", saved).body == before
    assert correct(installation, project, one).status == 200
    assert installation.call("GET", saved).body == tried.body != before
    nothing = installation.call("POST", f"/api/drawings/{section['id']}/tried", {"corrections": []})
    assert nothing.body == before  # as the file has it
    assert correct(installation, project).status == 200
    wrong = {"corrections": [{"build_up": "Nothing such", "layers": layers}]}
    assert installation.call("POST", f"/api/drawings/{section['id']}/tried", wrong).status == 422


@pytest.mark.parametrize("version", ["2.1", "3.0"])
def test_corrections_are_asked_for_and_answered(installation: Installation, project: int, version: str) -> None:
    topics = f"/api/projects/{project}/corrections/topics?version={version}"
    answers = f"/api/projects/{project}/corrections/answers"
    assert installation.call("GET", topics).status == 422  # nothing to ask for
    window = wall_of(installation, project, "Lower window 1")
    one = {"elements": [window], "by": [0.1, 0, 0], "reason": "the stair"}
    assert correct(installation, project, one).status == 200
    sent = installation.call("GET", topics)
    assert sent.status == 200
    (topic,) = read_topics(sent.body)
    assert topic.guid == listed(installation, project)[0]["correction"]["topic"]
    assert "Because: the stair" in topic.text
    said = Remark(str(uuid.uuid4()), "Ben", "2026-05-05T08:00:00Z", "No room for it")
    back = [replace(topic, status="Refused", remarks=(said,)), replace(topic, guid=str(uuid.uuid4()))]
    answered = installation.send_file(answers, "back.bcf", topics_file(back, version, "x"))  # type: ignore[arg-type]
    assert (answered.status, answered.json) == (200, {"answered": 1, "others": 1})
    (told,) = listed(installation, project)
    assert told["state"] == "refused"
    assert told["correction"]["answer"] == {"status": "Refused", "remarks": ["Ben, 2026-05-05: No room for it"]}
    assert told["elements"] == 1  # still drawn so, until somebody takes it back
    own = installation.call("GET", topics).body
    assert installation.send_file(answers, "own.bcf", own).json == {"answered": 1, "others": 0}
    assert listed(installation, project) == [told]  # what they said is kept
    otherwise = {**one, "by": [0.2, 0, 0]}
    assert correct(installation, project, otherwise).status == 200
    (told,) = listed(installation, project)
    assert (told["state"], told["correction"]["topic"]) == ("open", topic.guid)  # asked for anew, as the same topic
    assert installation.call("POST", f"/api/projects/{project}/undo").status == 200
    assert listed(installation, project)[0]["state"] == "refused"
    wrong = installation.send_file(answers, "back.bcf", b"no archive")
    assert wrong.status == 422
    assert "no ZIP archive" in wrong.json["message"]


def test_the_file_is_written_with_corrections_and_read_as_it_is_drawn(
    installation: Installation, project: int, section: dict[str, Any], tmp_path: Path
) -> None:
    files = f"/api/projects/{project}/corrections/files"
    assert installation.call("GET", files).status == 422  # nothing is corrected
    is_ = build_up(installation, project, wall_of(installation, project))
    layers = [*is_["layers"], {"material": "Cork lining", "is_a": "rigid insulation", "thickness": 0.06}]
    column = wall_of(installation, project, "Bay column 2")
    said = ({"build_up": is_["name"], "layers": layers}, {"elements": [column], "left_out": True})
    assert correct(installation, project, *said).status == 200
    drawn = installation.call("GET", f"/api/drawings/{section['id']}/export.svg").body
    written = installation.call("GET", files)
    assert written.status == 200
    assert "corrected.ifc" in written.headers["Content-Disposition"]
    (tmp_path / "corrected.ifc").write_bytes(written.body)
    again = installation.import_project(tmp_path / "corrected.ifc")
    copy = add_section(installation, again)
    other = installation.call("GET", f"/api/drawings/{copy['id']}/export.svg").body
    assert without_numbers(other) == without_numbers(drawn)
    installation.call("DELETE", f"/api/projects/{again}")


def test_faces_openings_copies_and_new_bodies_are_drawn_sent_and_written(
    installation: Installation, project: int, section: dict[str, Any], tmp_path: Path
) -> None:
    drawn = lambda: installation.call("GET", f"/api/drawings/{section['id']}/export.svg").body  # noqa: E731
    before = drawn()
    view = {key: section[key] for key in ("cut", "style")}
    column = wall_of(installation, project, "Bay column 3")
    faces = installation.call("POST", f"/api/projects/{project}/handles", {**view, "element": column}).json
    assert faces["why_not"] == ""
    top = max((f for f in faces["faces"] if f["out"] == [0.0, 1.0]), key=lambda f: f["start"][1])
    assert top["face"] == top["drawn"]
    lower = {"looks": top["face"]["looks"], "at": top["face"]["at"] - 0.5}
    window = wall_of(installation, project, "W04 Two-light window")
    opening = installation.call("GET", f"/api/projects/{project}/opening?element={window}").json["opening"]
    assert opening["above_floor"] == pytest.approx(0.95, abs=0.02)
    plane = installation.call("POST", f"/api/projects/{project}/plane", view).json
    outline = [[1, 0], [1.3, 0], [1.3, 0.2]]
    new = {"name": "Upstand", "kind": "covering", "material": "Cork", "is_a": "rigid insulation", "outline": outline}
    said = (
        {"element": column, "face": top["face"], "to": lower, "reason": "a beam there"},
        {"element": window, "looks": opening["looks"], "head": -0.2, "left": 0.1, "right": 0.1},
        {"elements": [wall_of(installation, project, "Bay column 2")], "copies": [[0, 1, 0]]},
        {**new, **plane, "start": -1, "end": 1},
    )
    assert correct(installation, project, *said).status == 200
    told = listed(installation, project)
    assert [(one["state"], one["elements"]) for one in told] == [("open", 1)] * 4
    kept = [one["correction"] for one in told]
    assert len(kept[3]["body"]) == 22
    assert kept[1]["stood"] == [opening[side] for side in ("left", "right", "sill", "head")]
    after = drawn()
    assert after != before
    faces = installation.call("POST", f"/api/projects/{project}/handles", {**view, "element": column}).json["faces"]
    (again,) = (face for face in faces if face["drawn"] != face["face"])
    lower_yet = {"elements": [kept[3]["body"]], "by": [0, 0, -1]}
    assert "correction itself" in correct(installation, project, *kept, lower_yet).json["message"]
    assert (again["face"], again["drawn"]["at"]) == (top["face"], pytest.approx(lower["at"]))
    new_one = {**view, "element": kept[3]["body"]}
    assert "in no file" in installation.call("POST", f"/api/projects/{project}/handles", new_one).json["why_not"]
    assert installation.call("GET", f"/api/projects/{project}/opening?element={column}").json == {"opening": None}
    topics = f"/api/projects/{project}/corrections/topics"
    assert [t.title.split(":")[0] for t in read_topics(installation.call("GET", topics).body)] == [
        "Bay column 3", "W04 Two-light window", "Bay column 2", "New"
    ]  # fmt: skip
    names = [one["topic"] for one in kept]
    (only,) = read_topics(installation.call("GET", f"{topics}?only={names[1]}").body)
    assert only.guid == names[1]
    assert installation.call("GET", f"{topics}?only=nothing").status == 422
    pictures = [f"/api/projects/{project}/corrections/picture?topic={name}" for name in names]
    found = [installation.call("GET", picture).body for picture in pictures]
    assert all(picture.startswith(b"\x89PNG") for picture in found)
    assert len(set(found)) == 4
    assert installation.call("GET", pictures[0].replace(names[0], str(uuid.uuid4()))).status == 404
    (tmp_path / "corrected.ifc").write_bytes(
        installation.call("GET", f"/api/projects/{project}/corrections/files").body
    )
    other = installation.import_project(tmp_path / "corrected.ifc")
    copy = add_section(installation, other)
    svg = installation.call("GET", f"/api/drawings/{copy['id']}/export.svg").body
    assert without_numbers(svg) == without_numbers(after)
    installation.call("DELETE", f"/api/projects/{other}")
    take(installation, send(installation, project, tmp_path / "corrected.ifc", "curlew-point.ifc"))
    assert {one["state"] for one in listed(installation, project)} == {"in the file"}
    assert without_numbers(drawn()) == without_numbers(after)


@pytest.mark.parametrize(
    ("correction", "says"),
    [
        ({"elements": ["nobody"], "copies": [[1, 0, 0]]}, "no such element"),
        ({"elements": ["nobody"], "copies": []}, "at least 1"),
        ({"element": "nobody", "looks": [0, 1, 0], "head": 0.1}, "no such element"),
        ({"element": "nobody", "looks": [0, 1, 0]}, "which sides"),
        ({"element": "nobody", "face": {"looks": [0, 0, 1], "at": 1}, "to": {"looks": [0, 0, 1], "at": 2}}, "no such"),
    ],
)
def test_bodies_that_can_not_be_meant_are_refused(
    installation: Installation, project: int, correction: dict[str, Any], says: str
) -> None:
    answer = correct(installation, project, correction)
    assert answer.status == 422
    assert says in answer.json["message"]


def test_what_can_not_be_pushed_says_why(installation: Installation, project: int, section: dict[str, Any]) -> None:
    view = {key: section[key] for key in ("cut", "style")}
    handles = lambda guid: installation.call("POST", f"/api/projects/{project}/handles", {**view, "element": guid})  # noqa: E731
    assert handles("nobody").status == 404
    column = wall_of(installation, project, "Bay column 3")
    (top,) = [f for f in handles(column).json["faces"] if f["out"] == [0.0, 1.0]][:1]
    away = {"looks": top["face"]["looks"], "at": top["face"]["at"] - 50}
    answer = correct(installation, project, {"element": column, "face": top["face"], "to": away})
    assert answer.status == 422
    assert "through its own body" in answer.json["message"]
    assert correct(installation, project, {"elements": [column], "by": [1, 0, 0]}).status == 200
    assert "put elsewhere" in handles(column).json["why_not"]
    perspective = {**view["cut"], "perspective": {"distance": 8}}
    refused = installation.call("POST", f"/api/projects/{project}/plane", {**view, "cut": perspective})
    assert refused.status == 422
    assert "no one plane" in refused.json["message"]


def without_numbers(svg: bytes) -> bytes:
    """A drawing but for the numbers and the letter by which its project knows it."""
    return re.sub(rb'(id|data-[a-z-]+)="[^"]*"|Section [A-Z]', b"", svg)


def test_one_that_is_divided_is_two_topics(installation: Installation, project: int) -> None:
    windows = [wall_of(installation, project, f"Lower window {k}") for k in (1, 2)]
    assert correct(installation, project, {"elements": windows, "by": [0.1, 0, 0]}).status == 200
    (one,) = (told["correction"] for told in listed(installation, project))
    halves = [{"elements": [guid], "by": [0.1, 0, 0]} for guid in windows]
    assert correct(installation, project, *halves).status == 200
    topics = [told["correction"]["topic"] for told in listed(installation, project)]
    assert topics[0] == one["topic"]
    assert len(set(topics)) == 2
    same = [{**half, "topic": topics[0]} for half in halves]
    answer = correct(installation, project, *same)
    assert answer.status == 422
    assert "under one name" in answer.json["message"]


def test_what_is_taken_out_is_in_no_drawing_and_no_table(installation: Installation, project: int) -> None:
    window = wall_of(installation, project, "Lower window 1")
    rows = lambda: installation.call("GET", f"/api/projects/{project}/elements?words=Lower%20window").json  # noqa: E731
    count = len(rows())
    assert correct(installation, project, {"elements": [window], "left_out": True}).status == 200
    assert len(rows()) == count - 1
    (told,) = listed(installation, project)
    assert (told["state"], told["elements"], told["where"]) == ("open", 1, window)
    assert installation.call("POST", f"/api/projects/{project}/undo").status == 200
    assert len(rows()) == count


@pytest.mark.parametrize(
    ("correction", "says"),
    [
        ({"elements": ["nobody"], "left_out": True}, "not in the model"),
        ({"elements": ["nobody"], "by": [1, 0, 0]}, "no such element"),
        ({"elements": [], "by": [1, 0, 0]}, "at least 1"),
        ({"elements": ["nobody"], "by": [0, 0, 0]}, "by how much"),
        ({"elements": ["nobody"], "by": [1, 0]}, "required"),
    ],
)
def test_moves_that_can_not_be_meant_are_refused(
    installation: Installation, project: int, correction: dict[str, Any], says: str
) -> None:
    answer = correct(installation, project, correction)
    assert answer.status == 422
    assert says in answer.json["message"]


def test_an_element_is_put_elsewhere_once(installation: Installation, project: int) -> None:
    wall = wall_of(installation, project)
    assert correct(installation, project, {"elements": [wall], "by": [1, 0, 0]}).status == 200
    window = listed(installation, project)[0]["correction"]["elements"][1]
    kept = installation.call("GET", f"/api/projects/{project}").json["corrections"]
    answer = correct(installation, project, *kept, {"elements": [window], "by": [0, 0, 1]})
    assert answer.status == 422
    assert "two of the place" in answer.json["message"]
    bank = wall_of(installation, project, "Estuary bank")
    answer = correct(installation, project, *kept, {"elements": [bank], "by": [0, 0, 1]})
    assert answer.status == 422
    assert "where grounds are said" in answer.json["message"]


def test_an_element_without_layers_says_why(installation: Installation, project: int) -> None:
    column = wall_of(installation, project, "Bay column 2")
    assert build_up(installation, project, column)["why_not"] == "It has no layers in its file."
    answer = correct(installation, project, {"element": column, "layers": [{"material": "Oak", "thickness": 0.1}]})
    assert answer.status == 422
    assert "no layers in its file" in answer.json["message"]
    assert installation.call("GET", f"/api/projects/{project}/build-up?element=nobody").status == 404


def test_a_build_up_is_asked_for_by_its_name(installation: Installation, project: int) -> None:
    ask = lambda query: installation.call("GET", f"/api/projects/{project}/build-up?{query}")  # noqa: E731
    guid = wall_of(installation, project)
    assert ask("name=Lower%20outer%20wall").json == build_up(installation, project, guid)
    assert ask("name=Nothing%20such").status == 404
    assert ask("").status == 422
    assert ask(f"element={guid}&name=Lower%20outer%20wall").status == 422
