"""A project goes out as files and comes back as it was; the command line makes the same of it."""

from __future__ import annotations

import io
import urllib.request
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from edge_slice.command_line.main import run
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.models.test_parts import choose, frame, parts, send
from tests.http.models.test_revisions import take
from tests.http.sheets.test_publications import ISSUE, published
from tests.http.sheets.test_sheets import add_sheet, place
from tests.ifc_files import write_hut
from tests.installation import Installation

BESIDE = np.array([[0.0, -1.0, 0.0, 20.0], [1.0, 0.0, 0.0, 30.0], [0.0, 0.0, 1.0, 0.0], [0.0, 0.0, 0.0, 1.0]])


def documented(app: Installation, project: int) -> None:
    """A project with something of everything that a file of it holds."""
    plan, drawn = plan_of(app, project), add_section(app, project)
    url = f"/api/projects/{project}"
    standard = app.call("POST", f"{url}/standards", {"copy_of": "bold", "name": "House, bold"}).json
    shown = app.call("POST", f"{url}/shown-sets", {"name": "No doors", "rule": {"without_kinds": ["door"]}}).json
    design = app.call("POST", f"{url}/sheet-designs", {"copy_of": "base-strip", "name": "House"}).json
    changed = {
        "version": drawn["version"],
        "cut": drawn["cut"] | {"shown_set": shown["key"], "depths": [None]},
        "style": drawn["style"] | {"standard": standard["key"]},
    }
    assert app.call("PATCH", f"/api/drawings/{drawn['id']}", changed).status == 200
    rule = {"kind": "section", "cut": {"depth": 2, "shown_set": shown["key"]},
            "style": {"standard": standard["key"], "scale": 20, "levels": False, "grid": False}}  # fmt: skip
    ruled = app.call("POST", f"{url}/drawing-rules", {"name": "Working", "rule": {"name": "Working", **rule}}).json
    own = {"cut": {"kind": "section", "line": [[3, -1], [3, 4]], "depth": None}, "style": {"levels": True}}
    assert app.call("POST", f"{url}/drawings", {**own, "rule": ruled["key"]}).status == 201
    region = {"points": [[0.5, -0.5], [2, 1]]}
    callout = app.call("POST", f"/api/drawings/{drawn['id']}/callouts", {"region": region})
    assert callout.status == 201, callout.body
    assert app.call("POST", f"/api/drawings/{plan['id']}/annotation-sets", {"rule": "grid"}).status == 200
    first = place(app, add_sheet(app, project, title="Plan", folder="plans"), plan)
    place(app, add_sheet(app, project, title="Section", folder="sections", design=design["key"]), drawn)
    place(app, add_sheet(app, project, title="Corner", folder="details", size="A3"), callout.json)
    assert published(app, project, sheets=[first["id"]], issue=ISSUE)["state"] == "ready"


