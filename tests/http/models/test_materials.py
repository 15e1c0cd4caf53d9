"""What a project says of its materials: above standards, through revisions and files, with a way back."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.api.material
import ifcopenshell.api.root
import pytest

from tests.http.drawings.test_drawings import add_section
from tests.http.models.test_parts import send
from tests.http.models.test_revisions import higher, take
from tests.ifc_files import write_hut
from tests.installation import Installation

NAMES = {"South": "ZZ-17 type 4", "North": "ZZ-17 type 4", "West": "Concrete C25/30", "Floor": "Screed"}


def materials(app: Installation, project: int) -> dict[str, dict[str, Any]]:
    found = app.call("GET", f"/api/projects/{project}/materials")
    assert found.status == 200, found.body
    return {m["name"]: m for m in found.json["materials"]}


def say(app: Installation, project: int, **said: str) -> Any:
    return app.edit(f"/api/projects/{project}", {"materials": {k.replace("_", " "): v for k, v in said.items()}})


@pytest.fixture
def named_hut(tmp_path: Path) -> Path:
    """The hut with materials, one of which no word tells anything of."""
    path = write_hut(tmp_path / "hut.ifc", at=(0.5, 0.0, 0.0))
    file = ifcopenshell.open(str(path))
    made: dict[str, Any] = {}
    for element in file.by_type("IfcElement"):
        if name := NAMES.get(element.Name):
            made[name] = made.get(name) or ifcopenshell.api.material.add_material(file, name=name)
            ifcopenshell.api.material.assign_material(file, products=[element], material=made[name])
    file.write(str(path))
    return path


@pytest.fixture
def project(installation: Installation, named_hut: Path) -> Any:
    number = installation.import_project(named_hut)
    yield number
    installation.call("DELETE", f"/api/projects/{number}")


def hatches(app: Installation, drawing: dict[str, Any]) -> bytes:
    return app.call("GET", f"/api/drawings/{drawing['id']}/export.svg").body


def test_what_is_not_clear_is_told_with_the_project(installation: Installation, project: int) -> None:
    assert installation.call("GET", f"/api/projects/{project}").json["facts"]["unclear"] == ["ZZ-17 type 4"]


def test_words_of_a_standard_are_tried_before_they_are_kept(installation: Installation, project: int) -> None:
    document = installation.call("GET", f"/api/projects/{project}/standards").json[0]["document"]

    def tried() -> dict[str, Any]:
        answer = installation.call("POST", f"/api/projects/{project}/materials/tried", document)
        assert answer.status == 200, answer.body
        return {m["name"]: m for m in answer.json}

    assert next(iter(tried())) == "ZZ-17 type 4"
    assert (tried()["ZZ-17 type 4"]["clear"], tried()["ZZ-17 type 4"]["words"]) == (False, [])
    document["materials"]["board"]["words"].append("zz")
    assert [tried()["ZZ-17 type 4"][key] for key in ("is_a", "clear", "words")] == ["board", True, ["zz"]]
    assert materials(installation, project)["ZZ-17 type 4"]["is_a"] == "other"  # nothing is kept
    del document["materials"]["other"]
    assert installation.call("POST", f"/api/projects/{project}/materials/tried", document).status == 422
    by_language = {one["language"]: one["words"] for one in installation.call("GET", "/api/words").json}
    assert "ziegel" in by_language["de"]


def test_every_material_has_a_picture(installation: Installation, project: int) -> None:
    found = installation.call("GET", f"/api/projects/{project}/materials/pictures").json
    assert {p["name"] for p in found} == set(materials(installation, project))
    assert all(p["path"].startswith("M") and p["wide"] > 0 for p in found)
    assert installation.call("GET", "/api/projects/999999/materials/pictures").status == 404


def test_unclear_ones_come_first_with_how_much_and_where(installation: Installation, project: int) -> None:
    found = materials(installation, project)
    assert list(found) == ["ZZ-17 type 4", "Screed", "Concrete C25/30"]
    unclear = found["ZZ-17 type 4"]
    assert (unclear["by"], unclear["is_a"], unclear["elements"]) == ("nothing", "other", 2)
    assert unclear["volume"] == pytest.approx(2 * 4 * 0.2 * 2.5)
    assert len(unclear["where"]) == 2
    assert (found["Concrete C25/30"]["by"], found["Concrete C25/30"]["is_a"]) == ("name", "concrete")


def test_what_is_said_is_drawn_in_every_standard_and_taken_back(installation: Installation, project: int) -> None:
    fine = add_section(installation, project)
    bold = add_section(installation, project)
    bold = installation.edit(f"/api/drawings/{bold['id']}", {"style": {**bold["style"], "standard": "bold"}}).json
    before = [hatches(installation, d) for d in (fine, bold)]
    view = installation.call("GET", f"/api/drawings/{fine['id']}").json["view"]
    assert say(installation, project, **{"ZZ-17_type_4": "brick"}).status == 200
    found = materials(installation, project)
    assert (found["ZZ-17 type 4"]["by"], found["ZZ-17 type 4"]["is_a"]) == ("us", "brick")
    assert found["ZZ-17 type 4"]["otherwise"] == "other"
    assert list(found)[-1] != "ZZ-17 type 4" or len(found) == 3
    after = [hatches(installation, d) for d in (fine, bold)]
    assert all(a != b for a, b in zip(after, before, strict=True))
    assert installation.call("GET", f"/api/drawings/{fine['id']}").json["view"] != view
    undone = installation.call("POST", f"/api/projects/{project}/undo")
    assert undone.status == 200
    assert [hatches(installation, d) for d in (fine, bold)] == before


def test_it_is_kept_through_revisions_and_files(
    installation: Installation, project: int, named_hut: Path, tmp_path: Path
) -> None:
    section = add_section(installation, project)
    say(installation, project, **{"ZZ-17_type_4": "brick"})
    file = ifcopenshell.open(str(named_hut))
    higher(file)
    file.write(str(named_hut))
    take(installation, send(installation, project, named_hut, "hut-2.ifc"))
    assert materials(installation, project)["ZZ-17 type 4"]["is_a"] == "brick"
    archive = installation.call("GET", f"/api/projects/{project}/files").body
    with zipfile.ZipFile(io.BytesIO(archive)) as packed:
        (text,) = [packed.read(n).decode() for n in packed.namelist() if n.endswith(".toml")]
    assert "ZZ-17 type 4" in text
    (tmp_path / "hut.zip").write_bytes(archive)
    again = installation.import_project(tmp_path / "hut.zip")
    assert materials(installation, again)["ZZ-17 type 4"]["by"] == "us"
    drawings = {d["title"]: d for d in installation.call("GET", f"/api/projects/{again}/drawings").json}
    copy = next(d for t, d in drawings.items() if d["kind"] == "section")
    assert hatches(installation, copy) == hatches(installation, section)
    installation.call("DELETE", f"/api/projects/{again}")


def test_what_one_project_says_is_offered_to_the_next(
    installation: Installation, project: int, named_hut: Path
) -> None:
    say(installation, project, **{"ZZ-17_type_4": "brick"})
    other = installation.import_project(named_hut)
    found = materials(installation, other)["ZZ-17 type 4"]
    assert (found["by"], found["elsewhere"]) == ("nothing", "brick")
    installation.call("DELETE", f"/api/projects/{other}")


def test_a_standard_that_is_copied_does_not_take_it_along(installation: Installation, project: int) -> None:
    say(installation, project, **{"ZZ-17_type_4": "brick"})
    made = installation.call("POST", f"/api/projects/{project}/standards", {"copy_of": "fine-line", "name": "Ours"})
    assert made.json["document"]["settled"] == {}
    edited = {"document": {**made.json["document"], "settled": {"Screed": "brick"}}}
    assert installation.edit(f"/api/standards/{made.json['id']}", edited).json["document"]["settled"] == {}


def say_here(app: Installation, project: int, *said: dict[str, str]) -> Any:
    return app.edit(f"/api/projects/{project}", {"materials_here": list(said)})


def guid_of(app: Installation, project: int, name: str) -> str:
    return str(app.call("GET", f"/api/projects/{project}/elements?words={name}").json[0]["guid"])


def test_one_element_is_of_something_else_until_it_is_taken_back(
    installation: Installation, project: int, named_hut: Path, tmp_path: Path
) -> None:
    section = add_section(installation, project)
    before = hatches(installation, section)
    south = guid_of(installation, project, "South")
    one = {"element": south, "material": "ZZ-17 type 4", "is_a": "brick", "hatch": "timber end"}
    assert say_here(installation, project, one).status == 200
    found = installation.call("GET", f"/api/projects/{project}/materials").json
    assert [(h["name"], h["there"]) for h in found["here"]] == [("South", True)]
    assert materials(installation, project)["ZZ-17 type 4"]["by"] == "nothing"  # everywhere else
    after = hatches(installation, section)
    assert after != before
    assert installation.call("POST", f"/api/projects/{project}/undo").status == 200
    assert hatches(installation, section) == before
    assert installation.call("POST", f"/api/projects/{project}/redo").status == 200
    assert hatches(installation, section) == after
    file = ifcopenshell.open(str(named_hut))
    higher(file)
    file.write(str(named_hut))
    take(installation, send(installation, project, named_hut, "hut-2.ifc"))
    later = hatches(installation, section)
    (tmp_path / "hut.zip").write_bytes(installation.call("GET", f"/api/projects/{project}/files").body)
    again = installation.import_project(tmp_path / "hut.zip")
    drawings = installation.call("GET", f"/api/projects/{again}/drawings").json
    assert hatches(installation, next(d for d in drawings if d["kind"] == "section")) == later
    installation.call("DELETE", f"/api/projects/{again}")
    for wall in [e for e in file.by_type("IfcWall") if e.GlobalId == south]:
        ifcopenshell.api.root.remove_product(file, product=wall)
    file.write(str(named_hut))
    take(installation, send(installation, project, named_hut, "hut-3.ifc"))
    here = installation.call("GET", f"/api/projects/{project}/materials").json["here"]
    assert [h["there"] for h in here] == [False]  # told, and kept: the next file may have it again
    assert say_here(installation, project).status == 200


def test_a_hatch_that_one_project_says_is_offered_to_the_next(
    installation: Installation, project: int, named_hut: Path
) -> None:
    hatched = {"material": "Screed", "hatch": "sand"}
    alone = {"element": guid_of(installation, project, "South"), "material": "ZZ-17 type 4", "is_a": "brick"}
    assert say_here(installation, project, hatched, alone).status == 200
    other = installation.import_project(named_hut)
    found = installation.call("GET", f"/api/projects/{other}/materials").json["offered"]
    assert [(o["material"], o["hatch"], o["element"]) for o in found] == [("Screed", "sand", "")]
    assert say_here(installation, other, hatched).status == 200
    assert installation.call("GET", f"/api/projects/{other}/materials").json["offered"] == []
    installation.call("DELETE", f"/api/projects/{other}")


@pytest.mark.parametrize(
    ("said", "says"),
    [
        ([{"material": "Screed", "hatch": "sandy"}], "sand"),
        ([{"material": "Scred", "hatch": "sand"}], "Screed"),
        ([{"element": "nobody", "is_a": "brick"}], "nobody"),
        ([{"build_up": "Wall", "material": "Screed", "is_a": "brick"}], "build-up"),
        ([{"material": "Screed", "is_a": "brick"}], "by its name"),
        ([{"material": "Screed", "hatch": "sand"}, {"material": "Screed", "hatch": "earth"}], "two are said"),
    ],
)
def test_places_and_names_that_there_are_not(
    installation: Installation, project: int, said: list[dict[str, str]], says: str
) -> None:
    answer = say_here(installation, project, *said)
    assert answer.status == 422
    assert says in answer.json["message"]
    assert answer.json["field"].startswith("materials_here")
    assert installation.call("GET", f"/api/projects/{project}").json["materials_here"] == []


def test_an_element_is_refused_a_material_that_it_is_not_of(installation: Installation, project: int) -> None:
    one = {"element": guid_of(installation, project, "South"), "material": "Screed", "is_a": "brick"}
    assert "no material “Screed”" in say_here(installation, project, one).json["message"]


@pytest.mark.parametrize(
    ("said", "says"), [({"x": "brik"}, "there is brick"), ({"": "brick"}, ""), ({"x": ""}, ""), ({"x": 3}, "")]
)
def test_classes_that_there_are_not(installation: Installation, project: int, said: Any, says: str) -> None:
    answer = installation.edit(f"/api/projects/{project}", {"materials": said})
    assert answer.status == 422
    assert says in answer.json["message"]
    assert answer.json["field"].startswith("materials")
    assert installation.call("GET", f"/api/projects/{project}").json["materials"] == {}
