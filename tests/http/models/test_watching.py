"""A folder that is watched: what is saved again in it is proposed to its project by itself; and sent part by part."""

from __future__ import annotations

import os
import threading
from pathlib import Path
from typing import Any

import pytest

from edge_slice.command_line.arguments import WrongArguments
from edge_slice.command_line.main import run
from edge_slice.command_line.sending import Sent, Watched, project_at, watch
from tests.http.annotating.acts import head
from tests.http.drawings.test_drawings import add_section
from tests.http.models.test_parts import frame, newer, parts, send
from tests.http.models.test_revisions import aside, higher, take
from tests.installation import Installation


@pytest.fixture
def project(hut_project: int) -> int:
    return hut_project


def proposals(app: Installation, project: int) -> list[dict[str, Any]]:
    rows = app.call("GET", "/api/imports").json
    return [r for r in rows if r["into_id"] == project and r["state"] == "proposed"]


def test_what_is_saved_again_is_proposed_with_the_drawings_that_see_it(
    installation: Installation, project: int, hut_file: Path, tmp_path: Path
) -> None:
    section = add_section(installation, project)
    folder = tmp_path / "export"
    folder.mkdir()
    model = hut_file.rename(folder / "hut.ifc")
    begun, done = threading.Event(), threading.Event()

    def goes_on() -> bool:
        begun.set()
        return not done.is_set()

    watching = threading.Thread(
        target=watch, args=(folder, Sent(installation.url, project), 0.05, goes_on), daemon=True
    )
    watching.start()
    assert begun.wait(30)
    (folder / "notes.txt").write_text("no model")
    newer(model, higher)
    (row,) = installation.until(lambda: proposals(installation, project))
    done.set()
    watching.join(30)
    assert row["file_name"] == "hut.ifc"
    assert [(c["name"], c["what"]) for c in row["changes"]["elements"]] == [("South", "changed")]
    assert section["id"] in [one["drawing_id"] for one in row["changes"]["seen_in"]]
    assert len(proposals(installation, project)) == 1


def test_a_file_is_sent_once_it_rests_and_only_when_its_bytes_are_others(tmp_path: Path) -> None:
    path = tmp_path / "a.ifc"
    path.write_bytes(b"one")
    watched = Watched(tmp_path)
    assert watched.saved() == watched.saved() == []
    path.write_bytes(b"half")
    assert watched.saved() == []
    path.write_bytes(b"half, and the rest")
    os.utime(path, ns=(1, 1))
    assert watched.saved() == []  # it moved since the last look
    assert watched.saved() == [path]
    assert watched.saved() == []
    os.utime(path, ns=(2, 2))  # saved again, the same
    assert [watched.saved(), watched.saved()] == [[], []]
    (tmp_path / "b.IFC").write_bytes(b"new here")
    assert [watched.saved(), watched.saved()] == [[], [tmp_path / "b.IFC"]]


def test_views_that_a_revision_changes_are_made_before_anybody_asks(
    installation: Installation, project: int, hut_file: Path
) -> None:
    section = add_section(installation, project)
    before = installation.call("GET", f"/api/drawings/{section['id']}").json["view"]
    head(installation, section)
    done = take(installation, send(installation, project, newer(hut_file, higher)))
    assert done["recut"] >= 1
    view = installation.call("GET", f"/api/drawings/{section['id']}").json["view"]
    assert view != before
    installation.until(lambda: installation.one(f"SELECT count(*) FROM kept_view WHERE key = '{view}'")[0] == 1)


def test_a_file_is_sent_as_the_part_that_is_named(
    installation: Installation, project: int, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    here = ["--server", installation.url, "--project", str(project)]
    structure = frame(tmp_path / "structure.ifc")
    assert run(["send", str(structure), *here, "--part", "frame"]) == 2
    assert "no part frame; there are hut" in capsys.readouterr().err
    (row,) = proposals(installation, project)
    installation.call("DELETE", f"/api/imports/{row['id']}")
    assert run(["send", str(structure), *here, "--part", "new", "--take"]) == 0
    said = capsys.readouterr().out
    assert "another part, structure" in said
    assert "Revision 2 is in use" in said
    newer(structure, lambda f: aside(f, "Column 1", 50.0, 0.0))
    assert run(["send", str(structure), *here, "--part", "structure", "--take"]) == 0
    assert "a newer file of structure" in capsys.readouterr().out
    assert [p["since"] for p in parts(installation, project)] == [1, 3]


@pytest.mark.parametrize(
    "address", ["http://host/sheets/3", "host/projects/3", "http://host/projects/", "ftp://h/projects/1"]
)
def test_what_is_no_projects_address(address: str) -> None:
    with pytest.raises(WrongArguments, match="no project's address"):
        project_at(address)


def test_a_projects_address_names_its_server_and_number() -> None:
    assert project_at("http://127.0.0.1:8710/projects/3/sheets/9") == ("http://127.0.0.1:8710", 3)


def test_a_folder_that_is_not_there(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["watch", str(tmp_path / "no"), "--project", "http://127.0.0.1:1/projects/1"]) == 2
    assert "there is no folder" in capsys.readouterr().err
