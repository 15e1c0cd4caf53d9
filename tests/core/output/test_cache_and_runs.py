"""Models kept between commands, and many drawings in one run."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import jsonschema
import pytest

from edge_slice.command_line import cache as cache_module
from edge_slice.command_line import reading as command
from edge_slice.command_line.cache import ModelCache
from edge_slice.command_line.main import run
from edge_slice.command_line.run_file import RunFile, run_schema
from tests.ifc_files import write_hut


@pytest.fixture
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    command._read_before.clear()
    write_hut(tmp_path / "hut.ifc")
    return tmp_path


@pytest.fixture
def reads(monkeypatch: pytest.MonkeyPatch) -> list[Path]:
    """The files that are really read."""
    found: list[Path] = []
    real = command.read_model

    def counted(path: Path, **options: object) -> object:
        found.append(path)
        return real(path, **options)  # type: ignore[arg-type]

    monkeypatch.setattr(command, "read_model", counted)
    return found


def cut(folder: Path, out: str, *more: str) -> int:
    command._read_before.clear()  # as a process of its own would begin
    line = ["--line", "-1,1", "7,1", "--look", "left"]
    return run(["cut", str(folder / "hut.ifc"), *line, "--out", str(folder / out), *more])


def test_second_cut_of_a_model_reads_nothing_and_draws_the_same(folder: Path, reads: list[Path]) -> None:
    assert cut(folder, "first.svg") == 0
    assert cut(folder, "second.svg") == 0
    assert len(reads) == 1
    assert (folder / "first.svg").read_bytes() == (folder / "second.svg").read_bytes()


def test_a_changed_file_and_no_cache_read_anew(folder: Path, reads: list[Path]) -> None:
    cut(folder, "a.svg")
    text = (folder / "hut.ifc").read_text()
    (folder / "hut.ifc").write_text(text.replace("Hut", "Cabin"))
    cut(folder, "b.svg")
    cut(folder, "c.svg", "--no-cache")
    assert len(reads) == 3


def test_a_damaged_cache_is_done_without(folder: Path, reads: list[Path]) -> None:
    cut(folder, "a.svg")
    (kept,) = ModelCache.of_user().files()
    kept.write_bytes(kept.read_bytes()[:1000])
    assert cut(folder, "b.svg") == 0
    assert len(reads) == 2
    assert (folder / "a.svg").read_bytes() == (folder / "b.svg").read_bytes()


def test_the_longest_unused_goes_first_when_there_is_too_much(
    folder: Path, reads: list[Path], monkeypatch: pytest.MonkeyPatch
) -> None:
    cut(folder, "a.svg")
    size = ModelCache.of_user().size()
    monkeypatch.setenv("EDGE_SLICE_CACHE_MB", str(1.5 * size / 1024 / 1024))
    write_hut(folder / "hut.ifc", at=(3.0, 0, 0))
    cut(folder, "b.svg")
    assert len(ModelCache.of_user().files()) == 1
    cut(folder, "c.svg")
    assert len(reads) == 2


def test_cache_is_shown_and_cleared(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    cut(folder, "a.svg")
    run(["cache"])
    assert "1 models" in capsys.readouterr().out
    run(["cache", "--clear"])
    assert "1 models deleted" in capsys.readouterr().out
    assert ModelCache.of_user().files() == []
    assert cache_module.LIMIT_MB > 0


RUN = """
model = "hut.ifc"
common = { scale = 50, without = ["furniture"] }

[[drawing]]
command = "plan"
storey = "all"
out = "plan.svg"

[[drawing]]
command = "cut"
line = [[-1, 1], [7, 1]]
look = "left"
depth = [5]
base = -1
out = "section.pdf"

[[drawing]]
command = "cut"
plane = [[3, 1, 1], [0, -1, 0.2]]
out = "plane.json"

[[drawing]]
command = "elevation"
facing = "all"
scale = 100
out = "elevation.svg"
"""


def test_a_run_makes_all_its_drawings_and_reads_the_model_once(
    folder: Path, reads: list[Path], capsys: pytest.CaptureFixture[str]
) -> None:
    (folder / "set.toml").write_text(RUN)
    assert run(["run", str(folder / "set.toml")]) == 0
    said = capsys.readouterr().err
    assert "[1/4] plan.svg" in said
    assert "4 of 4 drawings made" in said
    assert len(reads) == 1
    assert len(list(folder.glob("elevation-*.svg"))) == 4
    assert json.loads((folder / "plane.json").read_text())["scale"] == 50


def test_a_run_goes_on_after_a_drawing_that_can_not_be_made(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (folder / "set.toml").write_text(RUN.replace('storey = "all"', 'storey = "Attic"'))
    assert run(["run", str(folder / "set.toml")]) == 4
    said = capsys.readouterr().err
    assert "no storey 'Attic'" in said
    assert "3 of 4 drawings made; not made: plan.svg" in said
    assert (folder / "section.pdf").exists()


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("model = ", "is no TOML"),
        ('model = "hut.ifc"', "drawing"),
        (RUN.replace('command = "plan"', 'command = "bake"'), "drawing.0.command"),
        (RUN.replace("scale = 100", "skale = 100"), "skale"),
    ],
)
def test_a_wrong_run_file_is_refused_in_one_line(
    folder: Path, capsys: pytest.CaptureFixture[str], text: str, word: str
) -> None:
    (folder / "set.toml").write_text(text)
    assert run(["run", str(folder / "set.toml")]) == 2
    (line,) = capsys.readouterr().err.splitlines()
    assert word in line


def test_the_schema_in_the_package_is_that_of_the_reader() -> None:
    import tomllib

    assert json.loads(run_schema()) == RunFile.model_json_schema()
    jsonschema.validate(tomllib.loads(RUN), json.loads(run_schema()))


def test_kinds_that_are_not_there_are_fine_and_unknown_words_get_the_nearest(
    folder: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert cut(folder, "a.svg", "--without", "ground", "planting") == 0
    assert cut(folder, "b.svg", "--without", "furnitur") == 2
    assert "furniture" in capsys.readouterr().err


def test_a_kept_model_spares_the_reading_libraries(folder: Path) -> None:
    """A second command does not even load them."""
    cut(folder, "a.svg")
    code = (
        "import sys; from edge_slice.command_line.main import run;"
        f"run(['cut', {str(folder / 'hut.ifc')!r}, '--line', '-1,1', '7,1', '--look', 'left', '--out',"
        f" {str(folder / 'b.svg')!r}]); print(sorted({{'ifcopenshell', 'trimesh', 'reportlab'}} & set(sys.modules)))"
    )
    import sys

    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.stdout.strip() == "[]", done.stdout + done.stderr
