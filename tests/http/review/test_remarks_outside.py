"""Remarks for others: as topics and on paper; what others say is read, once."""

from __future__ import annotations

import io
import zipfile
from dataclasses import replace
from typing import Any
from xml.etree import ElementTree

import pypdf
import pytest

from edge_slice.core.topics.documents import Remark as Said
from edge_slice.core.topics.documents import Viewpoint
from edge_slice.core.topics.reading import read_topics
from edge_slice.core.topics.writing import topics_file
from tests.installation import Installation


@pytest.fixture
def remarked(installation: Installation, hut_project: int) -> dict[str, Any]:
    """A remark in a plan, and one on a sheet, with an answer."""
    plan = installation.call("GET", f"/api/projects/{hut_project}/drawings").json[0]
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {"title": "Plans"}).json
    at = f"/api/projects/{hut_project}/remarks"
    said = {
        "drawing": plan["id"],
        "at": [1500, 1200],
        "text": "Too low.\nBy a step.",
        "to": "Iris",
        "due": "2026-12-24",
    }
    first = installation.call("POST", at, said).json
    second = installation.call("POST", at, {"sheet": sheet["id"], "at": [100, 100], "text": "No title."}).json
    installation.call("POST", f"/api/remarks/{second['id']}/answers", {"text": "It has one now.", "state": "done"})
    return {"project": hut_project, "at": at, "first": first, "second": second}


def topics_of(installation: Installation, remarked: dict[str, Any], version: str) -> bytes:
    answer = installation.call("GET", f"{remarked['at']}/topics?version={version}")
    assert answer.status == 200, answer.body
    return answer.body


@pytest.mark.parametrize("version", ["2.1", "3.0"])
def test_remarks_leave_as_topics_with_their_place(
    installation: Installation, remarked: dict[str, Any], version: str
) -> None:
    data = topics_of(installation, remarked, version)
    first, second = read_topics(data)
    assert (first.title, first.kind, first.status) == ("Too low.", "Remark", "Open")
    assert (first.assigned, first.due) == ("Iris", "2026-12-24")
    assert (second.status, [r.text for r in second.remarks]) == ("Closed", ["It has one now."])
    with zipfile.ZipFile(io.BytesIO(data)) as found:
        for topic in (first, second):
            assert found.read(f"{topic.guid}/snapshot.png").startswith(b"\x89PNG")
        root = ElementTree.fromstring(found.read(f"{first.guid}/viewpoint.bcfv"))
        assert f"{second.guid}/viewpoint.bcfv" not in found.namelist()  # a place on paper has none in the model
    eye, looks = (
        [float(one.text or "") for one in root.find(f"OrthogonalCamera/{name}") or []]
        for name in ("CameraViewPoint", "CameraDirection")
    )
    assert looks == [0, 0, -1]
    assert eye[:2] == pytest.approx(remarked["first"]["point"][:2], abs=1e-4)


def test_the_list_on_paper_has_every_remark_with_a_picture(
    installation: Installation, remarked: dict[str, Any]
) -> None:
    answer = installation.call("GET", f"{remarked['at']}.pdf")
    (page,) = pypdf.PdfReader(io.BytesIO(answer.body)).pages
    text = page.extract_text()
    for words in ("Too low.", "By a step.", "to Iris", "until 2026-12-24", "No title.", "It has one now."):
        assert words in text
    assert len(page.images) == 2


def test_what_others_say_is_read_once(installation: Installation, remarked: dict[str, Any]) -> None:
    first, second = read_topics(topics_of(installation, remarked, "3.0"))
    answered = replace(
        first, status="Closed", remarks=(Said("9" * 8, "Ben", "2026-12-02T10:00:00Z", "Lowered the step."),)
    )
    other = replace(first, guid="00000000-0000-0000-0000-0000000000aa", title="A pipe crosses the beam.", text="",
                    author="Ben", due="soon", viewpoint=None)  # fmt: skip
    data = topics_file([answered, second, other], "2.1", "Hut")
    for told in ({"answered": 1, "new": 1, "others": 1}, {"answered": 0, "new": 0, "others": 3}):
        assert installation.send_file(f"{remarked['at']}/topics", "answers.bcf", data).json == told
    third, _, now = installation.call("GET", remarked["at"]).json
    assert (now["state"], [a["text"] for a in now["answers"]]) == ("done", ["Lowered the step."])
    assert (third["text"], third["author"], third["due"]) == ("A pipe crosses the beam.", "Ben", "")
    assert (third["where"], third["here"], third["point"]) == ("from another program", False, None)
    assert installation.call("GET", f"{remarked['at']}.pdf").status == 200  # also of what has no place


