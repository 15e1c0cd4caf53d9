"""Ground on the command line: said, cut, and what it takes to make another one of it."""

import json
from pathlib import Path

import pytest

from edge_slice.command_line.main import run
from tests.core.output.test_command_line import refusal
from tests.ifc_files import write_hut


@pytest.fixture(scope="module")
def hut(tmp_path_factory: pytest.TempPathFactory) -> str:
    return str(write_hut(tmp_path_factory.mktemp("models") / "hut.ifc", at=(2_600_000.0, 1_200_000.0, 400.0)))


def test_a_model_without_ground_is_cut_in_ground_that_is_said(hut: str, tmp_path: Path) -> None:
    survey = tmp_path / "survey.csv"
    corners = ((-9, -9, 399.5), (13, -9, 399.5), (13, 12, 399.9), (-9, 12, 399.9))
    survey.write_text("x;y;z\n" + "\n".join(f"{2_600_000 + x};{1_200_000 + y};{z}" for x, y, z in corners))
    line = ["--line", "2600002,1199990", "2600002,1200010", "--look", "right", "--base", "398", "--top", "403"]
    for ground in ("399.8", str(survey)):
        out = tmp_path / "cut.json"
        assert run(["cut", hut, *line, "--ground", ground, "--hidden", "below ground", "--out", str(out)]) == 0
        faces = [f for f in json.loads(out.read_text())["faces"] if f["kind"] == "ground"]
        assert faces
        top = max(v for f in faces for ring in f["rings"] for _, v in ring)
        assert top == pytest.approx(
            399_800 if ground == "399.8" else 399_500 + 400 * 19 / 21, abs=1
        )  # at the line's end


def test_cut_and_fill_are_printed(hut: str, capsys: pytest.CaptureFixture[str]) -> None:
    area = ["2599998,1199998", "2600008,1199998", "2600008,1200008", "2599998,1200008"]
    said = ["--ground", "399.5", "--proposed", "400.25", "--proposed-area", *area]
    assert run(["earthworks", hut, *said, "--line", "2599990,1200001", "2600020,1200001", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found == {
        "cut_m3": 0, "fill_m3": pytest.approx(75), "area_m2": pytest.approx(100),
        "along_cut_m2": 0, "along_filled_m2": pytest.approx(7.5),
    }  # fmt: skip
    assert run(["earthworks", hut, *said]) == 0
    assert "75.0 m³" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("said", "words"),
    [
        (["--proposed", "gone.csv"], "there is no file gone.csv"),
        (["--ground", "1"], "say what ground there shall be"),
        (["--proposed", "400"], "the model has no ground"),
        (["--ground", "1", "--proposed-area", "1,1", "2,2", "3,1", "--proposed", "2"], "area"),
    ],
)
def test_ground_that_is_none_is_refused_in_one_line(
    hut: str, capsys: pytest.CaptureFixture[str], said: list[str], words: str
) -> None:
    assert run(["earthworks", hut, *said]) == 2
    assert words in refusal(capsys)
