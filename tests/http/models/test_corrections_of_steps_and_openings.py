"""Steps, materials, layers on faces and windows in openings of their own: said over HTTP, drawn, sent, written."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from tempfile import gettempdir
from threading import Thread
from typing import Any

import numpy as np
import pytest

from edge_slice.core.render.screen import screen_arrays
from edge_slice.core.topics.reading import read_topics
from tests.http.models.test_corrections import correct, listed, wall_of, without_numbers
from tests.http.models.test_parts import send
from tests.http.models.test_revisions import take
from tests.installation import Installation

UP = [0.0, 0.0, 1.0]


@pytest.fixture
def project(installation: Installation, untouched_demo: int) -> Iterator[int]:
    number = installation.project_like(untouched_demo)
    yield number
    installation.call("DELETE", f"/api/projects/{number}")


def in_file(app: Installation, project: int, guid: str) -> dict[str, Any]:
    found: dict[str, Any] = app.call("GET", f"/api/projects/{project}/in-file?element={guid}").json
    return found


def test_they_are_drawn_sent_and_written_and_the_newer_file_has_them(
    installation: Installation, project: int, tmp_path: Path
) -> None:
    app = installation
    cut = {"kind": "section", "line": [[15.1, -2], [15.1, 14]], "look": "left", "depth": 6}
    section = app.call("POST", f"/api/projects/{project}/drawings", {"cut": cut, "parent_id": None}).json
    drawn = lambda: app.call("GET", f"/api/drawings/{section['id']}/export.svg").body  # noqa: E731
    before = drawn()
    flight, window = (wall_of(app, project, name) for name in ("Concrete flight 1", "W11 Washroom window"))
    landing = wall_of(app, project, "Concrete half landing")
    now = in_file(app, project, flight)
    assert (now["steps"], now["materials"]) == ({"risers": 8, "rise": 0.183333, "going": 0.27}, ["Reinforced concrete"])
    assert in_file(app, project, window)["materials"] == ["Glass", "Oak"]
    assert in_file(app, project, landing)["why_no_steps"] == "It is no flight of steps that can be told apart."
    said: tuple[dict[str, Any], ...] = (
        {"elements": [window], "copies": [[0, 1.4, 0]], "openings": True},
        {"element": flight, "risers": 9, "going": 0.25},
        {"elements": [flight], "material": "Larch", "is_a": "timber"},
        {"elements": [window], "material": "Larch", "is_a": "timber", "in_place_of": "Oak"},
        {"name": "Rubber", "kind": "covering", "material": "Rubber", "element": landing, "thickness": 0.02,
         "on": {"looks": UP, "at": 1.65}},
    )  # fmt: skip
    assert correct(app, project, *said).status == 200, correct(app, project, *said).json
    told = listed(app, project)
    assert [(one["state"], one["elements"]) for one in told] == [("open", 1)] * 5
    kept = [one["correction"] for one in told]
    assert kept[1]["had"] == [8, 0.183333, 0.27, 90.0]
    assert [one["had"] for one in kept[2:4]] == [["Reinforced concrete"], ["Glass, Oak"]]
    assert len(kept[4]["body"]) == 22
    after = drawn()
    assert after != before
    texts = [topic.text for topic in read_topics(app.call("GET", f"/api/projects/{project}/corrections/topics").body)]
    assert "each in an opening of its own" in texts[0]
    assert "9 risers" in texts[1]
    assert "what is of Oak in W11 Washroom window of Larch" in texts[3]
    assert "on the top of" in texts[4]
    pictures = (f"/api/projects/{project}/corrections/picture?topic={one['topic']}" for one in kept)
    assert all(app.call("GET", picture).body.startswith(b"\x89PNG") for picture in pictures)
    written = app.call("GET", f"/api/projects/{project}/corrections/files")
    assert written.status == 200, written.body
    (tmp_path / "corrected.ifc").write_bytes(written.body)
    take(app, send(app, project, tmp_path / "corrected.ifc", "curlew-point.ifc"))
    assert {one["state"] for one in listed(app, project)} == {"in the file"}
    assert without_numbers(drawn()) == without_numbers(after)


def test_what_is_dragged_is_drawn_alone_as_it_will_be(installation: Installation, project: int) -> None:
    app = installation
    cut = {"kind": "section", "line": [[6, -3], [6, 14]], "look": "left", "depth": 6}
    section = app.call("POST", f"/api/projects/{project}/drawings", {"cut": cut, "parent_id": None}).json
    column = wall_of(app, project, "Bay column 2")
    view = {key: section[key] for key in ("cut", "style")}
    faces = app.call("POST", f"/api/projects/{project}/handles", {**view, "element": column}).json["faces"]
    top = max((f for f in faces if f["out"] == [0.0, 1.0]), key=lambda f: f["start"][1])
    lower = {"element": column, "face": top["face"], "to": {**top["face"], "at": top["face"]["at"] - 0.5}}

    def tried(*said: dict[str, Any], in_hand: bool) -> Any:
        answer = app.call(
            "POST", f"/api/drawings/{section['id']}/tried", {"corrections": list(said), "in_hand": in_hand}
        )
        assert answer.status == 200, answer.body
        return screen_arrays(answer.body)

    (head, points), (whole, _) = tried(lower, in_hand=True), tried(lower, in_hand=False)
    assert 0 < len(head["items"]) < len(whole["items"])
    each = zip(head["items"], points, strict=True)
    seen = np.concatenate([paths[0] for item, paths in each if item["role"].startswith("seen")])
    shall = (top["start"][1] - 0.5) * 1000 / view["style"]["scale"]
    assert float(seen[:, 1].max()) == pytest.approx(shall, abs=0.1)
    flat = app.call("GET", f"/api/projects/{project}/faces?element={column}").json
    assert top["face"] in [{**face["face"], "at": pytest.approx(face["face"]["at"])} for face in flat["faces"]]
    assert app.call("GET", f"/api/projects/{project}/faces?element=nobody").status == 404
    other = {"elements": [column], "left_out": True}
    assert tried(other, in_hand=True)[0]["items"] == tried(other, in_hand=False)[0]["items"]  # no face: all of it
    assert listed(app, project) == []


@pytest.mark.parametrize(
    ("correction", "says"),
    [
        ({"element": "Lower outer wall 1", "risers": 9, "going": 0.27}, "no flight of steps"),
        ({"element": "Concrete flight 1", "risers": 9, "going": 20}, "less than or equal"),
        ({"element": "Concrete flight 1", "risers": 1, "going": 0.27}, "greater than or equal"),
        ({"elements": ["Lower outer wall 1"], "material": "Larch"}, "It has layers"),
        ({"elements": ["Bay column 2"], "material": "Larch", "in_place_of": "Larch"}, "another material"),
        ({"elements": ["Bay column 2"], "material": "Larch", "in_place_of": "Zinc"}, "Nothing of it"),
        ({"elements": ["W11 Washroom window"], "copies": [[0, 0.3, 0]], "openings": True}, "run into another"),
        ({"elements": ["W11 Washroom window"], "copies": [[0, 0, 9]], "openings": True}, "no wall"),
        ({"name": "Cork", "kind": "covering", "material": "Cork", "element": "Bay column 2", "thickness": 0.1,
          "on": {"looks": UP, "at": 77}}, "no such face"),
        ({"name": "Cork", "kind": "covering", "material": "Cork", "element": "Bay column 2", "thickness": 0.1,
          "on": {"looks": [0, 0, 2], "at": 1}}, "less than or equal"),
    ],
)  # fmt: skip
def test_what_can_not_be_meant_is_refused(
    installation: Installation, project: int, correction: dict[str, Any], says: str
) -> None:
    named = {**correction}
    if "element" in named:
        named["element"] = wall_of(installation, project, named["element"])
    if "elements" in named:
        named["elements"] = [wall_of(installation, project, name) for name in named["elements"]]
    answer = correct(installation, project, named)
    assert answer.status == 422
    assert says in answer.json["message"]
    assert listed(installation, project) == []
    assert installation.call("GET", f"/api/projects/{project}/in-file?element=nobody").status == 404


def test_a_kill_while_a_file_is_written_loses_nothing(installation: Installation, project: int) -> None:
    app = installation
    flight = wall_of(app, project, "Concrete flight 1")
    assert correct(app, project, {"element": flight, "risers": 9, "going": 0.25}).status == 200
    before, files = listed(app, project), f"/api/projects/{project}/corrections/files"
    whole = app.call("GET", files).body
    written = lambda: set(Path(gettempdir()).glob("tmp*/*.ifc"))  # noqa: E731
    ended: list[object] = []
    earlier = written()

    def ask() -> None:
        try:
            ended.append(app.call("GET", files).status)
        except OSError as error:  # the server is gone
            ended.append(error)

    asking = Thread(target=ask)
    asking.start()
    app.until(lambda: written() - earlier)
    app.kill_servers()
    asking.join()
    assert ended != [200]
    assert listed(app, project) == before
    assert len(app.call("GET", files).body) == len(whole)
