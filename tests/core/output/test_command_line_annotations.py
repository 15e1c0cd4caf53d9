"""Annotations, touch-ups and revisions from the command line."""

from __future__ import annotations

import json
from pathlib import Path

import ifcopenshell
import pytest

from edge_slice.command_line.main import run
from tests.ifc_files import write_hut

CUT = ["--line", "2,-1", "2,4", "--look", "left", "--depth", "3", "--scale", "20", "--no-cache"]

UNWRITABLE = {"kind": "note", "text": "a\u0007b", "points": [[0, 0]]}


@pytest.fixture
def hut(tmp_path: Path) -> Path:
    return write_hut(tmp_path / "hut.ifc")


def test_sets_and_a_file_of_annotations_are_drawn(hut: Path, tmp_path: Path) -> None:
    added = {
        "annotations": [
            {
                "spots": [{"at": [1000, 2500]}],
                "document": {"kind": "note", "text": "Flashing", "points": [[1600, 2800]]},
            },
            {
                "spots": [{"at": [u, 1000], "reach": 5, "only": ["side"]} for u in (1000, 1200, 3800, 4000)],
                "document": {"kind": "dimension", "points": [[1000, 2700]]},
            },
        ],
        "touch_ups": [{"act": "hide", "at": [1100, 2500], "reach": 5}],
    }
    file, out = tmp_path / "added.json", tmp_path / "section.svg"
    file.write_text(json.dumps(added))
    assert run(["cut", str(hut), *CUT, "--added", str(file), "--annotate", "grid", "--out", str(out)]) == 0
    text = out.read_text()
    assert "Flashing" in text
    assert ">2.600<" in text


def test_wrong_files_are_refused(hut: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = str(tmp_path / "section.svg")
    file = tmp_path / "added.json"
    for content, word in (
        ("{", "no JSON"),
        ('{"notes": []}', "notes"),
        ('{"annotations": [{"document": {"kind": "note", "text": "x", "points": [[0, 0]]}}]}', "spots"),
        ('{"touch_ups": [{"act": "hide"}]}', "Say where"),
        (json.dumps({"annotations": [{"spots": [{"at": [0, 0]}], "document": UNWRITABLE}]}), "control"),
    ):
        file.write_text(content)
        assert run(["cut", str(hut), *CUT, "--added", str(file), "--out", out]) == 2
        assert word in capsys.readouterr().err
    assert run(["cut", str(hut), *CUT, "--added", str(tmp_path / "none.json"), "--out", out]) == 2


@pytest.fixture
def newer(hut: Path, tmp_path: Path) -> Path:
    file = ifcopenshell.open(str(hut))
    wall = next(e for e in file.by_type("IfcElement") if e.Name == "South")
    wall.Representation.Representations[0].Items[0].Depth = 3000.0
    path = tmp_path / "hut-2.ifc"
    file.write(str(path))
    return path


def test_changes_between_two_files_are_told(hut: Path, newer: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["changes", str(hut), str(newer), "--no-cache"]) == 0
    said = capsys.readouterr().out
    assert said.splitlines()[0] == "0 added, 0 removed, 1 changed, 0 renamed, 4 as they were"
    assert "changed  wall South on Ground (shape)" in said
    assert run(["changes", str(hut), str(newer), "--no-cache", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["elements"][0]["how"] == ["shape"]


def test_a_drawing_is_laid_over_an_earlier_file(
    hut: Path, newer: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "over.svg"
    assert run(["cut", str(newer), *CUT, "--earlier", str(hut), "--out", str(out)]) == 0
    assert "changed: South" in capsys.readouterr().out
    assert 'class="added"' in out.read_text()


def test_a_server_that_is_not_there_is_said_in_one_line(hut: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["send", str(hut), "--project", "1", "--server", "http://127.0.0.1:9"]) == 2
    assert "can't be reached" in capsys.readouterr().err
