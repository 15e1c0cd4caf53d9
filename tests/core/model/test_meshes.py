"""Models without building data: glTF, OBJ, STL and PLY, and what their names tell."""

from pathlib import Path

import numpy as np
import pytest
import trimesh

from edge_slice.core.cut import PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model, UnreadableModel
from edge_slice.core.model.files.any_file import read_model
from edge_slice.core.model.mesh.bodies import kind_of_name
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes

FORMS = ("glb", "gltf", "obj", "stl", "ply")


def hut(y_up: bool, size: float, at: float = 0.0) -> trimesh.Scene:
    """A wall 4 x 0.2 x 2.5 m and a floor 4 x 3 x 0.3 m under it, in units of `size` metres."""
    scene = trimesh.Scene()
    for name, material, low, high in (
        ("Wall outer brick", "Brick, red", (0, 0, 0), (4, 0.2, 2.5)),
        ("Floor slab", "Concrete", (0, 0, -0.3), (4, 3, 0)),
    ):
        body = trimesh.creation.box(bounds=np.array([low, high], float))
        body.vertices = (body.vertices + at) / size
        if y_up:
            body.vertices = body.vertices[:, [0, 2, 1]] * [1, 1, -1]
        colour = [len(name) * 9, 90, 90, 255]
        coated = trimesh.visual.material.PBRMaterial(name=material, baseColorFactor=colour)
        body.visual = trimesh.visual.TextureVisuals(material=coated)
        scene.add_geometry(body, geom_name=name, node_name=name)
    return scene


def written(folder: Path, form: str, **options: float) -> Path:
    path = folder / f"hut.{form}"
    scene = hut(form in ("glb", "gltf"), **{"size": 0.001 if form not in ("glb", "gltf") else 1.0, **options})
    if form == "gltf":
        files = trimesh.exchange.gltf.export_gltf(scene, merge_buffers=True)
        for name, data in files.items():
            (folder / (path.name if name == "model.gltf" else name)).write_bytes(data)
    else:
        scene.export(str(path))
    return path


def read(path: Path) -> Model:
    return read_model(path, unit=None if path.suffix in (".glb", ".gltf") else "mm")


@pytest.mark.parametrize("form", FORMS)
def test_every_form_gives_the_same_section(tmp_path: Path, form: str) -> None:
    model = read(written(tmp_path, form))
    result = cut_model(model, SectionCut(line=((2, -1), (2, 4))))
    assert sum(f.polygon.area for f in result.faces) / 1e6 == pytest.approx(0.2 * 2.5 + 3 * 0.3, rel=1e-5)
    assert model.bounds[0] == pytest.approx([0, 0, -0.3], abs=1e-6)
    assert model.schema == form.upper()
    assert not model.leaking


@pytest.mark.parametrize("form", ["glb", "gltf", "obj"])
def test_kinds_and_materials_come_from_names(tmp_path: Path, form: str) -> None:
    model = read(written(tmp_path, form))
    assert {e.name: e.kind for e in model.elements} == {"Wall outer brick": "wall", "Floor slab": "slab"}
    classes = default_standard().classes(model)
    found = {e.name: classes[e.material] for e in model.elements}
    assert found == {"Wall outer brick": "brick", "Floor slab": "concrete"}


def test_groups_and_materials_of_an_obj_file_without_a_library(tmp_path: Path) -> None:
    path = tmp_path / "part.obj"
    corners = "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\n"
    faces = "f {0} {2} {1}\nf {0} {1} {3}\nf {1} {2} {3}\nf {0} {3} {2}\n"
    path.write_text(
        f"g Beam_1\nusemtl Steel S355\n{corners}{faces.format(1, 2, 3, 4)}"
        f"g Roof beam 2\nusemtl Oak\n{corners}{faces.format(5, 6, 7, 8)}"
    )
    model = read_model(path, unit="m")
    assert [(e.name, e.kind, model.materials[e.material].name) for e in model.elements] == [
        ("Beam_1", "beam", "Steel S355"), ("Roof beam 2", "beam", "Oak"),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("Wall_01", "wall"),
        ("exteriorWall", "wall"),
        ("roof beam", "beam"),
        ("Windows.003", "window"),
        ("Thing", "object"),
        ("Terrain", "ground"),
        ("GroundFloor slab", "slab"),
    ],
)
def test_kinds_are_read_from_names(name: str, kind: str) -> None:
    assert kind_of_name(name) == kind


@pytest.mark.parametrize("form", ["obj", "stl", "ply"])
def test_files_that_do_not_say_their_unit_are_asked_for_it(tmp_path: Path, form: str) -> None:
    with pytest.raises(UnreadableModel, match=r"4000 × 3000 × 2800.*mm, cm, m, in, ft"):
        read_model(written(tmp_path, form))


@pytest.mark.parametrize(("unit", "wide"), [("mm", 4.0), ("cm", 40.0), ("in", 101.6), ("ft", 1219.2)])
def test_unit_given_is_used(tmp_path: Path, unit: str, wide: float) -> None:
    low, high = read_model(written(tmp_path, "stl"), unit=unit).bounds
    assert high[0] - low[0] == pytest.approx(wide, rel=1e-6)


def test_y_up_can_be_said(tmp_path: Path) -> None:
    low, high = read_model(written(tmp_path, "stl"), unit="mm", up="y").bounds
    assert (high - low) == pytest.approx([4, 2.8, 3], abs=1e-5)


def test_far_away_meshes_are_rebased(tmp_path: Path) -> None:
    model = read_model(written(tmp_path, "ply", at=250_000.0), unit="mm")
    assert model.origin[0] == pytest.approx(250_002, abs=2)
    assert np.abs(model.bounds[1]).max() < 10


@pytest.mark.parametrize(
    ("name", "text", "message"),
    [("a.glb", b"no", "is no GLB"), ("a.stl", b"solid x\nendsolid x\n", "no triangles|can't be read"),
     ("a.ply", b"ply\nbroken", "can't be read as PLY"), ("a.obj", b"v 0 0 0\n", "no triangles|can't be read")],
)  # fmt: skip
def test_broken_files_are_refused(tmp_path: Path, name: str, text: bytes, message: str) -> None:
    (tmp_path / name).write_bytes(text)
    with pytest.raises(UnreadableModel, match=message):
        read_model(tmp_path / name, unit="m")


def test_open_meshes_are_named_as_leaking(tmp_path: Path) -> None:
    body = trimesh.creation.box()
    body.update_faces(np.arange(len(body.faces)) > 1)
    body.export(str(tmp_path / "open.ply"))
    assert read_model(tmp_path / "open.ply", unit="m").leaking == (0,)


def test_a_mesh_model_is_stored_and_planned_like_any_other(tmp_path: Path) -> None:
    model = model_from_bytes(model_to_bytes(read(written(tmp_path, "glb"))))
    plan = cut_model(model, PlanCut(storey=model.storeys[0].guid, height=1.2))
    assert sum(f.polygon.area for f in plan.faces) / 1e6 == pytest.approx(0.8, rel=1e-5)