def files_of(app: Installation, project: int) -> dict[str, bytes]:
    found = app.call("GET", f"/api/projects/{project}/files")
    assert found.status == 200, found.body
    with zipfile.ZipFile(io.BytesIO(found.body)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def set_of(app: Installation, project: int) -> bytes:
    done = published(app, project)
    assert done["state"] == "ready", done
    return app.call("GET", f"/api/publications/{done['id']}/file").body


def test_out_and_in_again_and_the_command_line_give_the_same_bytes(
    installation: Installation, hut_project: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    app = installation
    documented(app, hut_project)
    whole = set_of(app, hut_project)
    archive = app.call("GET", f"/api/projects/{hut_project}/files").body
    (tmp_path / "hut.zip").write_bytes(archive)
    again = app.import_project(tmp_path / "hut.zip")
    assert set_of(app, again) == whole
    assert files_of(app, again) == files_of(app, hut_project)
    ruled = [d for d in app.call("GET", f"/api/projects/{again}/drawings").json if d["rule"]]
    assert [(d["departs"], d["cut"]["depth"]) for d in ruled] == [(["cut.depth", "style.levels"], None)]
    rows = app.call("GET", f"/api/projects/{again}/sheets").json
    assert {r["number"]: r["fields"]["issued"] for r in rows}["A-101"][0]["code"] == ISSUE["code"]

    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    with zipfile.ZipFile(io.BytesIO(archive)) as found:
        found.extractall(tmp_path / "files")
    (project,) = (tmp_path / "files").glob("*.toml")
    assert run(["publish", str(project), "--out", str(tmp_path / "out")]) == 0
    (made,) = (tmp_path / "out").iterdir()
    assert made.read_bytes() == whole


def test_a_model_of_parts_goes_out_and_comes_back_as_it_was(
    installation: Installation, hut_project: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Three states: one file, then with a structure elsewhere, then with a newer structure of other GlobalIds."""
    app = installation
    documented(app, hut_project)
    proposed = send(app, hut_project, frame(tmp_path / "structure.ifc", matrix=BESIDE))
    take(app, choose(app, proposed, place={"x": -30.0, "y": 20.0, "turn": -90.0}, name="Frame"))
    newer = send(app, hut_project, frame(tmp_path / "structure.ifc", matrix=BESIDE, third=True))
    take(app, choose(app, newer, key="2"))
    whole, before = set_of(app, hut_project), parts(app, hut_project)
    assert [(p["name"], p["elements"]) for p in before] == [("hut", 5), ("Frame", 4)]
    archive = app.call("GET", f"/api/projects/{hut_project}/files").body
    (tmp_path / "hut.zip").write_bytes(archive)
    again = app.import_project(tmp_path / "hut.zip")
    named = [p | {"file_name": ""} for p in before]  # two states of one name have two names in an archive
    assert [p | {"file_name": ""} for p in parts(app, again)] == named
    assert set_of(app, again) == whole
    assert files_of(app, again) == files_of(app, hut_project)
    with zipfile.ZipFile(io.BytesIO(archive)) as found:
        found.extractall(tmp_path / "files")
    (project,) = (tmp_path / "files").glob("*.toml")
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    assert run(["publish", str(project), "--out", str(tmp_path / "out")]) == 0
    (bound,) = (tmp_path / "out").glob("*.pdf")
    assert bound.read_bytes() == whole
    app.call("DELETE", f"/api/projects/{again}")


def test_what_a_sheet_was_issued_as_elsewhere_stays_when_its_fields_are_typed(
    installation: Installation, hut_project: int, tmp_path: Path
) -> None:
    app = installation
    documented(app, hut_project)
    (tmp_path / "hut.zip").write_bytes(app.call("GET", f"/api/projects/{hut_project}/files").body)
    again = app.import_project(tmp_path / "hut.zip")
    sheet = next(s for s in app.call("GET", f"/api/projects/{again}/sheets").json if s["number"] == "A-101")
    assert sheet["issued"] == ISSUE["code"]
    edit = {"version": sheet["version"], "fields": {"drawn": "MT"}}
    edited = app.call("PATCH", f"/api/sheets/{sheet['id']}", edit).json
    assert edited["issued"] == ISSUE["code"]


def packed(files: dict[str, bytes]) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return stream.getvalue()


@pytest.mark.parametrize(
    ("files", "says"),
    [
        ({"readme.txt": b"x"}, "no project file"),
        ({"a.toml": b"", "b.toml": b""}, "2 project files"),
    ],
)
def test_an_archive_without_a_project_is_refused_at_once(
    installation: Installation, files: dict[str, bytes], says: str
) -> None:
    refused = installation.upload("x.zip", packed(files))
    assert refused.status == 422
    assert says in refused.json["message"]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda f: f | {"../outside.txt": b"x"}, "outside of itself"),
        (lambda f: {n: d.replace(b'"hut.ifc"', b'"../../etc/passwd"') for n, d in f.items()}, "outside of itself"),
        (lambda f: {n: d for n, d in f.items() if not n.endswith(".ifc")}, "hut.ifc"),
        (lambda f: {n: d.replace(b'kind = "plan"', b'kind = "spiral"') for n, d in f.items()}, "can't be read"),
    ],
)
def test_an_archive_that_can_not_be_used_says_why_and_leaves_nothing(
    installation: Installation, hut_project: int, change: Any, says: str
) -> None:
    app = installation
    before = len(app.call("GET", "/api/projects").json)
    row = app.upload("x.zip", packed(change(files_of(app, hut_project)))).json

    def ended() -> Any:
        found = app.call("GET", f"/api/imports/{row['id']}").json
        return found if found["state"] not in ("waiting", "reading") else None

    failed = app.until(ended)
    assert failed["state"] == "failed"
    assert says in failed["message"]
    assert len(app.call("GET", "/api/projects").json) == before
    app.call("DELETE", f"/api/imports/{row['id']}")


def test_a_project_of_any_size_leaves_in_pieces(installation: Installation, tmp_path: Path) -> None:
    app = installation
    megabytes = 160
    project = app.import_project(write_hut(tmp_path / "large.ifc"))
    (name,) = app.one(f"SELECT file_hash FROM revision WHERE project_id = {project}")
    # its file grows; what it holds is none of the archive's business
    app.execute(
        f"INSERT INTO blob_chunk (hash, part, data) SELECT '{name}', 1 + n, decode(repeat('00', 4194304), 'hex')"
        f" FROM generate_series(0, {megabytes // 4 - 1}) AS n"
    )
    code = "import resource, tempfile; from edge_slice.app.output.project_exports import export_to;"
    code += " most = lambda: resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024; before = most();"
    code += f" export_to({project}, tempfile.TemporaryFile()); assert most() - before < 80, most() - before"
    app.python(code)
    with urllib.request.urlopen(f"{app.url}/api/projects/{project}/files", timeout=120) as answer:
        data = answer.read()
    with zipfile.ZipFile(io.BytesIO(data)) as found:
        assert found.testzip() is None
        assert max(entry.file_size for entry in found.infolist()) > megabytes << 20
