"""The command line as its users call it."""

import json
from pathlib import Path

import ifcopenshell
import ifcopenshell.api.root
import ifcopenshell.api.spatial
import jsonschema
import numpy as np
import pytest
import trimesh

from edge_slice.command_line import reading
from edge_slice.command_line.main import run
from edge_slice.core.model import Model
from edge_slice.core.render.cut_json import cut_schema
from tests.conftest import DEMO
from tests.ifc_files import write_hut


@pytest.fixture(scope="module")
def hut(tmp_path_factory: pytest.TempPathFactory) -> str:
    return str(write_hut(tmp_path_factory.mktemp("models") / "hut.ifc", at=(2_600_000.0, 1_200_000.0, 400.0)))


OUT, LEFT = ["--out", "x.svg"], ["--look", "left"]


@pytest.fixture
def read_once(monkeypatch: pytest.MonkeyPatch, demo: Model) -> None:
    """The demo is not read again for each call."""
    monkeypatch.setattr(reading, "read_model", lambda path, **_: demo if path == DEMO else pytest.fail(str(path)))


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
        (["cut", "MODEL", "--line", "0,0", "1,0", "--out", "x.svg"], "--look"),
        (["cut", "MODEL", "--look", "left", "--out", "x.svg"], "--line"),
        (["cut", "MODEL", "--plane", "0,0,0", "0,0", "--out", "x.svg"], "--plane"),
        (["cut", "MODEL", "--plane", "0,0,0", "0,0,0", "--out", "x.svg"], "no length"),
        (
            [
                "cut",
                "MODEL",
                "--line",
                "2600000,1200000",
                "2600001,1200000",
                "--look",
                "left",
                "--depth",
                "1",
                "2",
                *OUT,
            ],
            "1 cutting leg",
        ),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--eye", "1,1", "--out", "x.svg"], "--perspective"),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--fill", "pink", "--out", "x.svg"], "fill"),
        (["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--standard", "ours", "--out", "x.svg"], "'ours'"),
        (
            ["cut", "MODEL", "--line", "0,0", "1,0", "--look", "left", "--extents", "0,0", "1,1", "--out", "x.svg"],
            "3 points",
        ),
        (["elevation", "MODEL", "--facing", "up", "--out", "x.svg"], "bearing"),
        (["elevation", "MODEL", "--room", "Attic", "--out", "x.svg"], "Attic"),
        (["elevation", "MODEL", "--out", "x.svg"], "--facing"),
        (["elevation", "MODEL", "--facing", "S", "--surfaces", "pretty", "--out", "x.svg"], "lines, presentation"),
        (["elevation", "MODEL", "--facing", "S", "--sun", "noon", "--out", "x.svg"], "BEARING,HEIGHT"),
        (["elevation", "MODEL", "--facing", "S", "--sun", "200,95", "--out", "x.svg"], "height"),
        (["elevation", "MODEL", "--facing", "S", "--sun", "54,-3,2026-06-21T01:00Z", "--out", "x.svg"], "it is up"),
        (["hatches", "--out", "x.json"], "--out"),
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


def document(*arguments: str) -> dict:
    out = Path(arguments[-1])
    assert run([*arguments[:-1], "--out", str(out)]) == 0
    found = json.loads(out.read_text())
    jsonschema.validate(found, json.loads(cut_schema()))
    return found


def area(found: dict) -> float:
    def ring(points: list) -> float:
        p = np.array(points)
        return abs(float(np.sum(p[:-1, 0] * p[1:, 1] - p[1:, 0] * p[:-1, 1]))) / 2e6

    return sum(ring(f["rings"][0]) - sum(ring(r) for r in f["rings"][1:]) for f in found["faces"])


def test_line_with_steps_and_a_depth_for_each_leg(hut: str, tmp_path: Path) -> None:
    x, y = 2_600_000, 1_200_000
    steps = [f"{x - 1},{y + 0.1}", f"{x + 2},{y + 0.1}", f"{x + 2},{y + 1.5}", f"{x + 5},{y + 1.5}"]
    out = str(tmp_path / "stepped.json")
    found = document("cut", hut, "--line", *steps, "--look", "left", "--depth", "3", "unlimited", out)
    assert [leaf["right"] - leaf["left"] for leaf in found["leaves"]] == [3000, 3000]
    # along the south wall, then across the room: floor 4 m long, half a wall, and the east wall
    assert area(found) == pytest.approx(4 * 0.3 + 2 * 2.5 + 0.2 * 2.5, rel=1e-6)


def test_free_plane_in_the_models_own_coordinates(hut: str, tmp_path: Path) -> None:
    level = document("cut", hut, "--plane", "2600000,1200000,401", "0,0,1", str(tmp_path / "a.json"))
    plan = document("plan", hut, "--storey", "0", "--height", "1", str(tmp_path / "b.json"))
    assert area(level) == pytest.approx(area(plan), rel=1e-9)
    tilted = document("cut", hut, "--plane", "2600002,1200001.5,401", "1,0.2,0.5", str(tmp_path / "c.json"))
    assert area(tilted) > 0.5


