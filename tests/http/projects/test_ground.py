"""The ground of a project over HTTP: said, pasted, drawn and moved; drawings, checks and files follow."""

import io
import zipfile
from pathlib import Path

import ifcopenshell
import ifcopenshell.api.root
import pytest

from tests.http.drawings.test_drawings import add_section
from tests.http.models.test_revisions import named, propose
from tests.installation import Answer, Installation

LEVEL = {"existing": {"shape": {"kind": "level", "height": -0.2}}}
HILL = [[-4, -4, 0], [8, -4, 0], [8, 8, 1.5], [-4, 8, 1.5], [2, 2, 0.4]]


def say(app: Installation, project: int, grounds: dict) -> Answer:
    url = f"/api/projects/{project}/ground"
    return app.call("PUT", url, {"version": app.call("GET", url).json["version"], "grounds": grounds})


def ground_faces(app: Installation, drawing: dict) -> list:
    cut = app.call("GET", f"/api/drawings/{drawing['id']}/export.json").json
    return [f for f in cut["faces"] if f["kind"] == "ground"]


def test_drawings_are_cut_in_the_ground_that_is_said_and_undone(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    assert ground_faces(installation, section) == []
    checks = installation.call("GET", f"/api/projects/{hut_project}/checks").json
    assert any("has no ground" in c["says"] for c in checks)
    said = say(installation, hut_project, LEVEL)
    assert said.status == 200
    assert (said.json["model_has"], said.json["works"], said.json["problem"]) == (False, None, "")
    assert len(ground_faces(installation, section)) >= 1
    checks = installation.call("GET", f"/api/projects/{hut_project}/checks").json
    assert not any("has no ground" in c["says"] for c in checks)
    now = installation.call("GET", f"/api/drawings/{section['id']}").json
    assert now["view"] != section["view"]
    stale = {"version": 0, "grounds": {}}
    clash = installation.call("PUT", f"/api/projects/{hut_project}/ground", stale)
    assert clash.status == 409
    assert clash.json["current"]["grounds"]["existing"]["shape"]["height"] == -0.2
    assert installation.call("POST", f"/api/projects/{hut_project}/undo").json["label"] == "edit ground"
    assert ground_faces(installation, section) == []
    assert installation.call("GET", f"/api/drawings/{section['id']}").json["view"] == section["view"]


def test_cut_and_fill_are_said_of_the_whole_and_of_each_section(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    pad = {"shape": {"kind": "level", "height": 0.3}, "area": [[-2, -2], [6, -2], [6, 5], [-2, 5]]}
    said = say(installation, hut_project, {**LEVEL, "proposed": pad}).json
    assert said["works"] == {"cut": 0, "fill": pytest.approx(8 * 7 * 0.5), "area": pytest.approx(56)}
    (own,) = [s for s in said["sections"] if s["drawing"] == section["id"]]
    (x0, y0), (x1, y1) = section["cut"]["line"]
    assert x0 == x1
    inside = min(5, y1) - max(-2, y0)  # of the line over the pad
    assert own["fill_area"] == pytest.approx(inside * 0.5)
    assert 0 < own["fill"] < said["works"]["fill"]


def test_points_are_pasted_read_and_moved(installation: Installation, hut_project: int) -> None:
    url = f"/api/projects/{hut_project}/ground"
    text = "nr;x;y;height\n" + "\n".join(f"{k};{x};{y};{z}".replace(".", ",") for k, (x, y, z) in enumerate(HILL))
    read = installation.call("POST", f"{url}/text", {"text": text}).json
    assert read["rows"] == HILL
    feet = installation.call("POST", f"{url}/text", {"text": "0 0 1\n10 0 1\n0 10 2", "unit": "ft"}).json
    assert feet["rows"][1] == [3.048, 0, 0.3048]
    points = {"existing": {"shape": {"kind": "points", "points": read["rows"]}}}
    said = say(installation, hut_project, points).json
    body = {"version": said["version"], "role": "existing", "index": 4, "height": 0.9}
    moved = installation.call("POST", f"{url}/points/move", body).json
    assert moved["grounds"]["existing"]["shape"]["points"][4] == [2, 2, 0.9]
    assert (
        installation.call("POST", f"{url}/points/move", {**body, "version": moved["version"], "index": 9}).status == 422
    )


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("1 2", "Line 1"),
        ("0 0 1\n1 1 1\n2 2 1", "on one line"),
        ("0 0 1\n5 0 1\n0 5 1\n0 0 2", "lie over each other"),
    ],
)
def test_text_that_is_no_ground_is_refused_in_words(
    installation: Installation, hut_project: int, text: str, words: str
) -> None:
    answer = installation.call("POST", f"/api/projects/{hut_project}/ground/text", {"text": text})
    assert (answer.status, answer.json["field"]) == (422, "text")
    assert words in answer.json["message"]


