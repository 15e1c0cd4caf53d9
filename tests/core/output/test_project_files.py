"""Projects as files: what the command line makes of them, and what it refuses."""

from __future__ import annotations

import shutil
import tomllib
from pathlib import Path

import pypdf
import pytest
from pydantic import ValidationError

from edge_slice.command_line import reading as command
from edge_slice.command_line.main import run
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.project.file.file_source import FileProject
from edge_slice.core.project.file.file_text import project_text, read_project
from edge_slice.core.project.file.project_file import ProjectFile
from tests.conftest import DEMO
from tests.ifc_files import write_hut

HUT = """
name = "Hut"
client = "Ferry Board"
model = "hut.ifc"

[[shown_set]]
key = "own-bare"
name = "Bare"
rule = { without_kinds = ["door"] }

[[drawing_rule]]
key = "working"
rule = { name = "Working", kind = "section", cut = { depth = 1.5 }, style = { scale = 20, levels = false } }

[[drawing]]
key = "plan"
cut = { kind = "plan", storey = 0, shown_set = "own-bare" }
style = { scale = 50 }
annotate = ["grid"]

[[drawing]]
key = "section"
parent = "plan"
cut = { kind = "section", line = [[-1, 1], [7, 1]] }
rule = "working"
as_usual = ["style.scale", "cut.depth"]

[[drawing]]
key = "corner"
parent = "section"
callout = { region = { points = [[0.5, -0.5], [2, 1]] } }
style = { scale = 10 }
annotation = [{ kind = "note", text = "Sole plate", spots = [{ at = [1000, 0], reach = 200 }], points = [[1500, 600]] }]

[[sheet]]
number = "A-101"
title = "Plan and section"
size = "A3"
arrange = ["plan", "section"]
fields = { drawn = "EF", issued = [{ code = "P01", date = "2026-11-26", purpose = "Permit", by = "EF" }] }

[[sheet]]
number = "A-401"
title = "Corner"
size = "A4"
placement = [{ drawing = "corner", x = 60, y = 120 }]
"""


@pytest.fixture
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    command._read_before.clear()
    write_hut(tmp_path / "hut.ifc")
    (tmp_path / "hut.toml").write_text(HUT)
    return tmp_path


def publish(folder: Path, out: str, *more: str) -> int:
    return run(["publish", str(folder / "hut.toml"), "--out", str(folder / out), *more])


def test_a_project_file_becomes_one_linked_pdf(folder: Path) -> None:
    assert publish(folder, "out") == 0
    document = pypdf.PdfReader(folder / "out" / "Hut.pdf")
    first, second = (page.extract_text() for page in document.pages)
    assert "Plan and section" in first
    assert "P01" in first
    assert "Sole plate" in second
    assert "Ferry Board" in second
    links = [a.get_object()["/Dest"][0].get_object() for a in document.pages[0]["/Annots"]]
    assert document.pages[1].get_object() in links  # the bubble of the callout in the section


def test_letters_marks_and_numbers_come_by_themselves(folder: Path) -> None:
    assert publish(folder, "out", "--form", "svg") == 0
    names = sorted(p.name for p in (folder / "out").iterdir())
    assert names == ["A-101-Plan-and-section.svg", "A-401-Corner.svg"]
    sheet = (folder / "out" / "A-101-Plan-and-section.svg").read_text()
    assert "Section A, looking" in sheet
    assert ">A-401<" in sheet  # the corner's sheet in its bubble


def test_the_same_bytes_with_one_worker_or_four_and_again(folder: Path) -> None:
    for out, workers in (("one", "1"), ("four", "4")):
        for form in ("pdf", "svg", "dxf"):
            assert publish(folder, out, "--workers", workers, "--form", form) == 0
    for path in (folder / "one").iterdir():
        assert path.read_bytes() == (folder / "four" / path.name).read_bytes(), path.name


def test_a_chosen_sheet_alone(folder: Path) -> None:
    assert publish(folder, "out", "--form", "png", "--dpi", "40", "--sheets", "A-401") == 0
    assert [p.name for p in (folder / "out").iterdir()] == ["A-401-Corner.png"]


def test_a_project_as_text_is_read_as_the_same(folder: Path) -> None:
    project = read_project(folder / "hut.toml")
    text = project_text(project)
    assert ProjectFile.model_validate(tomllib.loads(text)) == project
    assert "line = [[-1.0, 1.0], [7.0, 1.0]]" in text or "line = [[-1, 1], [7, 1]]" in text


def test_a_drawing_says_only_in_what_it_departs_from_its_rule(folder: Path) -> None:
    project = read_project(folder / "hut.toml")
    model = read_ifc(folder / "hut.ifc")
    second = FileProject(project, [model], folder).drawings()[1]
    assert (second.cut["depth"], second.style["scale"], second.style["levels"]) == (None, 50, False)
    project.drawing[1].as_usual = []
    assert FileProject(project, [model], folder).drawings()[1].style["scale"] == 20