@pytest.mark.parametrize(("facing", "looking"), [("N", -1), ("S", 1), ("180", 1)])
def test_elevation_faces_where_it_is_told_to(hut: str, tmp_path: Path, facing: str, looking: int) -> None:
    found = document("elevation", hut, "--facing", facing, str(tmp_path / "e.json"))
    assert found["axes"]["w"][1] == pytest.approx(looking)
    assert not found["faces"]
    assert any(line["role"] == "seen" for line in found["lines"])


@pytest.mark.usefixtures("read_once")
def test_several_drawings_in_one_act(tmp_path: Path) -> None:
    assert run(["elevation", str(DEMO), "--facing", "all", "--out", str(tmp_path / "e.svg")]) == 0
    assert run(["elevation", str(DEMO), "--room", "1.01", "--out", str(tmp_path / "r.svg")]) == 0
    assert run(["plan", str(DEMO), "--storey", "all", "--out", str(tmp_path / "p.svg")]) == 0
    names = sorted(p.name for p in tmp_path.iterdir())
    assert [n for n in names if n.startswith("e-")] == ["e-east.svg", "e-north.svg", "e-south.svg", "e-west.svg"]
    assert len([n for n in names if n.startswith("r-")]) >= 4
    assert {"p-lower.svg", "p-upper.svg"} <= set(names)


@pytest.mark.usefixtures("read_once")
def test_ceiling_and_perspective(tmp_path: Path) -> None:
    ceiling = document("plan", str(DEMO), "--storey", "Upper", "--ceiling", "--depth", "3", str(tmp_path / "c.json"))
    assert ceiling["axes"]["w"] == [0, 0, 1]
    line = ["--line", "-3,2.1", "25,2.1", "--look", "left"]
    flat = document("cut", str(DEMO), *line, str(tmp_path / "f.json"))
    deep = document("cut", str(DEMO), *line, "--perspective", "8", "--eye", "12,1.6", str(tmp_path / "p.json"))
    assert area(flat) == pytest.approx(area(deep), rel=1e-9)
    assert document("cut", str(DEMO), *line, "--perspective", str(tmp_path / "q.json"))["faces"] == flat["faces"]
    assert deep["lines"] != flat["lines"]


@pytest.mark.usefixtures("read_once")
def test_seen_surfaces_and_their_shadows(tmp_path: Path) -> None:
    view = ["elevation", str(DEMO), "--facing", "S", "--without", "planting", "--scale", "100"]
    texts = {}
    for name, options in {
        "plain": [],
        "shown": ["--surfaces", "presentation"],
        "hatched": ["--shadows", "hatch", "--sun", "170,40"],
    }.items():
        out = tmp_path / f"{name}.svg"
        assert run([*view, *options, "--out", str(out)]) == 0
        texts[name] = out.read_text()
    known = ("surface-fill", "surface-pattern", "shadow", "profile")
    roles = {name: {role for role in known if f'class="{role}"' in text} for name, text in texts.items()}
    assert roles == {"plain": set(), "shown": {"surface-fill", "surface-pattern", "profile"}, "hatched": {"shadow"}}


@pytest.mark.usefixtures("read_once")
def test_hidden_lines_fill_content_and_glass(tmp_path: Path) -> None:
    line = ["cut", str(DEMO), "--line", "-3,2.1", "25,2.1", "--look", "left", "--depth", "6"]
    hidden = document(*line, "--hidden", "dashed", str(tmp_path / "h.json"))
    assert any(item["role"] == "hidden" for item in hidden["lines"])
    texts = {}
    for name, options in {"plain": [], "none": ["--fill", "none"], "outline": ["--content", "outline"]}.items():
        out = tmp_path / f"{name}.svg"
        assert run([*line, *options, "--glass", "clear", "--out", str(out)]) == 0
        texts[name] = out.read_text()
    assert 'class="cut-fill"' not in texts["none"]
    assert 'class="layer"' in texts["plain"]
    assert 'class="layer"' not in texts["outline"]


def test_standards_go_out_and_come_in_as_json(capsys: pytest.CaptureFixture[str], hut: str, tmp_path: Path) -> None:
    own, out = tmp_path / "own.json", tmp_path / "a.svg"
    assert run(["standard", "--standard", "bold", "--out", str(own)]) == 0
    text = json.loads(own.read_text())
    text["ink"] = "#ff00ff"
    own.write_text(json.dumps(text))
    assert run(["plan", hut, "--storey", "0", "--standard", str(own), "--out", str(out)]) == 0
    assert "#ff00ff" in out.read_text()
    text["hatches"] = {}
    own.write_text(json.dumps(text))
    assert run(["plan", hut, "--storey", "0", "--standard", str(own), "--out", str(out)]) == 2
    assert "hatch" in refusal(capsys)