def test_a_remark_names_its_place_in_the_model(installation: Installation, remarked: dict[str, Any]) -> None:
    x, y, z = remarked["first"]["point"]
    plan = installation.call("GET", f"/api/drawings/{remarked['first']['drawing']}/remarks").json
    assert plan[0]["at"] == pytest.approx([1500, 1200], abs=0.1)
    assert (x, y) == pytest.approx((1.5, 1.2), abs=20.0)
    assert remarked["second"]["point"] is None
    assert z == z  # a number


@pytest.mark.parametrize("data", [b"", b"no archive", topics_file([], "3.0", "x")[:60]])
def test_what_is_no_file_of_topics_is_refused(
    installation: Installation, remarked: dict[str, Any], data: bytes
) -> None:
    answer = installation.send_file(f"{remarked['at']}/topics", "answers.bcf", data)
    assert answer.status == 422
    assert "no file of topics" in answer.json["message"]


def test_without_remarks_there_is_nothing_to_send(installation: Installation, hut_project: int) -> None:
    for path in (".pdf", "/topics"):
        answer = installation.call("GET", f"/api/projects/{hut_project}/remarks{path}")
        assert answer.status == 422
        assert "no remarks yet" in answer.json["message"]


def test_what_others_remark_has_the_place_that_they_look_at(
    installation: Installation, remarked: dict[str, Any]
) -> None:
    first, _ = read_topics(topics_of(installation, remarked, "3.0"))
    x, y, z = remarked["first"]["point"]
    (origin,) = installation.one(
        f"SELECT facts->'origin' FROM revision WHERE project_id = {remarked['project']} ORDER BY number DESC LIMIT 1"
    )
    eye = (x + origin[0] - 9.0, y + origin[1], z + origin[2])
    east = Viewpoint(eye, (1.0, 0.0, 0.0), (0.0, 0.0, 1.0), 5.0, ())
    away = replace(east, looks=(-1.0, 0.0, 0.0))
    met, missed = (
        replace(first, guid=f"00000000-0000-0000-0000-0000000000b{k}", remarks=(), viewpoint=view)
        for k, view in enumerate((east, away))
    )
    told = installation.send_file(f"{remarked['at']}/topics", "x.bcf", topics_file([met, missed], "2.1", "Hut"))
    assert told.json == {"answered": 0, "new": 2, "others": 0}
    none, one = installation.call("GET", remarked["at"]).json[:2]
    assert (none["point"], none["here"]) == (None, False)
    assert one["here"]
    assert one["point"][1:] == pytest.approx([y, z], abs=1e-3)
    assert x - 9.0 < one["point"][0] < x  # the outside of a wall


def test_a_viewpoint_that_is_no_viewpoint_is_refused(installation: Installation, remarked: dict[str, Any]) -> None:
    stream = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(topics_of(installation, remarked, "3.0"))) as found,
        zipfile.ZipFile(stream, "w") as changed,
    ):
        for name in found.namelist():
            data = found.read(name)
            changed.writestr(name, data.replace(b"<X>", b"<X>a") if name.endswith(".bcfv") else data)
    before = installation.call("GET", remarked["at"]).json
    answer = installation.send_file(f"{remarked['at']}/topics", "x.bcf", stream.getvalue())
    assert answer.status == 422
    assert "camera has no CameraViewPoint" in answer.json["message"]
    assert installation.call("GET", remarked["at"]).json == before