def test_text_with_quotes_brackets_and_breaks_survives(folder: Path) -> None:
    project = read_project(folder / "hut.toml")
    words = 'Sole "plate",\n[16 × 8], \\ and {braces}'
    project.drawing[2].annotation[0]["text"] = words
    project.drawing[2].annotation[0]["says"] = ['a "b" [c]', "d,"]
    assert ProjectFile.model_validate(tomllib.loads(project_text(project))) == project


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        ('model = "hut.ifc"', 'model = "none.ifc"', "no model"),
        ("storey = 0", 'storey = "Attic"', "'Attic'; the model has:"),
        ('parent = "section"\n', "", "is a callout"),
        ('parent = "section"', 'parent = "elsewhere"', "is a callout"),
        ('key = "section"', 'key = "plan"', "two drawings “plan”"),
        ('number = "A-401"', 'number = "A-101"', "two sheets “A-101”"),
        ('size = "A3"', 'size = "A4"', "finds no room"),
        ('title = "Corner"', 'title = "Corner"\ndesign = "lost"', "no sheet design “lost”"),
        ("scale = 10 ", 'scale = 10, standard = "lost" ', "no drawing standard “lost”"),
        ('annotate = ["grid"]', 'annotate = ["ducts"]', "drawing.0.annotate.0"),
        ('kind = "note"', 'kind = "cloudy"', "“corner”, an annotation"),
        ('rule = "working"', 'rule = "lost"', "no drawing rule “lost”"),
        ('kind = "section", cut', 'kind = "plan", cut', "drawings of the kind plan, not section"),
        ("depth = 1.5", 'shown_set = "lost"', "Drawing rule “working”: “lost” is no shown set"),
        ('as_usual = ["style.scale"', 'as_usual = ["style.colour"', "“style.colour” is nothing"),
        ("[[sheet]]", "[[sheet", "is no TOML"),
        ('name = "Hut"', 'name = "Hut"\nnaem = "x"', "naem"),
    ],
)
def test_what_does_not_fit_is_refused_in_a_line(
    folder: Path, capsys: pytest.CaptureFixture[str], old: str, new: str, says: str
) -> None:
    assert old in HUT
    (folder / "hut.toml").write_text(HUT.replace(old, new, 1))
    assert publish(folder, "out") == 2
    message = capsys.readouterr().err
    assert any(part in message for part in says.split("|")), message
    assert message.count("\n") == 1
    assert not (folder / "out").exists()


def test_a_picture_beside_the_file_is_drawn_and_one_outside_of_its_folder_is_not(
    folder: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    from PIL import Image

    Image.new("RGB", (4, 4), "red").save(folder / "site.png")
    spots = "spots = [{ at = [1000, 0], reach = 200 }], points = [[1200, 600], [1500, 900]]"
    placed = f'{{ kind = "picture", image = "IMAGE", {spots} }}'
    old = '{ kind = "note", text = "Sole plate", spots = [{ at = [1000, 0], reach = 200 }], points = [[1500, 600]] }'
    (folder / "hut.toml").write_text(HUT.replace(old, placed.replace("IMAGE", "site.png")))
    assert publish(folder, "out", "--form", "svg") == 0
    assert "data:image/png" in (folder / "out" / "A-401-Corner.svg").read_text()
    inner = folder / "inner"
    inner.mkdir()
    shutil.copy(folder / "hut.ifc", inner)
    (inner / "hut.toml").write_text(HUT.replace(old, placed.replace("IMAGE", "../site.png")))
    assert run(["publish", str(inner / "hut.toml"), "--out", str(folder / "no")]) == 2
    assert "no picture site.png" in capsys.readouterr().err


def test_a_model_with_revisions_is_known_by_the_first(folder: Path) -> None:
    """A storey goes by the GlobalId of the first file, also where the newer file has another one."""
    write_hut(folder / "hut-2.ifc")  # every file of it has ids of its own
    guid = read_ifc(folder / "hut.ifc").storeys[0].guid
    text = HUT.replace("storey = 0", f'storey = "{guid}"')
    (folder / "hut.toml").write_text(text.replace('"hut.ifc"', '["hut.ifc", "hut-2.ifc"]'))
    assert publish(folder, "out") == 0
    (folder / "hut.toml").write_text(text.replace('"hut.ifc"', '"hut-2.ifc"'))
    assert publish(folder, "out") == 2


def test_a_cut_that_says_too_little_names_what_is_missing(folder: Path) -> None:
    with pytest.raises(ValidationError):
        ProjectFile.model_validate({"name": "", "model": "a.ifc"})


def test_a_strip_in_a_plan_has_notes_of_the_layers_it_cuts(folder: Path) -> None:
    (folder / "hut.toml").write_text(f"""
name = "Station"
model = {str(DEMO)!r}
[[drawing]]
key = "plan"
cut = {{ kind = "plan", storey = 0 }}
style = {{ strips = [{{ drawing = "section", base = -0.4, top = 2.2, replaces = true, layer_notes = true }}] }}
[[drawing]]
key = "section"
parent = "plan"
cut = {{ kind = "section", line = [[-2, 6], [24, 6]] }}
[[sheet]]
number = "A-101"
title = "Plan"
size = "A1"
arrange = ["plan"]
""")
    assert publish(folder, "out") == 0
    (made,) = (folder / "out").glob("*.pdf")
    text = pypdf.PdfReader(made).pages[0].extract_text()
    assert "150 Reinforced concrete" in text
    assert "140 Concrete block" in text