def test_hatches_on_a_page(tmp_path: Path) -> None:
    out = tmp_path / "hatches.pdf"
    assert run(["hatches", "--out", str(out)]) == 0
    assert out.read_bytes().startswith(b"%PDF")


def test_models_that_do_not_say_their_unit(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    body = tmp_path / "wall.stl"
    trimesh.creation.box(extents=(4000, 200, 2500)).export(str(body))
    assert run(["inspect", str(body)]) == 3
    assert "unit" in refusal(capsys)
    found = document("plan", str(body), "--unit", "mm", "--storey", "0", str(tmp_path / "p.json"))
    assert area(found) == pytest.approx(0.8)


def test_walls_are_seen_through_and_the_border_is_drawn(tmp_path: Path) -> None:
    def drawn(*more: str) -> str:
        out = tmp_path / "cut.svg"
        assert run(["cut", str(DEMO), "--line", "-3,-5", "25,-5", "--look", "left", "--out", str(out), *more]) == 0
        return out.read_text()

    plain = drawn()
    assert drawn("--see-through", "wall") != plain
    assert drawn("--see-through", "lift") == plain  # the model has none, and that is fine
    assert 'class="frame"' in drawn("--frame")
    assert 'class="frame"' not in plain
    assert (
        run(["cut", str(DEMO), "--line", "0,0", "1,1", "--see-through", "wal", "--out", str(tmp_path / "a.svg")]) == 2
    )


def test_a_wall_is_drawn_with_its_junctions(read_once: None, tmp_path: Path) -> None:
    out = tmp_path / "wall.svg"
    assert run(["wall", str(DEMO), "--at", "10.6,0.1", "--out", str(out)]) == 0
    files = {f.name for f in tmp_path.iterdir()}
    assert "wall.svg" in files
    assert {"wall-1-foundation.svg", "wall-2-floor-edge-lower.svg", "wall-5-floor-edge-upper.svg"} <= files
    drawing = out.read_text()
    assert "break-line" in drawing
    assert "callout:junction:1" in drawing
    assert len(files) > 5
    assert run(["wall", str(DEMO), "--at", "10.6,0.1", "--details", "0", "--out", str(tmp_path / "a" / "w.svg")]) == 2


def test_a_wall_must_be_there(read_once: None, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["wall", str(DEMO), "--at", "90,90", "--out", str(tmp_path / "w.svg")]) == 2
    assert "no wall here" in refusal(capsys)


def test_a_region_of_a_section_is_drawn_larger(read_once: None, tmp_path: Path) -> None:
    out = tmp_path / "detail.json"
    where = ["cut", str(DEMO), "--line", "10.6,-2", "10.6,12", *LEFT, "--scale", "10"]
    assert run([*where, "--region", "2.6,4.2", "1.4,2.8", "--out", str(out)]) == 0
    assert json.loads(out.read_text())["extents"] == pytest.approx([1400, 2800, 2600, 4200])


def test_breaks_are_taken_out_of_a_section(read_once: None, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    where = ["cut", str(DEMO), "--line", "10.6,-2", "10.6,12", *LEFT, "--depth", "3"]
    whole, broken = tmp_path / "whole.svg", tmp_path / "broken.svg"
    assert run([*where, "--out", str(whole)]) == 0
    assert run([*where, "--break", "v:0.6,2.0", "--broken", "right", "--out", str(broken)]) == 0

    def height(path: Path) -> float:
        return float(path.read_text().split('height="')[1].split("mm")[0])

    assert height(whole) - height(broken) == pytest.approx(1400 / 50 - 6, abs=0.5)
    capsys.readouterr()
    assert run([*where, "--break", "sideways", "--out", str(broken)]) == 2
    assert "v:0.6,1.2" in refusal(capsys)
    assert run([*where, "--break", "v:-50,90", "--out", str(broken)]) == 2
    assert "wider than the drawing" in refusal(capsys)


def test_storeys_of_any_name_become_files_of_their_own(tmp_path: Path) -> None:
    file = ifcopenshell.open(write_hut(tmp_path / "hut.ifc"))
    (storey,) = file.by_type("IfcBuildingStorey")
    storey.Name = "T/FDN: 1"
    for name, wall in zip(("T FDN 1", "../T FDN 1"), file.by_type("IfcWall"), strict=False):
        other = ifcopenshell.api.root.copy_class(file, product=storey)
        other.Name, other.Elevation = name, 3000.0
        ifcopenshell.api.spatial.assign_container(file, products=[wall], relating_structure=other)
    file.write(str(tmp_path / "named.ifc"))
    out = tmp_path / "made" / "p.svg"
    out.parent.mkdir()
    assert run(["plan", str(tmp_path / "named.ifc"), "--storey", "all", "--out", str(out), "--no-cache"]) == 0
    assert len(list(out.parent.iterdir())) == 3
    assert not list(tmp_path.glob("*.svg"))
