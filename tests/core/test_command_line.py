"""The command line as its users call it."""

import json
from pathlib import Path

import jsonschema
import pytest

from edge_slice.command_line.main import run
from edge_slice.core.render.cut_json import cut_schema
from tests.conftest import DEMO
from tests.ifc_files import write_hut


@pytest.fixture(scope="module")
def hut(tmp_path_factory: pytest.TempPathFactory) -> str:
    return str(write_hut(tmp_path_factory.mktemp("models") / "hut.ifc", at=(2_600_000.0, 1_200_000.0, 400.0)))


def refusal(capsys: pytest.CaptureFixture[str]) -> str:
    message = capsys.readouterr().err
    assert message.startswith("edge-slice: ")
    assert message.count("\n") == 1
    return message


def test_cut_in_the_models_own_coordinates(hut: str, tmp_path: Path) -> None:
    out = tmp_path / "cut.json"
    line = ["2600002,1199990", "2600002,1200010"]
    assert (
        run(
            [
                "cut",
                hut,
                "--line",
                *line,
                "--look",
                "right",
                "--depth",
                "5",
                "--base",
                "399",
                "--top",
                "401",
                "--out",
                str(out),
            ]
        )
        == 0
    )
    document = json.loads(out.read_text())
    jsonschema.validate(document, json.loads(cut_schema()))
    kinds = sorted(f["kind"] for f in document["faces"])
    assert kinds == ["slab", "wall", "wall"]
    heights = [v for f in document["faces"] for u, v in f["rings"][0]]
    assert max(heights) - min(heights) == pytest.approx(1300)


def test_negative_coordinates_and_left_out_kinds(tmp_path: Path) -> None:
    out = tmp_path / "cut.json"
    arguments = ["cut", str(DEMO), "--line", "-3,2.1", "25,2.1", "--look", "left", "--depth", "6"]
    assert run([*arguments, "--without", "furniture", "planting", "--out", str(out)]) == 0
    assert "furniture" not in {f["kind"] for f in json.loads(out.read_text())["faces"]}


@pytest.mark.parametrize(("form", "start"), [("svg", b"<svg"), ("pdf", b"%PDF")])
def test_plan_by_name_and_by_index(hut: str, tmp_path: Path, form: str, start: bytes) -> None:
    by_name, by_index = tmp_path / f"a.{form}", tmp_path / f"b.{form}"
    assert run(["plan", hut, "--storey", "Ground", "--out", str(by_name)]) == 0
    assert run(["plan", hut, "--storey", "0", "--height", "1.2", "--scale", "100", "--out", str(by_index)]) == 0
    assert by_name.read_bytes().startswith(start)
    assert by_name.read_bytes() == by_index.read_bytes()


def test_inspect_says_what_is_there(capsys: pytest.CaptureFixture[str], hut: str) -> None:
    assert run(["inspect", hut, "--json"]) == 0
    facts = json.loads(capsys.readouterr().out)
    assert facts["kinds"] == {"slab": 1, "wall": 4}
    assert facts["storeys"] == [{"name": "Ground", "elevation": 400.0}]
    assert facts["bounds"]["low"] == pytest.approx([2_600_000, 1_200_000, 399.7])
    assert run(["inspect", hut]) == 0
    assert "true north" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        (["cut", "MODEL", "--line", "0,0", "0,0", "--look", "left", "--out", "x.svg"], "no length"),
        (["cut", "MODEL", "--line", "0,0", "1", "--look", "left", "--out", "x.svg"], "two points"),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "up", "--out", "x.svg"], "look"),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--depth", "0", "--out", "x.svg"], "more than 0"),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--depth", "far", "--out", "x.svg"], "unlimited"),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--scale", "0", "--out", "x.svg"], "scale"),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--out", "x.dwf"], "--out"),
        (
            ["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--without", "unicorn", "--out", "x.svg"],
            "unicorn",
        ),
        (["plan", "MODEL", "--storey", "Attic", "--out", "x.svg"], "Attic"),
        (["inspect", "nowhere.ifc"], "nowhere.ifc"),
        (["paint"], "paint"),
        ([], "command"),
    ],
)
def test_wrong_arguments_are_refused_in_one_line(
    capsys: pytest.CaptureFixture[str], hut: str, arguments: list[str], word: str
) -> None:
    assert run([hut if a == "MODEL" else a for a in arguments]) == 2
    assert word in refusal(capsys)


def test_unreadable_model_is_refused_in_one_line(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    path = tmp_path / "broken.ifc"
    path.write_text("hello")
    assert run(["inspect", str(path)]) == 3
    assert "not an IFC file" in refusal(capsys)