def test_points_far_from_the_building_are_refused_and_nothing_is_lost(
    installation: Installation, hut_project: int
) -> None:
    say(installation, hut_project, LEVEL)
    far = {"shape": {"kind": "points", "points": [[4e5, 0, 1], [4e5 + 9, 0, 1], [4e5, 9, 1]]}}
    answer = say(installation, hut_project, {"existing": far})
    assert answer.status == 422
    assert "km from the building" in answer.json["message"]
    kept = installation.call("GET", f"/api/projects/{hut_project}/ground").json["grounds"]
    assert kept["existing"]["shape"]["kind"] == "level"


def test_a_profile_drawn_in_a_section_is_ground_whose_points_move_there(
    installation: Installation, hut_project: int
) -> None:
    section = add_section(installation, hut_project)
    url = f"/api/projects/{hut_project}/ground"
    drawn = {"version": 0, "cut": section["cut"], "points": [[4, 0.4], [-1, -0.3], [-1, -0.3]]}
    made = installation.call("POST", f"{url}/profile", drawn).json
    assert made["grounds"]["existing"]["shape"]["heights"] == [[-1, -0.3], [4, 0.4]]
    handles = installation.call("POST", f"{url}/handles", {"cut": section["cut"]}).json
    assert [(round(h["u"], 6), round(h["v"], 6), h["moves"]) for h in handles] == [
        (-1, -0.3, "place"), (4, 0.4, "place"),
    ]  # fmt: skip
    to = {"version": made["version"], "cut": section["cut"], "role": "existing", "index": 1, "u": 5, "v": 0.1}
    moved = installation.call("POST", f"{url}/handles/move", to).json
    assert moved["grounds"]["existing"]["shape"]["heights"][1] == [5, 0.1]
    back = {**to, "version": moved["version"], "u": -2}
    refused = installation.call("POST", f"{url}/handles/move", back)
    assert (refused.status, "must grow" in refused.json["message"]) == (422, True)
    (x, y0), (_, y1) = section["cut"]["line"]
    across = {**section["cut"], "line": [[x - 3, (y0 + y1) / 2], [x + 3, (y0 + y1) / 2]]}
    assert installation.call("POST", f"{url}/handles", {"cut": across}).json == []


def test_ground_goes_with_the_project_as_a_file(installation: Installation, hut_project: int, tmp_path: Path) -> None:
    section = add_section(installation, hut_project)
    pad = {"shape": {"kind": "points", "points": HILL}, "reach": 0, "material": "Gravel"}
    said = say(installation, hut_project, {**LEVEL, "proposed": pad}).json["grounds"]
    archive = installation.call("GET", f"/api/projects/{hut_project}/files").body
    with zipfile.ZipFile(io.BytesIO(archive)) as files:
        (written,) = [files.read(name) for name in files.namelist() if name.endswith(".toml")]
    assert b"[ground.proposed" in written
    path = tmp_path / "hut.zip"
    path.write_bytes(archive)
    copy = installation.import_project(path)
    assert installation.call("GET", f"/api/projects/{copy}/ground").json["grounds"] == said
    other = installation.call("GET", f"/api/projects/{copy}/drawings").json[-1]
    assert ground_faces(installation, other) == ground_faces(installation, section)


def test_ground_on_an_element_that_a_newer_file_has_no_more_is_told(
    installation: Installation, hut_project: int, hut_file: Path
) -> None:
    add_section(installation, hut_project)
    floor = named(ifcopenshell.open(str(hut_file)), "Floor").GlobalId
    shape = {"kind": "element", "guid": floor, "offset": -0.2}
    assert say(installation, hut_project, {"existing": {"shape": shape}}).status == 200

    def gone(file: ifcopenshell.file) -> None:
        ifcopenshell.api.root.remove_product(file, named(file, "Floor"))

    proposed = propose(installation, hut_project, hut_file, gone)
    assert installation.call("POST", f"/api/imports/{proposed['id']}/take", {"anyway": True}).status == 200
    url = f"/api/projects/{hut_project}"
    assert "has no element" in installation.call("GET", f"{url}/ground").json["problem"]
    (told,) = [c for c in installation.call("GET", f"{url}/checks").json if c["rule"] == "ground"]
    assert (told["severity"], "has no element" in told["says"]) == ("serious", True)


def test_a_newer_file_keeps_the_ground_and_digs_it_anew(
    installation: Installation, hut_project: int, hut_file: Path
) -> None:
    section = add_section(installation, hut_project)
    say(installation, hut_project, {"existing": {"shape": {"kind": "level", "height": 1.0}}})
    before = ground_faces(installation, section)

    def lower(file: object) -> None:
        named(file, "Floor").Representation.Representations[0].Items[0].Depth = 60.0  # type: ignore[arg-type]

    proposed = propose(installation, hut_project, hut_file, lower)
    assert installation.call("POST", f"/api/imports/{proposed['id']}/take", {"anyway": True}).status == 200
    after = ground_faces(installation, section)
    assert after
    assert after != before  # its pit follows the floor
